"""What is to be played and filmed, as a TOML file that anyone can write.

``[take]`` instrument, handed, seed, bows_per_string ...; ``[[bow]]`` in their order; ``[player]``, ``[phone]``, ``[room]``, ``[sound]``.
"""

from __future__ import annotations

import tomllib
from dataclasses import dataclass, field, fields, replace
from itertools import pairwise
from pathlib import Path
from typing import Any, TypeVar

from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.instrument.catalog import InstrumentSpec, instrument

Three = tuple[float, float, float]
T = TypeVar("T")
MOST_BOWS, LONGEST_S = 400, 900.0
SET_DOWN_S = 0.35
"""So long a bow takes from the string to where it is set down anew."""
APART = ("bows", "player", "phone", "second_phone", "sound", "differs", "number")
"""Fields that are tables of their own, or no part of a script."""


class ScriptError(DolcezzaError):
    """A script that cannot be played."""


@dataclass(frozen=True)
class Bow:
    """One bow, or a rest (``rest``: "string", "air", "hang"; "laid": still on its own string, at its own place and angle, ``start`` of the
    hair). ``string``: its name, or two neighbours as "GD". ``start``, ``end``: shares of the hair from the frog; ``contact_mm`` and
    ``angle_deg``: at frog, middle and head; ``notes``: semitones over the open string, one after another in this bow; ``shake_mm``,
    ``bounce_deg``: size of a trembling; ``raise_deg``: of the shoulder; ``elbow_mm``: the elbow so much above (+) where it belongs;
    ``index_mm``: the index finger is off the stick by so much; ``hand_mm``: the hand has slid along the stick from where it holds (+ = to
    the head); ``lift``: the bow leaves the string before it, and is set down anew."""

    string: str = ""
    seconds: float = 1.0
    start: float = 0.06
    end: float = 0.92
    contact_mm: Three | None = None
    angle_deg: Three = (0.0, 0.0, 0.0)
    notes: tuple[float, ...] = (0.0,)
    shake_mm: float = 0.0
    shake_hz: float = 7.0
    bounce_deg: float = 0.0
    raise_deg: float = 0.0
    elbow_mm: float = 0.0
    index_mm: float = 0.0
    hand_mm: float = 0.0
    lift: bool = False
    rest: str = ""

    @property
    def direction(self) -> str:
        """down | up, "" for a rest."""
        return "" if self.rest else "down" if self.end > self.start else "up"


@dataclass(frozen=True)
class PlayerScript:
    """Size (1 = adult), posture (see ``player.Posture``), and how much the player moves: ``sway_mm``, ``turn_deg``. ``lean_deg``: the bow
    off the string's plane; ``bow_tilt_deg``: the stick turned towards the fingerboard."""

    size: float | None = None
    left_deg: float = 42.0
    tilt_deg: float = 26.0
    rise_deg: float = 0.0
    sway_mm: float = 0.0
    turn_deg: float = 0.0
    left_hand: float = 0.1
    sleeves: float = 1.2
    lean_deg: float = 0.0
    bow_tilt_deg: float = 0.0
    seed: int = 0


@dataclass(frozen=True)
class PhoneScript:
    """Where the phone stands (``side_deg`` towards the scroll, ``high_deg``, ``far_mm``), its lens and how it films; ``aim_mm``: it is
    aimed so much higher than usual; ``from_s``: it begins to film so much after the player does. ``exposure_swing``: the exposure goes
    up and down by this share, in steps; ``warm``: the light's
    colour, 0 = white, 1 = a lamp's; ``hunt_px``: now and then the focus is looked for, and lost by so much. ``shutter``: share of a frame's
    time for which it is open; ``rolling``: share over which the rows are read, from the top on."""

    side_deg: float = 12.0
    high_deg: float = 18.0
    far_mm: float = 2300.0
    view_deg: float = 56.0
    width: int = 1280
    height: int = 720
    rate: float = 30.0
    barrel: float = 0.0
    shake_px: float = 0.0
    noise: float = 0.008
    exposure: float = 0.32
    exposure_swing: float = 0.0
    warm: float = 0.0
    hunt_px: float = 0.0
    shutter: float = 0.0
    rolling: float = 0.0
    sharpen: float = 0.3
    kbit: int = 2500
    aim_mm: float = 0.0
    pins_px: float = 1.0
    from_s: float = 0.0
    number: int = 1


