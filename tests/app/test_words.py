"""The desk's words: all collected by Qt's own tool, all translated, placeholders kept, and a window that speaks the second language."""

from __future__ import annotations

import re
import runpy
import xml.etree.ElementTree as ElementTree
from pathlib import Path

import pytest
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QAbstractButton, QApplication, QComboBox, QLabel, QLineEdit, QWidget

import dolcezza
from dolcezza.app.theme.trade_words import STEPS_BACK
from dolcezza.app.theme.words import speak, tr
from dolcezza.app.widgets.job_strip import SMALL_PX
from dolcezza.app.windows.main_window import MainWindow
from dolcezza.app.windows.steps import STEPS
from takes_support import fill

WORDS = Path(dolcezza.__file__).parent / "app" / "theme" / "words"
TOOL = Path(__file__).parent.parent.parent / "tools" / "translate.py"


def messages(path: Path) -> dict[str, str]:
    """Source and translation of a .ts file; what is not finished is ""."""
    out = {}
    for m in ElementTree.parse(path).getroot().iter("message"):
        done = m.find("translation")
        out[m.findtext("source")] = "" if done.get("type") == "unfinished" else (done.text or "")
    return out


@pytest.fixture(scope="module")
def collected(tmp_path_factory):
    """Collected and released anew in another place, from the words that are there."""
    import shutil

    folder = tmp_path_factory.mktemp("words")
    shutil.copy(WORDS / "dolcezza_de.ts", folder)
    tool = runpy.run_path(str(TOOL))
    tool["collect"].__globals__["WORDS"] = folder
    tool["collect"]("de")
    tool["release"]("de")
    return folder


def test_every_word_of_the_code_is_collected_and_translated(collected):
    fresh = messages(collected / "dolcezza_de.ts")
    assert len(fresh) > 400
    assert [source for source, words in fresh.items() if not words] == []
    assert fresh == messages(WORDS / "dolcezza_de.ts"), "run python tools/translate.py"


def literals(name: str) -> dict[str, bool]:
    """Texts of the app's code, and whether each goes through ``tr`` or ``mark``; docstrings are left out."""
    import ast

    out = {}
    for path in sorted((WORDS.parent.parent).rglob("*.py")):
        tree = ast.parse(path.read_text(encoding="utf-8"))
        above = {child: node for node in ast.walk(tree) for child in ast.iter_child_nodes(node)}
        for node in ast.walk(tree):
            if isinstance(node, ast.Constant) and isinstance(node.value, str) and not isinstance(above[node], ast.Expr):
                up, spoken = node, False
                while (up := above.get(up)) is not None and not spoken:
                    spoken = isinstance(up, ast.Call) and isinstance(up.func, ast.Name) and up.func.id in ("tr", "mark")
                if path.name != name:
                    out[node.value] = spoken
    return out


def test_no_sentence_of_the_desk_is_left_out():
    """Also what Qt's tool does not see: words within an f-string."""
    known = messages(WORDS / "dolcezza_de.ts")
    texts = literals("main.py")
    alone = [t for t, spoken in texts.items() if not spoken and re.match(r"[A-Z][a-z]+ [a-z’']+[ .,:]", t)]
    assert alone == []
    assert [t for t, spoken in texts.items() if spoken and re.search("[A-Za-z]{3}", t) and t not in known and len(t.split()) > 1] == []


def test_the_short_words_of_the_trade_are_translated_too():
    from dolcezza.core.arm.joint_contributions import JOINTS
    from dolcezza.core.arm.staircase import StairShape
    from dolcezza.core.assignment.use import FIGURES
    from dolcezza.core.hold.figures import JOINT_WORDS, Shape
    from dolcezza.core.instrument.model import LANDMARK_WORDS
    from dolcezza.core.practice.progress import Change
    from dolcezza.core.tension.signs import HAND_SIGNS, REFERENCES, Amount

    signs = [*HAND_SIGNS, *(r if isinstance(r, str) else r.name for r in REFERENCES)]
    wanted = [*JOINTS, *StairShape, *Shape, *Change, *Amount, *signs, *JOINT_WORDS.values(), *LANDMARK_WORDS.values()]
    wanted += [words for words, _ in FIGURES.values()]
    known = messages(WORDS / "dolcezza_de.ts")
    assert [str(w) for w in wanted if str(w) not in known] == []


def test_the_file_the_program_reads_is_up_to_date(collected):
    assert (collected / "dolcezza_de.qm").read_bytes() == (WORDS / "dolcezza_de.qm").read_bytes()


def test_placeholders_and_keys_are_kept():
    for source, words in messages(WORDS / "dolcezza_de.ts").items():
        # a date may be written another way
        holes, own = (sorted(re.findall(r"\{(\d)[^}]*\}", text)) for text in (source, words))
        assert holes == own, source
        assert source.count("&") == words.count("&"), source


@pytest.fixture
def german(qtbot, studio):
    app = QApplication.instance()
    assert speak(app, "de")
    window = MainWindow(studio)
    qtbot.addWidget(window)
    window.show()
    yield window
    window.close()
    speak(app, "en")


def test_a_window_speaks_the_second_language(german, qtbot):
    assert german.strip.names[0] == "Schüler"
    assert german.menus.actions["measure"].text() == "Auswerten"
    assert german.students.edit_button.text() == "Bearbeiten…"
    take = next(s.take.id for st in german.studio.students() for s in german.studio.takes(st.id) if s.analysed)
    german.open_take(take)
    found = len(german.studio.analysis(german.studio.store.take(take)).findings)
    assert german.strokes.head.text() == ("1 Befund" if found == 1 else f"{found} Befunde")
    assert german.strokes.transport.play.accessibleName() == "Abspielen oder anhalten"
    assert german.strokes.stroke_card.buttons["cut"].text() == "Hier teilen"


