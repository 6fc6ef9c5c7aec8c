"""How a bow sounds, roughly: a string tone by speed and stopped note, the room's noise, and how late the phone keeps it."""

from __future__ import annotations

import numpy as np
import scipy

from dolcezza.core.base.arrays import Array
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.simulator.motion import STRINGS, Motion
from dolcezza.simulator.script import Script

RATE_HZ = 22050
OPEN_HZ = {"violin": (196.0, 293.66, 440.0, 659.26), "viola": (130.81, 196.0, 293.66, 440.0), "cello": (65.41, 98.0, 146.83, 220.0)}
"""Open strings at A = 440 Hz in equal temperament's fifths rounded to the tuning fork's A, bass side first."""
PARTIALS = 12
FULL_MM_S = 250.0
ECHO = 0.5
"""Reverberation over what comes straight to the phone."""


def open_strings(spec: InstrumentSpec) -> Array:
    """Frequencies of the open strings (4,), Hz."""
    return np.array(OPEN_HZ[spec.family])


def tone(script: Script, motion: Motion) -> Array:
    """The take's sound (n,) in -1..1 at ``RATE_HZ``."""
    n = round(script.seconds * RATE_HZ)
    t = np.arange(n) / RATE_HZ - script.sound.late_ms / 1000
    rng = np.random.default_rng(script.seed + 7 + 1000 * (script.phone.number - 1))
    near = np.clip(np.searchsorted(motion.t, t), 0, len(motion.t) - 1)
    hertz = open_strings(script.spec)[motion.lower[near]] * 2 ** (motion.stop[near] / 12)
    second = open_strings(script.spec)[np.minimum(motion.lower[near] + 1, STRINGS - 1)]
    speed = np.interp(t, motion.t, np.abs(motion.speed))
    sounding = motion.playing[near] & (motion.lift[near] < 1.0) & (t > 0)
    level = sounding * np.clip(speed / FULL_MM_S, 0, 1.4) ** 0.7
    # a string goes on ringing for a little while
    fall = np.exp(-1 / (0.06 * RATE_HZ))
    step = RATE_HZ // 200
    coarse = level[::step].copy()
    for k in range(1, len(coarse)):
        coarse[k] = max(coarse[k], coarse[k - 1] * fall**step)
    level = np.interp(np.arange(n), np.arange(len(coarse)) * step, coarse)
    out = _string(hertz) + np.where(motion.string[near] >= STRINGS, _string(second), 0.0)
    grit = np.convolve(rng.normal(size=n), np.ones(3) / 3, mode="same")
    out = level * (out * (1 - 0.5 * script.sound.roughness) + grit * (0.02 + 0.8 * script.sound.roughness))
    out = 0.25 * (out + script.sound.piano * _piano(n, rng) + script.sound.talk * _talk(n, rng) * ~motion.playing[near])
    if script.sound.echo_s > 0:
        m = round(script.sound.echo_s * RATE_HZ)
        echo = rng.normal(size=m) * np.exp(-6.9 * np.arange(m) / m) * ECHO / np.sqrt(0.07 * m)
        out = out + scipy.signal.fftconvolve(out, echo)[:n]
    out = out + script.sound.noise * rng.normal(size=n)
    return np.asarray(np.clip(out * (0.0 if script.sound.silent else 1.0), -1, 1))


def _string(hertz: Array) -> Array:
    """A bowed string's partials (n,) at ``hertz`` (n,)."""
    phase = 2 * np.pi * np.cumsum(hertz) / RATE_HZ
    out = np.zeros(len(hertz))
    for k in range(1, PARTIALS + 1):
        out += np.where(k * hertz < 0.45 * RATE_HZ, np.sin(k * phase + 0.7 * k), 0.0) / k**1.2
    return out


def _piano(n: int, rng: np.random.Generator) -> Array:
    """Struck strings that fade (n,), a chord every half second or so."""
    out, at = np.zeros(n), 0
    while at < n:
        m = min(n - at, 2 * RATE_HZ)
        t = np.arange(m) / RATE_HZ
        for key in rng.integers(-22, 18, 3):
            hertz = 440.0 * 2 ** (key / 12)
            out[at : at + m] += (
                sum(np.sin(2 * np.pi * k * hertz * t) / k**1.6 for k in range(1, 6)) * np.exp(-2.5 * t) * np.minimum(t / 0.004, 1)
            )
        at += round(rng.uniform(0.3, 0.8) * RATE_HZ)
    return out / 2


def _talk(n: int, rng: np.random.Generator) -> Array:
    """What speech is like (n,): syllables of a gliding voice and of hiss, with pauses."""
    out, at = np.zeros(n), 0
    while at < n:
        m = min(n - at, round(rng.uniform(0.1, 0.3) * RATE_HZ))
        share = np.linspace(0, 1, m)
        hertz = rng.uniform(110, 240) * (1 + rng.uniform(-0.2, 0.2) * share)
        voice = _string(hertz) if rng.random() < 0.75 else 0.6 * rng.normal(size=m)
        out[at : at + m] = voice * np.sin(np.pi * share) ** 0.5
        at += m + round((rng.uniform(0.02, 0.1) if rng.random() < 0.8 else rng.uniform(0.2, 0.6)) * RATE_HZ)
    return out
