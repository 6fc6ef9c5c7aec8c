"""Where to put the phone: dragged in a room from above and from the side, moved by keys, with the ± of each place."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPointF, Qt

from dolcezza.app.dialogs.place_window import PlaceWindow
from dolcezza.app.widgets.room_picture import FARTHEST_M, NEAREST_M, SECTORS, Stand
from dolcezza.core.instrument.catalog import instrument


@pytest.fixture
def shown(qtbot):
    window = PlaceWindow(instrument("violin 4/4"))
    qtbot.addWidget(window)
    window.show()
    qtbot.waitExposed(window)
    return window


def drag(qtbot, room, view: str, to: QPointF) -> None:
    qtbot.mousePress(room, Qt.MouseButton.LeftButton, pos=room.phones()[view].toPoint())
    qtbot.mouseMove(room, to.toPoint())
    qtbot.mouseRelease(room, Qt.MouseButton.LeftButton, pos=to.toPoint())


def test_what_is_drawn_is_what_is_meant(shown):
    """A place dragged to where it is drawn is the same place."""
    room = shown.room
    for stand in (Stand(30.0, 20.0, 1.2), Stand(-75.0, 45.0, 2.4), Stand(110.0, 5.0, 0.9)):
        room.stand = stand
        above, beside = room.phones()["above"], room.phones()["beside"]
        back = room.place("above", above)
        assert (back.azimuth_deg, back.metres) == pytest.approx((stand.azimuth_deg, stand.metres), abs=0.05)
        back = room.place("beside", beside)
        assert (back.height_deg, back.metres) == pytest.approx((stand.height_deg, stand.metres), abs=0.05)


def test_dragged_round_and_up_the_figures_follow(shown, qtbot):
    """In line with the strings the bow angle is told worst; from the side best (docs/measuring.md has the whole table)."""
    room = shown.room
    above, metre = room._above()
    drag(qtbot, room, "above", above + QPointF(0, 1.4 * metre))
    assert room.stand.azimuth_deg == pytest.approx(0.0, abs=4.0)
    in_line, words = shown.told.bow_angle_deg, shown.figures.text()
    drag(qtbot, room, "above", above + QPointF(1.3 * metre, 0.5 * metre))
    assert room.stand.azimuth_deg == pytest.approx(69.0, abs=4.0)
    assert shown.told.bow_angle_deg < 0.6 * in_line and shown.figures.text() != words
    beside, metre = room._beside()
    drag(qtbot, room, "beside", beside + QPointF(0.6 * metre, -1.2 * metre))
    assert room.stand.height_deg == pytest.approx(63.0, abs=4.0)
    assert f"{room.stand.height_deg:.0f} degrees up" in shown.said.text()


def test_keys_move_it_and_it_stays_in_the_room(shown, qtbot):
    room = shown.room
    room.stand = Stand(0.0, 20.0, 1.5)
    for key in (Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Plus):
        qtbot.keyClick(room, key)
    assert room.stand == Stand(5.0, 25.0, 1.4)
    for _ in range(40):
        qtbot.keyClick(room, Qt.Key.Key_Minus)
    assert room.stand.metres == FARTHEST_M and "Far away" in shown.said.text()
    for _ in range(40):
        qtbot.keyClick(room, Qt.Key.Key_Plus)
    assert room.stand.metres == NEAREST_M and "Too near" in shown.said.text()
    for _ in range(36):
        qtbot.keyClick(room, Qt.Key.Key_Right)
    assert -180.0 <= room.stand.azimuth_deg < 180.0 and "player stands between" in shown.said.text()


def test_the_good_sides_are_worked_out_meanwhile(shown, qtbot):
    qtbot.waitUntil(lambda: len(shown.room.good) == SECTORS, timeout=60_000)
    assert not shown.room.good[0] and shown.room.good[SECTORS - 4]  # in line with the strings, and 60 degrees round
    assert not shown.room.good[SECTORS // 2], "the player stands there"


def test_the_menu_opens_it_for_the_students_instrument(opened):
    opened.menus.actions["place"].trigger()
    window = opened.help.place_window
    assert opened.checks.usual().name in window.windowTitle() + window.findChild(type(window.said)).text()
    window.close()
    opened.other_theme()
    opened.menus.actions["place"].trigger()
    assert opened.help.place_window.room.palette_ == opened.strip.palette_ != window.room.palette_
    opened.help.place_window.close()
