"""One pass over the frames of a take: pose of the instrument, candidates for the bow, and what is looked at again later."""

from __future__ import annotations

import time
from collections import deque
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass, field, replace
from importlib import import_module

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import MediaError, TrackingError
from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.base.message import Message
from dolcezza.core.base.signals import runs
from dolcezza.core.camera.lens import Camera
from dolcezza.core.media.probe import TakeFile
from dolcezza.core.media.repeated import Changes
from dolcezza.core.media.video import Frame
from dolcezza.core.pipeline.body_pass import BodyPass
from dolcezza.core.pipeline.context import Context
from dolcezza.core.pipeline.landmark_pass import LandmarkPass
from dolcezza.core.tracking.bow_find import BowFinder
from dolcezza.core.tracking.bow_line import STICK_REACH_MM, Candidate
from dolcezza.core.tracking.instrument import Followed, InstrumentFollower, KeyFrame, moved_px
from dolcezza.core.tracking.landmarks_seen import LandmarkLook
from dolcezza.core.tracking.stickers import colour_along
from dolcezza.core.tracking.strings_seen import Sample

PROGRESS_EVERY = 5
AHEAD = 4
"""So many frames may wait for the bow to be looked for in them."""
SAMPLES = 36
"""About so many frames of a take are looked at again for the strings."""
FOLLOW_EVERY_S = 0.05
"""An instrument that hardly moves in the picture is looked at so far apart at most, and bridged between."""
STILL_PX = 1.2
"""Movement in the picture between two looks (px at 1280) up to which it hardly moves."""
SMALLEST_PX = 100
LONGEST_S = 15 * 60.0
"""A take is half a minute to five; a longer file is a lesson that somebody forgot to cut."""
LOST_SHARE = 0.5
"""Share of frames without instrument, or without bow, from which the take is not measured at all."""
AFTERWARDS = ("scipy.ndimage", "scipy.linalg")
"""Slow to import: brought in while the first frames are decoded."""
LOST_STRETCH_S = 0.5
"""An instrument lost for longer asks for one more marked frame."""


@dataclass
class FramePass:
    """What the pass over n frames found; ``colours`` belong to each frame's first candidate; ``changes``: from frame to frame."""

    times: list[float] = field(default_factory=list)
    followed: list[Followed] = field(default_factory=list)
    candidates: list[list[Candidate]] = field(default_factory=list)
    colours: list[Array | None] = field(default_factory=list)
    samples: list[Sample] = field(default_factory=list)
    landmarks: list[LandmarkLook] = field(default_factory=list)
    changes: Changes = field(default_factory=Changes)


def check_measurable(file: TakeFile) -> None:
    """Refuse files that cannot be measured whole. Raises MediaError with what to do."""
    if min(file.size) < SMALLEST_PX:
        raise MediaError(
            f"The picture of {file.path.name} is only {file.width} x {file.height} px.",
            "Film at 1280 x 720 or more, and copy the original from the phone, not a preview.",
        )
    if file.duration_s > LONGEST_S:
        raise MediaError(
            f"{file.path.name} is {file.duration_s / 60:.0f} minutes long; up to {LONGEST_S / 60:.0f} minutes are measured at a time.",
            "Cut out the part with the bowing (the phone's own editing can do that) and open that.",
        )


