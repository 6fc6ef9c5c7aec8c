"""Two strokes side by side, of one take or of two, kept at the same place on the bow."""

from __future__ import annotations

from PySide6.QtGui import QCloseEvent
from PySide6.QtWidgets import QWidget

from dolcezza.app.dialogs.side_by_side import SideBySide
from dolcezza.app.theme.words import day_words, show, tr
from dolcezza.app.widgets.parts import faint, label
from dolcezza.app.widgets.stroke_pane import StrokePane
from dolcezza.core.strokes.alignment import shared_places
from dolcezza.services.studio import Studio
from dolcezza.storage.records import StoredAnalysis, Take

STEPS = 200


class CompareWindow(SideBySide):
    """``takes``: measured takes of one student, newest first; opens with ``left`` and ``right``: (take id, stroke number)."""

    def __init__(
        self, studio: Studio, takes: list[Take], left: tuple[int, int], right: tuple[int, int], parent: QWidget | None = None
    ) -> None:  # fmt: skip
        super().__init__(
            tr("Two strokes side by side"), (1240, 610), parent, steps=STEPS, key_step=2, slider=tr("Bow position")
        )  # fmt: skip
        self._studio, self._takes = studio, takes
        self._range = (0.0, 1.0)
        titles = [f"{t.title}, {day_words(t.played_on)}" for t in takes]
        self.panes = [StrokePane(side, titles) for side in ("left", "right")]
        for pane in self.panes:
            self.row.addWidget(pane, 1)
            pane.changed.connect(self._strokes_changed)
        self.panes[0].take_wanted.connect(self._left_take)
        self.panes[1].take_wanted.connect(self._right_take)
        self.difference = label("", "heading")
        self.box.addWidget(self.difference)
        self.slider.valueChanged.connect(self._show)
        self.speed.setCurrentIndex(1)
        self.add_line(faint(tr("frog")), faint(tr("head")))
        self.note = faint(tr("Both pictures stand at the same bow position; arrow keys move along it."))
        self.box.addWidget(self.note)
        for pane, (take_id, number) in zip(self.panes, (left, right), strict=True):
            self._put(pane, next(k for k, t in enumerate(takes) if t.id == take_id), number)
        self._strokes_changed()
        self.slider.setFocus()

    def _analysis(self, k: int) -> StoredAnalysis | None:
        return self._studio.analysis(self._takes[k])

    def _put(self, pane: StrokePane, k: int, number: int) -> None:
        stored = self._analysis(k)
        if stored is not None:
            pane.takes.setCurrentIndex(k)
            pane.show_take(self._takes[k], stored, number)

    def _left_take(self, k: int) -> None:
        self._other_take(self.panes[0], k)

    def _right_take(self, k: int) -> None:
        self._other_take(self.panes[1], k)

    def _other_take(self, pane: StrokePane, k: int) -> None:
        one = pane.one
        stored = self._analysis(k)
        like = next((s.number for s in stored.strokes if one and (s.string, s.down) == (one[1].string, one[1].down)), 1) if stored else 1
        self._put(pane, k, like)
        self._strokes_changed()

    def _strokes_changed(self) -> None:
        ones = [pane.one for pane in self.panes]
        both = shared_places((ones[0][0].series, ones[0][1]), (ones[1][0].series, ones[1][1])) if ones[0] and ones[1] else None
        self._range = both or (0.0, 1.0)
        self.slider.setEnabled(both is not None)
        self.play.setEnabled(both is not None)
        self._show()

    @property
    def place(self) -> float:
        """The place on the bow that is shown, 0..1."""
        low, high = self._range
        return low + (high - low) * self.slider.value() / STEPS

    def _show(self) -> None:
        seen = [pane.go_to(self.place) for pane in self.panes]
        if not self.slider.isEnabled():
            self.difference.setText(tr("These two strokes share no bow position: choose others."))
            return
        words = tr("At {0} of the bow").format(show("bow_position", self.place))
        if seen[0] is not None and seen[1] is not None:
            apart = seen[1][1] - seen[0][1]
            sd = (seen[0][2] ** 2 + seen[1][2] ** 2) ** 0.5
            sure = "" if abs(apart) > 2 * sd else tr(", within the ±")
            more = tr(": right minus left {0}{1}; contact {2:+.0f} mm").format(show("bow_angle", apart, sd), sure, seen[1][3] - seen[0][3])
            words += more.replace("-", "−")
        self.difference.setText(words + ".")

    def whole_s(self) -> float:
        """At the pace of the stroke on the left."""
        one = self.panes[0].one
        return max(0.05, one[1].seconds * (self._range[1] - self._range[0]) / max(one[1].share_used, 0.05)) if one is not None else 0.0

    def closeEvent(self, event: QCloseEvent) -> None:
        for pane in self.panes:
            pane.close_pictures()
        super().closeEvent(event)


def open_beside(studio: Studio, student_id: int, take_id: int, number: int, parent: QWidget | None = None) -> CompareWindow | None:
    """The stroke beside the same kind of stroke of the oldest measured take, or of the same take; None without a measured take."""
    takes = [s.take for s in studio.takes(student_id) if s.analysed]
    here = next((t for t in takes if t.id == take_id), None)
    stored = studio.analysis(here) if here is not None else None
    stroke = next((s for s in stored.strokes if s.number == number), None) if stored is not None else None
    if stored is None or stroke is None:
        return None
    for other in reversed(takes):
        found = studio.analysis(other)
        like = [s for s in (found.strokes if found is not None else []) if (s.string, s.down) == (stroke.string, stroke.down)]
        like = [s for s in like if (other.id, s.number) != (take_id, number)]
        if like:
            return CompareWindow(studio, takes, (other.id, like[0].number), (take_id, number), parent)
    return CompareWindow(studio, takes, (take_id, number), (take_id, number), parent)
