"""A single-shot detector's answer read: anchors, boxes with key points, and what overlaps brought together.

From memory: anchors of one size on a few grids, boxes relative to them (W. Liu and others, "SSD: Single Shot MultiBox Detector", 2016);
boxes of one thing averaged by their scores (V. Bazarevsky and others, "BlazeFace", 2019).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from dolcezza.core.base.arrays import Array

OVERLAP = 0.3
"""Boxes that share more than this of their union are one thing."""


@dataclass(frozen=True)
class Detection:
    """A thing in a square picture, as shares of its side: ``box`` (x0, y0, x1, y1), ``points`` (k, 2), ``score`` 0..1."""

    box: Array
    points: Array
    score: float


def anchors(size: int, strides: tuple[int, ...]) -> Array:
    """(n, 2) middles of the anchors, as shares of the picture's side: two for every cell of a grid, for every stride given."""
    out = []
    for stride in strides:
        n = -(-size // stride)
        y, x = np.mgrid[:n, :n]
        cells = np.stack([x, y], axis=-1).reshape(-1, 1, 2)
        out.append(np.broadcast_to((cells + 0.5) / n, (n * n, 2, 2)))
    # layers of one stride are laid together: all anchors of a cell follow each other
    merged: list[Array] = []
    for k, stride in enumerate(strides):
        if k and strides[k - 1] == stride:
            merged[-1] = np.concatenate([merged[-1], out[k]], axis=1)
        else:
            merged.append(out[k])
    return np.concatenate([m.reshape(-1, 2) for m in merged])


def detections(raw: Array, logits: Array, places: Array, size: int, least: float) -> list[Detection]:
    """Things with a score of ``least`` or more, best first: ``raw`` (n, 4 + 2 k) px, ``logits`` (n, 1), ``places`` (n, 2)."""
    scores = scipy.special.expit(np.clip(logits[:, 0], -100, 100))
    chosen = np.flatnonzero(scores >= least)
    chosen = chosen[np.argsort(-scores[chosen], kind="stable")]
    raw = raw[chosen] / size
    middle, extent = raw[:, :2] + places[chosen], raw[:, 2:4]
    points = raw[:, 4:].reshape(len(chosen), raw.shape[1] // 2 - 2, 2) + places[chosen, None]
    boxes = np.c_[middle - extent / 2, middle + extent / 2]
    return _together(boxes, points, scores[chosen])


def _together(boxes: Array, points: Array, scores: Array) -> list[Detection]:
    """What overlaps the best of what is left is one thing, at the mean of all by their scores."""
    out = []
    left = np.arange(len(boxes))
    while len(left):
        same = overlap(boxes[left[0]], boxes[left]) > OVERLAP
        same[0] = True
        group = left[same]
        weight = scores[group] / scores[group].sum()
        out.append(Detection(weight @ boxes[group], np.tensordot(weight, points[group], 1), float(scores[group[0]])))
        left = left[~same]
    return out


def overlap(box: Array, boxes: Array) -> Array:
    """Share of the union of ``box`` (4,) and each of ``boxes`` (n, 4) that both cover."""
    wide = np.clip(np.minimum(box[2:], boxes[:, 2:]) - np.maximum(box[:2], boxes[:, :2]), 0, None)
    both = wide.prod(axis=1)
    area = (boxes[:, 2:] - boxes[:, :2]).prod(axis=1)
    union = area + (box[2:] - box[:2]).prod() - both
    return np.where(union > 0, both / np.maximum(union, 1e-12), 0.0)