@dataclass(frozen=True)
class SoundScript:
    """How it sounds: late by ``late_ms`` against the picture, ``noise`` of the room, ``roughness`` of the tone (0 to 1). ``talk``: somebody
    speaks while no bow is drawn, ``piano``: somebody plays along, each so loud beside the strings; ``echo_s``: the room's reverberation."""

    late_ms: float = 0.0
    noise: float = 0.004
    roughness: float = 0.0
    talk: float = 0.0
    piano: float = 0.0
    echo_s: float = 0.0
    silent: bool = False


@dataclass(frozen=True)
class Script:
    """One take. The room has ``clutter`` and any pattern, or is a ``calm`` one to teach in, its player in plain cloth. ``bow_looks``:
    "usual", "any" (by chance) or "dark" hair; ``stickers``: coloured ones on frog and head; ``differs``: true dimensions over the
    table's (share), by name."""

    instrument: str = "violin 4/4"
    handed: str = "right"
    bows: tuple[Bow, ...] = ()
    lead_in_s: float = 0.8
    lead_out_s: float = 0.6
    seed: int = 0
    clutter: bool = True
    calm: bool = False
    bow_looks: str = "usual"
    stickers: bool = False
    differs: dict[str, float] = field(default_factory=dict)
    player: PlayerScript = field(default_factory=PlayerScript)
    phone: PhoneScript = field(default_factory=PhoneScript)
    second_phone: PhoneScript | None = None
    sound: SoundScript = field(default_factory=SoundScript)

    @property
    def table(self) -> InstrumentSpec:
        """The table's instrument. Raises InstrumentError."""
        return instrument(self.instrument)

    @property
    def spec(self) -> InstrumentSpec:
        """The true dimensions."""
        table = self.table
        return replace(table, **{name: getattr(table, name) * (1 + share) for name, share in self.differs.items()})

    @property
    def seconds(self) -> float:
        """How long the take is."""
        return self.lead_in_s + sum(b.seconds for b in self.bows) + self.lead_out_s


def script_from_dict(data: dict[str, Any]) -> Script:
    """Check and read a script. Raises ScriptError with a sentence that names what is wrong."""
    known = {"take", "bow", "player", "phone", "second_phone", "room", "sound", "differs"}
    for key in data:
        if key not in known:
            raise ScriptError(f"The script has a part '{key}' that is not known.", f"Known: {', '.join(sorted(known))}.")
    take = _read(
        Script,
        {**data.get("take", {}), **{name: bool(data["room"][name]) for name in ("clutter", "calm") if name in data.get("room", {})}},
        "take",
    )
    bows = tuple(_read(Bow, b, f"bow {k + 1}") for k, b in enumerate(_list(data, "bow")))
    differs = data.get("differs", {})
    if not isinstance(differs, dict) or not all(isinstance(v, (int, float)) and abs(v) < 0.3 for v in differs.values()):
        raise ScriptError(
            "'differs' of the script cannot be read.", "It names dimensions and by which share they differ, as string_length = 0.01."
        )
    script = replace(
        take, bows=bows, differs={k: float(v) for k, v in differs.items()}, player=_read(PlayerScript, data.get("player", {}), "player"),
        phone=_read(PhoneScript, data.get("phone", {}), "phone"), second_phone=_second(data),
        sound=_read(SoundScript, data.get("sound", {}), "sound"),
    )  # fmt: skip
    return checked(script)


