"""Dimensions of this one instrument from its own pins, where enough are set and they disagree with the table.

Two lengths differ most between instruments of a size and matter most here: from the bridge to the fingerboard, and the strings.
The chi-square of the pins is taken as a parabola in both (three points each way and one across); the table is the prior.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

import numpy as np

from dolcezza.core.base.errors import PinError
from dolcezza.core.camera.pose import fit_moments
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.core.instrument.model import InstrumentModel

Array = np.ndarray

ENOUGH_PINS = 8
PRIOR_SD = {"bridge_to_fingerboard": 0.07, "string_length": 0.02}
"""How much instruments of one size differ (one sd, share), from memory."""
STEP = 0.02
CERTAIN = 2.5
"""Only a difference of so many sd replaces the table."""


def refine_dimensions(
    spec: InstrumentSpec, moments: Sequence[Mapping[str, tuple[float, float]]], *, size: tuple[int, int], focal: float | None = None
) -> dict[str, float]:
    """Lengths (mm) that differ from the table for certain; empty where the pins are too few or agree with it.

    Bridge to fingerboard needs ``ENOUGH_PINS`` pins in a moment, the string length a pinned nut besides.
    """
    if max(len(m) for m in moments) < ENOUGH_PINS:
        return {}
    names = ["bridge_to_fingerboard"]
    if any("nut_bass" in m or "nut_treble" in m for m in moments):
        names.append("string_length")

    try:
        # the table's own pose is near all the others
        near = [f.camera for f in fit_moments(InstrumentModel(spec), moments, size=size, focal=focal)]
    except PinError:
        return {}

    def chi2(shares: Array) -> float:
        lengths = {n: getattr(spec, n) * (1 + s) for n, s in zip(names, shares, strict=True)}
        fits = fit_moments(InstrumentModel(spec.with_measured(**lengths)), moments, size=size, focal=focal, near=near)
        return sum(f.chi2 for f in fits)

    try:
        change, covariance = _parabola(chi2, len(names), np.array([PRIOR_SD[n] for n in names]))
    except PinError:
        return {}
    sd = np.sqrt(np.diag(covariance))
    return {
        name: round(float(getattr(spec, name) * (1 + d)), 1) for name, d, s in zip(names, change, sd, strict=True) if abs(d) > CERTAIN * s
    }


def _parabola(chi2: Callable[[Array], float], count: int, prior_sd: Array) -> tuple[Array, Array]:
    """Minimum (count,) and covariance of a chi-square that is near enough a parabola, with a prior around zero."""
    unit = np.eye(count) * STEP
    middle = chi2(np.zeros(count))
    up, down = ([chi2(sign * unit[k]) for k in range(count)] for sign in (1.0, -1.0))
    slope = np.array([(a - b) / (2 * STEP) for a, b in zip(up, down, strict=True)])
    bend = np.diag([(a - 2 * middle + b) / STEP**2 for a, b in zip(up, down, strict=True)])
    for i in range(count):
        for j in range(i):
            both = chi2(unit[i] + unit[j])
            bend[i, j] = bend[j, i] = (both - up[i] - up[j] + middle) / STEP**2
    information = 0.5 * bend + np.diag(1 / prior_sd**2)
    covariance = np.linalg.inv(information)
    return -covariance @ (0.5 * slope), covariance
