"""The ± that a take will have with these landmarks, and by how much they miss."""

from __future__ import annotations

import math

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QLabel, QWidget

from dolcezza.app.theme.words import tr
from dolcezza.app.widgets.parts import label
from dolcezza.core.base.units import QUANTITIES
from dolcezza.services.calibration import CalibrationState


class LandmarkFigures(QWidget):
    """Four figures, one below the other."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setVerticalSpacing(2)
        self.figures: dict[str, QLabel] = {}
        names = {
            "bow_angle": tr("Bow angle"), "contact_point": tr("Contact point"), "bow_position": tr("Bow position"),
            "pixels": tr("Fit error"),
        }  # fmt: skip
        for k, (key, words) in enumerate(names.items()):
            grid.addWidget(label(words), k, 0)
            figure = label("–", "figure")
            figure.setAlignment(Qt.AlignmentFlag.AlignRight)
            figure.setAccessibleName(tr("{0}, plus or minus").format(words))
            self.figures[key] = figure
            grid.addWidget(figure, k, 1)

    def show_state(self, state: CalibrationState) -> None:
        """Show the figures of ``state``; a dash where there are none."""
        precision = state.precision
        values = {
            "bow_angle": precision.bow_angle_deg if precision else None,
            "contact_point": precision.contact_point_mm if precision else None,
            "bow_position": precision.bow_position if precision else None,
            "pixels": state.fit.rms_px if state.fit else None,
        }
        for key, figure in self.figures.items():
            value, q = values[key], QUANTITIES[key]
            sign = "" if key == "pixels" else "± "
            unit = q.unit if q.unit == "°" else f" {q.unit}"
            known = value is not None and math.isfinite(value)
            figure.setText(f"{sign}{value * q.factor:.{max(q.decimals, 1)}f}{unit}" if known else "–")  # type: ignore[operator]
