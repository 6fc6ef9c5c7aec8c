"""How the desk looks and speaks: contrast, names, nothing cut off, both themes, no exception in any paint."""

from __future__ import annotations

from itertools import product

import pytest
from PySide6.QtCore import QSize, Qt
from PySide6.QtWidgets import QAbstractButton, QComboBox, QLabel, QLineEdit, QPushButton, QSlider, QWidget

from dolcezza.app.dialogs.shortcuts_sheet import KEYS, ShortcutsSheet
from dolcezza.app.theme.palette import THEMES, contrast
from dolcezza.app.theme.style import built_bare
from dolcezza.app.widgets.job_strip import JobStrip
from dolcezza.app.windows.main_window import ARM, HOLD, LANDMARKS, STROKES, STUDENTS, TAKE
from window_fits import settle


def test_contrast_is_that_of_the_standard():
    """WCAG 2.1, 1.4.3: black on white is 21 : 1; #767676 on white is the lightest grey that passes 4.5 (from memory)."""
    assert contrast("#000000", "#FFFFFF") == pytest.approx(21.0)
    assert contrast("#FFFFFF", "#767676") == pytest.approx(4.54, abs=0.01)
    assert contrast("#777777", "#FFFFFF") < 4.5


@pytest.mark.parametrize("theme", THEMES.values(), ids=lambda p: p.name)
def test_text_is_readable_in_both_themes(theme):
    for text, ground in product((theme.ink, theme.faint, theme.warn, theme.accent), (theme.paper, theme.surface)):
        assert contrast(text, ground) >= 4.5, (text, ground)
    assert contrast(theme.on_accent, theme.accent) >= 4.5
    assert contrast(theme.ink, theme.quiet) >= 4.5
    for side in (theme.to_scroll, theme.to_player, theme.straight):
        assert contrast(side, theme.surface) >= 3.0


@pytest.mark.parametrize("size", [(1100, 700), (1280, 800), (1920, 1080)])
def test_nothing_is_cut_off(opened, size):
    opened.resize(QSize(*size))
    for step in (STUDENTS, TAKE, LANDMARKS, STROKES, ARM, HOLD):
        opened.go_to_step(step)
        current = opened.pages.currentWidget()
        settle(current)
        assert (opened.width(), opened.height()) == size
        for widget in current.findChildren(QPushButton):
            if widget.isVisible():
                assert widget.width() >= widget.minimumSizeHint().width(), widget.text()
                assert widget.height() >= widget.minimumSizeHint().height(), widget.text()
        for label in current.findChildren(QLabel):
            if label.isVisible() and label.text() and label.textFormat() != Qt.TextFormat.RichText:
                need = label.heightForWidth(label.width()) if label.wordWrap() else label.sizeHint().height()
                assert label.height() >= need - 1, (label.text(), label.height(), need)
        page = current.rect()
        for widget in (opened.strokes.ribbon, opened.strokes.transport, opened.landmarks.side.go, opened.take_view.next):
            if widget.isVisible():
                corner = widget.mapTo(current, widget.rect().bottomRight())
                assert page.contains(corner)


def test_every_control_has_a_name(opened):
    for kind in (QAbstractButton, QComboBox, QLineEdit, QSlider):
        for widget in opened.findChildren(kind):
            text = widget.text() if isinstance(widget, QAbstractButton) else ""
            if not widget.objectName().startswith("qt_"):
                assert widget.accessibleName() or text, widget


def test_both_themes_paint_every_page(opened, qtbot):
    pictures = []
    for _ in range(2):
        for step in (STUDENTS, TAKE, LANDMARKS, STROKES, ARM, HOLD):
            opened.go_to_step(step)
            qtbot.wait(20)
            pictures.append(opened.grab().toImage().pixelColor(3, opened.height() // 2).lightness())
        opened.other_theme()
    assert min(pictures[:6]) > 180
    assert max(pictures[6:]) < 60


def test_figures_that_lead_are_readable_in_both_themes(opened):
    """A link keeps the colour it was laid out with: it is laid out anew under another theme."""
    opened.selection.go_to(1.5)
    for theme in ("light", "dark"):
        assert f"color: {THEMES[theme].accent}" in opened.strokes.stroke_card.words.text()
        opened.other_theme()


def test_the_job_strip_lets_in_only_where_one_may_go(qtbot):
    strip = JobStrip(["a", "b", "c"])
    qtbot.addWidget(strip)
    strip.resize(600, 58)
    strip.set_state(0, [True, True, False])
    chosen = []
    strip.chosen.connect(chosen.append)
    for k in (1, 2):
        qtbot.mouseClick(strip, Qt.MouseButton.LeftButton, pos=strip._place(k).toPoint())
    qtbot.keyClick(strip, Qt.Key.Key_Right)
    assert chosen == [1, 1]


def test_the_sheet_of_keys_lists_every_key_of_the_window(window, qtbot):
    sheet = ShortcutsSheet(window)
    qtbot.addWidget(sheet)
    words = " ".join(k for k, _ in KEYS)
    for name, action in window.menus.actions.items():
        for key in action.shortcuts():
            text = key.toString()
            if text in ("Ctrl+Y", "Ctrl+Q"):
                continue
            step = text in {f"Ctrl+{k}" for k in range(1, 10)}
            assert ("Ctrl+1 … Ctrl+9" if step else text) in words, (name, text)


def test_an_empty_studio_says_what_to_do(qtbot, tmp_path):
    from dolcezza.app.windows.main_window import MainWindow
    from dolcezza.services.studio import Studio

    window = MainWindow(Studio(tmp_path / "empty"))
    qtbot.addWidget(window)
    window.show()
    words = " ".join(w.text() for w in window.students.findChildren(QLabel))
    assert "Three steps" in words
    assert not window.students.open_button.isEnabled()
    window.takes.offer_video("")
    assert "Add a student first" in window.notice.words.text()


def test_no_widget_is_left_behind(qtbot, studio, qapp):
    from dolcezza.app.windows.main_window import MainWindow

    window = MainWindow(studio)
    window.show()
    window.close()
    window.deleteLater()
    qtbot.wait(20)
    assert not [w for w in qapp.topLevelWidgets() if isinstance(w, QWidget) and w.isVisible()]


def test_widgets_are_put_together_bare_and_dressed_at_once(qapp, qtbot):
    """The style sheet is away while nothing is shown, comes back whatever happens, and stays where something is shown."""
    whole = qapp.styleSheet()
    seen = []
    for left in [w for w in qapp.topLevelWidgets() if w.isVisible()]:
        left.hide()
    built_bare(lambda: seen.append(qapp.styleSheet()))
    assert seen == [""] and qapp.styleSheet() == whole != ""
    with pytest.raises(ValueError, match="broken"):
        built_bare(lambda: (_ for _ in ()).throw(ValueError("broken")).__next__())
    assert qapp.styleSheet() == whole
    shown = QWidget()
    qtbot.addWidget(shown)
    shown.show()
    built_bare(lambda: seen.append(qapp.styleSheet()))
    assert seen[-1] == whole
