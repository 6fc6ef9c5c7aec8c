"""The models of body, hand and instrument in a thread of their own: loaded once, asked by every take, never over a network.

The nets let go of the interpreter while they compute, and the thread has a lower priority: they take what the measuring leaves.
"""

from __future__ import annotations

import os
import threading
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from typing import Any

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import ModelsMissing
from dolcezza.core.models.body import BodyFinder
from dolcezza.core.models.hands import HandFinder
from dolcezza.core.models.landmarks import Guess, LandmarkNet
from dolcezza.core.models.nets import FILES, LiteNet
from dolcezza.services.model_files import model_folder

_NICENESS = 5


class BodyModel:
    """The models that ship with the program. All takes share one thread; a future raises ModelsMissing where they are not there."""

    _thread: ThreadPoolExecutor | None = None
    _loaded: dict[str, Any] = {}

    def warm(self, *what: str) -> None:
        for name in what:
            self._submit(_loader(name))

    def body(self, image: Array, *, anew: bool = False) -> Future[Array | None]:
        def look() -> Array | None:
            finder: BodyFinder = _load("body")
            if anew:
                finder.forget()
            return finder.find(image)

        return self._submit(look)

    def heads(self, image: Array, *, closely: bool = True) -> Future[list[tuple[float, float, float]]]:
        """Middle and radius (px) of the head of everybody who may be in an RGB picture (h, w, 3), see ``BodyFinder.heads``."""

        def look() -> list[tuple[float, float, float]]:
            finder: BodyFinder = _load("body")
            return finder.heads(image, closely=closely)

        return self._submit(look)

    def hands(self, image: Array) -> Future[list[tuple[Array, float]]]:
        def look() -> list[tuple[Array, float]]:
            finder: HandFinder = _load("hands")
            return finder.find(image)

        return self._submit(look)

    def instrument(self, image: Array) -> Future[Guess]:
        def look() -> Guess:
            net: LandmarkNet = _load("instrument")
            return net(image)

        return self._submit(look)

    def _submit(self, what: Callable[[], Any]) -> Future[Any]:
        if BodyModel._thread is None:
            BodyModel._thread = ThreadPoolExecutor(1, thread_name_prefix="models", initializer=_step_back)
        return BodyModel._thread.submit(what)


def everybodys_heads(image: Array, *, closely: bool = True) -> list[tuple[float, float, float]]:
    """The heads in an RGB picture that leaves the machine; none where the models are not there."""
    try:
        return BodyModel().heads(image, closely=closely).result()
    except ModelsMissing:
        return []


def stop() -> None:
    """Forget what waits, end the thread and free the models; they start again when they are asked."""
    thread, BodyModel._thread = BodyModel._thread, None
    if thread is not None:
        thread.shutdown(wait=True, cancel_futures=True)
    BodyModel._loaded.clear()


# what follows runs in the thread of the models


def _step_back() -> None:
    """A lower priority for this thread alone, where the system knows such a thing."""
    if hasattr(os, "setpriority"):
        os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), _NICENESS)


def _loader(name: str) -> Callable[[], None]:
    def load() -> None:
        _load(name)

    return load


def _load(name: str) -> Any:
    if name == "instrument" and name not in BodyModel._loaded:
        BodyModel._loaded[name] = LandmarkNet()
    if name not in BodyModel._loaded:
        folder = model_folder()

        def net(kind: str, *read: int) -> LiteNet:
            return LiteNet(folder / FILES[kind], read)

        # of the landmark nets: points and presence; of the body's also the heat maps
        BodyModel._loaded[name] = (
            BodyFinder(net("pose_detection", 0, 1), net("pose_landmarks", 0, 1, 3))
            if name == "body"
            else HandFinder(net("palm_detection", 0, 1), net("hand_landmarks", 0, 1))
        )
    return BodyModel._loaded[name]
