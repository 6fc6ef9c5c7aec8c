"""How many notes sound in each bow, from the pitch of the record: what a slur is verified with."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.sound.notes import find_notes
from dolcezza.core.sound.pitch import PitchTrack
from dolcezza.core.strokes.figures import Stroke

HEARD_SHARE = 0.6
"""A stroke of which less has a pitch tells nothing of its notes."""
EDGE_S = 0.04
"""Around the turn of the bow the pitch belongs to either stroke."""


def notes_in_bows(series: BowSeries, strokes: Sequence[Stroke]) -> dict[int, int]:
    """Number of notes by the stroke's number, only where enough of it sounds; the same note twice in a row counts once.

    A note that is stopped again at the same pitch is not told from one that is kept: slurs over changing notes are told.
    """
    out: dict[int, int] = {}
    hz = series["pitch_hz"]
    for s in strokes:
        inside = (series.t >= s.start_s + EDGE_S) & (series.t <= s.end_s - EDGE_S)
        if not inside.any() or np.isfinite(hz[inside]).mean() < HEARD_SHARE:
            continue
        nothing = np.zeros(int(inside.sum()))
        notes = find_notes(PitchTrack(series.t[inside], hz[inside], nothing, nothing))
        pitches = [n.midi for n in notes]
        out[s.number] = sum(k == 0 or p != pitches[k - 1] for k, p in enumerate(pitches))
    return out
