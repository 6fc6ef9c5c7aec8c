"""The player's body while the bow is watched: a few looks a second, answered by the models beside the measuring."""

from __future__ import annotations

from concurrent.futures import Future

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import ModelsMissing
from dolcezza.core.base.message import Message, said
from dolcezza.core.body.points import ARMS, BodySeen
from dolcezza.core.body.proportions import Build, build
from dolcezza.core.camera.lens import Camera
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.media.video import Frame, rgb_part
from dolcezza.core.models.asked import Models

LOOKS_PER_S = 5.0
MOST_LOOKS = 700
"""A long take is looked at less often."""
LONGEST_PX = 512
AROUND = 0.62
"""Half of the part of the picture that is looked at, about the player's middle, as a share of stature."""
SOMEBODY_ELSE = 0.3
"""A shoulder farther than this (share of stature) from where the instrument puts it belongs to somebody else."""
MOST_WAITING = 40


class BodyPass:
    """Takes frames of one take and gives ``BodySeen``."""

    def __init__(self, model: InstrumentModel, duration_s: float, models: Models) -> None:
        self._person: Build = build(model)
        self._models = models
        self._apart = max(1 / LOOKS_PER_S, duration_s / MOST_LOOKS)
        self._next = 0.0
        self._asked: list[tuple[float, tuple[float, float, float], Array, float, Future[Array | None]]] = []
        self._models.warm("body")

    def look(self, frame: Frame, camera: Camera) -> None:
        """Have a frame looked at if it is time for one."""
        if frame.t_s < self._next:
            return
        self._next = frame.t_s + self._apart
        if len(self._asked) >= MOST_WAITING and not self._asked[-MOST_WAITING][4].done():
            self._asked[-MOST_WAITING][4].exception()
        box = self._box(camera, frame.image.shape[:2])
        part, scale = rgb_part(frame, box, LONGEST_PX)
        answer = self._models.body(part, anew=not self._asked)
        shoulder = camera.project(self._person.shoulder[None])[0]
        size = self._person.stature * camera.focal / float(camera.tvec[2])
        self._asked.append((frame.t_s, (box[0], box[1], scale), shoulder, size, answer))

    def _box(self, camera: Camera, shape: tuple[int, ...]) -> tuple[int, int, int, int]:
        """The part of the picture with head, arms and hips of whoever holds the instrument."""
        b = self._person
        middle = camera.project((b.shoulder + 0.05 * b.stature * b.down)[None])[0]
        half = AROUND * b.stature * camera.focal / float(camera.tvec[2])
        h, w = shape
        if not np.isfinite([*middle, half]).all():
            return 0, 0, w, h
        x0, x1 = (int(np.clip(middle[0] + s * half, 0, w)) for s in (-1, 1))
        y0, y1 = (int(np.clip(middle[1] + s * half, 0, h)) for s in (-1, 1))
        return (x0, y0, x1, y1) if x1 - x0 > 60 and y1 - y0 > 60 else (0, 0, w, h)

    def seen(self) -> tuple[BodySeen, list[Message]]:
        """Wait for the last answers. Body points in pixels of the measured picture, and what is to be said."""
        times, rows = [], []
        strangers = 0
        try:
            for t, (x0, y0, scale), shoulder, size, answer in self._asked:
                found = answer.result()
                times.append(t)
                if found is not None:
                    found = found.copy()
                    found[:, :2] = found[:, :2] / scale + [x0, y0]
                    near = min(float(np.linalg.norm(found[ids[0], :2] - shoulder)) for ids in ARMS.values())
                    if near > SOMEBODY_ELSE * size:
                        found, strangers = None, strangers + 1
                rows.append(found)
        except ModelsMissing as error:
            return BodySeen.of([], []), [Message("note.no models", {"why": said(str(error))})]
        notes = []
        if rows and strangers > 0.3 * len(rows):
            notes.append(Message("note.somebody else"))
        return BodySeen.of(times, rows), notes
