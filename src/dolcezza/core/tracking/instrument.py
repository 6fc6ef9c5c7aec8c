"""Pose of the instrument in every frame, tied to the marked frames so that it cannot drift.

Points on the instrument are followed by optical flow (pyramidal Lucas-Kanade) from reference pictures to the present frame, which is
first turned back to how each reference saw the instrument. The marked frame is the first reference; more are made along the way, where
the player has turned too far for it. Which points move with the instrument is settled before the pose is refined. When the take has
been seen, references and a sample of its frames are adjusted together (``adjustment``), and all frames with them. A lost instrument
is looked for in the whole picture by binary features (ORB).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.geometry import rotation_of, rotation_vector
from dolcezza.core.camera.lens import Camera
from dolcezza.core.instrument.model import REQUIRED_LANDMARKS, InstrumentModel
from dolcezza.core.tracking.adjustment import adjusted
from dolcezza.core.tracking.reference import FEWEST_POINTS, ReferenceView, body_mask
from dolcezza.core.tracking.rigid import Sightings, agreed_move, refined, turn_between

LOST = 0.2
"""Share of agreeing points below which the instrument is lost."""
AGREED = 0.8
"""Share of agreeing points from which no second reference is asked."""
CONTENT = 0.5
"""Share from which no second look is taken."""
STILL_PX = 2.0
"""Movement since the last frame (px at 1280) up to which one look is enough."""
REFERENCES = 2
"""So many references are asked for one frame at most."""
TOO_FAR_DEG = 4.0
"""A second reference is asked if it is no farther than this beyond the first."""
NEW_REFERENCE_DEG = 2.5
NEW_REFERENCE_SHARE = 0.35
MOST_REFERENCES = 48
PER_OCTAVE_DEG = 20.0
"""A change of size by e counts as much as a turn by so much, when references are compared."""
SEARCH_EVERY_LOST = 5
"""While lost, the whole picture is searched once in so many frames."""
POSE_FLOOR = np.array([0.0015, 0.0015, 0.0015, 0.3, 0.3, 1.0])
"""What is left of error in a pose however many points agree: turn (rad), move (mm), one sd."""
TURN_SHARE = 0.06
"""Error of a turn away from the marked frames, as a share of it: heights of points are known only so well."""
ALIKE = 12.0
"""So many points err alike: a tenth of the points count."""


@dataclass(frozen=True)
class KeyFrame:
    """A grey picture (h, w) in which the instrument's pose is known from landmarks."""

    t_s: float
    grey: Array
    camera: Camera


@dataclass(frozen=True)
class Followed:
    """Pose in one frame. ``confidence`` 0..1 is the share of points that agree; 0 = lost. ``fresh``: seen in this very frame,
    not carried over from the one before. ``covariance`` (6, 6) of a small turn (rad) and move (mm) against the marked pose."""

    camera: Camera
    confidence: float
    spread_px: float
    fresh: bool = True
    covariance: Array = field(default_factory=lambda: np.diag(POSE_FLOOR**2))

    @property
    def in_body(self) -> Array:
        """The covariance (6, 6) of the turn in the instrument's own frame, and of the move as a share of its distance."""
        back = np.zeros((6, 6))
        back[:3, :3], back[3:, 3:] = self.camera.rotation.T, np.eye(3) / float(self.camera.tvec[2])
        return back @ self.covariance @ back.T


def moved_px(model: InstrumentModel, old: Camera, new: Camera) -> float:
    """How far bridge and fingerboard have moved in the picture, px."""
    marks = np.array([model.landmarks[n] for n in REQUIRED_LANDMARKS])
    return float(np.linalg.norm(old.project(marks) - new.project(marks), axis=1).max())


