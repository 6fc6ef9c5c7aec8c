"""One bow seen by two phones: both records put together, each figure by how well each phone tells it.

The four parameters of a frame are told by either phone with a full covariance, so that a view along the strings (poor for the angle, good
for the string) and one from the side help each other. What both do not know alike (the instrument's lengths, how the player leans the bow,
what is expected of a bow before it is seen) is common to both and does not become better by being told twice: best linear unbiased
estimate with correlated errors (Aitken, from memory).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.bowing.parts import Parts
from dolcezza.core.camera.unknowns import LEAN, LENGTHS

LONGEST_GAP_S = 0.12
"""Between two frames of the other phone no farther apart than this the bow is carried on in a straight line."""
SHARED = np.r_[np.arange(LENGTHS.start, LENGTHS.stop), np.arange(LEAN.start, LEAN.stop)]
"""Unknowns of a take that are the same whoever films it."""
GROSS_CHI2 = 40.0
"""Beyond this one of the two has taken something else for the bow, or for an end of it."""
STRETCH_S = 0.25
MOST_ALIKE = 0.6
"""Correlation that two phones' errors may have."""
USUAL_CHI2 = 3.36
"""Median of chi-square with four numbers: what two records of one bow differ by when their ± are true."""
CONTRADICT = 4.0
"""By so much more (in sd) the two contradict each other, and that is said."""


@dataclass(frozen=True)
class Joined:
    """n frames on the first phone's clock.

    ``params`` (n, 4) with ``covariance`` (n, 4, 4), of which ``take_covariance`` (n, 4, 4) is the same all through the take;
    ``string`` (n,), ``measured`` (n,); ``both`` (n,): put together from both phones. ``apart``: by how much more than their ± allow the two
    differ (in sd, 1 = as they may), which has widened the ±."""

    params: Array
    covariance: Array
    take_covariance: Array
    string: Array
    measured: Array
    both: Array
    apart: float


def on_clock(parts: Parts, t_s: Array) -> Parts:
    """A record at other moments (n,) of its own clock: between two measured frames on one string, close enough together, in a straight
    line; elsewhere not measured."""
    after = np.clip(np.searchsorted(parts.t_s, t_s), 1, len(parts.t_s) - 1)
    before = after - 1
    gap = parts.t_s[after] - parts.t_s[before]
    share = np.clip((t_s - parts.t_s[before]) / gap, 0.0, 1.0)
    nearest = np.where(share < 0.5, before, after)
    good = parts.measured[before] & parts.measured[after] & (parts.string[before] == parts.string[after]) & (gap <= LONGEST_GAP_S)
    good &= (t_s >= parts.t_s[0] - 1e-9) & (t_s <= parts.t_s[-1] + 1e-9)
    out = parts.rows(nearest)
    params = (1 - share)[:, None] * parts.params[before] + share[:, None] * parts.params[after]
    return Parts(np.asarray(t_s, float), params, out.noise, out.gain, parts.take_covariance, out.string, good, out.prior_sd, out.cost)


def joined(first: Parts, second: Parts, shared_sd: Array, *, clock_sd_s: float) -> Joined:
    """Two records at the same n moments as one. ``shared_sd`` (11,): what is expected of the ``SHARED`` unknowns before anything is seen;
    ``clock_sd_s``: how well the two clocks are laid together."""
    n = len(first.t_s)
    both = first.measured & second.measured & (first.string == second.string)
    one, two = first.covariance, second.covariance + _of_clock(second, clock_sd_s)
    cross = _possible(one, two, _common(first, second, shared_sd))
    stacked = np.block([[one, cross], [cross.transpose(0, 2, 1), two]])
    own = np.tile(np.eye(8), (n, 1, 1))
    stacked = np.where(both[:, None, None], stacked, own)
    off = np.where(both[:, None], first.params - second.params, 0.0)
    between = np.where(both[:, None, None], one + two - cross - cross.transpose(0, 2, 1), np.eye(4))
    chi2 = np.einsum("na,nab,nb->n", off, np.linalg.pinv(between, hermitian=True), off)
    # where one has lost an end of the bow, and with it the place on it, the mean of both is nobody's
    gross = both & (chi2 > GROSS_CHI2)
    said = float(np.sqrt(np.median(chi2[both]) / USUAL_CHI2)) if both.any() else 1.0
    both = both & ~gross
    apart = _apart(chi2, both, first.string)
    weight = np.linalg.inv(stacked + 1e-9 * np.eye(8))
    maps = np.tile(np.vstack([np.eye(4), np.eye(4)]), (n, 1, 1))
    covariance = np.linalg.inv(maps.transpose(0, 2, 1) @ weight @ maps)
    take = covariance @ maps.transpose(0, 2, 1) @ weight
    params = np.einsum("nak,nk->na", take, np.concatenate([first.params, second.params], axis=1))
    gain = _gain(first.gain, second.gain, take)
    shared = _take_covariance(first, second, gain, shared_sd)
    covariance, shared = covariance * apart[:, None, None] ** 2, shared * apart[:, None, None] ** 2
    # what only one phone has seen stays as that one has it; where they do not agree on the string, the one that is surer of the lean
    surer = np.where(first.measured & second.measured, one[:, 2, 2] <= two[:, 2, 2], first.measured)
    surer = np.where(gross, _better(first, second, gross), surer)
    for record, cov, mine in ((first, one, ~both & surer), (second, two, ~both & ~surer)):
        params = np.where(mine[:, None], record.params, params)
        covariance = np.where(mine[:, None, None], cov, covariance)
        fixed = np.einsum("nak,kl,nbl->nab", record.gain, record.take_covariance, record.gain)
        shared = np.where(mine[:, None, None], fixed, shared)
    string = np.where(both | surer, first.string, second.string)
    return Joined(params, covariance, shared, string, first.measured | second.measured, both, said)


