"""What the sound tells, laid on the frames of the picture; and what is wrong with a recording."""

from __future__ import annotations

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.sound.notes import semitones_from_open, semitones_up
from dolcezza.core.sound.pitch import PitchTrack
from dolcezza.core.sound.strings import IN_TUNE
from dolcezza.core.sound.tone import ToneTrack

NEAR_S = 0.04
"""A frame hears the moment of sound that is nearest, if it is as near as this."""
FULL, HEAPED, HEAPED_SHARE = 0.85, 4.0, 0.01
"""In an overloaded recording samples are heaped up near full scale (from this share of it on): more than this share of all lie within a
twentieth, so many times more than a little below. Coding rounds cut tops off, so they are not all alike."""
SILENT_LEVEL = 1e-4
"""A recording whose loudest moments lie below this share of full scale holds no sound."""
LOUD_PERCENT = 90.0
FALLEN_SPLIT = 0.5
"""What counts as split in a tone that has dropped an octave."""


def heard_columns(
    pitch: PitchTrack, tone: ToneTrack, t_s: Array, string: Array, contact_mm: Array, *, family: str, string_length_mm: float,
    offset_cents: float = 0.0,
) -> dict[str, Array]:  # fmt: skip
    """Columns of the record, (n,) each, for frames at ``t_s`` (n,) with ``string`` (n,) 0 = bass, -1 = not known.

    ``beta``: contact point as a share of the *sounding* length, which a stopped note shortens by 2^(-n/12).
    """
    at = _nearest(pitch.t_s, t_s)
    near = at >= 0
    at = np.maximum(at, 0)

    def laid(values: Array) -> Array:
        return np.where(near, values[at], np.nan) if len(values) else np.full(len(t_s), np.nan)

    hz = laid(pitch.hz)
    up = semitones_up(hz, string, family, offset_cents=offset_cents)
    loud = float(np.percentile(pitch.level, LOUD_PERCENT)) if len(pitch.level) else 1.0
    level = 20 * np.log10(np.maximum(laid(pitch.level), 1e-9) / max(loud, 1e-9))
    beta = contact_mm / (string_length_mm * 2.0 ** (-up / 12.0))
    fallen = np.abs(semitones_from_open(hz, string, family, offset_cents=offset_cents) + 12.0) < IN_TUNE
    out = {"pitch_hz": hz, "semitones": up, "beta": beta, "level_db": np.maximum(level, -80.0)}
    out |= {name: laid(getattr(tone, name)) for name in ("hnr_db", "fundamental", "split", "hiss_db")}
    # an octave below the open string: every other slip is lost
    return out | {"split": np.where(fallen, FALLEN_SPLIT, out["split"])}


def _nearest(times: Array, t_s: Array) -> Array:
    """Place of the nearest of ``times`` for each of ``t_s``; -1 where none is near."""
    if not len(times):
        return np.full(len(t_s), -1)
    k = np.clip(np.searchsorted(times, t_s), 1, max(len(times) - 1, 1))
    k = np.where(np.abs(times[k - 1] - t_s) <= np.abs(times[np.minimum(k, len(times) - 1)] - t_s), k - 1, k)
    k = np.minimum(k, len(times) - 1)
    return np.where(np.abs(times[k] - t_s) <= NEAR_S, k, -1)


def overloaded(samples: Array) -> bool:
    """Whether mono ``samples`` in -1..1 were cut off at full scale."""
    if not len(samples):
        return False
    edges = np.arange(0.5, 1.26, 0.05)
    share = np.histogram(np.abs(samples), edges)[0] / len(samples)
    high = int(np.searchsorted(edges, FULL - 1e-9))
    top = high + int(share[high:].argmax())
    return bool(share[top] > HEAPED_SHARE and share[top] > HEAPED * share[top - 3 : top - 1].mean())


def silent(samples: Array) -> bool:
    """Whether a recording holds no sound at all."""
    return len(samples) == 0 or float(np.percentile(np.abs(samples), 99)) < SILENT_LEVEL


def others_sound(pitch: PitchTrack, still: list[tuple[float, float]], *, lowest_hz: float) -> bool:
    """Whether something else sounds: a clear pitch over more than half of the time at which the bow stands (``still``: stretches, s), or
    tones below the lowest string."""
    known = np.isfinite(pitch.hz) & (pitch.clarity > 0.8)
    quiet = np.zeros(len(pitch.t_s), bool)
    for start, end in still:
        quiet |= (pitch.t_s > start) & (pitch.t_s < end)
    loud = pitch.level > 0.2 * (float(np.percentile(pitch.level, LOUD_PERCENT)) if len(pitch.level) else 1.0)
    apart = float(np.median(np.diff(pitch.t_s))) if len(pitch.t_s) > 1 else 0.0
    long_enough = quiet.sum() * apart > 0.5
    below = known & loud & (pitch.hz < 0.93 * lowest_hz)
    return bool((long_enough and (known & loud)[quiet].mean() > 0.5) or below.sum() * apart > 0.5)
