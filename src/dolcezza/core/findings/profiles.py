"""Profiles: what this student is measured against. Schools disagree; a profile says which one a limit belongs to, and why.

Ready-made ones are data files beside this module (``ready/*.json``): starting points that a teacher copies and edits, never
the truth. Limits are common practice where their reason says so.
"""

from __future__ import annotations

import json
from dataclasses import dataclass, field
from functools import cache
from importlib.resources import files
from typing import Any

from dolcezza.core.base.errors import UNREADABLE, InstrumentError
from dolcezza.core.findings.choices import ANY, USUAL, Stage, choices, contradictions, looked_at
from dolcezza.core.findings.lane import MEASURES, Lane
from dolcezza.core.findings.rank import GROUPS
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.core.tension.signs import REFERENCES, Reference

FAMILIES = ("violin", "viola", "cello")


@dataclass(frozen=True)
class Band:
    """From ``low`` to ``high``, with the reason."""

    low: float
    high: float
    reason: str

    def holds(self, value: float, sd: float = 0.0) -> bool:
        """Whether a value lies inside, or too near to the edge to tell (within ``sd``)."""
        return self.low - sd <= value <= self.high + sd


@dataclass(frozen=True)
class Limit:
    """From ``value`` on something is a finding, with the reason."""

    value: float
    reason: str


LIMITS: dict[str, Limit] = {
    "bow wanders": Limit(0.02, "So much of the hair a stroke: a dozen strokes use up a quarter of the bow. common practice, no source"),
    "uneven speed": Limit(
        0.62, "The smoothest single reach there is (minimum jerk: Flash and Hogan 1985) has an evenness of 0.7; below 0.62 a bow swells."
    ),
    "trembling tone": Limit(2.0, "Loudness that trembles by 2 dB is heard. common practice, no source"),
}
"""Limits that a profile may set otherwise, under ``limits``."""


@dataclass(frozen=True)
class Wish:
    """What was chosen: ``want`` the option's key ("any" = nothing is asked), with the reason."""

    want: str
    reason: str


@dataclass(frozen=True)
class Profile:
    """Limits for instrument families and what was chosen of hold, arm, bow and stage; every limit with its reason in ``reasons``.

    ``chosen``: by the key of the choice (``core.findings.choices``), all of them. ``angle_limit_deg``: a straighter bow is not remarked
    on. ``order``: per family the strings from the lowest elbow to the highest, "" = the teacher has not set it. ``least_step_deg``:
    elbow from string to string; ``plane_mm``: elbow above the bow's plane; ``swing_limit_deg``: upper arm from straight ahead.
    ``tension`` and ``posture`` by name; what is not named there is not judged. ``order_of_work``: kinds of work in another order than
    the usual one, () = the usual. ``limits`` of bow use and tone.
    """

    name: str
    families: tuple[str, ...]
    angle_limit_deg: float
    lane: Lane
    school_of_hold: str = ""
    note: str = ""
    order: dict[str, str] = field(default_factory=dict)
    least_step_deg: float = 6.0
    plane_mm: Band = Band(-160.0, 40.0, "")
    swing_limit_deg: float = 100.0
    tension: dict[str, Reference] = field(default_factory=lambda: dict(REFERENCES))
    chosen: dict[str, Wish] = field(default_factory=dict)
    posture: dict[str, Band] = field(default_factory=dict)
    reasons: dict[str, str] = field(default_factory=dict)
    order_of_work: tuple[str, ...] = ()
    limits: dict[str, Limit] = field(default_factory=lambda: dict(LIMITS))

    def want(self, choice: str) -> str:
        """What was chosen of one thing, by its key."""
        return self.chosen[choice].want if choice in self.chosen else USUAL[choice]

    def reason(self, choice: str) -> str:
        """Why: the profile's own reason, else the option's."""
        own = self.chosen.get(choice)
        return own.reason if own is not None and own.reason else choices()[choice].option(self.want(choice)).reason

    @property
    def stage(self) -> Stage:
        """How far this profile is for."""
        return Stage(self.want("stage"))

    def judges(self, group: str) -> bool:
        """Whether a kind of work is looked at, at this stage."""
        return group in looked_at(self.stage)

    def elbow_order(self, spec: InstrumentSpec) -> tuple[str, ...]:
        """Strings from the lowest elbow to the highest; where nothing is set, from the treble to the bass string."""
        return tuple(self.order.get(spec.family) or reversed(spec.strings))

    def order_is_set(self, spec: InstrumentSpec) -> bool:
        """Whether the order of this instrument's elbows is judged."""
        return bool(self.order.get(spec.family))


