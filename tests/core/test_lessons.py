"""Weekly lessons: the next one, and how it is said. The calendar is checked against the standard library's own."""

from __future__ import annotations

from datetime import datetime, time, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dolcezza.core.base.errors import PracticeError
from dolcezza.core.practice.lessons import LESSON_MIN, WEEKDAYS, WeeklyLesson, in_words, read_time
from dolcezza.reports.language import language

WEDNESDAY = datetime(2026, 11, 25, 14, 0)


@given(st.integers(0, 6), st.times(), st.datetimes(datetime(2020, 1, 1), datetime(2040, 1, 1)))
def test_the_next_lesson_is_on_its_day_within_a_week_and_not_over(day, at, now):
    begin = WeeklyLesson(day, at).next(now)
    assert begin.weekday() == day and begin.time() == at
    assert begin.strftime("%A") == WEEKDAYS[day]
    assert now - timedelta(minutes=LESSON_MIN) < begin <= now + timedelta(days=7)


def test_a_lesson_that_is_on_is_the_next_one_until_its_end():
    lesson = WeeklyLesson(2, time(13, 45))
    assert lesson.next(WEDNESDAY) == datetime(2026, 11, 25, 13, 45)
    assert language("en").sentence(in_words(lesson.next(WEDNESDAY), WEDNESDAY)) == "now"
    assert lesson.next(WEDNESDAY.replace(minute=20)) == datetime(2026, 12, 2, 13, 45)


@pytest.mark.parametrize(
    ("days", "words"), [(0, "today at 16:30"), (1, "tomorrow at 16:30"), (2, "on Friday at 16:30"), (7, "on Wednesday at 16:30")]
)
def test_in_words(days, words):
    assert language("en").sentence(in_words(datetime(2026, 11, 25, 16, 30) + timedelta(days=days), WEDNESDAY)) == words


def test_times_of_day_are_read_as_people_write_them():
    assert [read_time(t) for t in ("16:30", " 9.15 ", "8", "7h05")] == [time(16, 30), time(9, 15), time(8), time(7, 5)]
    for wrong in ("", "25:00", "9:75", "noon", "9:5"):
        with pytest.raises(PracticeError, match="not a time"):
            read_time(wrong)