def checked(script: Script) -> Script:
    """The script, if it can be played. Raises ScriptError, InstrumentError."""
    strings = script.table.strings
    if not script.bows:
        raise ScriptError("The script has no bow.", "Add [[bow]] with string, seconds, start and end.")
    if len(script.bows) > MOST_BOWS or script.seconds > LONGEST_S:
        raise ScriptError("The script is too long.", f"Up to {MOST_BOWS} bows and {LONGEST_S / 60:.0f} minutes are played.")
    for k, bow in enumerate(script.bows, 1):
        if bow.rest not in ("", "string", "laid", "air", "hang"):
            raise ScriptError(f"Bow {k} rests '{bow.rest}'.", 'A rest is "string", "laid", "air" or "hang".')
        if bow.rest in ("", "laid") and bow.string not in stops_of(strings):
            raise ScriptError(f"Bow {k} is on the string '{bow.string}'.", f"{script.instrument} has {', '.join(stops_of(strings))}.")
        if not 0.05 <= bow.seconds <= 60:
            raise ScriptError(f"Bow {k} takes {bow.seconds:g} seconds.", "A bow takes from 0.05 to 60.")
        if not bow.rest and not (0 <= bow.start <= 1 and 0 <= bow.end <= 1 and abs(bow.end - bow.start) >= 0.01):
            raise ScriptError(
                f"Bow {k} goes from {bow.start:g} to {bow.end:g}.", "The places are shares of the hair, 0 at the frog, 1 at the head."
            )
    for k, (before, bow) in enumerate(pairwise(script.bows), 2):
        if bow.lift and not (before.rest and before.seconds >= SET_DOWN_S):
            raise ScriptError(f"Bow {k} is lifted without a rest before it.", f"Let it rest for {SET_DOWN_S:g} s or more.")
    for phone in (script.phone, script.second_phone):
        if phone is not None and not 0 <= phone.from_s < script.seconds - 1:
            raise ScriptError(f"A phone begins to film at {phone.from_s:g} s.", f"The take lasts {script.seconds:.1f} s.")
    if script.bow_looks not in ("usual", "any", "dark"):
        raise ScriptError(f"'bow_looks' is '{script.bow_looks}'.", 'It is "usual", "any" or "dark".')
    if script.handed not in ("right", "left"):
        raise ScriptError(f"'handed' is '{script.handed}'.", 'It is "right" or "left".')
    for name in script.differs:
        if name not in {f.name for f in fields(InstrumentSpec)} or not isinstance(getattr(script.table, name), float):
            raise ScriptError(f"'{name}' is not a dimension of an instrument.", "As string_length, hair_length, body_scale.")
    return script


def stops_of(strings: str) -> list[str]:
    """What a bow can be on: each string, bass side first, then each two neighbours."""
    return [*strings, *(a + b for a, b in pairwise(strings))]


def _second(data: dict[str, Any]) -> PhoneScript | None:
    """A second phone that films the same playing."""
    return replace(_read(PhoneScript, data["second_phone"], "second_phone"), number=2) if "second_phone" in data else None


def _list(data: dict[str, Any], key: str) -> list[Any]:
    found = data.get(key, [])
    if not isinstance(found, list):
        raise ScriptError(f"'{key}' of the script is not a list.", f"Write [[{key}]] before each.")
    return found


def _read(kind: type[T], data: Any, what: str) -> T:
    """A dataclass from a table of the script; numbers where numbers belong. Raises ScriptError."""
    if not isinstance(data, dict):
        raise ScriptError(f"'{what}' of the script cannot be read.", "It is a table of names and values.")
    own = {f.name: f for f in fields(kind) if f.name not in APART}  # type: ignore[arg-type]
    values: dict[str, Any] = {}
    for name, value in data.items():
        if name not in own:
            raise ScriptError(f"'{name}' of {what} is not known.", f"Known: {', '.join(own)}.")
        kind_name = str(own[name].type)
        if kind_name.startswith(("Three", "tuple")):
            values[name] = _numbers(value, name, what, three=kind_name.startswith("Three"))
        elif kind_name.startswith("str"):
            values[name] = str(value)
        elif kind_name.startswith("bool"):
            values[name] = bool(value)
        else:
            values[name] = _numbers([value], name, what, three=False)[0]
            if kind_name.startswith("int"):
                values[name] = int(values[name])
    return kind(**values)


def _numbers(value: Any, name: str, what: str, *, three: bool) -> tuple[float, ...]:
    """Numbers; where three are wanted, one stands for all. Raises ScriptError."""
    given = value if isinstance(value, list) else [value]
    try:
        out = tuple(float(v) for v in given)
    except (TypeError, ValueError, OverflowError) as error:
        raise ScriptError(f"'{name}' of {what} is not a number.", "Write numbers with a point.") from error
    if not out or any(abs(v) > 1e5 or v != v for v in out):
        raise ScriptError(f"'{name}' of {what} is out of every bound.", "Write numbers with a point.")
    if three:
        if len(out) not in (1, 3):
            raise ScriptError(f"'{name}' of {what} has {len(out)} numbers.", "It is one number, or three: at frog, middle and head.")
        return out * 3 if len(out) == 1 else out
    return out


def read_script(path: Path) -> Script:
    """Read a script file. Raises ScriptError, InstrumentError."""
    try:
        return script_from_dict(tomllib.loads(Path(path).read_text(encoding="utf-8")))
    except FileNotFoundError:
        raise ScriptError(f"There is no script {Path(path).name}.", "Name another file.") from None
    except (OSError, UnicodeDecodeError, tomllib.TOMLDecodeError, RecursionError) as error:
        raise ScriptError(f"The script {Path(path).name} cannot be read.", "It is a TOML text.") from error
