"""The fit file: take, instrument, handedness and landmarks, as JSON that anyone can write by hand."""

from __future__ import annotations

import json
from dataclasses import asdict, dataclass, field
from pathlib import Path
from typing import Any

from dolcezza.core.base.errors import LandmarkError
from dolcezza.core.check.kept import PhoneCheck
from dolcezza.core.instrument.catalog import InstrumentSpec, instrument
from dolcezza.core.instrument.model import LANDMARK_NAMES
from dolcezza.core.strokes.edits import EditKind, StrokeEdit

Points = dict[str, tuple[float, float]]
USUAL_RATE_HZ = 30.0


@dataclass(frozen=True)
class CalibrationFrame:
    """Landmarks of one frame: time (s) and places in pixels of the upright picture, (0, 0) at its top left corner. ``found``: names of
    those that the program found and no hand has set."""

    t_s: float
    points: Points
    found: tuple[str, ...] = ()


@dataclass(frozen=True)
class BowPoints:
    """Places of the bow in one frame as the teacher set them, px of the upright picture: where the hair begins at the frog
    and ends at the head; None = left to the program."""

    t_s: float
    frog: tuple[float, float] | None = None
    head: tuple[float, float] | None = None


@dataclass(frozen=True)
class ArmPoints:
    """Joints of the bow arm in one frame as the teacher set them, px of the upright picture; None = left to the program."""

    t_s: float
    shoulder: tuple[float, float] | None = None
    elbow: tuple[float, float] | None = None
    wrist: tuple[float, float] | None = None


@dataclass(frozen=True)
class Fit:
    """Everything that the measuring needs to be told about a take.

    ``measured``: dimensions in mm that the teacher took of this one instrument. ``mirrored``: a selfie video whose left
    and right are exchanged. ``zero``: moments (s) at which the bow is known to be straight. ``by_hand``: places of the bow
    that the teacher has set; they win over what is found. ``relaxed_s``: a moment (s) at which the player stands at ease;
    ``arm``: places of the bow arm that the teacher has set. ``tuning_cents``: how far the strings are tuned from A = 440 Hz, where the
    teacher has said so; None = believe the open strings up to 60 cents. ``strokes``: cuts, joins and strings of
    strokes by the teacher's own hand. ``check``: how true this phone measures from where it stands. ``handed_told``: whether the teacher,
    or the video, has told which hand bows. Left-handed players and mirrored pictures are flipped before measuring.
    """

    instrument: str
    landmarks: tuple[CalibrationFrame, ...]
    handed: str = "right"
    mirrored: bool = False
    take: str = ""
    measured: dict[str, float] = field(default_factory=dict)
    stickers: dict[str, Any] = field(default_factory=dict)
    zero: tuple[float, ...] = ()
    by_hand: tuple[BowPoints, ...] = ()
    relaxed_s: float | None = None
    arm: tuple[ArmPoints, ...] = ()
    tuning_cents: float | None = None
    strokes: tuple[StrokeEdit, ...] = ()
    check: PhoneCheck | None = None
    handed_told: bool = True

    @property
    def flip(self) -> bool:
        """Whether the picture is turned left for right before measuring."""
        return (self.handed == "left") != self.mirrored

    @property
    def spec(self) -> InstrumentSpec:
        """The instrument with the teacher's own dimensions. Raises InstrumentError."""
        return instrument(self.instrument).with_measured(**self.measured)


def same_frame(a_s: float, b_s: float, rate_hz: float = USUAL_RATE_HZ) -> bool:
    """Whether two times (s) are of one frame of a video with so many frames a second: nearer than half the way to the next one."""
    return abs(a_s - b_s) < 0.5 / rate_hz


def flipped(points: Points, width: int) -> Points:
    """Landmarks of the picture turned left for right."""
    return {name: (width - x, y) for name, (x, y) in points.items()}


MOST_FRAMES, MOST_BYTES = 200, 5_000_000
"""So many calibration frames, and so long a file, are read at most."""
LARGEST = 1e6


