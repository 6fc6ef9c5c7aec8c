"""What is played in a video, by its pictures: under the chin or between the knees. Where the instrument lies to the player's head tells."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import ModelsMissing
from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.body.points import ARMS, NOSE
from dolcezza.core.instrument.model import LANDMARK_NAMES
from dolcezza.core.media.probe import probe
from dolcezza.core.media.video import read_frames
from dolcezza.core.models.asked import Models
from dolcezza.core.pipeline.find_instrument import LEAST_VISIBLE, LIKELY, whole_body, whole_square

LOOKS, WITHIN_S = 5, 30.0
AGREE = 2
"""So many looks must say the same, and none the other."""
CHIN, FAR_FROM_CHIN = 1.1, 1.4
"""The end button of an instrument under the chin is nearer to the nose than this (widths of the shoulders), of one between the knees
farther: a shoulder's width and a half below it."""


def played_on(video: Path, models: Models) -> Work[str]:
    """What is held under the chin is "violin" (violin or viola), what stands between the knees "cello", what is not told "".

    Raises MediaError for a file that cannot be read."""
    models.warm("instrument", "body")
    length_s = min(WITHIN_S, max(probe(video).duration_s, 0.1))
    said: list[str] = []
    for frame in read_frames(video, grey=False, every_s=length_s / LOOKS):
        if frame.t_s > length_s:
            break
        yield Progress(Stage.SKIMMING, min(len(said), LOOKS), LOOKS)
        try:
            said.append(_in_picture(frame.image, models))
        except ModelsMissing:
            return ""
    told = {s for s in said if s}
    return told.pop() if len(told) == 1 and sum(map(bool, said)) >= AGREE else ""


def _in_picture(picture: Array, models: Models) -> str:
    body = whole_body(picture, models)
    if body is None:
        return ""
    width = picture.shape[1]
    best: tuple[float, Array, Array] | None = None
    for flip in (False, True):
        square, way = whole_square(np.ascontiguousarray(picture[:, ::-1]) if flip else picture)
        guess = models.instrument(square).result().moved(way)
        xy = guess.xy[:12] * [-1, 1] + [width, 0] if flip else guess.xy[:12]
        if best is None or guess.share[:12].sum() > best[0]:
            best = float(guess.share[:12].sum()), xy, guess.share[:12]
    assert best is not None
    button, scroll = (LANDMARK_NAMES.index(n) for n in ("end_button", "scroll"))
    shoulders = [ARMS[side][0] for side in ("right", "left")]
    if min(best[2][button], best[2][scroll]) < LIKELY or body[[NOSE, *shoulders], 2].min() < LEAST_VISIBLE:
        return ""
    return by_head(body[NOSE, :2], body[shoulders, :2], best[1][button], best[1][scroll])


def by_head(nose: Array, shoulders: Array, button: Array, scroll: Array) -> str:
    """What is held so, by where nose (2,), ``shoulders`` (2, 2), end button and scroll (2,) px are seen; "" where it may be either."""
    width = float(np.linalg.norm(shoulders[1] - shoulders[0]))
    near, far = (float(np.linalg.norm(p - nose)) / max(width, 1.0) for p in (button, scroll))
    below = float(button[1] - shoulders[:, 1].mean()) / max(width, 1.0)
    if near < CHIN and far > near:
        return "violin"
    if far < near and near > FAR_FROM_CHIN and below > 0.5 * CHIN:
        return "cello"
    return ""