def moved_along(rotation: Array, place: Array, old: Camera, new: Camera) -> tuple[Array, Array]:
    """Poses (..., 3, 3), (..., 3) mm followed from ``old``, as they are when the marked frame's pose was ``new`` in truth.

    The instrument is turned by as much in its own frame, stands as much to the side in the picture, and all distances change alike: another
    lens has it farther away everywhere, and to turn that way along with the player would throw it sideways.
    """
    a, b = np.asarray(old.tvec, float), np.asarray(new.tvec, float)
    side = new.focal * b[:2] / b[2] - old.focal * a[:2] / a[2]
    depth = place[..., 2:] * (b[2] / a[2])
    xy = depth * (old.focal * place[..., :2] / place[..., 2:] + side) / new.focal
    return rotation @ old.rotation.T @ new.rotation, np.concatenate([xy, depth], axis=-1)


def put_right_camera(camera: Camera, old: Camera, new: Camera) -> Camera:
    """A pose followed from ``old``, as it is when the marked frame's pose was ``new`` in truth."""
    rotation, place = moved_along(camera.rotation, np.asarray(camera.tvec, float), old, new)
    return Camera(rotation_vector(rotation), place, new.focal, new.center)


def put_right(followed: Followed, old: Camera, new: Camera) -> Followed:
    """The same of what was followed."""
    return replace(followed, camera=put_right_camera(followed.camera, old, new))


@dataclass(frozen=True)
class _Look:
    """What references have seen of a frame: by reference its number and points (k,) with their pixels (k, 2)."""

    camera: Camera
    share: float
    parts: tuple[tuple[int, Array, Array], ...]
    agree: Array
    covariance: Array


