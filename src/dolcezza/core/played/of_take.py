"""A measured take laid against a score."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.played.heard_notes import notes_by_bow
from dolcezza.core.played.lay import lay
from dolcezza.core.played.played import Performance, performed
from dolcezza.core.score.score import NotationError, Score
from dolcezza.core.sound.pitch import PitchTrack
from dolcezza.core.strokes.figures import Stroke


def performance(
    score: Score, series: BowSeries, strokes: Sequence[Stroke], track: PitchTrack | None = None, cents: float = 0.0
) -> Performance:
    """A take laid against a score; ``track``: the pitch where it is kept finer than the frames of the picture. Raises NotationError where
    the take has no sound."""
    if track is None:
        hz = series["pitch_hz"]
        nothing = np.zeros(len(hz))
        track = PitchTrack(series.t, hz, nothing, nothing)
    if not np.isfinite(track.hz).any():
        raise NotationError("This video has no pitch to lay against the notes.", "Film with sound.")
    heard = notes_by_bow(track, strokes, offset_cents=cents)
    return performed(score, heard, lay(score, heard), series, strokes)
