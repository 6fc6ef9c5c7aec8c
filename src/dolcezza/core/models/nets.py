"""A trained net: one picture in, its answers out. The files are TensorFlow Lite models (Apache 2.0), the runtime is LiteRT."""

from __future__ import annotations

import os
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Protocol

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import ModelsMissing

FILES = {
    "pose_detection": "pose_detection.tflite",
    "pose_landmarks": "pose_landmark_full.tflite",
    "palm_detection": "palm_detection_full.tflite",
    "hand_landmarks": "hand_landmark_full.tflite",
}
"""The nets that are used, and their files."""


class Net(Protocol):
    """Something that answers a square picture (``size``, ``size``, 3) of float32 with arrays."""

    size: int

    def __call__(self, picture: Array) -> list[Array]: ...


class LiteNet:
    """A net run by LiteRT on one thread. Raises ModelsMissing where the runtime or the file is not there."""

    def __init__(self, path: Path, read: tuple[int, ...]) -> None:
        """``read``: which of the model's outputs are wanted, in their order by name."""
        try:
            from ai_edge_litert.interpreter import Interpreter
        except ImportError as error:
            raise ModelsMissing(f"the runtime for the models is not installed ({error})") from error
        if not path.is_file():
            raise ModelsMissing(f"{path.name} is not in {path.parent}")
        try:
            with error_stream_silenced():
                self._net = Interpreter(model_path=str(path), num_threads=1)
                self._net.allocate_tensors()
        except (RuntimeError, ValueError) as error:
            raise ModelsMissing(f"{path} is not a model that can be read") from error
        [given] = self._net.get_input_details()
        self._input = given["index"]
        self.size = int(given["shape"][1])
        outputs = sorted(self._net.get_output_details(), key=lambda o: str(o["name"]))
        self._outputs = [outputs[k]["index"] for k in read]

    def __call__(self, picture: Array) -> list[Array]:
        self._net.set_tensor(self._input, picture[None])
        self._net.invoke()
        return [self._net.get_tensor(i)[0] for i in self._outputs]


_ERROR_STREAM = threading.Lock()
"""One at a time: a second one would keep the silence as what it has to put back."""


@contextmanager
def error_stream_silenced() -> Iterator[None]:
    """The runtime says on the error stream that it has begun, past every setting; nobody there wants to hear it.

    The stream is the whole process's: what Python says meanwhile in another thread is lost, unless it goes to a copy of the stream
    (as the command line's does)."""
    with _ERROR_STREAM:
        kept, nowhere = os.dup(2), os.open(os.devnull, os.O_WRONLY)
        try:
            os.dup2(nowhere, 2)
            yield
        finally:
            os.dup2(kept, 2)
            os.close(kept)
            os.close(nowhere)
