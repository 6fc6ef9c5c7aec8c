"""The bow hold from stills: the hand found, its joints fitted, its figures written."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from pathlib import Path

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import ModelsMissing
from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.hold.figures import GAPS, JOINT_WORDS, JOINTS, HandSign, Hold, describe, hand_signs
from dolcezza.core.hold.fit import HandFit, fit_hand, hand_size, usual_hand
from dolcezza.core.media.probe import probe
from dolcezza.core.media.video import FrameStore
from dolcezza.core.models.asked import Models
from dolcezza.services.body_model import BodyModel
from dolcezza.services.pictures import read_picture
from dolcezza.storage.files import write_whole
from dolcezza.storage.records import HandStill

VIDEO_SUFFIXES = (".mp4", ".mov", ".m4v", ".mkv", ".webm", ".avi", ".3gp")
FRAMES_PER_S, MOST_FRAMES = 2.0, 120
"""How many frames of a close-up are looked at, and at most."""
LONGEST_PX = 1280
TURNS_DEG = (0.0, 15.0, -15.0)
SMALL_HAND = 0.1
"""A hand smaller than this share of the picture is too far away for its joints."""
SAME_HAND = 0.6
"""Points of two looks belong to one hand when their middles are nearer than this share of its size."""
BY_HAND_WEIGHT = 2.0
"""What a point set by hand weighs against one that the model has seen: it errs half as much."""
NOBODY = (
    "No hand was found: nothing could be told. Film the bow hand alone, as large as the picture, in good light, without gloves, "
    "from the back of the hand."
)


@dataclass(frozen=True)
class HoldStill:
    """One still: its ``hold`` and ``fit`` with points (21, 2) px, or None with ``notes`` that say why."""

    image: str
    size: tuple[int, int]
    hold: Hold | None = None
    fit: HandFit | None = None
    points_px: Array | None = None
    notes: list[str] = field(default_factory=list)


def look_at_hand(image: Array, name: str, *, right: bool = True, models: Models | None = None) -> HoldStill:
    """The bow hand in an RGB picture (h, w, 3). A ``right`` hand unless the player bows with the left."""
    h, w = image.shape[:2]
    try:
        found = _asked_often(image, models or BodyModel())
    except ModelsMissing as error:
        return HoldStill(name, (w, h), notes=[str(error)])
    if not found:
        return HoldStill(name, (w, h), notes=[NOBODY])
    notes = []
    if len(found) > 1:
        notes.append(f"{len(found)} hands are in the picture: the largest is taken. Film the bow hand alone to be sure.")
    return _told(max(found, key=hand_size), name, (w, h), notes, right=right)


def _told(points: Array, name: str, size: tuple[int, int], notes: list[str], *, right: bool, weight: Array | None = None) -> HoldStill:
    """What points (21, 2) px of a hand tell."""
    if hand_size(points) < SMALL_HAND * max(size):
        notes.append("The hand is small in the picture: film it closer.")
    fit = fit_hand(points, size=size, right=right, visible=weight)
    if not fit.is_hand:
        notes.append("The points do not lie as a hand's can: part of the hand is hidden. Film it again from the back of the hand.")
    hold = describe(fit, points)
    untold = [n for n in JOINTS if n not in hold.joints]
    if fit.is_hand and untold:
        notes.append(f"Cannot be told from here: {'; '.join(JOINT_WORDS[n] for n in untold)}.")
    return HoldStill(name, size, hold, fit, points, notes)


def tell_again(path: Path, points: Array, by_hand: list[int], *, right: bool = True) -> Work[list[HoldStill]]:
    """The same picture with points (21, 2) px of which some were set ``by_hand``: those count more. Raises MediaError."""
    yield Progress(Stage.HANDS, 0, 1)
    h, w = read_picture(path).shape[:2]
    weight = np.where(np.isin(np.arange(21), by_hand), BY_HAND_WEIGHT, 1.0)
    return [_told(np.asarray(points, float), path.name, (w, h), [], right=right, weight=weight)]


def hand_to_lay(path: Path, *, right: bool = True) -> Array:
    """Points (21, 2) px of a usual hand in the middle of a picture, to be dragged to their places. Raises MediaError."""
    h, w = read_picture(path).shape[:2]
    flat = usual_hand()[:, :2]
    flat = (flat - flat.mean(axis=0)) * [1.0 if right else -1.0, 1.0]
    return np.asarray(flat * (0.5 * min(w, h) / np.ptp(flat, axis=0).max()) + [0.5 * w, 0.5 * h])


def _asked_often(image: Array, models: Models) -> list[Array]:
    """Points (21, 2) of each hand, the middle of what the model says of the picture as it is, mirrored and turned a little."""
    h, w = image.shape[:2]
    scale = min(1.0, LONGEST_PX / max(h, w))
    small = cv2.resize(image, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA) if scale < 1 else image
    sh, sw = small.shape[:2]
    asked = []
    for angle in TURNS_DEG:
        turn = np.vstack([cv2.getRotationMatrix2D((sw / 2, sh / 2), angle, 1.0), [0, 0, 1.0]])
        asked.append((turn, models.hands(cv2.warpAffine(small, turn[:2], (sw, sh), borderMode=cv2.BORDER_REPLICATE))))
    mirror = np.array([[-1.0, 0, sw - 1], [0, 1, 0], [0, 0, 1]])
    asked.append((mirror, models.hands(np.ascontiguousarray(small[:, ::-1]))))
    looks = []
    for turn, answer in asked:
        back = np.linalg.inv(turn)
        looks.append([(np.c_[p, np.ones(21)] @ back.T)[:, :2] for p, _ in answer.result()])
    if not any(looks):
        # a dark hand before a dark wall: once more, brighter
        light = (255 * (small / 255.0) ** 0.5).astype(np.uint8)
        looks = [[p for p, _ in models.hands(light).result()]]
    return [np.median(group, axis=0) / scale for group in _grouped(looks)]


def _grouped(looks: list[list[Array]]) -> list[list[Array]]:
    """Points of several looks, together where they are the same hand; a hand must be seen by half of the looks with any."""
    groups: list[list[Array]] = []
    for points in (p for look in looks for p in look):
        for group in groups:
            if np.linalg.norm(points.mean(axis=0) - group[0].mean(axis=0)) < SAME_HAND * hand_size(group[0]):
                group.append(points)
                break
        else:
            groups.append([points])
    used = sum(bool(look) for look in looks)
    return [g for g in groups if len(g) >= 0.5 * used]


def look_at_stills(paths: list[Path], *, right: bool = True) -> Work[list[HoldStill]]:
    """Look at stills and close-up videos one after the other.

    Of a video two frames a second are looked at, named by their time. Raises MediaError for a file that is neither, before
    anything is written.
    """
    out = []
    models = BodyModel()
    models.warm("hands")
    for k, path in enumerate(Path(p) for p in paths):
        yield Progress(Stage.HANDS, k, len(paths))
        if path.suffix.lower() not in VIDEO_SUFFIXES:
            out.append(look_at_hand(read_picture(path), path.name, right=right, models=models))
            continue
        for t_s, image in _frames(path):
            yield Progress(Stage.HANDS, k, len(paths))
            out.append(look_at_hand(image, f"{path.name}@{t_s:.2f}s", right=right, models=models))
    return out


def _frames(path: Path) -> Iterator[tuple[float, Array]]:
    """Frames of a close-up at even distances, with their times."""
    duration = probe(path).duration_s
    apart = max(1 / FRAMES_PER_S, duration / MOST_FRAMES)
    store = FrameStore(path)
    try:
        for t_s in np.arange(0.5 * apart, max(duration, apart), apart):
            frame = store.at(float(t_s))
            yield frame.t_s, frame.image
    finally:
        store.close()


def newest_signs(stills: Sequence[HandStill], profile: Profile | None = None) -> list[HandSign]:
    """Signs in the hand from a student's stills, newest first; of each role the newest counts. ``profile``: whether thumb and little finger
    may straighten towards the head."""
    newest: dict[str, Hold] = {}
    for still in stills:
        if (hold := still.answered) is not None:
            newest.setdefault(still.role, hold)
    long = profile is not None and profile.want("along the bow") == "changes" and profile.want("thumb shape") != "bent"
    other = newest.get("hold") or newest.get("upright")
    return hand_signs(newest.get("frog"), newest.get("tip"), newest.get("relaxed"), other, long_at_head=long)


def hold_csv(stills: list[HoldStill]) -> str:
    """One row a still: joints with ±, shapes, then everything else; empty = cannot be told."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    joints = [c for j in JOINTS for c in (f"{j}_deg", f"{j}_sd_deg")]
    gaps = [f"gap_{g.replace('-', '_')}_widths" for g in GAPS]
    writer.writerow(["image", *joints, "thumb_shape", "little_shape", *gaps, "ring_widths", "ring", "wrist_over_knuckles", "notes"])

    def cell(value: float, digits: int = 1) -> str:
        return f"{value:.{digits}f}" if np.isfinite(value) else ""

    for still in stills:
        hold = still.hold
        told = hold.joints if hold else {}
        figures = [c for j in JOINTS for c in (("", "") if j not in told else (cell(told[j][0]), cell(told[j][1])))]
        rest = [""] * (len(gaps) + 3)
        if hold is not None:
            rest = [*(cell(hold.gaps[g], 2) for g in GAPS), cell(hold.ring, 2), str(hold.ring_open), cell(hold.wrist_over_knuckles, 2)]
        shapes = (hold.thumb, hold.little) if hold else ("unclear", "unclear")
        writer.writerow([still.image, *figures, *shapes, *rest, " ".join(still.notes)])
    return out.getvalue()


def write_holds(stills: list[HoldStill], folder: Path) -> Path:
    """Write hold.csv and return its path. Raises StudioError."""
    path = Path(folder) / "hold.csv"
    write_whole(path, hold_csv(stills))
    return path
