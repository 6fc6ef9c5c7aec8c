"""One stroke: its figures, and what the teacher may do to it: cut it here, join it with the next, strike it out, say its string."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from dolcezza.app.theme.palette import LIGHT, Palette
from dolcezza.app.theme.words import mark, show, tr
from dolcezza.app.widgets.parts import choice, label
from dolcezza.core.strokes.figures import THIRDS, Stroke

DO = (
    ("cut", mark("Split here"), mark("C: two strokes from this moment on")),
    ("join", mark("Merge"), mark("J: one stroke with its neighbour at the nearest turn")),
    ("drop", mark("Delete stroke"), mark("Delete: this is no stroke")),
)
WAYS = {"down": mark("down-bow"), "up": mark("up-bow")}
BY_HAND = {"cut": mark("split by hand"), "joined": mark("merged by hand"), "string": mark("string said by hand")}


LINKS = Qt.TextInteractionFlag.LinksAccessibleByMouse | Qt.TextInteractionFlag.LinksAccessibleByKeyboard


class StrokeCard(QFrame):
    """Emits ``mended(what, string)``; what is cut, join, drop or string. ``lead(what)``: a figure was clicked, or chosen with Tab and
    Enter; what is as ``stroke_moment`` takes it."""

    corrected = Signal(str, str)
    lead = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("card")
        self._stroke: Stroke | None = None
        self._measured = False
        self.palette_: Palette = LIGHT
        box = QVBoxLayout(self)
        box.setContentsMargins(13, 8, 13, 9)
        box.setSpacing(3)
        self.head = label("", "heading")
        self.words = label("")
        self.words.setTextFormat(Qt.TextFormat.RichText)
        self.words.setTextInteractionFlags(LINKS)
        self.words.setToolTip(tr("Click a figure: to the frame that shows it"))
        self.words.linkActivated.connect(self.lead)
        box.addWidget(self.head)
        box.addWidget(self.words)
        row = QHBoxLayout()
        row.setSpacing(6)
        self.buttons: dict[str, QPushButton] = {}
        for what, words, tip in DO:
            button = QPushButton(tr(words))
            button.setObjectName("chip")
            button.setToolTip(tr(tip))
            button.clicked.connect(lambda _checked=False, w=what: self.corrected.emit(w, ""))
            self.buttons[what] = button
            row.addWidget(button)
        self.string = choice(tr("String of this stroke"), [])
        self.string.setToolTip(tr("Say which string it is: the stroke is analysed again on it"))
        self.string.activated.connect(self._say_string)
        row.addWidget(self.string)
        row.addStretch(1)
        box.addLayout(row)

    def set_strings(self, strings: str, *, measured: bool) -> None:
        """Names of the instrument's strings; in a take that is not measured there is nothing to correct."""
        self._measured = measured
        self.string.clear()
        self.string.addItems(list(strings))

    def show_stroke(self, stroke: Stroke | None) -> None:
        """Show a stroke, or that the moment lies between strokes."""
        self._stroke = stroke
        for what, button in self.buttons.items():
            button.setEnabled(stroke is not None or (what == "join" and self._measured))
        self.string.setEnabled(stroke is not None)
        if stroke is None:
            self.head.setText(tr("Between strokes"))
            self.words.setText(tr("Click the ribbon, or press N, to go to a stroke.") if self._measured else "")
            return
        hand = f"  ·  ✎ {tr(BY_HAND[stroke.by_hand])}" if stroke.by_hand in BY_HAND else ""
        self.head.setText(tr("Stroke {0}: {1} on {2}{3}").format(stroke.number, tr(WAYS[stroke.direction]), stroke.string, hand))
        self.string.setCurrentText(stroke.string)
        thirds = "  ·  ".join(f"{tr(name)} {self._link(name, show('bow_angle', stroke.third(name)))}" for name in THIRDS)
        self.words.setText(
            (
                tr("Bow angle {0}  ({1})\nContact {2} from the bridge").format(
                    self._link("angle", show("bow_angle", stroke.bow_angle_deg, stroke.bow_angle_sd_deg)),
                    thirds,
                    self._link("contact", show("contact_point", stroke.contact_point_mm, stroke.contact_point_sd_mm)),
                )
                + self._elbow(stroke)
                + tr("\n{0} of the bow in {1:.2f} s, {2}").format(
                    self._link("used", show("share", stroke.share_used)),
                    stroke.seconds,
                    self._link("speed", show("bow_speed", stroke.mean_speed_cm_s).lstrip("+")),
                )
            ).replace("\n", "<br>")
        )

    def _link(self, what: str, text: str) -> str:
        """A figure that leads to its frame."""
        return f'<a href="{what}" style="text-decoration: none; color: {self.palette_.accent}">{text}</a>'

    def recolour(self, palette: Palette) -> None:
        """Another theme: links carry their colour in the text."""
        self.palette_ = palette
        self.show_stroke(self._stroke)

    def _elbow(self, stroke: Stroke) -> str:
        if not np.isfinite(stroke.elbow_level_deg):
            return ""
        return tr(", elbow level {0}").format(self._link("elbow", show("elbow_level", stroke.elbow_level_deg)))

    def _say_string(self, _place: int) -> None:
        if self._stroke is not None and self.string.currentText() != self._stroke.string:
            self.corrected.emit("string", self.string.currentText())
