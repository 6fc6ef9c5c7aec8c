"""Between too light and too heavy: how the room for the bow's weight goes with the contact point and the speed.

Schelleng (1973, from memory): a bowed string sounds with the most weight v / beta times a constant of the string, the least v / beta^2
times another; v bow speed, beta the contact point as a share of the sounding length. Only ratios are used here: no camera
sees weight.
"""

from __future__ import annotations


def most_weight(speed: float, beta: float) -> float:
    """The most weight that sounds clean, in a unit of the string's own. ``speed`` and ``beta`` > 0."""
    return speed / beta


def least_weight(speed: float, beta: float) -> float:
    """The least weight that sounds, in another unit of the string's own. ``speed`` and ``beta`` > 0."""
    return speed / beta**2


def room(beta: float, reference_beta: float) -> float:
    """How much wider (> 1) or narrower the room between least and most weight is at ``beta`` than at ``reference_beta``, as a ratio."""
    wide = most_weight(1.0, beta) / least_weight(1.0, beta)
    return wide / (most_weight(1.0, reference_beta) / least_weight(1.0, reference_beta))
