"""The posture as a list: one line a figure; a line chosen shows what it was told from in the picture."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import Signal
from PySide6.QtWidgets import QVBoxLayout, QWidget

from dolcezza.app.theme.words import mark, spoken, tr
from dolcezza.app.widgets.parts import Row, empty, label, unit_words
from dolcezza.core.arm.posture import PostureFigure
from dolcezza.core.findings.profiles import Profile

WORDS = {
    "clock": mark("Instrument at"), "neck_deg": mark("Neck against the floor"), "head_tilt_deg": mark("Head tilted"),
    "nose_to_scroll_deg": mark("Nose to scroll"), "endpin_offset": mark("Endpin beside the midline"),
    "top_deg": mark("Top faces outwards by"), "knee_over_hip": mark("Knees above the hips"),
}  # fmt: skip


class PostureList(QWidget):
    """Emits ``chosen(name)`` when a figure is to be shown in the picture."""

    chosen = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.figures: dict[str, PostureFigure] = {}
        self.current = ""
        self._box = QVBoxLayout(self)
        self._box.setContentsMargins(0, 0, 0, 0)
        self._box.setSpacing(5)
        self.show_figures({}, None)

    def show_figures(self, figures: dict[str, PostureFigure], profile: Profile | None) -> None:
        """What is noted; set beside a band only where the profile has one."""
        self.figures, self.current = figures, ""
        empty(self._box)
        for k, figure in enumerate(figures.values()):
            row = Row(k, self.said(figure), [beside] if (beside := self._beside(figure, profile)) else [])
            row.across.setContentsMargins(10, 4, 10, 4)
            if np.isfinite(figure.t_s):
                drawn = tr("{0}. Click: drawn in the picture, the figure solid, what it is measured against dashed.")
                row.setToolTip(drawn.format(tr(figure.meaning)))
                row.chosen.connect(self._choose)
            else:
                row.setToolTip(tr("{0}. Told by the second phone: this picture does not show it.").format(tr(figure.meaning)))
            self._box.addWidget(row)
        if not figures:
            self._box.addWidget(label(tr("Analyse the video first.")))

    def _choose(self, k: int) -> None:
        self.current = list(self.figures)[k]
        self.chosen.emit(self.current)

    @staticmethod
    def said(figure: PostureFigure) -> str:
        """One figure with its ± and unit."""
        decimals = 1 if abs(figure.value) < 20 else 0
        unit = unit_words(figure.unit)
        value, sd = (spoken().number(v, decimals) for v in (figure.value, figure.sd))
        return f"{tr(WORDS[figure.name])} {value} ± {sd}{unit}"

    @staticmethod
    def _beside(figure: PostureFigure, profile: Profile | None) -> str:
        band = profile.posture.get(figure.name) if profile is not None else None
        if band is None or profile is None or band.holds(figure.value, figure.sd):
            return ""
        return tr("{0}: {1:g} to {2:g}").format(profile.name, band.low, band.high)
