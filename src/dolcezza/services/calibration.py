"""Calibrating the instrument, live: landmarks in, outline, errors and resulting ± out, with undo. No widget is needed."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass, replace

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import LandmarkError
from dolcezza.core.base.message import Message
from dolcezza.core.camera.lens import Camera
from dolcezza.core.camera.place import best_move
from dolcezza.core.camera.pose import ClickSd, LandmarkFit, fit_landmarks, swapped
from dolcezza.core.camera.precision import ViewPrecision, predict
from dolcezza.core.check.kept import PhoneCheck
from dolcezza.core.instrument.model import LANDMARK_NAMES, REQUIRED_LANDMARKS, InstrumentModel
from dolcezza.core.pipeline.fit_file import USUAL_RATE_HZ, CalibrationFrame, Fit, Points, flipped, same_frame
from dolcezza.core.tracking.landmarks_seen import ONE_LOOK, learnt_sd
from dolcezza.services.undo import Step, UndoStack


def view_said(weak: Sequence[str], place: str = "") -> tuple[Message, ...]:
    """What a view measures poorly, and which way to move the phone next time (``place``, a name of ``MOVES``, "" = none is better)."""
    out = [Message("view.weak", {"what": tuple(Message(f"figure.{w}") for w in weak)}) if weak else Message("view.good")]
    if place:
        out.append(Message("view.next" if weak else "view.better", {"place": Message(f"move.{place}")}))
    return tuple(out)


@dataclass(frozen=True)
class CalibrationState:
    """What the landmarks give at this moment.

    ``outline``, ``board``, ``strings``, ``bridge``: places in the picture (px) to draw, empty until the fit works.
    ``problem`` is the sentence when it does not; ``swap`` whether exchanging the sides would mend it.
    """

    points: Points
    fit: LandmarkFit | None
    precision: ViewPrecision | None
    problem: str
    swap: bool
    outline: Array
    board: Array
    strings: Array
    bridge: Array

    @staticmethod
    def drawn(
        points: Points, fit: LandmarkFit | None, precision: ViewPrecision | None, model: InstrumentModel, draw: Callable[[Array], Array]
    ) -> CalibrationState:
        """A state with the instrument drawn by ``draw``, which takes places (..., 3) mm to the picture (..., 2) px."""
        ends = np.array([0.0, model.spec.string_length])
        strings = np.array([model.string_point(k, ends) for k in range(len(model.spec.strings))])
        bridge = np.array([model.landmarks["bridge_bass"], [0.0, 0.0, 0.0], model.landmarks["bridge_treble"]])
        return CalibrationState(points, fit, precision, "", False, draw(model.outline), draw(model.board), draw(strings), draw(bridge))

    @property
    def ready(self) -> bool:
        """Whether the take can be measured with these landmarks."""
        return self.fit is not None

    @property
    def advice(self) -> tuple[Message, ...]:
        """What this view measures poorly."""
        return view_said(self.precision.weak) if self.precision else ()

    @property
    def worst_landmark(self) -> tuple[str, float] | None:
        """The landmark farthest from its fitted place and by how much, px."""
        if self.fit is None:
            return None
        name = max(self.fit.errors_px, key=self.fit.errors_px.__getitem__)
        return name, self.fit.errors_px[name]


SAME_ZERO_S = 0.25
GOOD_CHI2 = 8.0
"""Chi-square a landmark (two numbers) up to which a pose found from close by is not doubted."""
_NOTHING = np.zeros((0, 2))


class CalibrationSession:
    """Landmarks of a take, one moment at a time. ``changed`` is called with the new state after every change.

    ``moments`` are the times (s) that are marked, ``at`` the number of the one that is being worked on. ``rate_hz``: frames a second.
    ``held``: a landmark is being dragged, and stays where the hand has it.
    """

    def __init__(self, fit: Fit, size: tuple[int, int], t_s: float, rate_hz: float = USUAL_RATE_HZ) -> None:
        self.base, self.rate_hz = fit, rate_hz
        self.size = size
        self.t_s = t_s
        self.undo = UndoStack()
        self.held = False
        self.changed: Callable[[CalibrationState], None] = lambda _state: None
        self._others: list[CalibrationFrame] = list(fit.landmarks[1:])
        self._offered: dict[float, Points] = {}
        self._take_offer(fit)
        first = next((m for m in fit.landmarks), None)
        self._points: Points = dict(first.points) if first else {}
        if first:
            self.t_s = first.t_s
        self.state = self._work_out()

    def _frame(self) -> CalibrationFrame:
        """The moment being worked on, as it goes into the fit."""
        return CalibrationFrame(self.t_s, dict(self._points), self._found_at(self.t_s, self._points))

    @property
    def moments(self) -> list[float]:
        """Times (s) of all moments in order, the one being worked on among them."""
        return sorted([self.t_s, *(m.t_s for m in self._others)])

    @property
    def at(self) -> int:
        """Number of the moment being worked on."""
        return self.moments.index(self.t_s)

    def go_to(self, t_s: float) -> None:
        """Work on the moment at ``t_s``: one that is marked already, or a new one without landmarks."""
        if same_frame(t_s, self.t_s, self.rate_hz):
            return
        if self._points:
            self._others.append(self._frame())
        known = next((m for m in self._others if same_frame(m.t_s, t_s, self.rate_hz)), None)
        if known is not None:
            self._others.remove(known)
        self.t_s, self._points = (known.t_s, dict(known.points)) if known else (float(t_s), {})
        self._tell()

    def go_to_followed(self, t_s: float, points: Points) -> None:
        """Work on a frame that is not marked yet, beginning with the places to which the instrument was followed there."""
        self.go_to(t_s)
        if not self._points and points:
            self._points = dict(points)
            self._tell()

    def leave_followed(self, t_s: float, back_to_s: float) -> None:
        """Nothing was changed on the frame at ``t_s``: forget that it was worked on."""
        if same_frame(self.t_s, t_s, self.rate_hz) and self._others:
            self._points = {}
            self.go_to(back_to_s)

    def forget_moment(self) -> None:
        """Take the present moment with all its landmarks away and go to the nearest other one."""
        if not self._others:
            self.clear()
            return
        old, gone = dict(self._points), self.t_s
        nearest = min(self._others, key=lambda m: abs(m.t_s - gone))

        def forget() -> None:
            self.go_to(gone)
            self._points = {}
            self.go_to(nearest.t_s)

        def back() -> None:
            self.go_to(gone)
            self._points = dict(old)
            self._tell()

        forget()
        self.undo.push(Step("moment removed", back, forget))

    def _take_offer(self, fit: Fit) -> None:
        self._offered |= {m.t_s: {n: m.points[n] for n in m.found} for m in fit.landmarks if m.found}

    def offer(self, fit: Fit) -> None:
        """Begin with the landmarks that the program has found; what the teacher moves is the teacher's."""
        if self._points or not fit.landmarks:
            return
        self._take_offer(fit)
        first = fit.landmarks[0]
        self.t_s, self._points, self._others = first.t_s, dict(first.points), list(fit.landmarks[1:])
        self.base = replace(self.base, handed=fit.handed, handed_told=fit.handed_told)
        self._tell()

    def _found_at(self, t_s: float, points: Points) -> tuple[str, ...]:
        """Landmarks that still lie where the program found them."""
        offered = self._offered.get(t_s, {})
        return tuple(n for n, xy in points.items() if offered.get(n) == xy)

    @property
    def found(self) -> bool:
        """Whether the landmarks are the program's, and no hand has set one."""
        return bool(self._points) and len(self._found_at(self.t_s, self._points)) == len(self._points)

    def next_landmark(self, skipped: Collection[str] = ()) -> str | None:
        """The landmark to set next: the four needed ones first, then the optional ones that are not skipped."""
        return next((n for n in LANDMARK_NAMES if n not in self._points and n not in skipped), None)

    def move(self, name: str, x: float, y: float) -> None:
        """A landmark is being dragged: work out the fit from where it was a moment ago, make no undo step yet."""
        self._points = {**self._points, name: (float(x), float(y))}
        self._tell(near=self.state.fit.camera if self.state.fit else None)

    def set(self, name: str, x: float, y: float, before: Points | None = None) -> None:
        """Set or finish dragging a landmark; one undo step back to ``before`` (the points when the drag began)."""
        old = dict(self._points) if before is None else dict(before)
        self.settle(name, x, y)
        self._remember("landmark set" if name not in old else "landmark moved", old)

    def settle(self, name: str, x: float, y: float) -> None:
        """A landmark has its place, and somebody else remembers how to take that back."""
        self._points = {**self._points, name: (float(x), float(y))}
        self._tell()

    def remove(self, name: str) -> None:
        """Take a landmark away."""
        if name in self._points:
            old = dict(self._points)
            self._points = {k: v for k, v in self._points.items() if k != name}
            self._tell()
            self._remember("landmark removed", old)

    def swap_sides(self) -> None:
        """Exchange low-string and high-string side."""
        old = dict(self._points)
        self._points = swapped(self._points)
        self._tell()
        self._remember("sides swapped", old)

    def clear(self) -> None:
        """Take all landmarks away."""
        old = dict(self._points)
        self._points = {}
        self._tell()
        self._remember("landmarks cleared", old)

    def settings(self, *, instrument: str | None = None, mirrored: bool | None = None, handed: str | None = None) -> None:
        """Another instrument, or which hand bows and whether the picture is mirrored: the fit is worked out again, and what the
        program has found is of the instrument's other side."""
        changes: dict[str, object] = {}
        if instrument is not None:
            changes |= {"instrument": instrument, "measured": {}}
        if mirrored is not None:
            changes["mirrored"] = mirrored
        if handed is not None:
            changes["handed"] = handed
        if instrument is None:
            # said on purpose, also where it is said once more
            changes["handed_told"] = True
        old, self.base = self.base, replace(self.base, **changes)  # type: ignore[arg-type]
        if self.base.flip != old.flip and self.found:
            self._points = swapped(self._points)
            self._offered[self.t_s] = dict(self._points)
        self._tell()

    @property
    def zero(self) -> tuple[float, ...]:
        """Moments (s) marked as zero: the bow is straight there."""
        return self.base.zero

    def toggle_zero(self, t_s: float) -> None:
        """Mark ``t_s`` as a moment at which the bow is straight, or take the mark near it away."""
        old = self.base.zero
        left = tuple(z for z in old if abs(z - t_s) > SAME_ZERO_S)
        new = left if len(left) < len(old) else tuple(sorted([*old, float(t_s)]))
        self._change(replace(self.base, zero=new), "zero set" if len(new) > len(old) else "zero removed")

    def use_check(self, check: PhoneCheck | None) -> None:
        """Say how true this phone measures from here; None = nothing is known of it."""
        self._change(replace(self.base, check=check), "check chosen" if check is not None else "check taken away")

    def tell_tuning(self, cents: float | None) -> None:
        """Say how far the strings are tuned from A = 440 Hz; None = let the sound tell."""
        self._change(replace(self.base, tuning_cents=cents), "tuning set" if cents is not None else "tuning left to the sound")

    def _change(self, new: Fit, words: str) -> None:
        """Another base of the fit, with undo."""

        def put(fit: Fit) -> Callable[[], None]:
            def do() -> None:
                self.base = fit
                self._tell()

            return do

        old = self.base
        put(new)()
        self.undo.push(Step(words, put(old), put(new)))

    def adopt(self, fit: Fit) -> None:
        """Take over what was set by hand on the measured take: landmarks, the bow, the arm, strokes, the moment at ease."""
        if not self.held and fit.landmarks and self.state.ready and fit.landmarks != self.result().landmarks:
            at = min(fit.landmarks, key=lambda m: abs(m.t_s - self.t_s))
            self.t_s, self._points = at.t_s, dict(at.points)
            self._others = [m for m in fit.landmarks if m is not at]
            self._tell()
        self.base = replace(
            self.base, landmarks=fit.landmarks, by_hand=fit.by_hand, arm=fit.arm, strokes=fit.strokes, relaxed_s=fit.relaxed_s
        )

    def base_with_landmarks(self) -> Fit:
        """The fit with the landmarks as they are, or with those it began with while these do not work."""
        return self.result() if self.state.ready else self.base

    def result(self) -> Fit:
        """The fit to keep. Raises LandmarkError when the landmarks do not work yet."""
        if not self.state.ready:
            raise LandmarkError(self.state.problem or "The instrument is not marked yet.")
        whole = [m for m in self._others if all(n in m.points for n in REQUIRED_LANDMARKS)]
        landmarks = sorted([self._frame(), *whole], key=lambda m: m.t_s)
        return replace(self.base, landmarks=tuple(landmarks))

    def place_advice(self) -> tuple[Message, ...]:
        """What this view measures poorly and which way to move the phone next time."""
        fit, precision = self.state.fit, self.state.precision
        if fit is None or precision is None:
            return ()
        move = best_move(InstrumentModel(self.base.spec), fit.camera, tuple(self._points), self.size)
        return view_said(precision.weak, move.name if move else "")

    def _remember(self, label: str, old: Points) -> None:
        new, when = dict(self._points), self.t_s

        def put(points: Points) -> Callable[[], None]:
            def do() -> None:
                self.go_to(when)
                self._points = dict(points)
                self._tell()

            return do

        self.undo.push(Step(label, put(old), put(new)))

    def _tell(self, near: Camera | None = None) -> None:
        self.state = self._work_out(near)
        self.changed(self.state)

    def _work_out(self, near: Camera | None = None) -> CalibrationState:
        points = dict(self._points)
        model = InstrumentModel(self.base.spec)
        try:
            seen = flipped(points, self.size[0]) if self.base.flip else points
            known = {n: ONE_LOOK * learnt_sd(model, n) for n in self._found_at(self.t_s, points)}
            fit = _fit_from(model, seen, self.size, near, known)
        except LandmarkError as error:
            return CalibrationState(points, None, None, str(error), error.swap, _NOTHING, _NOTHING, _NOTHING, _NOTHING)
        precision = predict(model, fit, scale_px=max(self.size) / 1280.0, click_sd_px=known)

        def draw(points3: Array) -> Array:
            xy = fit.camera.project(points3)
            return np.stack([self.size[0] - xy[..., 0], xy[..., 1]], axis=-1) if self.base.flip else xy

        return CalibrationState.drawn(points, fit, precision, model, draw)


def _fit_from(model: InstrumentModel, points: Points, size: tuple[int, int], near: Camera | None, known: ClickSd) -> LandmarkFit:
    """The fit found from a pose close by, which is quick; the search from everywhere where that leads to nothing good. Raises
    LandmarkError."""
    if near is not None:
        try:
            fit = fit_landmarks(model, points, size=size, near=near, click_sd_px=known)
        except LandmarkError:
            pass
        else:
            if fit.chi2 < GOOD_CHI2 * len(points):
                return fit
    return fit_landmarks(model, points, size=size, click_sd_px=known)
