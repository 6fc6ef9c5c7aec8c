"""The parts of the desk, each alone."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QImage, QWheelEvent

from dolcezza.app.models.selection import Selection
from dolcezza.app.theme.palette import LIGHT
from dolcezza.app.widgets.finding_card import FindingCard
from dolcezza.app.widgets.notice_strip import NoticeStrip
from dolcezza.app.widgets.ribbon import Ribbon
from dolcezza.app.widgets.transport import Transport
from dolcezza.app.widgets.video_canvas import VideoCanvas
from dolcezza.app.workers.frame_feeder import FrameFeeder
from dolcezza.app.workers.job_runner import JobRunner
from dolcezza.core.base.errors import StudioError
from dolcezza.core.base.job import Progress
from dolcezza.core.base.message import said
from dolcezza.core.findings.finding import Finding
from dolcezza.storage.records import JudgedFinding, Verdict
from takes_support import take_video


@pytest.fixture
def canvas(qtbot):
    made = VideoCanvas()
    qtbot.addWidget(made)
    made.resize(800, 500)
    image = QImage(1280, 720, QImage.Format.Format_RGB888)
    image.fill(0x808080)
    made.show_image(image)
    made.show()
    return made


def test_a_press_means_the_nearest_place_within_reach_on_the_screen(canvas):
    """800 of the screen's pixels show 1280 of the picture's: 16 reach as far as 25.6."""
    places = {"bridge": QPointF(100, 100), "nut": QPointF(130, 100)}
    assert canvas.on_screen(QPointF(1280, 0)) == pytest.approx(800)
    assert canvas.nearest(QPointF(110, 100), places, 16) == "bridge"
    assert canvas.nearest(QPointF(120, 100), places, 16) == "nut"
    assert canvas.nearest(QPointF(100, 125), places, 16) == "bridge"
    assert canvas.nearest(QPointF(100, 126), places, 16) is None
    assert canvas.nearest(QPointF(100, 100), {}, 16) is None
    wheel(canvas, QPointF(100, 100), 3)
    assert canvas.nearest(QPointF(100, 125), places, 16) is None


def test_what_is_beside_the_picture_is_the_page(canvas):
    """800 x 450 of 800 x 500 are picture: above and below it lies what the canvas lies on."""
    seen = canvas.grab().toImage()
    page = canvas.palette().window().color().rgb()
    assert {seen.pixel(x, y) for x in (5, 400, 795) for y in (5, 20, 480, 495)} == {page}
    assert seen.pixelColor(400, 250).red() == 0x80


def wheel(canvas, at: QPointF, steps: int) -> None:
    nothing = QPoint()
    event = QWheelEvent(
        at, at, nothing, QPoint(0, 120 * steps), Qt.MouseButton.NoButton, Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.NoScrollPhase, False,
    )  # fmt: skip
    canvas.wheelEvent(event)


def test_a_click_is_told_in_picture_pixels(canvas, qtbot):
    told = []
    canvas.pressed.connect(told.append)
    at = canvas.to_screen().map(QPointF(640.0, 360.0))
    assert (at.x(), at.y()) == (400, 250)
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=QPoint(400, 250))
    assert told[0].x() == pytest.approx(640, abs=1)


def test_the_wheel_enlarges_around_the_pointer_and_stays_in_the_picture(canvas):
    at = QPointF(300, 200)
    before = canvas.to_picture(at)
    wheel(canvas, at, 6)
    after = canvas.to_picture(at)
    assert canvas.to_screen().m11() > 2 * 800 / 1280
    assert (after.x(), after.y()) == (pytest.approx(before.x(), abs=2), pytest.approx(before.y(), abs=2))
    wheel(canvas, QPointF(0, 0), 40)
    assert canvas.to_picture(QPointF(0, 0)).x() >= -1
    wheel(canvas, at, -80)
    assert canvas.to_screen().m11() == pytest.approx(800 / 1280)


def test_an_empty_canvas_says_what_to_do_and_tells_no_clicks(qtbot):
    canvas = VideoCanvas()
    qtbot.addWidget(canvas)
    canvas.resize(600, 400)
    canvas.empty_text = "Choose a video first."
    told = []
    canvas.pressed.connect(told.append)
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton)
    assert not told
    picture = canvas.grab().toImage()
    assert len({picture.pixel(x, picture.height() // 2) for x in range(picture.width())}) > 1


def test_the_lens_shows_the_place_under_the_landmark_larger(canvas):
    plain = canvas.grab().toImage()
    canvas.lens_at = QPointF(640, 360)
    canvas.update()
    assert canvas.grab().toImage() != plain


def test_transport_steps_by_frames_and_stays_inside_the_take(qtbot):
    transport = Transport()
    qtbot.addWidget(transport)
    transport.set_take(2.0, 25.0)
    told = []
    transport.moment.connect(told.append)
    transport.moment.connect(transport.show_moment)
    for _ in range(3):
        qtbot.mouseClick(transport.on, Qt.MouseButton.LeftButton)
    qtbot.mouseClick(transport.back, Qt.MouseButton.LeftButton)
    assert told == pytest.approx([0.04, 0.08, 0.12, 0.08])
    for _ in range(5):
        transport.frame_back()
    assert told[-1] == 0.0
    transport.slider.setValue(9999)
    assert told[-1] == pytest.approx(1.96)
    assert transport.clock.text() == "0:01.96"


def test_speeds_go_round(qtbot):
    transport = Transport()
    qtbot.addWidget(transport)
    seen = []
    for _ in range(5):
        seen.append(transport.rate)
        transport.slower()
    assert seen == [1.0, 0.5, 0.25, 0.125, 1.0]


def test_slow_playing_takes_longer(qtbot):
    transport = Transport()
    qtbot.addWidget(transport)
    transport.set_take(3.0, 30.0)
    transport.moment.connect(transport.show_moment)
    transport.slower()
    transport.slower()
    transport.toggle()
    qtbot.wait(400)
    transport.pause()
    assert 0.05 < transport._seconds < 0.2


@pytest.fixture
def ribbon(qtbot, measured):
    made = Ribbon()
    qtbot.addWidget(made)
    made.resize(1000, 190)
    analysis = measured("demo-a1")
    made.set_take(analysis.series, analysis.strokes, "GDAE", 6.0, {1, 2})
    made.show()
    return made


def test_strokes_lie_in_the_lane_of_their_string_and_slant_as_they_went(ribbon, measured):
    for stroke in measured("demo-a1").strokes:
        x, y, half, _ = ribbon._band(stroke)
        lane = ribbon._lane(stroke.string)
        assert (y - half).min() >= lane.top() - 1
        assert (y + half).max() <= lane.bottom() + 1
        assert (y[-1] < y[0]) == stroke.down
        assert x[0] == pytest.approx(ribbon.x_of(stroke.start_s), abs=6)
    assert ribbon._lane("G").height() < ribbon._lane("D").height()


def test_crookedness_shows_by_colour_and_by_hatching(ribbon):
    within, scroll, player = (ribbon._look(a) for a in (2.0, 9.0, -9.0))
    assert within[1] is None
    assert scroll[1] != player[1] is not None
    assert [look[0].name() for look in (within, scroll, player)] == [c.lower() for c in (LIGHT.straight, LIGHT.to_scroll, LIGHT.to_player)]
    assert ribbon._look(float("nan"))[1] is None


def test_numbers_of_quick_strokes_do_not_lie_over_each_other(ribbon, measured):
    analysis = measured("demo-a1")
    assert [s.number for s, _, _ in ribbon.numbers()] == [1, 2, 3, 4, 5, 6], "with room for all of them, those with a finding first"
    assert [words for _, words, _ in ribbon.numbers()][:3] == ["1↓ ⚑", "2↑ ⚑", "3↓"]
    first = analysis.strokes[0]
    length = (first.end_s - first.start_s) / 40
    quick = [replace(first, number=k + 1, start_s=first.start_s + k * length, end_s=first.start_s + (k + 1) * length) for k in range(40)]
    ribbon.set_take(analysis.series, quick, "GDAE", 6.0, {20})
    places = [place for _, _, place in ribbon.numbers()]
    assert 2 < len(places) < 12 and ribbon.numbers()[0][0].number == 20
    assert not any(a.intersects(b) for k, a in enumerate(places) for b in places[:k])


def test_keys_go_from_stroke_to_stroke(ribbon, qtbot, measured):
    starts = [s.start_s for s in measured("demo-a1").strokes]
    told = []
    ribbon.moment.connect(told.append)
    ribbon.moment.connect(ribbon.show_moment)
    for key in (Qt.Key.Key_Right, Qt.Key.Key_Right, Qt.Key.Key_Left):
        qtbot.keyClick(ribbon, key)
    assert told == pytest.approx([starts[0], starts[1], starts[0]])


def test_an_unmeasured_take_leaves_the_ribbon_explaining_itself(qtbot):
    ribbon = Ribbon()
    qtbot.addWidget(ribbon)
    ribbon.resize(800, 190)
    told = []
    ribbon.moment.connect(told.append)
    qtbot.mouseClick(ribbon, Qt.MouseButton.LeftButton, pos=QPoint(400, 80))
    assert not told
    assert not ribbon.grab().isNull()


def card(qtbot, sure: bool = True, verdict: str = "open") -> FindingCard:
    finding = Finding("crooked", (1,), 4, (0.5,), -7.5, 1.0, 4.0, "deg", sure, "why", said("The tip wanders."))
    made = FindingCard(3, JudgedFinding(finding, Verdict(verdict)))
    qtbot.addWidget(made)
    made.show()
    return made


def test_a_finding_shows_its_figure_with_uncertainty_and_limit(qtbot):
    from PySide6.QtWidgets import QLabel

    made, doubtful = card(qtbot), card(qtbot, sure=False)
    words = " ".join(w.text() for w in made.findChildren(QLabel))
    assert "−7.5 ± 1.0°, limit 4.0°" in words
    assert "Not sure" not in words
    assert "Not sure" in " ".join(w.text() for w in doubtful.findChildren(QLabel))


def test_a_finding_is_judged_by_button_and_by_key(qtbot):
    made, told = card(qtbot), []
    made.judged.connect(lambda *a: told.append(a))
    qtbot.mouseClick(made.buttons["accepted"], Qt.MouseButton.LeftButton)
    qtbot.keyClick(made, Qt.Key.Key_D)
    assert told == [(3, "accepted"), (3, "dismissed")]
    again = card(qtbot, verdict="dismissed")
    assert "dismissed" in again.verdict.text()
    assert set(again.buttons) == {"open"}


def test_faults_stay_and_calm_notices_carry_no_button(qtbot):
    strip, done = NoticeStrip(), []
    qtbot.addWidget(strip)
    strip.say("The disk is full.", action="Try again", do=lambda: done.append(1))
    assert not strip._timer.isActive()
    qtbot.mouseClick(strip.action, Qt.MouseButton.LeftButton)
    assert done == [1]
    assert strip.isHidden()
    strip.say("Measured.", calm=True)
    assert strip._timer.isActive()
    assert strip.action.isHidden()


def test_the_selection_tells_what_stroke_a_moment_lies_in(measured):
    from types import SimpleNamespace

    selection, told = Selection(), []
    selection.stroke_changed.connect(told.append)
    selection.analysis = SimpleNamespace(strokes=measured("demo-a1").strokes)
    first, second = measured("demo-a1").strokes[:2]
    selection.go_to(first.start_s + 0.2)
    selection.go_to(first.start_s + 0.3)
    selection.go_to(second.start_s + 0.1)
    selection.go_to(0.0)
    assert told == [first, second, None]
    selection.step_stroke(1)
    assert selection.moment_s == first.start_s


def test_a_job_runs_beside_the_window_and_ends_in_a_named_state(qtbot):
    runner, seen = JobRunner(), []
    runner.progressed.connect(lambda p, left: seen.append(p))

    def work():
        yield Progress("a", 1, 2)
        yield Progress("a", 2, 2)
        return 42

    with qtbot.waitSignal(runner.done, timeout=30_000) as done:
        runner.start(work)
        assert runner.running
    assert done.args == [42]
    assert [p.done for p in seen] == [1, 2]

    def fault():
        yield Progress("a", 1, 2)
        raise StudioError("The disk is full.", "Make room.")

    with qtbot.waitSignal(runner.failed, timeout=30_000) as failed:
        runner.start(fault)
    assert str(failed.args[0]) == "The disk is full. Make room."

    def bug():
        yield Progress("a", 1, 2)
        raise ZeroDivisionError("oops")

    with qtbot.waitSignal(runner.failed, timeout=30_000) as failed:
        runner.start(bug)
    assert "unexpected" in str(failed.args[0])
    assert not runner.running


def test_a_cancelled_job_stops_at_its_next_step(qtbot):
    runner, closed = JobRunner(), []

    def endless():
        try:
            k = 0
            while True:
                k += 1
                yield Progress("a", k, 10**9)
        finally:
            closed.append(1)

    with qtbot.waitSignal(runner.cancelled, timeout=30_000):
        runner.start(endless)
        qtbot.wait(30)
        runner.cancel()
    assert closed == [1]


def test_the_feeder_answers_the_last_wish(qtbot):
    feeder, seen = FrameFeeder(take_video("demo-a1")), []
    feeder.ready.connect(lambda t, image: seen.append((t, image)))
    feeder.begin()
    for k in range(30):
        feeder.request(k / 30)
    qtbot.waitUntil(lambda: bool(seen) and abs(seen[-1][0] - 29 / 30) < 0.02, timeout=30_000)
    assert len(seen) < 30
    assert (seen[-1][1].width(), seen[-1][1].height()) == (1280, 720)
    feeder.finish()
    gone, faults = FrameFeeder(take_video("no-such-take")), []
    gone.failed.connect(faults.append)
    gone.begin()
    qtbot.waitUntil(lambda: bool(faults), timeout=30_000)
    assert "no longer where it was" in str(faults[0])
    gone.finish()


def test_bands_are_thicker_where_the_bow_was_faster(ribbon, measured):
    stroke = measured("demo-a1").strokes[0]
    _, _, half, _ = ribbon._band(stroke)
    series = measured("demo-a1").series
    inside = (series.t >= stroke.start_s) & (series.t <= stroke.end_s)
    speed = np.abs(series["bow_speed_cm_s"][inside])
    assert np.corrcoef(half, np.nan_to_num(speed))[0, 1] > 0.95
