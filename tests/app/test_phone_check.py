"""Checking the phone on the desk: the card to print, the holds of the open video, what is kept and used."""

from __future__ import annotations

import json
import re
import zlib
from dataclasses import replace

import numpy as np
import pytest
from PySide6.QtCore import QByteArray, QRectF
from PySide6.QtGui import QImage, QPainter
from PySide6.QtSvg import QSvgRenderer

from dolcezza.app.dialogs.phone_check_window import CheckSource, PhoneCheckWindow
from dolcezza.app.printing import write_page
from dolcezza.core.base.errors import StudioError
from dolcezza.core.check.card import CheckCard
from dolcezza.core.check.compare import CheckError, compare
from dolcezza.core.check.holds import Hold
from dolcezza.core.check.kept import PhoneCheck, PhonePlace
from dolcezza.core.instrument.catalog import instrument
from dolcezza.reports.check_card import card_svg
from dolcezza.reports.language import language
from dolcezza.services.phone_checks import CheckBook

SPEC = instrument("violin 4/4")


def made(off_mm: float = -2.5):
    asked = CheckCard.of(SPEC).holds()
    result = compare([Hold(1.5 * k, 1.5 * k + 1, a.angle_deg, 1.0, a.contact_mm + off_mm, 1.0, 0.0) for k, a in enumerate(asked)], asked)
    return result, PhoneCheck.of(result, name="", day="2026-11-28", instrument="violin 4/4", place=PhonePlace(0.0, 30.0, 1500.0))


def drawn(svg: str, dots_mm: int = 10) -> np.ndarray:
    """The page painted, so many dots a millimetre; dark = True."""
    image = QImage(210 * dots_mm, 297 * dots_mm, QImage.Format.Format_Grayscale8)
    image.fill(255)
    painter = QPainter(image)
    QSvgRenderer(QByteArray(svg.encode())).render(painter, QRectF(0, 0, image.width(), image.height()))
    painter.end()
    rows = np.frombuffer(image.constBits(), np.uint8).reshape(image.height(), image.bytesPerLine())[:, : image.width()]
    return rows < 128


def test_the_lines_are_where_the_card_says_and_the_ruler_is_as_long_as_it_says(qapp):
    """Measured in the painted page: 100 mm of ruler; lines that cross the middle of the card where they should, at 10 degrees."""
    dark = drawn(card_svg(SPEC, language("en")))
    ruler = dark[298:303].any(axis=0)
    across = np.flatnonzero(ruler)
    assert (across[-1] - across[0]) / 10 == pytest.approx(100.0, abs=0.4)
    card = CheckCard.of(SPEC)
    for at in card.distances:
        y = 520 + 10 * (at - card.edge)
        # 30 mm to the right of the middle: the lines of +10 and -10 degrees lie 30 mm x tan(10) below and above
        column = np.flatnonzero(dark[round(y) - 80 : round(y) + 81, 1350]) / 10 - 8.0
        for angle in (-10, 0, 10):
            assert np.abs(column - 30 * np.tan(np.radians(angle))).min() < 0.3


def test_the_tip_of_a_cello_or_a_left_handed_bow_is_on_the_other_side(qapp):
    """+10 stands at the tip's end: on the right for a right-handed violin (common practice, no source)."""

    def side(spec, handed):
        svg = card_svg(spec, language("en"), handed=handed)
        x1, x2 = (float(re.search(rf'class="line\+10" [^>]*{name}="([\d.]+)"', svg)[1]) for name in ("x1", "x2"))
        return x2 > x1

    assert side(SPEC, "right") and not side(SPEC, "left")
    assert not side(instrument("cello 4/4"), "right")


def test_the_page_is_printed_at_its_own_size(qapp, tmp_path):
    """A4 is 595.3 x 841.9 points (ISO 216, 72 points an inch); what is drawn fills the page and nothing is fitted."""
    path = write_page(card_svg(SPEC, language("en")), tmp_path / "card.pdf")
    data = path.read_bytes()
    box = [float(v) for v in re.search(rb"/MediaBox \[([^\]]*)\]", data)[1].split()]
    assert box[2:] == pytest.approx([595.3, 841.9], abs=1.0)
    streams = [zlib.decompress(s) for s in re.findall(rb"stream\r?\n(.*?)endstream", data, re.S) if s[:1] == b"x"]
    page = max(streams, key=len).decode("latin-1")
    scale = float(re.search(r"^([\d.]+) 0 0 -[\d.]+ 0 [\d.]+ cm", page, re.M)[1])
    # 600 dots an inch of Qt's page on 72 points
    assert scale == pytest.approx(72 / 600, rel=1e-3)
    with pytest.raises(StudioError, match="not there"):
        write_page("<svg/>", tmp_path / "no" / "card.pdf")


def test_what_came_out_is_shown_kept_used_and_removed(qtbot, tmp_path):
    used: list[PhoneCheck | None] = [None]
    source = CheckSource(SPEC, "right", "Holds", lambda name, ruler: made(), lambda: used[0], lambda c: used.__setitem__(0, c))
    window = PhoneCheckWindow(source, CheckBook(tmp_path))
    qtbot.addWidget(window)
    window.show()
    assert not window.keep_button.isEnabled()
    window.go.click()
    assert window.table.rowCount() == 6
    assert window.table.item(1, 0).text() == "+10°, 15 mm"
    assert "contact point within" in window.said.text() and "−2.5" in window.said.text()
    window.keep_button.click()
    assert "no name" in window.said.text() and CheckBook(tmp_path).checks == []
    window.name.setText("my phone")
    window.keep_button.click()
    kept = CheckBook(tmp_path).checks
    assert [c.name for c in kept] == ["my phone"]
    window.use(kept[0])
    assert used == [kept[0]]
    window.write(tmp_path / "figures.json")
    assert json.loads((tmp_path / "figures.json").read_text())["name"] == "my phone"
    window.print_card(tmp_path / "card.pdf")
    assert (tmp_path / "card.pdf").stat().st_size > 3000
    window.forget(kept[0])
    assert CheckBook(tmp_path).checks == []


def test_a_video_that_is_no_check_is_said_in_the_window(qtbot, tmp_path):
    def fails(name, ruler):
        raise CheckError("The bow was held still on 2 of 6 lines.", "Hold it.")

    window = PhoneCheckWindow(CheckSource(SPEC, "right", "Scale", fails, lambda: None, lambda c: None), CheckBook(tmp_path))
    qtbot.addWidget(window)
    window.check()
    assert window.said.text().startswith("The bow was held still on 2 of 6 lines.")
    assert window.table.rowCount() == 0 and not window.write_button.isEnabled()


def test_on_the_desk_the_open_video_is_asked_and_a_check_can_be_taken_back(opened, qtbot):
    opened.menus.actions["phone_check"].trigger()
    window = opened.checks.window
    assert window is not None
    window.check()
    assert "lines" in window.said.text()  # the demo take is a lesson, not a check
    check = replace(made()[1], name="my phone")
    window.use(check)
    assert opened.landmarks.session.base.check == check
    window.close()
    opened.landmarks.session.undo.undo()
    assert opened.landmarks.session.base.check is None