class InstrumentFollower:
    """Gives the pose for one frame after the other. Start it with the marked frames, then call ``step`` in order."""

    def __init__(self, model: InstrumentModel, marked: list[KeyFrame]) -> None:
        self.model = model
        self._views = [ReferenceView(model, p.t_s, p.grey, p.camera, marked=True) for p in sorted(marked, key=lambda p: p.t_s)]
        self._times = [p.t_s for p in sorted(marked, key=lambda p: p.t_s)]
        self._camera = self._views[0].camera
        self._rng = np.random.default_rng(1)
        self._lost_for = 0
        self._scale_px = max(marked[0].grey.shape[:2]) / 1280.0
        self._looks: dict[int, _Look] = {}
        self._steps = 0

    def step(self, grey: Array, t_s: float) -> Followed:
        """Pose in the frame at ``t_s``. When lost, the last good pose comes back with confidence 0."""
        number, self._steps = self._steps, self._steps + 1
        if number == 0:
            # the first frame is looked for from the moment marked nearest to it
            self._camera = self._views[int(np.abs(np.array(self._times) - t_s).argmin())].camera
        look = self._look(grey, self._camera)
        if look is None or look.share < LOST:
            self._lost_for += 1
            if self._lost_for % SEARCH_EVERY_LOST == 1:
                places = [v.camera for v in self._views if v.marked]
                found = self._again(grey)
                look = max(
                    (k for c in ([found] if found else []) + places if (k := self._look(grey, c))), key=lambda k: k.share, default=None
                )
        if look is None or look.share < LOST:
            return Followed(self._camera, 0.0, np.inf)
        self._lost_for = 0
        self._camera = look.camera
        self._looks[number] = look
        self._take_in(grey, t_s, look)
        return self._followed(look)

    def _look(self, grey: Array, guess: Camera) -> _Look | None:
        """One look from a guess, and a second from where the first has led if that is some way off."""
        order, far = self._nearest(guess)
        near = [int(k) for k in order[:REFERENCES] if far[k] < far[order[0]] + TOO_FAR_DEG]
        look: _Look | None = None
        found: list[tuple[Array, Array] | None] = []
        for count in range(1, len(near) + 1):
            # one reference where it agrees with most of what it sees, a second where it does not
            found.append(self._views[near[count - 1]].find(grey, guess))
            look = self._pose(near[:count], found, guess)
            if look is not None and look.share > AGREED:
                break
        if look is None:
            return None
        use = near[: len(found)]
        if look.share < CONTENT or moved_px(self.model, guess, look.camera) > STILL_PX * self._scale_px:
            again = self._pose(use, [self._views[k].find(grey, look.camera) for k in use], look.camera)
            if again is not None and again.share >= 0.9 * look.share:
                return again
        return look

    def _pose(self, use: list[int], found: Sequence[tuple[Array, Array] | None], guess: Camera) -> _Look | None:
        parts = tuple((k, np.flatnonzero(got[1]), got[0][got[1]]) for k, got in zip(use, found, strict=True) if got is not None)
        if sum(len(index) for _, index, _ in parts) < FEWEST_POINTS:
            return None
        seen = Sightings.together([self._views[k].sightings(index, xy) for k, index, xy in parts])
        camera, agree, covariance = refined(
            agreed_move(guess, seen, self._rng, scale_px=self._scale_px), seen, scale_px=self._scale_px
        )  # fmt: skip
        asked = sum(float(self._views[k].trust.sum()) for k, _, _ in parts)
        return _Look(camera, float((seen.trust * agree).sum() / asked), parts, agree, covariance)

    def _nearest(self, camera: Camera) -> tuple[Array, Array]:
        """Numbers of the references, nearest view first, and how far off each is (about degrees); clear and marked ones count as nearer."""
        depth = float(camera.tvec[2])
        far = np.array(
            [
                turn_between(v.camera, camera) + PER_OCTAVE_DEG * abs(np.log(float(v.camera.tvec[2]) / max(depth, 1.0)))
                - 1.0 * v.marked - 0.1 * min(v.samples, 9)
                for v in self._views
            ]
        )  # fmt: skip
        return np.argsort(far, kind="stable"), far

    def _take_in(self, grey: Array, t_s: float, look: _Look) -> None:
        """Let the references learn from a frame whose pose is known, and make a new one where all are far."""
        first = 0
        for k, index, xy in look.parts:
            self._views[k].learn(index, xy, look.agree[first : first + len(index)], look.camera, scale_px=self._scale_px)
            first += len(index)
        if look.share < NEW_REFERENCE_SHARE:
            return
        order, far = self._nearest(look.camera)
        if self._views[int(order[0])].add(t_s, grey, look.camera):
            # its points are others now: what earlier frames saw of it counts no more
            self._forget(int(order[0]))
        if far[order[0]] > NEW_REFERENCE_DEG and len(self._views) < MOST_REFERENCES:
            self._views.append(ReferenceView(self.model, t_s, grey, look.camera, marked=False))

    def _forget(self, view: int) -> None:
        for number, look in self._looks.items():
            if any(k == view for k, _, _ in look.parts):
                self._looks[number] = replace(look, parts=tuple(p for p in look.parts if p[0] != view))

    def _followed(self, look: _Look) -> Followed:
        turn = np.zeros((6, 6))
        marked = min((v for v in self._views if v.marked), key=lambda v: turn_between(v.camera, look.camera))
        away = rotation_vector(look.camera.rotation @ marked.camera.rotation.T)
        turn[:3, :3] = TURN_SHARE**2 * (np.outer(away, away) + 0.25 * (away @ away) * np.eye(3))
        return Followed(look.camera, look.share, 0.0, covariance=ALIKE * look.covariance + turn + np.diag(POSE_FLOOR**2))

    def adjusted(self, frames: Sequence[tuple[Array, int]], followed: Sequence[Followed]) -> list[Followed]:
        """All poses given so far, put right by references and sample ``frames`` (grey picture, number of its step) adjusted together.

        Every pose is refined from itself and from its neighbours' mean; the one on which more agrees is taken.
        """
        good = [(grey, k) for grey, k in frames if k < len(followed) and followed[k].confidence > 0]
        cameras = adjusted(self._views, [g for g, _ in good], [followed[k].camera for _, k in good], scale_px=self._scale_px)
        better = {k: replace(followed[k], camera=camera) for (_, k), camera in zip(good, cameras, strict=True)}
        for k, look in self._looks.items():
            parts = [self._views[v].sightings(index, xy) for v, index, xy in look.parts]
            if sum(len(p.world) for p in parts) < FEWEST_POINTS:
                continue
            seen = Sightings.together(parts)
            asked = sum(float(self._views[v].trust.sum()) for v, _, _ in look.parts)
            best: _Look | None = None
            for start in (look.camera, *_between(self._looks.get(k - 1), self._looks.get(k + 1))):
                camera, agree, covariance = refined(start, seen, scale_px=self._scale_px, steps=4)
                share = float((seen.trust * agree).sum() / asked)
                if best is None or share > best.share:
                    best = replace(look, camera=camera, share=share, covariance=covariance)
            if best is not None:
                better[k] = self._followed(best)
        return self._carried(followed, better)

    def _carried(self, followed: Sequence[Followed], better: dict[int, Followed]) -> list[Followed]:
        """The poses in ``better``; what they were put right by is carried on to all others."""
        known = sorted(better)
        if not known:
            return list(followed)
        change = np.array([_change(followed[k].camera, better[k].camera, self.model.middle) for k in known])
        out = []
        for k, old in enumerate(followed):
            if k in better:
                out.append(better[k])
                continue
            by = np.array([np.interp(k, known, change[:, j]) for j in range(6)])
            out.append(replace(old, camera=_changed(old.camera, by, self.model.middle)))
        return out

    def _again(self, grey: Array) -> Camera | None:
        """Find the lost instrument anywhere in the picture by its look in the marked frames."""
        best: tuple[int, Camera] | None = None
        finder = cv2.ORB.create(1500)
        now, what = finder.detectAndCompute(grey, None)
        if what is None or len(now) < FEWEST_POINTS:
            return None
        for view in (v for v in self._views if v.marked):
            then, look = finder.detectAndCompute(view.whole, body_mask(self.model, view.camera, view.whole.shape))
            if look is None or len(then) < FEWEST_POINTS:
                continue
            pairs = cv2.BFMatcher(cv2.NORM_HAMMING, crossCheck=True).match(look, what)
            if len(pairs) < FEWEST_POINTS:
                continue
            xy = np.array([then[p.queryIdx].pt for p in pairs]) + 0.5
            seen = np.array([now[p.trainIdx].pt for p in pairs]) + 0.5
            c = view.camera
            k = np.array([[c.focal, 0, c.center[0]], [0, c.focal, c.center[1]], [0, 0, 1.0]])
            ok, rvec, tvec, inliers = cv2.solvePnPRansac(
                view.places(xy), seen, k, None, c.rvec.reshape(3, 1).copy(), np.reshape(c.tvec, (3, 1)).astype(float), True, 200, 4.0
            )
            count = 0 if inliers is None else len(inliers)
            if ok and count >= FEWEST_POINTS and (best is None or count > best[0]):
                best = (count, Camera(rvec.ravel(), tvec.ravel(), c.focal, c.center))
        return best[1] if best else None


def _between(before: _Look | None, after: _Look | None) -> tuple[Camera, ...]:
    """The pose half way between two, if both are known."""
    if before is None or after is None:
        return ()
    a, b = before.camera, after.camera
    turn = rotation_vector(b.rotation @ a.rotation.T)
    rotation = rotation_of(0.5 * turn) @ a.rotation
    return (Camera(rotation_vector(rotation), 0.5 * (np.asarray(a.tvec, float) + b.tvec), a.focal, a.center),)


def _change(old: Camera, new: Camera, middle: Array) -> Array:
    """By what turn (rad) about ``middle`` (3,) mm, and what move of it (mm), two poses differ: (6,)."""
    turn = rotation_vector(new.rotation @ old.rotation.T)
    return np.concatenate([turn, new.rotation @ middle + new.tvec - old.rotation @ middle - old.tvec])


def _changed(old: Camera, change: Array, middle: Array) -> Camera:
    """The pose that differs from ``old`` by ``change`` (6,)."""
    rotation = rotation_of(change[:3]) @ old.rotation
    place = old.rotation @ middle + old.tvec + change[3:] - rotation @ middle
    return Camera(rotation_vector(rotation), place, old.focal, old.center)
