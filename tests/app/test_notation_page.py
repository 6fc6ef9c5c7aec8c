"""The notes page through the real window: scales and files, the bow under the notes, a video laid against them."""

from __future__ import annotations

from pathlib import Path

import pytest
from pypdf import PdfReader
from PySide6.QtCore import QPoint, QPointF, Qt, qInstallMessageHandler
from PySide6.QtTest import QTest

from dolcezza.app.views.notation import NotationView
from dolcezza.app.widgets.score_sheet import ScoreSheet, SheetBow
from dolcezza.app.windows.steps import NOTES
from dolcezza.core.score.engraving import Engraved, engrave, to_mei
from dolcezza.core.score.mei import read_mei
from dolcezza.core.score.musicxml import to_musicxml
from dolcezza.core.score.scales import PATTERNS, scale

SCALE = Path(__file__).parents[1] / "takes" / "scale" / "scale.musicxml"


@pytest.fixture
def notes(window) -> NotationView:
    window.go_to_step(NOTES)
    return window.pages.notes


def test_a_scale_is_there_at_once_and_every_pattern_can_be_chosen(window, notes, qtbot):
    assert notes.head.text().endswith("whole bows") and not notes.fault.text()
    notes.pattern.setCurrentIndex(notes.pattern.findData("Four notes to a bow"))
    notes.pattern.activated.emit(0)
    assert "four notes to a bow" in notes.head.text()
    assert [len(b.ids) for b in notes.sheet._bows[:2]] == [4, 4]
    assert not notes.assign_button.isEnabled(), "there is no video to assign it to"


def test_the_page_is_drawn_without_a_complaint(window, notes, qtbot):
    """Bar numbers, tempo and names are on it: the reader of the pages leaves nothing out."""
    said = []
    before = qInstallMessageHandler(lambda _kind, _where, words: said.append(words))
    try:
        window.notation.take_in(SCALE)
        notes.sheet.grab()
    finally:
        qInstallMessageHandler(before)
    assert not [w for w in said if "child element" in w or "Point size" in w]


def test_a_file_is_read_kept_chosen_again_and_removed(window, notes, studio, tmp_path):
    window.notation.take_in(SCALE)
    assert studio.notation.names() == ["scale"] and notes.head.text() == "scale"
    assert [len(b.ids) for b in notes.sheet._bows] == [2] * 7 + [1]
    notes.ask_now()
    assert notes.head.text() != "scale"
    window.notation.show_piece("scale")
    assert notes.head.text() == "scale" and notes.tempo.value() == 120
    broken = tmp_path / "torn.musicxml"
    broken.write_text("<score-partwise><part")
    window.notation.take_in(broken)
    assert "breaks off" in notes.fault.text() and notes.head.text() == "scale", "what was shown stays"
    notes.remove_button.click()
    assert studio.notation.names() == []


def test_a_chosen_file_is_read_in_the_background(window, notes, studio, qtbot, tmp_path):
    window.notation.open_file(SCALE)
    assert "Reading scale.musicxml" in notes.fault.text()
    qtbot.waitUntil(lambda: notes.head.text() == "scale", timeout=20_000)
    assert not notes.fault.text() and studio.notation.names() == ["scale"]
    broken = tmp_path / "torn.mei"
    broken.write_text("<mei>")
    window.notation.open_file(broken)
    qtbot.waitUntil(lambda: "breaks off" in notes.fault.text(), timeout=20_000)
    assert notes.head.text() == "scale"


def test_some_bars_and_another_tempo(window, notes, qtbot):
    window.notation.take_in(SCALE)
    whole = len(notes.sheet._bows)
    notes.last.setValue(2)
    qtbot.waitUntil(lambda: len(notes.sheet._bows) < whole, timeout=5000)
    before = notes.sheet._bows[0].words
    notes.tempo.setValue(60)
    qtbot.waitUntil(lambda: notes.sheet._bows[0].words != before, timeout=5000)


def test_a_way_is_chosen_and_an_end_dragged_gives_the_bow_more(window, notes, qtbot):
    window.notation.take_in(SCALE)
    window.notation._choose_way(0)
    sheet = notes.sheet
    before = abs(sheet._bows[2].places[-1] - sheet._bows[2].start)
    strip, _, x1, k = sheet._spans(2)[-1]
    end = sheet._at_place(strip, x1, sheet._bows[2].places[k]).toPoint()
    QTest.mousePress(sheet, Qt.MouseButton.LeftButton, pos=end)
    QTest.mouseMove(sheet, end + QPoint(0, 20))
    QTest.mouseRelease(sheet, Qt.MouseButton.LeftButton, pos=end + QPoint(0, 20))
    assert window.notation._shares and min(window.notation._shares.values()) < before
    given = next(iter(window.notation._shares.values()))
    assert any(abs(p.bows[2].share - given) < 1e-3 for p in window.notation._plans), "the rest repairs itself around it"