def real(value: Any) -> float:
    """A number that can be a time or a place. Raises ValueError."""
    number = float(value)
    if not abs(number) < LARGEST:
        raise ValueError(f"{number:g} cannot be")
    return number


def fit_from_dict(data: Any) -> Fit:
    """Check and read a fit. Raises LandmarkError with a sentence naming what is wrong."""
    if not isinstance(data, dict):
        raise LandmarkError("The fit file does not hold a fit.", "It is a JSON object with 'instrument' and 'pins'.")
    moments = []
    if not isinstance(data.get("instrument"), str):
        raise LandmarkError("The fit file does not name the instrument.", 'Add for example "instrument": "violin 4/4".')
    landmarks = data.get("pins")
    if not isinstance(landmarks, list) or not landmarks:
        raise LandmarkError("The fit file has no landmarks.", "Add 'pins' with 't_s' and 'points'.")
    if len(landmarks) > MOST_FRAMES:
        raise LandmarkError(
            f"The fit file has {len(landmarks)} calibration frames.", f"Up to {MOST_FRAMES} are used; leave the others out."
        )
    for moment in landmarks:
        try:
            points = {str(k): (real(v[0]), real(v[1])) for k, v in moment["points"].items()}
            moments.append(CalibrationFrame(real(moment["t_s"]), points, _names(moment.get("found"))))
        except (KeyError, TypeError, ValueError, OverflowError, IndexError, AttributeError) as error:
            raise LandmarkError(
                "A calibration frame of the fit file cannot be read.", "Each has 't_s' and 'points': {name: [x, y]}."
            ) from error
        for name in moments[-1].points:
            if name not in LANDMARK_NAMES:
                raise LandmarkError(f"'{name}' is not a place on the instrument.", f"Known: {', '.join(LANDMARK_NAMES)}.")
    handed = data.get("handed", "right")
    if handed not in ("right", "left"):
        raise LandmarkError(f"'handed' is {handed!r}.", 'It is "right" or "left".')
    try:
        measured = {str(k): real(v) for k, v in (data.get("measured") or {}).items()}
    except (TypeError, ValueError, OverflowError, AttributeError) as error:
        raise LandmarkError("The instrument's own dimensions in the fit file cannot be read.", "They are numbers in mm.") from error
    stickers: dict[str, Any] = data["stickers"] if isinstance(data.get("stickers"), dict) else {}
    by_hand = tuple(BowPoints(t, p.get("frog"), p.get("head")) for t, p in _set_by_hand(data, "bow", ("frog", "head")))
    joints = ("shoulder", "elbow", "wrist")
    arm = tuple(ArmPoints(t, *(p.get(j) for j in joints)) for t, p in _set_by_hand(data, "arm", joints))
    return Fit(
        data["instrument"], tuple(moments), handed, bool(data.get("mirrored", False)), str(data.get("take", "")), measured, stickers,
        _times(data), by_hand, _number(data, "relaxed_s", "relaxed moment", "a time in seconds"), arm,
        _number(data, "tuning_cents", "tuning", "a number of cents"), _stroke_edits(data), _check(data),
        data.get("handed_told") is not False,
    )  # fmt: skip


def _names(data: Any) -> tuple[str, ...]:
    """Names of landmarks; what is none is left out."""
    return tuple(n for n in data if n in LANDMARK_NAMES) if isinstance(data, list) else ()


def _times(data: dict[str, Any]) -> tuple[float, ...]:
    """The moments of zero. Raises LandmarkError."""
    try:
        return tuple(real(t) for t in data.get("zero") or ())
    except (TypeError, ValueError, OverflowError) as error:
        raise LandmarkError("The zero of the fit file cannot be read.", "It is a list of times in seconds.") from error


def _number(data: dict[str, Any], key: str, name: str, kind: str) -> float | None:
    """A number that may be left out. Raises LandmarkError."""
    try:
        return None if data.get(key) is None else real(data[key])
    except (TypeError, ValueError, OverflowError) as error:
        raise LandmarkError(f"The {name} of the fit file cannot be read.", f"It is {kind}.") from error