def test_the_names_of_the_steps_fit_their_places(german):
    """Painted, not laid out: at the usual size no name is shortened, in any language."""
    german.resize(1280, 800)
    QApplication.processEvents()
    assert german.strip._fits(SMALL_PX)


def test_the_names_of_the_steps_fit_in_english_too(opened):
    opened.resize(1280, 800)
    QApplication.processEvents()
    assert opened.strip._fits(SMALL_PX)


@pytest.mark.parametrize("size", [(1100, 700), (1280, 800)])
def test_longer_words_are_not_cut(german, size):
    from dolcezza.app.windows.steps import STEPS
    from window_fits import cut, overlapping, settle

    take = next(s.take.id for st in german.studio.students() for s in german.studio.takes(st.id) if s.analysed)
    german.open_take(take)
    german.resize(*size)
    for step, name in enumerate(STEPS):
        german.go_to_step(step)
        page = german.pages.currentWidget()
        settle(page)
        assert (name, cut(page), overlapping(page)) == (name, [], [])


def test_an_unknown_language_changes_nothing(qapp):
    assert not speak(qapp, "xx")
    assert tr("Students") == "Students" and tr("") == ""


def test_words_that_were_given_up_are_on_no_screen():
    """docs/glossary.md has what stands for them."""
    given_up = (
        "Who plays",
        "Strike out",
        "pins",
        "pinned",
        "the take",
        "this take",
        "measured take",
        "take hold",
        "elbow staircase",
        "widest point",
        "Opened lately",
        "Nothing to mind",
        "Gave way",
        "things to look at",
    )
    said = messages(WORDS / "dolcezza_de.ts")
    assert [text for text in said if any(word.casefold() in text.casefold() for word in given_up)] == []


def test_fields_write_dates_and_numbers_like_the_sentences(qapp, qtbot):
    """A German desk has decimal commas and German months in its fields too; English again afterwards."""
    from PySide6.QtCore import QDate
    from PySide6.QtWidgets import QDateEdit, QDoubleSpinBox

    def shown():
        number, day = QDoubleSpinBox(), QDateEdit(QDate(2026, 12, 5))
        for field in (number, day):
            qtbot.addWidget(field)
        number.setValue(2.5)
        day.setDisplayFormat("d MMMM yyyy")
        return number.text(), day.text()

    try:
        assert speak(qapp, "de") and shown() == ("2,50", "5 Dezember 2026")
    finally:
        assert speak(qapp, "en")
    assert shown() == ("2.50", "5 December 2026")


def test_every_step_that_can_be_undone_has_its_words():
    """The names that the services give their steps, against the desk's table."""
    services = Path(__file__).parents[2] / "src" / "dolcezza" / "services"
    named = set()
    for path in services.glob("*.py"):
        text = path.read_text(encoding="utf-8")
        named |= set(re.findall(r'undo\.did\(\s*"([^"]+)"', text)) | set(re.findall(r'_remember\("([^"]+)"', text))
    assert len(named) > 12
    assert sorted(n for n in named if n not in STEPS_BACK) == []


ENGLISH = re.compile(
    r"\b(the|and|with|from|your|of|is|are|not|no|bow|strokes?|it|to|take|video|for|this|that|said|by|string|finger|one|two|less|more)\b"
)


def words_on(top):
    """All that a page says: labels, buttons, lists, fields, tips, names for a reader of the screen."""
    for widget in [top, *top.findChildren(QWidget)]:
        said = [widget.toolTip(), widget.accessibleName(), widget.accessibleDescription(), str(getattr(widget, "empty_text", ""))]
        if isinstance(widget, QLabel | QAbstractButton | QLineEdit):
            said.append(widget.text())
        if isinstance(widget, QLineEdit):
            said.append(widget.placeholderText())
        if isinstance(widget, QComboBox):
            said += [widget.itemText(k) for k in range(widget.count())]
        yield from (re.sub("<[^>]*>", " ", t) for t in said if t)


def test_a_german_desk_speaks_no_english(qapp, qtbot, studio, monkeypatch):
    """All pages with a measured video; what the teacher has written stands as it is."""
    ids = fill(studio)
    written = [status.take.title for own in studio.store.all_takes().values() for status in own]
    written += [s.note for s in studio.students() if s.note]
    written += [e.note for s in studio.students() for e in studio.practice.entries(s.id) if e.note]
    painted, draw = [], QPainter.drawText

    def recorded(painter, *arguments):
        painted.extend(a for a in arguments if isinstance(a, str))
        return draw(painter, *arguments)

    monkeypatch.setattr(QPainter, "drawText", recorded)
    assert speak(qapp, "de")
    try:
        window = MainWindow(studio)
        qtbot.addWidget(window)
        window.show()
        window.open_take(ids["demo-a1"])
        qtbot.waitUntil(lambda: window.strokes.canvas.has_image, timeout=30_000)
        english = set()
        for step in range(len(STEPS)):
            window.go_to_step(step)
            qtbot.wait(60)
            window.grab()
        for k in range(4):
            window.pages.hold.show_page(k)
        window.show_profile()
        for text in (*words_on(window), *painted):
            own = text
            for kept in written:
                own = own.replace(kept, "")
            if ENGLISH.search(own) or own in ("frog", "head", "half", "middle", "bridge", "fingerboard", "thumb", "index"):
                english.add(own[:120])
        assert not english
        window.jobs.wait()
        window.pictures.close()
    finally:
        assert speak(qapp, "en")