def test_what_is_hooked_into_one_is_not_given_to_another_bow(window, notes):
    window.notation.show_scale("G", "Two tied, two separate", False)
    ways = [p.way for p in window.notation._plans]
    hooked = ways.index("Short note hooked on")
    window.notation._choose_way(hooked)
    plan = window.notation._plans[hooked]
    merged = next(k for k, b in enumerate(plan.bows) if b.hooked)
    window.notation._give_share(merged, 0.5)
    assert "hooked into one" in notes.fault.text() and not window.notation._shares
    window.notation._choose_way(ways.index("Less bow"))
    window.notation._give_share(3, 0.3)
    assert window.notation._shares == {3: 0.3}
    assert window.notation._plans[window.notation._way].way == "Less bow", "the way that was chosen stays"


def test_what_is_saved_reads_back_and_what_is_printed_has_the_notes(window, notes, tmp_path):
    window.notation.take_in(SCALE)
    window.notation.save_to(tmp_path / "out.musicxml")
    back = read_mei(to_mei((tmp_path / "out.musicxml").read_bytes()))
    assert [n.midi for n in back.notes] == [n.midi for n in read_mei(to_mei(SCALE.read_bytes())).notes]
    notes.print_to(tmp_path / "out.pdf")
    assert "scale" in PdfReader(tmp_path / "out.pdf").pages[0].extract_text()


def test_an_open_video_is_laid_against_the_notes_and_assigned(opened, qtbot, studio):
    window = opened
    window.go_to_step(NOTES)
    notes = window.pages.notes
    assert "does not seem to be of these notes" in notes.played.text(), "the demo video has open strings"
    assert notes.assign_button.isEnabled()
    notes.assign_button.click()
    asked = studio.store.assignments.of(window.selection.take.id)
    assert "exercise: C major, whole bows" in asked
    assert window.use.exercise.currentText().startswith("C major")


# the sheet alone


def drawn(qtbot) -> ScoreSheet:
    made, fifths = scale("violin", "G", PATTERNS[3])
    mei = to_mei(to_musicxml(made, "violin", fifths).encode())
    score = read_mei(mei)
    sheet = ScoreSheet()
    qtbot.addWidget(sheet)
    sheet.resize(800, 900)
    sheet.set_engraved(engrave(mei, 1, width=800, below=120.0), {})
    bows = []
    for k, bow in enumerate(score.bows):
        ids = tuple(score.notes[n].ids[0] for n in bow.notes)
        ends = (0.5, 0.9) if bow.down else (0.5, 0.1)
        played = tuple((0.1, 0.5) for _ in ids) if k == 0 else ()
        bows.append(
            SheetBow(ids, bow.down, 0.1 if bow.down else 0.9, ends[: len(ids)], f"Bow {k + 1}", played, "slur broken" if k == 1 else "")
        )
    sheet.set_bows(bows)
    return sheet


def test_a_note_is_chosen_by_click_and_by_keys(qtbot):
    sheet = drawn(qtbot)
    chosen = []
    sheet.note_chosen.connect(lambda b, n: chosen.append((b, n)))
    strip, x0, x1, _ = sheet._spans(1)[1]
    sheet.show()
    QTest.mouseClick(sheet, Qt.MouseButton.LeftButton, pos=QPointF(0.5 * (x0 + x1), strip.top() + 30).toPoint())
    assert chosen == [(1, 1)]
    QTest.keyClick(sheet, Qt.Key.Key_Right)
    QTest.keyClick(sheet, Qt.Key.Key_Left)
    assert chosen == [(1, 1), (2, 0), (1, 1)]
    assert sheet.accessibleDescription() == "Bow 2"


def test_bows_are_drawn_under_their_own_notes(qtbot):
    sheet = drawn(qtbot)
    for number in range(len(sheet._bows)):
        for strip, x0, x1, k in sheet._spans(number):
            page, x, system = sheet._note(sheet._bows[number].ids[k])
            assert x0 == x and x1 > x0 and strip.top() > sheet._made.systems[page][system][1] * sheet._scale(page)
    image = sheet.grab().toImage()
    strip, x0, x1, _ = sheet._spans(0)[0]
    middle = sheet._at_place(strip, 0.5 * (x0 + x1), 0.3).toPoint()
    assert image.pixelColor(middle).lightness() < 120, "the played line is dark on the pale band"


def test_without_notes_it_says_what_to_do(qtbot):
    sheet = ScoreSheet()
    qtbot.addWidget(sheet)
    sheet.resize(400, 200)
    sheet.set_engraved(Engraved(()), {})
    sheet.grab()
    assert "notation file" in sheet.empty_text