def profile_from_dict(data: Any) -> Profile:
    """Check and read a profile. Raises InstrumentError naming what is wrong."""
    try:
        lane, stair = data["lane"], data["staircase"]
        limits = {key: data[key] for key in ("angle_limit_deg", "swing_limit_deg")}
        limits["least_step_deg"] = stair["least_step_deg"]
        families = tuple(str(f) for f in data["families"])
        made = Profile(
            name=str(data["name"]).strip(), families=families, angle_limit_deg=float(limits["angle_limit_deg"]["value"]),
            lane=Lane(str(lane["measure"]), float(lane["low"]), float(lane["high"]), str(lane["text"]), float(lane.get("hair_widths", 0.0)),
                      str(lane["reason"]), bool(lane.get("moves_with_pitch", False)), bool(lane.get("scaled_with_size", False))),
            school_of_hold=str(data.get("school_of_hold", "")), note=str(data.get("note", "")),
            order={str(k): str(v) for k, v in stair["order"].items()},
            least_step_deg=float(limits["least_step_deg"]["value"]), plane_mm=_band(data["elbow_to_bow_plane_mm"]),
            swing_limit_deg=float(limits["swing_limit_deg"]["value"]),
            tension={name: _reference(name, entry) for name, entry in data["tension"].items()}, chosen=_chosen(data),
            posture={name: _band(b) for name, b in data.get("posture", {}).items()},
            reasons={name: str(entry["reason"]) for name, entry in limits.items()} | {"staircase": str(stair.get("note", ""))},
            order_of_work=tuple(str(g) for g in data.get("order_of_work", [])),
            limits=LIMITS | {name: Limit(float(x["value"]), str(x["reason"])) for name, x in data.get("limits", {}).items()},
        )  # fmt: skip
    except UNREADABLE as error:
        raise InstrumentError(f"The profile cannot be read: {error!r} is missing or wrong.", "Compare it with a ready-made one.") from error
    check_profile(made)
    return made


def check_profile(made: Profile) -> None:
    """Refuse what cannot be. Raises InstrumentError naming what is wrong."""
    if not made.name or not made.families or any(f not in FAMILIES for f in made.families):
        raise InstrumentError("The profile has no name, or is for no known instrument.", f"'families' is a list of: {', '.join(FAMILIES)}.")
    unknown = set(made.order_of_work) - set(GROUPS)
    if unknown or (made.order_of_work and len(set(made.order_of_work)) < len(GROUPS)):
        raise InstrumentError(f"The order of work of profile '{made.name}' cannot be.", f"It names each once: {', '.join(GROUPS)}.")
    if made.lane.measure not in MEASURES or not made.lane.low < made.lane.high:
        raise InstrumentError(
            f"The lane of profile '{made.name}' cannot be.", f"'measure' is one of {', '.join(MEASURES)}, and 'low' is less than 'high'."
        )
    for key, wish in made.chosen.items():
        options = {o.key: o for o in choices()[key].options_for(made.families)} if key in choices() else {}
        if wish.want not in options:
            raise InstrumentError(
                f"Profile '{made.name}' cannot choose '{wish.want}' for '{key}'.",
                f"Options: {', '.join(options)}." if options else f"Choices: {', '.join(choices())}.",
            )
    clashing = contradictions({key: made.want(key) for key in choices()})
    if clashing:
        (key, option), (other, its) = clashing[0]
        raise InstrumentError(
            f"Profile '{made.name}' asks for two things that contradict each other: {choices()[key].name} '"
            f"{choices()[key].option(option).name}' and {choices()[other].name} '{choices()[other].option(its).name}'.",
            "Change one of the two.",
        )


OLD_HOLD = {
    "thumb": ("thumb shape", {"round": "bent", "straight": "straight"}), "little": ("little shape", {"round": "round"}),
    "wrist": ("wrist", {"neutral": "level", "below": "below", "rises": "rises"}),
    "along_the_bow": ("along the bow", {"changes": "changes", "stable": "stable"}),
}  # fmt: skip
"""How profiles of earlier versions wrote what they asked of the hand: name to choice, word to option."""


def _chosen(data: Any) -> dict[str, Wish]:
    """What a profile's data choose. Earlier versions wrote the hold, the school of arm and the stage each in their own way."""
    out: dict[str, Wish] = {}
    for name, wish in data.get("hold", {}).items():
        choice, words = OLD_HOLD[name]
        out[choice] = Wish(words.get(str(wish["want"]), ANY), str(wish["reason"]))
    arm, stage = str(data.get("school_of_arm", "")), str(data.get("stage", ""))
    if arm in {o.key for o in choices()["upper arm"].options}:
        out["upper arm"] = Wish(arm, "")
    if stage in tuple(Stage):
        out["stage"] = Wish(stage, "")
    for name, wish in data.get("choices", {}).items():
        out[name] = Wish(wish, "") if isinstance(wish, str) else Wish(str(wish["want"]), str(wish.get("reason", "")))
    return out


def _band(data: Any) -> Band:
    return Band(float(data["low"]), float(data["high"]), str(data["reason"]))


def _reference(name: str, entry: Any) -> Reference:
    usual = REFERENCES[name]
    return Reference(name, float(entry["value"]), usual.unit, usual.above, str(entry["reason"]))


@cache
def ready_texts() -> dict[str, str]:
    """The ready-made profiles as JSON text, by name."""
    texts = [p.read_text(encoding="utf-8") for p in sorted(files(__package__).joinpath("ready").iterdir(), key=lambda p: p.name)]
    return {json.loads(text)["name"]: text for text in texts}


PROFILES: dict[str, Profile] = {name: profile_from_dict(json.loads(text)) for name, text in ready_texts().items()}


def profile(name: str) -> Profile:
    """A ready-made profile by name. Raises InstrumentError."""
    try:
        return PROFILES[name]
    except KeyError:
        raise InstrumentError(f"There is no profile called '{name}'.", f"Choose one of: {', '.join(PROFILES)}.") from None


def default_profile(spec: InstrumentSpec) -> Profile:
    """The profile a new student of this instrument starts with."""
    return PROFILES["Cello" if spec.family == "cello" else "Franco-Belgian"]
