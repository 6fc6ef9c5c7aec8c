"""Where the instrument's landmarks and the bow's ends lie in a picture: how likely in each place, from a small trained net.

The net ships with the program (``landmarks.onnx``, how it came about in ``tools/train``), is run by OpenCV, and takes pictures of any
size in steps of 64 px. It has seen the top plate from the front, right-handed; left-handed players are turned left for right before.
"""

from __future__ import annotations

from dataclasses import dataclass
from importlib.resources import as_file, files

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import ModelsMissing
from dolcezza.core.instrument.model import LANDMARK_NAMES

PLACES = (*LANDMARK_NAMES, "bow_frog", "bow_head")
"""What the net looks for; ``bow_frog``: where the hair begins at the frog, ``bow_head``: where it ends."""
FILE = "landmarks.onnx"
STEP = 64
CELL = 4
AROUND = 3
"""Cells around the likeliest one that belong to it."""


@dataclass(frozen=True)
class Guess:
    """What a picture says of the ``PLACES``: ``xy`` (14, 2) px where each most likely lies, ``share`` (14,) how much of the likelihood lies
    there (0 = nowhere to be seen), ``sd_px`` (14,) how narrowly."""

    xy: Array
    share: Array
    sd_px: Array

    def moved(self, way: Array) -> Guess:
        """In pixels of another picture, to which ``way`` (2, 3) leads."""
        scale = float(np.sqrt(abs(np.linalg.det(way[:, :2]))))
        return Guess(self.xy @ way[:, :2].T + way[:, 2], self.share, self.sd_px * scale)


class LandmarkNet:
    """The net that ships with the program; one picture at a time. Raises ModelsMissing where its file is not there."""

    def __init__(self) -> None:
        with as_file(files("dolcezza.core.models") / FILE) as path:
            try:
                self._net = cv2.dnn.readNetFromONNX(str(path))
            except cv2.error as error:
                raise ModelsMissing(f"{FILE} is not there, or cannot be read") from error

    def __call__(self, picture: Array) -> Guess:
        """``picture`` (h, w, 3) RGB bytes, sides multiples of 64 px."""
        h, w = picture.shape[:2]
        if h % STEP or w % STEP:
            raise ValueError(f"a picture of {w} x {h} px is not in steps of {STEP}")
        self._net.setInput(cv2.dnn.blobFromImage(picture, 1 / 255.0))
        return read_likelihood(self._net.forward()[0])


def read_likelihood(logits: Array) -> Guess:
    """The net's answer (14, h, w), one cell for 4 x 4 px, against one more cell of 0 for "not in this picture"."""
    n, h, w = logits.shape
    flat = logits.reshape(n, -1).astype(float)
    top = np.maximum(flat.max(axis=1, keepdims=True), 0.0)
    likely = np.exp(flat - top)
    likely /= likely.sum(axis=1, keepdims=True) + np.exp(-top)
    best = likely.argmax(axis=1)
    xy, share, sd = np.zeros((n, 2)), np.zeros(n), np.zeros(n)
    for k, (row, column) in enumerate(zip(best // w, best % w, strict=True)):
        rows = slice(max(0, row - AROUND), row + AROUND + 1)
        columns = slice(max(0, column - AROUND), column + AROUND + 1)
        part = likely[k].reshape(h, w)[rows, columns]
        share[k] = part.sum()
        y, x = np.mgrid[rows.start : rows.start + part.shape[0], columns.start : columns.start + part.shape[1]] + 0.5
        middle = np.array([(part * x).sum(), (part * y).sum()]) / share[k]
        spread = (part * ((x - middle[0]) ** 2 + (y - middle[1]) ** 2)).sum() / share[k]
        xy[k], sd[k] = middle * CELL, np.sqrt(spread / 2) * CELL
    return Guess(xy, share, sd)
