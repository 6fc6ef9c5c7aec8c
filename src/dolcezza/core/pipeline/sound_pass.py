"""Listening to a take: the sound read once, what is wrong with it said, and what it tells laid beside the picture."""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import pairwise
from pathlib import Path

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.message import Message
from dolcezza.core.base.message import said as as_said
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.core.media.audio import read_sound
from dolcezza.core.sound.bowed import string_sounds
from dolcezza.core.sound.heard import heard_columns, others_sound, overloaded, silent
from dolcezza.core.sound.level import Loudness, loudness, silence
from dolcezza.core.sound.notes import find_notes
from dolcezza.core.sound.pairs import PairTrack, pair_costs, pair_sounds, track_pairs
from dolcezza.core.sound.pitch import RATE_HZ, PitchTrack, track_pitch
from dolcezza.core.sound.slowed import slowed
from dolcezza.core.sound.strings import A4_HZ, open_pitches, string_costs
from dolcezza.core.sound.tone import ToneTrack, track_tone
from dolcezza.core.sound.tuning import Tuning, believed_cents, find_tuning
from dolcezza.core.strokes.figures import Stroke
from dolcezza.core.strokes.offset import SoundOffset, offset_by_level, shifted
from dolcezza.core.tone.report import ToneReport, tone_report

LOWEST_SHARE, OCTAVES = 0.9, 20
"""Pitches are looked for from a little below the lowest string to so many times its pitch."""
SHORTEST_S = 0.25
"""A sound track that is shorter says nothing (a phone may leave a few hundredths of a second of one)."""
STILL_S = 0.35
"""Away from all strokes by this much the bow stands."""
NO_SOUND = "note.no sound"
SILENT = "note.silent"
OVERLOADED = "note.overloaded"
OTHERS = "note.others"
TUNING = "note.tuning"
SLOWED = "note.seems slow"
"""Ids of what is said of a sound track."""


@dataclass(frozen=True)
class Heard:
    """The sound of a take on the picture's clock; ``said``: ids of what is wrong with it. ``offset``: by how much it was moved, if it
    was."""

    pitch: PitchTrack
    tone: ToneTrack
    loud: Loudness
    tuning: Tuning | None
    said: tuple[str, ...] = ()
    offset: SoundOffset | None = None
    told_cents: float | None = None
    pairs: PairTrack | None = None

    @property
    def cents(self) -> float:
        """The tuning that is believed, cents from the standard: what the teacher says, else the open strings up to a limit."""
        if self.told_cents is not None:
            return self.told_cents
        return believed_cents(self.tuning)

    def string_costs(self, t_s: Array, family: str) -> Array:
        """What the sound says against each string and each pair of neighbours (n, 7)."""
        single = string_costs(self.pitch, t_s, family, a4_hz=A4_HZ * 2 ** (self.cents / 1200))
        return pair_costs(single, self.pairs, t_s)

    def silence(self, t_s: Array, spec: InstrumentSpec) -> Array | None:
        """Frames (n,) in which no bowed string sounds, None = cannot be told."""
        sounds = self._sounds(t_s, spec)
        return ~sounds if sounds is not None else silence(self.loud, t_s)

    def _sounds(self, t_s: Array, spec: InstrumentSpec) -> Array | None:
        """Frames (n,) in which one string sounds, or two together; None = cannot be told."""
        one = string_sounds(self.pitch, t_s, lowest_hz=self._lowest(spec))
        return one | pair_sounds(self.pairs, t_s) if one is not None else None

    def with_picture(self, series: BowSeries) -> Heard:
        """The same, moved to the picture's clock where bow and tone show clearly that it runs late or early."""
        offset = offset_by_level(series.t, series["bow_speed_cm_s"], self.loud)
        if offset is None or not offset.matters:
            return replace(self, offset=offset, loud=replace(self.loud, rings=offset is None or offset.rings))
        late = offset.late_s
        pitch = replace(self.pitch, t_s=self.pitch.t_s - late)
        said = f"The sound runs {1000 * abs(late):.0f} ms {'behind' if late > 0 else 'before'} the picture; it was put right."
        pairs = replace(self.pairs, t_s=self.pairs.t_s - late) if self.pairs is not None else None
        return replace(
            self, pitch=pitch, tone=replace(self.tone, t_s=self.tone.t_s - late), pairs=pairs,
            loud=replace(shifted(self.loud, late), rings=offset.rings), offset=offset, said=(*self.said, said),
        )  # fmt: skip

    def columns(self, series: BowSeries, spec: InstrumentSpec) -> dict[str, Array]:
        """Columns of the record."""
        sounds = self._sounds(series.t, spec)
        string = np.array([spec.strings.index(s) if len(s) == 1 and s in spec.strings else -1 for s in series.strings])
        out = heard_columns(
            self.pitch, self.tone, series.t, string, series["contact_point_mm"], family=spec.family, string_length_mm=spec.string_length,
            offset_cents=self.cents,
        )  # fmt: skip
        out["tone"] = np.full(len(series), np.nan) if sounds is None else sounds.astype(float)
        return out

    @property
    def messages(self) -> list[Message]:
        """What is wrong with the recording."""
        cents = float(self.tuning.offset_cents) if self.tuning is not None else 0.0
        # earlier versions kept the sentences themselves
        known = {s: Message(s, {"cents": cents} if s == TUNING else {}) for s in (OVERLOADED, TUNING)}
        return [known.get(s, as_said(s)) for s in self.said]

    def report(self, series: BowSeries, strokes: list[Stroke], spec: InstrumentSpec) -> ToneReport:
        """The sound of the take summed up."""
        said = self.messages
        if others_sound(self.pitch, _still(strokes, float(series.t[-1])), lowest_hz=self._lowest(spec)):
            said.append(Message(OTHERS))
        notes = find_notes(self.pitch, offset_cents=self.cents)
        return tone_report(series, strokes, notes, self.tuning, self.offset, said)

    def _lowest(self, spec: InstrumentSpec) -> float:
        return float(open_pitches(spec.family)[0]) * 2 ** (self.cents / 1200)


