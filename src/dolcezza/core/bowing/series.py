"""The per-frame record of a take: columns, names, signs and units as the files and screens use them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import TrackingError
from dolcezza.core.base.signals import derivative

COLUMNS: dict[str, int] = {
    "t_s": 4, "bow_angle_deg": 2, "bow_angle_sd_deg": 2, "contact_point_mm": 2, "contact_point_sd_mm": 2,
    "bow_position": 4, "string": 0, "elbow_level_deg": 1,  "shoulder_x_px": 1, "shoulder_y_px": 1, "elbow_x_px": 1,
    "elbow_y_px": 1, "wrist_x_px": 1, "wrist_y_px": 1, "confidence": 2, "bow_position_sd": 4, "contact_fraction": 3,
    "inclination_deg": 2, "inclination_sd_deg": 2, "bow_speed_cm_s": 2, "frog_x_px": 1, "frog_y_px": 1,
    "contact_x_px": 1, "contact_y_px": 1, "head_x_px": 1, "head_y_px": 1, "straight_x_px": 1, "straight_y_px": 1,
    "bridge_bass_x_px": 1, "bridge_bass_y_px": 1, "bridge_treble_x_px": 1, "bridge_treble_y_px": 1,
    "instrument_confidence": 2, "lifted": 0, "elbow_level_sd_deg": 1, "elbow_height": 3, "elbow_to_bow_plane_mm": 0,
    "forearm_angle_deg": 1, "wrist_angle_deg": 1, "upper_arm_swing_deg": 1, "shoulder_raise": 3,
    "shoulder_travel_mm": 2, "elbow_travel_mm": 2, "wrist_travel_mm": 2,
    "pitch_hz": 1, "semitones": 2, "beta": 4, "level_db": 1, "hnr_db": 1, "fundamental": 3, "split": 3, "hiss_db": 1, "tone": 0,
    "bow_angle_take_sd_deg": 2, "string_margin": 1, "moment_sd_s": 4,
}  # fmt: skip
"""Column name to decimals written. The arm's columns stay empty where the arm is not seen. ``straight`` is where the head
would be if the bow were parallel to the bridge, everything else the same; ``lifted`` is 1
while the bow is off the strings; ``..._travel_mm``: how much of the bow's way since the frame before came from a joint, + =
down-bow. From ``pitch_hz`` on: the sound (empty without sound), ``semitones`` of the left hand above the open string, ``beta`` the contact
point as a share of the sounding length, ``hnr_db`` harmonics over noise, ``tone`` 1 while
a bowed string sounds, the rest as in the tone track. ``bow_angle_take_sd_deg``: the part of the angle's ± that is the same all through the
take (landmarks, lens, lengths). ``string_margin``: by how much the next best string explains
the frame worse (a chi square). ``moment_sd_s``: how well it is known when the picture was so. Pixels are those of the upright
picture."""

BOW_COLUMNS = (
    "bow_angle_deg", "bow_angle_sd_deg", "bow_angle_take_sd_deg", "contact_point_mm", "contact_point_sd_mm", "bow_position",
    "bow_position_sd", "contact_fraction", "inclination_deg", "inclination_sd_deg", "bow_speed_cm_s", "lifted", "confidence",
    "string_margin", "moment_sd_s",
    *(f"{place}_{axis}_px" for place in ("frog", "contact", "head", "straight") for axis in "xy"),
)  # fmt: skip
"""Those that come from the bow alone; the rest are the instrument's, the arm's and the sound's."""


@dataclass(frozen=True)
class BowSeries:
    """One value a frame, n frames; NaN (or "" for the string) = not measured.

    ``values`` maps every column of ``COLUMNS`` but ``string`` to (n,) floats; ``strings`` are names such as "D".
    """

    values: dict[str, Array]
    strings: list[str]

    def __len__(self) -> int:
        return len(self.strings)

    def __getitem__(self, column: str) -> Array:
        return self.values[column]

    def with_columns(self, columns: dict[str, Array]) -> BowSeries:
        """The same record with some columns (n,) filled in."""
        return BowSeries({**self.values, **{name: columns[name] for name in COLUMNS if name in columns}}, self.strings)

    @property
    def t(self) -> Array:
        """Times (n,), s."""
        return self.values["t_s"]

    @property
    def rate_hz(self) -> float:
        """Frames a second (median)."""
        return float(1.0 / np.median(np.diff(self.t))) if len(self) > 1 else 30.0


def as_filmed(series: BowSeries, width: int | None, *, scale: float = 1.0) -> BowSeries:
    """The record in pixels of the picture as it was filmed: enlarged by ``scale``, then, where it was turned left for right
    before measuring, turned back; ``width`` px of the filmed picture, None = it was not turned."""

    def back(name: str, values: Array) -> Array:
        if not name.endswith("_px"):
            return values
        grown = scale * values
        return width - grown if width is not None and name.endswith("_x_px") else grown

    return BowSeries({k: back(k, v) for k, v in series.values.items()}, series.strings)


def as_measured(series: BowSeries, width: int | None, *, scale: float = 1.0) -> BowSeries:
    """Inverse of ``as_filmed``."""

    def there(name: str, values: Array) -> Array:
        if not name.endswith("_px"):
            return values
        return (width - values if width is not None and name.endswith("_x_px") else values) / scale

    return BowSeries({k: there(k, v) for k, v in series.values.items()}, series.strings)


def speed_cm_s(position: Array, t_s: Array, hair_length_mm: float) -> Array:
    """Signed bow speed, + = down-bow (frog to head), cm/s."""
    return derivative(position, t_s) * hair_length_mm / 10.0


FASTEST_PER_S = 4.0
"""Bow lengths a second that no player draws (more than 2.5 m/s): the bow was taken off and set down elsewhere."""


def leaps(position: Array, t_s: Array, fastest_per_s: float = FASTEST_PER_S) -> Array:
    """Frames (n,) bool before which the bow was set down elsewhere: no bow is drawn so far from its ``position`` (n,) before."""
    return np.concatenate([[False], np.abs(np.diff(position)) / np.diff(t_s) > fastest_per_s])


def check(series: BowSeries) -> None:
    """Refuse a series that cannot be: times must rise, ± must be positive. Raises TrackingError naming the frame."""
    gap = np.diff(series.t)
    if (gap <= 0).any():
        k = int(np.argmax(gap <= 0)) + 1
        raise TrackingError(f"Frame {k} comes before the frame in front of it.", "Save the video again from the phone.")
    for column in ("bow_angle_sd_deg", "contact_point_sd_mm", "bow_position_sd"):
        sd = series[column]
        if (sd[np.isfinite(sd)] <= 0).any():
            raise TrackingError(f"The ± of {column} is not positive in some frame.", "Please report this video.")
