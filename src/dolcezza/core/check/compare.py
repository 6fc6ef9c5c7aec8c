"""Holds that were found against those that were asked for: what the phone makes of a known bow, and how far its figures can be trusted."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass
from typing import Any

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.base.message import Message
from dolcezza.core.check.card import Laid, seen_along_the_bow
from dolcezza.core.check.holds import Hold

HAND_DEG, HAND_MM = 0.7, 1.0
"""How exactly a hand lays a bow on a line (one sd). Common practice, no source."""
FEWEST = 4
"""So many holds that lie on their lines are needed."""
OFF_DEG, OFF_MM = 4.0, 6.0
"""A bow that lies so much farther from its line than the others from theirs was not laid on it."""
SKIP_HOLD, SKIP_ASKED = 1.2, 1.6
"""What it costs to leave a hold that was found, or one that was asked for, without its other; in squared ``LAY_DEG`` and ``LAY_MM``."""
LAY_DEG, LAY_MM = 6.0, 10.0
SCALE_OFF = 0.10
"""Distances that come out so much (share) too long or too short, beyond doubt, speak of a card that was printed to another size."""
SURE = 2.0
STEP_DEG, STEP_MM = 0.1, 0.1
"""What is said of how true the figures are, is rounded up to this."""


class CheckError(DolcezzaError):
    """Holds that no check can be made of."""


@dataclass(frozen=True)
class Compared:
    """One hold on its line: what was asked, what was measured. ``left_out``: the bow was not along the line."""

    asked: Laid
    hold: Hold
    off_deg: float
    off_mm: float
    left_out: bool = False


@dataclass(frozen=True)
class CheckFigures:
    """What a check says in figures. ``angle_bias_deg``, ``contact_bias_mm``: measured - true, with their own ± (``..._sd``);
    ``constant_...``: they are beyond doubt, and the same in all holds, so that they can be taken off;
    ``within_deg``, ``within_mm``: nearly all figures (19 of 20) are at most so far from the truth, after that."""

    angle_bias_deg: float
    angle_sd_deg: float
    contact_bias_mm: float
    contact_sd_mm: float
    constant_angle: bool
    constant_contact: bool
    within_deg: float
    within_mm: float


@dataclass(frozen=True)
class CheckResult(CheckFigures):
    """The figures with the holds they come from."""

    rows: tuple[Compared, ...]

    @property
    def used(self) -> list[Compared]:
        """The holds that counted."""
        return [r for r in self.rows if not r.left_out]

    @property
    def held(self) -> tuple[int, int]:
        """Of how many holds the stated ± (2 sd, and the hand's) held: angle, contact point."""
        angle = sum(abs(r.off_deg) <= 2 * np.hypot(r.hold.angle_sd_deg, HAND_DEG) for r in self.used)
        contact = sum(abs(r.off_mm) <= 2 * np.hypot(r.hold.contact_sd_mm, HAND_MM) for r in self.used)
        return int(angle), int(contact)

    @property
    def messages(self) -> list[Message]:
        """What is to be said of it."""
        said = [Message("check.result", {"within_deg": self.within_deg, "within_mm": self.within_mm})]
        if self.constant_angle:
            said.append(Message("check.angle off", {"off": self.angle_bias_deg, "sd": self.angle_sd_deg}))
        if self.constant_contact:
            said.append(Message("check.contact off", {"off": self.contact_bias_mm, "sd": self.contact_sd_mm}))
        angle, contact = self.held
        said.append(Message("check.held", {"angle": angle, "contact": contact, "n": len(self.used)}))
        out = len(self.rows) - len(self.used)
        return said + ([Message("check.left out", {"n": out})] if out else [])

    def to_dict(self) -> dict[str, Any]:
        """The figures alone, plain JSON data."""
        data = {k: v for k, v in asdict(self).items() if k != "rows"}
        return data | {"holds": [
            {"asked_deg": r.asked.angle_deg, "asked_mm": round(r.asked.contact_mm, 1), "at_s": round(r.hold.middle_s, 2),
             "angle_deg": round(r.hold.angle_deg, 2), "angle_sd_deg": round(r.hold.angle_sd_deg, 2),
             "contact_mm": round(r.hold.contact_mm, 1), "contact_sd_mm": round(r.hold.contact_sd_mm, 1), "left_out": r.left_out}
            for r in self.rows
        ]}  # fmt: skip


def compare(holds: Sequence[Hold], asked: Sequence[Laid]) -> CheckResult:
    """Lay the holds against what was asked for, in its order. Raises CheckError where no check can be made of them."""
    pairs = lay(holds, asked)
    if len(pairs) < FEWEST:
        raise CheckError(
            f"The bow was held still on {len(pairs)} of {len(asked)} lines.",
            f"Hold it for a full second on each line, lift it between them, and film again; {FEWEST} are needed at least.",
        )
    rows = [_row(hold, line) for hold, line in pairs]
    rows = _not_along(rows)
    good = [r for r in rows if not r.left_out]
    if len(good) < FEWEST:
        raise CheckError(
            f"On {len(rows) - len(good)} of {len(rows)} lines the bow did not lie along the line.",
            "Look from straight above, cover the line with the stick, and film again.",
        )
    _check_print(good)
    angle, contact = np.array([r.off_deg for r in good]), np.array([r.off_mm for r in good])
    told, told_mm = _told(angle, HAND_DEG, STEP_DEG), _told(contact, HAND_MM, STEP_MM)
    return CheckResult(
        told.bias, told.sd, told_mm.bias, told_mm.sd, told.constant, told_mm.constant, told.within, told_mm.within, tuple(rows)
    )


def lay(holds: Sequence[Hold], asked: Sequence[Laid]) -> list[tuple[Hold, Laid]]:
    """Holds and lines that belong together, in order; either may be left over (dynamic programming)."""
    n, m = len(holds), len(asked)
    best = np.full((n + 1, m + 1), np.inf)
    best[0, 0] = 0.0
    way = np.zeros((n + 1, m + 1), int)
    for i in range(n + 1):
        for j in range(m + 1):
            options = []
            if i and j:
                options.append((best[i - 1, j - 1] + _far(holds[i - 1], asked[j - 1]), 0))
            if i:
                options.append((best[i - 1, j] + SKIP_HOLD, 1))
            if j:
                options.append((best[i, j - 1] + SKIP_ASKED, 2))
            if options:
                best[i, j], way[i, j] = min(options)
    pairs = []
    i, j = n, m
    while i or j:
        step = way[i, j]
        if step == 0:
            pairs.append((holds[i - 1], asked[j - 1]))
        i, j = i - (step != 2), j - (step != 1)
    return pairs[::-1]


def _far(hold: Hold, line: Laid) -> float:
    row = _row(hold, line)
    return (row.off_deg / LAY_DEG) ** 2 + (row.off_mm / LAY_MM) ** 2


def _row(hold: Hold, line: Laid) -> Compared:
    true = seen_along_the_bow(line.angle_deg, hold.inclination_deg)
    return Compared(line, hold, hold.angle_deg - true, hold.contact_mm - line.contact_mm)


def _not_along(rows: list[Compared]) -> list[Compared]:
    """Holds that lie far from their line where the others do not are left out."""
    angle, contact = float(np.median([r.off_deg for r in rows])), float(np.median([r.off_mm for r in rows]))
    return [
        Compared(r.asked, r.hold, r.off_deg, r.off_mm, abs(r.off_deg - angle) > OFF_DEG or abs(r.off_mm - contact) > OFF_MM) for r in rows
    ]


def _check_print(rows: list[Compared]) -> None:
    """Raises CheckError where the two distances come out too far apart, or too near, for a card printed true to scale."""
    asked, measured = (np.array(values) for values in zip(*((r.asked.contact_mm, r.hold.contact_mm) for r in rows), strict=True))
    apart = asked - asked.mean()
    if not np.ptp(asked) > 0:
        return
    scale = float(apart @ measured / (apart @ apart))
    sd = float(HAND_MM / np.sqrt(apart @ apart))
    if abs(scale - 1) > SCALE_OFF and abs(scale - 1) > SURE * sd:
        raise CheckError(
            f"The card's distances come out {abs(scale - 1):.0%} too {'long' if scale > 1 else 'short'}.",
            "Measure the printed ruler and write down its length: a printer that fits the page makes the card smaller.",
        )


@dataclass(frozen=True)
class _Told:
    """What some differences say: ``bias`` with its ``sd``, whether it is beyond doubt, ``within`` what is left."""

    bias: float
    sd: float
    constant: bool
    within: float


def _told(off: Array, hand: float, step: float) -> _Told:
    """Of some differences (n,): what is constant in them, and within what figures are true once that is taken off (twice the root mean
    square, not better than ``step``). A bias is not better known than the ``hand`` is."""
    n = len(off)
    bias = float(off.mean())
    sd = max(float(off.std(ddof=1)), hand) / float(np.sqrt(n))
    constant = abs(bias) > SURE * sd
    rest = float(np.sqrt(((off - bias) ** 2).sum() / (n - 1))) if constant else float(np.sqrt((off**2).mean()))
    within = 2 * float(np.hypot(rest, sd if constant else 0.0))
    return _Told(round(bias, 3), round(sd, 3), constant, round(float(np.ceil(max(within, step) / step - 1e-9) * step), 6))