def watch(
    context: Context, marked: list[KeyFrame], body: BodyPass, landmarks: LandmarkPass, timings: dict[str, float],
    early: Callable[[FramePass], object] | None = None,
) -> Work[FramePass]:  # fmt: skip
    """Follow the instrument and look for the bow in every frame; show some to ``body`` and to ``landmarks``. ``early`` is asked
    now and then whether something can be told already.

    Raises TrackingError for a take of a few frames.
    """
    file, model = context.file, context.model
    follower = InstrumentFollower(model, marked)
    finder = BowFinder(model, marked[0].grey.shape[:2])
    seen = FramePass()
    total = max(1, round(file.duration_s * file.frame_rate))
    apart = max(1, total // SAMPLES)
    spent = {"decode": 0.0, "follow": 0.0, "find": 0.0}
    at: Followed | None = None
    looks: list[Followed] = []
    look_of: list[int] = []
    sampled: list[tuple[Array, int]] = []
    next_look = 0.0
    waiting: deque[Future[tuple[list[Candidate], Array | None]]] = deque()
    # the bow is looked for in some frames, one after the other, while the instrument is followed through the next
    with ThreadPoolExecutor(1, "bow") as beside, ThreadPoolExecutor(1, "libraries") as ahead:
        ahead.submit(_bring_in)
        mark = time.perf_counter()
        for frame in context.frames(colour=True):
            now = time.perf_counter()
            spent["decode"] += now - mark
            if seen.times and frame.t_s <= seen.times[-1]:
                mark = time.perf_counter()
                continue
            if at is None or at.confidence <= 0 or frame.t_s >= next_look:
                before, at = at, follower.step(frame.image, frame.t_s)
                looks.append(at)
                moved = before is not None and moved_px(model, before.camera, at.camera) > STILL_PX * context.scale_px
                next_look = frame.t_s + (0.0 if moved else FOLLOW_EVERY_S)
            else:
                at = replace(at, fresh=False)
            after = time.perf_counter()
            spent["follow"] += after - now
            look_of.append(len(looks) - 1)
            if len(seen.times) % apart == 0 and at.confidence > 0 and len(sampled) < 2 * SAMPLES:
                sampled.append((frame.image.copy(), look_of[-1]))
            if at.confidence > 0:
                body.look(frame, at.camera)
                landmarks.look(frame, at.camera, look_of[-1])
            _take_in(seen, waiting, AHEAD - 1)
            seen.followed.append(at)
            seen.times.append(frame.t_s)
            seen.changes.see(frame.image)
            waiting.append(beside.submit(_look_for_bow, finder, frame, at.camera if at.confidence > 0 else None))
            mark = time.perf_counter()
            spent["find"] += mark - after
            if frame.index % PROGRESS_EVERY == 0:
                if early is not None:
                    _take_in(seen, waiting)
                began = time.perf_counter()
                told = early(seen) if early is not None else None
                timings["early"] = timings.get("early", 0.0) + time.perf_counter() - began
                yield Progress(Stage.FOLLOWING, frame.index + 1, max(total, frame.index + 1), told)
                mark = time.perf_counter()
        _take_in(seen, waiting)
    if len(seen.times) < 5:
        raise TrackingError(f"{file.path.name} has only {len(seen.times)} frames.", "Choose a video of at least a few strokes.")
    began = time.perf_counter()
    looks = follower.adjusted(sampled, looks)
    seen.followed = [replace(looks[k], fresh=f.fresh) for k, f in zip(look_of, seen.followed, strict=True)]
    seen.samples = [Sample(grey, looks[k].camera) for grey, k in sampled]
    seen.landmarks = landmarks.seen([look.camera for look in looks])
    spent["follow"] += time.perf_counter() - began
    timings.update(spent)
    return seen


def _bring_in() -> None:
    """Bring in the libraries that are wanted once all frames have been seen."""
    for name in AFTERWARDS:
        import_module(name)


def _look_for_bow(finder: BowFinder, frame: Frame, camera: Camera | None) -> tuple[list[Candidate], Array | None]:
    """The bow's candidates in a frame, none where the instrument was lost, and the colours along the best."""
    found = finder.find(frame.image, camera) if camera is not None else []
    if not found or camera is None or frame.colour is None:
        return found, None
    return found, colour_along(frame.colour, found[0], finder.stick_px(camera), STICK_REACH_MM)


def _take_in(seen: FramePass, waiting: deque[Future[tuple[list[Candidate], Array | None]]], but: int = 0) -> None:
    """Wait for what was looked for and keep it, in order, ``but`` for the last."""
    while len(waiting) > but:
        found, hue = waiting.popleft().result()
        seen.candidates.append(found)
        seen.colours.append(hue)


def check_seen(file: TakeFile, seen: FramePass) -> list[Message]:
    """Notes on what was lost on the way. Raises TrackingError when too little is left to measure."""
    n, times = len(seen.times), np.array(seen.times)
    lost = np.array([f.confidence <= 0 for f in seen.followed])
    if lost.mean() > LOST_SHARE:
        raise TrackingError(
            f"The instrument cannot be followed from {times[int(np.argmax(lost))]:.1f} s on.",
            "Check the landmarks; mark one more frame there, or film with the whole instrument in the picture and in better light.",
        )
    notes: list[Message] = []
    if lost.any():
        notes.append(Message("note.lost", {"frames": int(lost.sum()), "of": n, "t_s": float(times[int(np.argmax(lost))])}))
    if moments := moments_to_mark(seen):
        notes.append(Message("note.mark more", {"moments": tuple(Message("seconds", {"t_s": t}) for t in moments)}))
    if file.duration_s and times[-1] < 0.9 * file.duration_s - 0.5:
        notes.append(Message("note.breaks off", {"t_s": float(times[-1]), "of": file.duration_s}))
    return notes


def moments_to_mark(seen: FramePass, *, most: int = 3) -> list[float]:
    """Times (s) at which one more marked frame would help: in the longest stretches without the instrument."""
    times = np.array(seen.times)
    gone = runs(np.array([f.confidence <= 0 for f in seen.followed]))
    long = [(a, b) for a, b in gone if times[b - 1] - times[a] >= LOST_STRETCH_S]
    longest = sorted(long, key=lambda r: times[r[0]] - times[r[1] - 1])[:most]
    return sorted(float(times[(a + b) // 2]) for a, b in longest)