def _still(strokes: list[Stroke], length_s: float) -> list[tuple[float, float]]:
    """Stretches (s) in which the bow stands, away from all strokes."""
    edges = [0.0, *(t for s in strokes for t in (s.start_s, s.end_s)), length_s]
    gaps = [(a + STILL_S, b - STILL_S) for a, b in pairwise(edges)][::2]
    return [(a, b) for a, b in gaps if b > a]


def listen(video: Path, family: str, tuning_cents: float | None = None) -> tuple[Heard | None, list[Message]]:
    """Read the sound of a take, and what is to be said of it; None where there is none. ``tuning_cents``: how the strings are tuned, if
    that is known."""
    sound = read_sound(video, rate_hz=RATE_HZ)
    if sound is None:
        return None, [Message(NO_SOUND)]
    samples, start = sound
    if len(samples) < SHORTEST_S * RATE_HZ:
        return None, [Message(NO_SOUND)]
    if silent(samples):
        return None, [Message(SILENT)]
    lowest = LOWEST_SHARE * float(open_pitches(family)[0])
    pitch = track_pitch(samples, start_s=start, lowest_hz=lowest, highest_hz=OCTAVES * lowest / LOWEST_SHARE)
    times = slowed(samples, pitch, lowest_hz=lowest / LOWEST_SHARE)
    tone = track_tone(samples, pitch, start_s=start, lowest_hz=lowest, rate_hz=RATE_HZ)
    pitch = replace(pitch, hz=np.where(np.isfinite(tone.hz), tone.hz, pitch.hz))
    tuning = find_tuning(pitch, family)
    said = [OVERLOADED] if overloaded(samples) else []
    if tuning is not None and tuning.ask and tuning_cents is None:
        said.append(TUNING)
    heard = Heard(pitch, tone, loudness(samples, start_s=start, rate_hz=RATE_HZ), tuning, tuple(said), None, tuning_cents)
    pairs = track_pairs(samples, family, start_s=start, rate_hz=RATE_HZ, a4_hz=A4_HZ * 2 ** (heard.cents / 1200))
    return replace(heard, pairs=pairs), [*heard.messages, *([Message(SLOWED, {"slow": times})] if times > 1 else [])]