def _set_by_hand(data: dict[str, Any], key: str, names: tuple[str, ...]) -> list[tuple[float, Points]]:
    """Places set by hand: time and points by name. Raises LandmarkError."""
    out = []
    for entry in data.get(key) or ():
        try:
            points = {k: (real(entry[k][0]), real(entry[k][1])) for k in names if entry.get(k) is not None}
            out.append((real(entry["t_s"]), points))
        except (KeyError, TypeError, ValueError, OverflowError, IndexError, AttributeError) as error:
            said = " and ".join(f"'{n}'" for n in names)
            raise LandmarkError(f"A {key} set by hand in the fit file cannot be read.", f"Each has 't_s' and {said}: [x, y].") from error
    return out


def _stroke_edits(data: dict[str, Any]) -> tuple[StrokeEdit, ...]:
    """What was done to strokes by hand. Raises LandmarkError."""
    edits = []
    for entry in data.get("strokes") or ():
        try:
            t_s, what, string = real(entry["t_s"]), str(entry["do"]), str(entry.get("string", ""))
        except (KeyError, TypeError, ValueError, OverflowError, AttributeError) as error:
            raise LandmarkError("A stroke set by hand in the fit file cannot be read.", "Each has 't_s' and 'do'.") from error
        if what not in set(EditKind):
            raise LandmarkError(f"'{what}' cannot be done to a stroke.", f"Known: {', '.join(EditKind)}.")
        edits.append(StrokeEdit(t_s, EditKind(what), string))
    return tuple(edits)


def _check(data: dict[str, Any]) -> PhoneCheck | None:
    """The check of the phone. Raises LandmarkError."""
    try:
        return None if data.get("check") is None else PhoneCheck.from_dict(data["check"])
    except (KeyError, TypeError, ValueError, OverflowError, AttributeError) as error:
        raise LandmarkError("The check of the phone in the fit file cannot be read.", "Leave it out, or choose the check again.") from error


def fit_to_dict(fit: Fit) -> dict[str, Any]:
    """The fit as plain JSON data; reads back to an equal fit."""
    data: dict[str, Any] = {
        "take": fit.take, "instrument": fit.instrument, "handed": fit.handed, "mirrored": fit.mirrored,
        "pins": [
            {"t_s": m.t_s, "points": {k: [x, y] for k, (x, y) in m.points.items()}} | ({"found": list(m.found)} if m.found else {})
            for m in fit.landmarks
        ],
    }  # fmt: skip
    if not fit.handed_told:
        data["handed_told"] = False
    if fit.measured:
        data["measured"] = fit.measured
    if fit.stickers:
        data["stickers"] = fit.stickers
    if fit.zero:
        data["zero"] = list(fit.zero)
    if fit.check is not None:
        data["check"] = fit.check.to_dict()
    if fit.relaxed_s is not None:
        data["relaxed_s"] = fit.relaxed_s
    if fit.tuning_cents is not None:
        data["tuning_cents"] = fit.tuning_cents
    for key, entries in (("bow", fit.by_hand), ("arm", fit.arm)):
        if entries:
            data[key] = [{k: list(v) if isinstance(v, tuple) else v for k, v in asdict(e).items() if v is not None} for e in entries]
    if fit.strokes:
        data["strokes"] = [{"t_s": e.t_s, "do": e.what.value} | ({"string": e.string} if e.string else {}) for e in fit.strokes]
    return data


def read_fit(path: Path) -> Fit:
    """Read a fit file. Raises LandmarkError."""
    path = Path(path)
    try:
        if path.stat().st_size > MOST_BYTES:
            raise LandmarkError(f"The fit file {path.name} is too long.", "It is JSON text of some thousand letters.")
        return fit_from_dict(json.loads(path.read_text(encoding="utf-8")))
    except FileNotFoundError:
        raise LandmarkError(f"There is no fit file {path.name}.", "Mark the instrument in the desk first, or name another file.") from None
    except (OSError, ValueError, RecursionError) as error:
        raise LandmarkError(f"The fit file {path.name} cannot be read.", "It is JSON text.") from error
