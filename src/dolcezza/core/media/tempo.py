"""Sound played slower or faster at the same pitch, piece by piece, through the decoder library's own tempo filter."""

from __future__ import annotations

from collections.abc import Iterator

import av
import numpy as np
from av.error import FFmpegError
from av.filter import Graph

from dolcezza.core.base.arrays import Array

PIECE_S = 0.1
SLOWEST_STEP = 0.5
"""One filter halves the tempo at most; slower is done by several in a row."""


def at_tempo(samples: Array, *, rate_hz: int, tempo: float) -> Iterator[Array]:
    """Mono ``samples`` (n,) float32 in -1..1, played at ``tempo`` (1 = as recorded, 0.5 = twice as long), in pieces of any length.

    Raises ValueError for a tempo that is not above 0.
    """
    if not tempo > 0:
        raise ValueError(f"tempo is {tempo}; it must be above 0")
    piece = max(1, int(PIECE_S * rate_hz))
    if abs(tempo - 1.0) < 1e-6:
        for a in range(0, len(samples), piece):
            yield np.ascontiguousarray(samples[a : a + piece], np.float32)
        return
    graph, source = _graph(rate_hz, tempo)
    for a in range(0, len(samples), piece):
        frame = av.AudioFrame.from_ndarray(np.ascontiguousarray(samples[None, a : a + piece], np.float32), format="flt", layout="mono")
        frame.sample_rate, frame.pts = rate_hz, a
        source.push(frame)
        yield from _pulled(graph)
    source.push(None)
    yield from _pulled(graph)


def _graph(rate_hz: int, tempo: float) -> tuple[Graph, av.filter.context.FilterContext]:
    graph = Graph()
    source = last = graph.add_abuffer(sample_rate=rate_hz, format="flt", layout="mono")
    while tempo < SLOWEST_STEP:
        step = graph.add("atempo", str(SLOWEST_STEP))
        last.link_to(step)
        last, tempo = step, tempo / SLOWEST_STEP
    for name, arguments in (("atempo", f"{tempo:.6f}"), ("abuffersink", None)):
        step = graph.add(name, arguments)
        last.link_to(step)
        last = step
    graph.configure()
    return graph, source


def _pulled(graph: Graph) -> Iterator[Array]:
    while True:
        try:
            frame = graph.pull()
        except (FFmpegError, EOFError, BlockingIOError):
            return
        yield frame.to_ndarray().ravel().astype(np.float32)
