"""The table of predicted ± over camera places for docs/measuring.md:  python tools/place_table.py [INSTRUMENT]."""

from __future__ import annotations

import sys

from dolcezza.core.camera.place import camera_around, expected
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import LANDMARK_NAMES, InstrumentModel

SIZE = (1280, 720)


def main() -> None:
    """Print a Markdown table: rows heights, columns azimuths, cells ± of angle, contact and place."""
    model = InstrumentModel(instrument(sys.argv[1] if len(sys.argv) > 1 else "violin 4/4"))
    azimuths = (-60, -40, -20, 0, 20, 40)
    print("| height | " + " | ".join(f"{a:+d}°" for a in azimuths) + " |")
    print("|---" * (len(azimuths) + 1) + "|")
    for height in (10, 20, 35, 50, 65, 80):
        cells = []
        for azimuth in azimuths:
            camera = camera_around(azimuth, height, distance=4.6 * model.spec.string_length, focal=1300.0, size=SIZE)
            got = expected(model, camera, LANDMARK_NAMES, SIZE)
            cells.append("–" if got is None else f"{got.bow_angle_deg:.1f}° {got.contact_point_mm:.1f} mm {100 * got.bow_position:.1f} %")
        print(f"| {height}° | " + " | ".join(cells) + " |")


main()
