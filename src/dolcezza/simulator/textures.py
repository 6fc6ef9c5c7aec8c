"""Patterns for walls, floors and cloth, (h, w, 3) shares of a surface's colour; all made from numbers."""

from __future__ import annotations

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array

SIZE = 192
KINDS = ("plain", "clouds", "stripes", "checks", "bricks", "planks", "weave", "dots", "books", "folds", "blinds")


def clouds(rng: np.random.Generator, amount: float, *, finest: int = 48) -> Array:
    """Soft stains of several sizes around 1."""
    out = np.zeros((SIZE, SIZE), np.float32)
    n = 3
    while n <= finest:
        out += cv2.resize(rng.normal(size=(n, n)).astype(np.float32), (SIZE, SIZE), interpolation=cv2.INTER_CUBIC) * (3.0 / n) ** 0.5
        n *= 2
    return np.asarray(np.clip(1 + amount * out, 0.1, 2.5)[..., None] * np.ones(3, np.float32))


def _colour(rng: np.random.Generator) -> Array:
    grey = rng.uniform(0.03, 0.95) ** 1.4
    strong = rng.uniform(0.0, 1.0) ** 1.7
    return np.asarray(np.clip(grey * (1 + strong * rng.uniform(-0.9, 1.2, 3)), 0.01, 1.0))


def pattern(kind: str, rng: np.random.Generator) -> Array:
    """A pattern of ``kind`` with colours of its own."""
    y, x = np.mgrid[0:SIZE, 0:SIZE] / SIZE
    first, second = _colour(rng), _colour(rng)
    n = int(rng.integers(2, 12))
    if kind == "plain":
        share = np.zeros((SIZE, SIZE))
    elif kind == "clouds":
        return np.asarray(clouds(rng, rng.uniform(0.05, 0.35), finest=96) * first)
    elif kind == "stripes":
        wave = y * n + rng.uniform(0, 0.15) * np.sin(2 * np.pi * x * rng.integers(1, 4))
        share = (np.mod(wave, 1) < rng.uniform(0.2, 0.8)).astype(float)
    elif kind == "checks":
        share = 0.5 * (np.mod(x * n, 1) < 0.5) + 0.5 * (np.mod(y * n, 1) < 0.5)
    elif kind == "bricks":
        row = np.floor(y * 2 * n)
        share = ((np.mod(y * 2 * n, 1) < 0.12) | (np.mod(x * n + 0.5 * np.mod(row, 2), 1) < 0.06)).astype(float)
    elif kind == "planks":
        return planks(rng, n, first, unlike=0.35)
    elif kind == "weave":
        share = 0.5 + 0.5 * np.sin(2 * np.pi * x * 24) * np.sin(2 * np.pi * y * 24) * rng.uniform(0.2, 1)
        second = first * rng.uniform(0.5, 1.0)
    elif kind == "dots":
        share = (np.hypot(np.mod(x * n, 1) - 0.5, np.mod(y * n, 1) - 0.5) < rng.uniform(0.15, 0.4)).astype(float)
    elif kind == "books":
        out = np.zeros((SIZE, SIZE, 3))
        at = 0
        while at < SIZE:
            w = int(rng.integers(4, 14))
            out[int(SIZE * rng.uniform(0.05, 0.3)) : int(0.92 * SIZE), at : at + w - 1] = _colour(rng)
            at += w
        return out + 0.03
    elif kind == "folds":
        wave = np.sin(2 * np.pi * (x * n + 0.05 * np.sin(2 * np.pi * y)))
        return np.asarray((0.75 + 0.25 * wave)[..., None] * first)
    else:
        return np.asarray((0.6 + 0.4 * np.mod(y * 3 * n, 1))[..., None] * first)
    return np.asarray((share[..., None] * second + (1 - share[..., None]) * first) * clouds(rng, 0.04))


def planks(rng: np.random.Generator, n: int, colour: Array, *, unlike: float) -> Array:
    """``n`` boards of one wood beside each other, each by up to ``unlike`` darker or lighter than the others, with dark gaps."""
    x = np.mgrid[0:SIZE, 0:SIZE][1] / SIZE
    tone = rng.uniform(0.9 - unlike, 0.85 + unlike, n)[np.floor(x * n).astype(int) % n]
    return np.asarray(clouds(rng, 0.1) * colour * tone[..., None] * np.where(np.mod(x * n, 1) < 0.03, 0.4, 1.0)[..., None])


def any_pattern(rng: np.random.Generator) -> Array:
    """A pattern of some kind."""
    return pattern(str(rng.choice(KINDS)), rng)
