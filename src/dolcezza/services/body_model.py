"""The body and hand models in a process of their own: started once, asked by every take, never over a network.

The models ship inside their package. They run beside the measuring, at a lower priority, so that they take what it leaves.
"""

from __future__ import annotations

import atexit
import os
import sys
from concurrent.futures import Future, ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from multiprocessing import get_context
from types import ModuleType
from typing import Any

import numpy as np

Array = np.ndarray

_NICENESS = 5
_pool: ProcessPoolExecutor | None = None
_loaded: dict[str, Any] = {}


class BodyModel:
    """Asks the models. Answers come as futures; the process is shared by all takes and ends with the program."""

    def warm(self, *what: str) -> None:
        """Start the process and load models ("body", "hands") while something else is done."""
        for name in what:
            self._submit(_load, name)

    def body(self, image: Array, *, anew: bool = False) -> Future[Array | None]:
        """Body points in an RGB picture (h, w, 3): (33, 3) of x px, y px, visibility; None = nobody. ``anew``: another scene."""
        return self._submit(_body, image, anew)

    def hands(self, image: Array) -> Future[list[tuple[Array, float]]]:
        """Hands in an RGB picture (h, w, 3): for each (21, 2) px and how sure the model is, 0..1."""
        return self._submit(_hands, image)

    def _submit(self, function: Any, *arguments: Any) -> Future[Any]:
        global _pool
        try:
            if _pool is None:
                _pool = ProcessPoolExecutor(1, mp_context=get_context("spawn"), initializer=_quiet)
                atexit.register(stop)
            return _pool.submit(function, *arguments)
        except BrokenProcessPool:
            stop()
            failed: Future[Any] = Future()
            failed.set_exception(BrokenProcessPool("the body model has stopped"))
            return failed


def stop() -> None:
    """End the process; it starts again when it is asked."""
    global _pool
    if _pool is not None:
        _pool.shutdown(wait=False, cancel_futures=True)
        _pool = None


# what follows runs in the process of the models


def _quiet() -> None:
    """The models talk to the error stream; nobody there wants to hear it. Their package would load a plotting library to draw
    with, which nothing here does: an empty one saves most of a second."""
    os.nice(_NICENESS)
    for name in ("matplotlib", "matplotlib.pyplot"):
        sys.modules[name] = ModuleType(name)
    silent = os.open(os.devnull, os.O_WRONLY)
    os.dup2(silent, 2)


def _load(name: str) -> Any:
    if name not in _loaded:
        from mediapipe.python.solutions import hands, pose

        if name == "body":
            _loaded[name] = pose.Pose(model_complexity=1, smooth_landmarks=False, min_detection_confidence=0.4)
        else:
            _loaded[name] = hands.Hands(static_image_mode=True, max_num_hands=4, min_detection_confidence=0.3)
    return None


def _body(image: Array, anew: bool) -> Array | None:
    _load("body")
    if anew:
        _loaded["body"].reset()
    found = _loaded["body"].process(image).pose_landmarks
    if found is None:
        return None
    h, w = image.shape[:2]
    return np.array([[p.x * w, p.y * h, p.visibility] for p in found.landmark])


def _hands(image: Array) -> list[tuple[Array, float]]:
    _load("hands")
    found = _loaded["hands"].process(image)
    h, w = image.shape[:2]
    return [
        (np.array([[p.x * w, p.y * h] for p in points.landmark]), float(side.classification[0].score))
        for points, side in zip(found.multi_hand_landmarks or [], found.multi_handedness or [], strict=True)
    ]
