"""What the keys of reviewing do on the screen that is shown: play, step, slow, strokes, findings, layers."""

from __future__ import annotations

from PySide6.QtWidgets import QAbstractButton, QApplication, QComboBox, QStackedWidget

from dolcezza.app.models.selection import Selection
from dolcezza.app.views.strokes import StrokesView
from dolcezza.app.widgets.focus import reached_by_tab
from dolcezza.app.widgets.transport import Transport


class ReviewKeys:
    """One method a key. ``transports`` by page number for the pages beside the strokes that can play."""

    def __init__(self, pages: QStackedWidget, strokes: StrokesView, transports: dict[int, Transport], selection: Selection) -> None:
        self._pages, self._strokes, self._selection = pages, strokes, selection
        self._transports = {**transports, pages.indexOf(strokes): strokes.transport}

    @property
    def _reviewing(self) -> bool:
        return self._pages.currentWidget() is self._strokes

    def _transport(self) -> Transport | None:
        return self._transports.get(self._pages.currentIndex())

    def toggle_play(self) -> None:
        """Play or pause; a button that was reached with Tab is pressed instead."""
        focused = QApplication.focusWidget()
        if isinstance(focused, QAbstractButton) and reached_by_tab(focused):
            focused.click()
        elif isinstance(focused, QComboBox) and reached_by_tab(focused):
            focused.showPopup()
        elif (transport := self._transport()) is not None:
            transport.toggle()

    def frame_on(self) -> None:
        """One frame on."""
        if (transport := self._transport()) is not None:
            transport.frame_on()

    def frame_back(self) -> None:
        """One frame back."""
        if (transport := self._transport()) is not None:
            transport.frame_back()

    def slower(self) -> None:
        """The next slower speed."""
        if (transport := self._transport()) is not None:
            transport.slower()

    def repeat(self) -> None:
        """Repeat the stroke, or go on."""
        if (transport := self._transport()) is not None and transport.loop is not None:
            transport.loop.toggle()

    def mute(self) -> None:
        """Sound on or off."""
        if (transport := self._transport()) is not None:
            transport.quiet.toggle()

    def next_stroke(self) -> None:
        """To the next stroke."""
        self._step_stroke(1)

    def previous_stroke(self) -> None:
        """To the stroke before."""
        self._step_stroke(-1)

    def _step_stroke(self, by: int) -> None:
        transport = self._transport()
        if self._reviewing or (transport is not None and transport.has_strokes):
            transport.pause() if transport is not None else None
            self._selection.step_stroke(by)

    def next_finding(self) -> None:
        """Open the next finding."""
        if self._reviewing:
            self._strokes.step_finding(1)

    def previous_finding(self) -> None:
        """Open the finding before."""
        if self._reviewing:
            self._strokes.step_finding(-1)

    def accept(self) -> None:
        """Accept the chosen finding."""
        if self._reviewing:
            self._strokes.judge_chosen("accepted")

    def dismiss(self) -> None:
        """Dismiss the chosen finding."""
        if self._reviewing:
            self._strokes.judge_chosen("dismissed")

    def layer_lines(self) -> None:
        """Bow and bridge on the picture: show or hide."""
        self._strokes.layer_buttons["lines"].toggle()

    def layer_angle(self) -> None:
        """The angle on the picture: show or hide."""
        self._strokes.layer_buttons["angle"].toggle()

    def layer_contact(self) -> None:
        """The contact point on the picture: show or hide."""
        self._strokes.layer_buttons["contact"].toggle()
