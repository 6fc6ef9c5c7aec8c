"""Where the bow should meet the string: a band between bridge and fingerboard, as the schools say it."""

from __future__ import annotations

from dataclasses import dataclass

from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.core.sound.notes import moved_target

MEASURES = ("mm", "share", "landmarks")
SOUND_HOLE_MM = {"violin": 34.0, "viola": 34.0, "cello": 70.0}
"""From the bridge to the upper round of the sound-hole on a body of scale 1, mm, from memory."""


@dataclass(frozen=True)
class Lane:
    """Where the bow should meet the string. ``measure``: "mm" from the bridge, "share" of the way to the fingerboard, or "landmarks":
    of the way from the upper round of the sound-hole (0) to the end of the fingerboard (1).

    ``hair_widths`` are taken off both ends (nearer the bridge). ``moves``: with the left hand n semitones up the lane comes nearer to
    the bridge, by 2^(-n/12). ``scaled``: millimetres are those of a full-size instrument and shrink with the body.
    """

    measure: str
    low: float
    high: float
    text: str
    hair_widths: float = 0.0
    reason: str = ""
    moves: bool = False
    scaled: bool = False

    def band_mm(self, spec: InstrumentSpec, *, semitones: float = 0.0) -> tuple[float, float]:
        """Nearest and farthest place from the bridge on this instrument, mm, with the left hand so many ``semitones`` up."""
        begin, length = 0.0, 1.0
        if self.measure == "share":
            length = spec.bridge_to_fingerboard
        elif self.measure == "landmarks":
            begin = min(SOUND_HOLE_MM[spec.family] * spec.body_scale, 0.9 * spec.bridge_to_fingerboard)
            length = spec.bridge_to_fingerboard - begin
        elif self.scaled:
            length = spec.body_scale
        off = self.hair_widths * spec.hair_width
        low, high = max(0.0, begin + self.low * length - off), begin + self.high * length - off
        if self.moves and semitones == semitones:
            low, high = moved_target(low, semitones), moved_target(high, semitones)
        return low, high