def _of_clock(parts: Parts, sd_s: float) -> Array:
    """What a clock that is off by ``sd_s`` does to a moving bow, (n, 4, 4)."""
    speed = np.gradient(parts.params, parts.t_s, axis=0) if len(parts.t_s) > 2 else np.zeros_like(parts.params)
    speed = np.where(parts.measured[:, None] & np.isfinite(speed), speed, 0.0)
    moved = np.clip(speed, [-400, -200, -200, -4], [400, 200, 200, 4]) * sd_s
    return np.asarray(np.einsum("na,nb->nab", moved, moved))


def _common(first: Parts, second: Parts, shared_sd: Array) -> Array:
    """What the two err alike, (n, 4, 4): both lean on what is expected of lengths and lean, and of a bow before it is seen."""
    a, b = (p.take_covariance[:, SHARED] for p in (first, second))
    alike = np.einsum("nak,kl,nbl->nab", first.gain, (a / shared_sd**2) @ b.T, second.gain)
    expected = np.einsum("nak,nk,nkb->nab", first.noise, np.minimum(first.prior_sd, second.prior_sd) ** -2.0, second.noise)
    return np.asarray(alike + expected)


def _possible(one: Array, two: Array, cross: Array) -> Array:
    """What two err alike, held to what leaves either something of its own: beyond ``MOST_ALIKE`` the better record would be driven past
    itself by the other."""
    own, other = np.linalg.cholesky(one + 1e-9 * np.eye(4)), np.linalg.cholesky(two + 1e-9 * np.eye(4))
    share = np.linalg.solve(own, cross)
    share = np.linalg.solve(other, share.transpose(0, 2, 1)).transpose(0, 2, 1)
    left, size, right = np.linalg.svd(share)
    return np.asarray(own @ ((left * np.minimum(size, MOST_ALIKE)[:, None, :]) @ right) @ other.transpose(0, 2, 1))


def _gain(first: Array, second: Array, take: Array) -> Array:
    """How the joined parameters follow the first and the second phone's unknowns, (n, 4, u1 + u2)."""
    return np.concatenate([take[:, :, :4] @ first, take[:, :, 4:] @ second], axis=2)


def _take_covariance(first: Parts, second: Parts, gain: Array, shared_sd: Array) -> Array:
    a, b = first.take_covariance, second.take_covariance
    alike = (a[:, SHARED] / shared_sd**2) @ b[:, SHARED].T
    whole = np.block([[a, alike], [alike.T, b]])
    return np.asarray(np.einsum("nak,kl,nbl->nab", gain, whole, gain))


def _better(first: Parts, second: Parts, gross: Array) -> Array:
    """Where two records contradict each other, whether the first one's pictures fit a bow better, over a stretch (n,) bool."""
    width = 2 * max(1, round(0.5 * STRETCH_S / max(float(np.median(np.diff(first.t_s))), 1e-3))) + 1
    worse = np.where(gross, np.clip(first.cost - second.cost, -20.0, 20.0), 0.0)
    return np.asarray(np.convolve(worse, np.ones(width), "same") <= 0)


def _apart(chi2: Array, both: Array, string: Array) -> Array:
    """By how much the ± is to be widened in each frame (n,), 1 and up: on every string by what the two differ there (Birge's ratio)."""
    out = np.ones(len(chi2))
    for stop in np.unique(string[both]):
        there = both & (string == stop)
        out[there] = max(1.0, float(np.sqrt(np.median(chi2[there]) / USUAL_CHI2)))
    return out
