"""What a job has freed goes back to the system when it ends."""

from __future__ import annotations

import os
from pathlib import Path

import pytest

from dolcezza.app.workers import memory
from dolcezza.app.workers.job_runner import JobRunner
from dolcezza.core.base.job import Progress, Stage

PIECE, PIECES = 2000, 60_000


def resident_mb() -> float:
    return int(Path("/proc/self/statm").read_text().split()[1]) * os.sysconf("SC_PAGE_SIZE") / 1024**2


@pytest.mark.skipif(memory._trim() is None, reason="another C library")
def test_pieces_that_a_job_has_left_go_back(qtbot):
    """A few pieces that stay would hold all the memory between them."""
    kept = []

    def job():
        made = [bytes(PIECE) for _ in range(PIECES)]
        kept.extend(made[::50])
        kept.append(resident_mb())
        yield Progress(Stage.SOLVING, 0, 1)
        return len(made)

    runner = JobRunner()
    with qtbot.waitSignal(runner.done, timeout=20_000):
        runner.start(job)
    most = kept[-1]
    qtbot.waitUntil(lambda: resident_mb() < most - 0.6 * PIECE * PIECES / 1024**2, timeout=10_000)
