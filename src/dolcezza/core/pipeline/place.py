"""Where the phone stood in a take, and what its check takes off there."""

from __future__ import annotations

import numpy as np

from dolcezza.core.base.message import Message
from dolcezza.core.bowing.known_bias import NO_BIAS, KnownBias
from dolcezza.core.camera.poses import Poses
from dolcezza.core.check.kept import PhonePlace
from dolcezza.core.pipeline.fit_file import Fit


def phone_place(poses: Poses) -> PhonePlace:
    """Where the phone stood for most of the take."""
    places = -np.einsum("nji,nj->ni", poses.rotation, poses.translation)
    return PhonePlace.of(np.median(places, axis=0))


def known_bias(fit: Fit, poses: Poses) -> tuple[KnownBias, list[Message]]:
    """What the check of the phone takes off this take, and what is to be said of it: a check from elsewhere takes off nothing."""
    check = fit.check
    if check is None:
        return NO_BIAS, []
    here = phone_place(poses)
    if not check.speaks_of(fit.instrument, here):
        return NO_BIAS, [Message("note.check from elsewhere", {"name": check.name, "apart": check.place.apart_deg(here)})]
    values = {"name": check.name, "within_deg": check.within_deg, "within_mm": check.within_mm}
    return check.bias, [Message("note.check", values)]
