"""How high the instrument's surface lies where a look meets it: fingerboard, arched top, strings and tailpiece, neck and scroll.

Heights differ from maker to maker; they are where the following of the instrument starts from, with how far each may be off.
"""

from __future__ import annotations

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.instrument.model import InstrumentModel

BOARD_MM, BOARD_SD_MM = -3.5, 1.5
"""Height of the fingerboard's edges against the top of the bridge, 4/4 violin, from memory."""
ARCH_SHARE = 0.28
"""How high the top plate is arched, as a share of how deep its edge lies below the top of the bridge, from memory."""
PLATE_SD_MM = 4.0
TAIL_SLOPE = 0.13
"""The strings fall by so much of their way from the bridge to the tailpiece, and the tailpiece on, from memory."""
MIDDLE_SD_MM = 10.0
"""Between the strings the plate shows far below them: what is seen there is strings, bridge, tailpiece or plate."""
FREE_SHARE, HAND_SD_MM = 0.4, 12.0
"""So much of the fingerboard, from its end, the left hand usually leaves free; on the rest of it fingers may be seen so far above."""
NECK_SD_MM = 12.0
"""Pegs, pegbox and scroll are as thick as that before what lies behind them."""
ROUNDS = 4


def surface_points(model: InstrumentModel, eye: Array, ray: Array, over_board: Array) -> Array:
    """Places (n, 3) mm where looks from ``eye`` (3,) along ``ray`` (n, 3) meet the surface.

    ``over_board`` (n,) bool: on the fingerboard.
    """
    lm = model.landmarks
    edge, size = float(lm["end_button"][2]), model.relative_size
    arch = ARCH_SHARE * abs(edge)
    half, nut, scroll = float(lm["lower_bout_bass"][1]), float(lm["nut_bass"][0]), lm["scroll"]
    board = size * BOARD_MM
    z = np.where(over_board, board, edge + 0.5 * arch)
    for _ in range(ROUNDS):
        x, y, _ = (eye + ray * ((z - eye[2]) / ray[:, 2])[:, None]).T
        across = np.clip(y / half, -1, 1)
        along = np.clip((x - 0.1 * lm["upper_bout_bass"][0]) / (1.15 * abs(lm["end_button"][0])), -1, 1)
        height = edge + arch * (1 - across**2) * (1 - along**4)
        height = np.where(_between_strings(model, x, y), board + np.minimum(TAIL_SLOPE * x, 0.0), height)
        height = np.where(x > nut, np.interp(x, [nut, scroll[0]], [board, scroll[2]]), height)
        z = np.where(over_board, board, height)
    return np.asarray(eye + ray * ((z - eye[2]) / ray[:, 2])[:, None])


def _between_strings(model: InstrumentModel, x: Array, y: Array) -> Array:
    lm = model.landmarks
    return np.asarray((np.abs(y) < 1.1 * lm["bridge_bass"][1]) & (x < lm["board_bass"][0]) & (x > 0.65 * lm["end_button"][0]))


def height_sd(model: InstrumentModel, places: Array, over_board: Array, over_neck: Array | None = None) -> Array:
    """How far the heights of ``places`` (n, 3) may be off (one sd, mm). ``over_neck`` (n,) bool: before pegbox and scroll."""
    lm = model.landmarks
    middle = _between_strings(model, places[:, 0], places[:, 1])
    hand = places[:, 0] > lm["board_bass"][0] + FREE_SHARE * (lm["nut_bass"][0] - lm["board_bass"][0])
    board = np.where(hand, HAND_SD_MM, BOARD_SD_MM)
    sd = np.where(over_board, board, np.where(middle, MIDDLE_SD_MM, PLATE_SD_MM))
    return model.relative_size * (sd if over_neck is None else np.where(over_neck, NECK_SD_MM, sd))


def board_plane(model: InstrumentModel) -> Array:
    """Four corners (4, 3) mm of a plane through the fingerboard."""
    lm, size = model.landmarks, model.relative_size
    x0, x1, y = lm["board_bass"][0], lm["nut_bass"][0], 25.0 * size
    z = size * BOARD_MM
    return np.array([[x0, -y, z], [x1, -y, z], [x1, y, z], [x0, y, z]])


def plate_plane(model: InstrumentModel) -> Array:
    """Four corners (4, 3) mm of a plane through the top plate."""
    reach, z = model.landmarks["upper_bout_bass"], 0.8 * model.landmarks["end_button"][2]
    return np.array([[-reach[0], -reach[1], z], [reach[0], -reach[1], z], [reach[0], reach[1], z], [-reach[0], reach[1], z]])


def neck_end(model: InstrumentModel) -> Array:
    """Outline (5, 3) mm of what lies beyond the nut: pegbox and scroll."""
    lm, size = model.landmarks, model.relative_size
    nut, scroll = float(lm["nut_bass"][0]), lm["scroll"]
    y, z = 17.0 * size, size * BOARD_MM
    return np.array(
        [[nut, y, z], [scroll[0], y, scroll[2]], [scroll[0] + 10 * size, 0, scroll[2]], [scroll[0], -y, scroll[2]], [nut, -y, z]]
    )
