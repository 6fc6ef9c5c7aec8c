"""Weekly lessons: when the next one is, and how that is said."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import datetime, time, timedelta

from dolcezza.core.base.errors import PracticeError
from dolcezza.core.base.message import Message

WEEKDAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
LESSON_MIN = 30
"""A lesson lasts half an hour (common practice, no source); until its end it is the one that is on."""


@dataclass(frozen=True)
class WeeklyLesson:
    """``day``: 0 = Monday to 6 = Sunday; ``at``: time of day."""

    day: int
    at: time

    def next(self, now: datetime) -> datetime:
        """The beginning of the next lesson, or of the one that is on."""
        begin = datetime.combine(now.date() + timedelta(days=(self.day - now.weekday()) % 7), self.at)
        return begin if begin + timedelta(minutes=LESSON_MIN) > now else begin + timedelta(days=7)


def read_time(text: str) -> time:
    """A time of day such as 16:30 or 9.15. Raises PracticeError."""
    found = re.fullmatch(r"\s*(\d{1,2})(?:[:.h](\d{2}))?\s*", text)
    if found is None or int(found[1]) > 23 or int(found[2] or 0) > 59:
        raise PracticeError(f"'{text}' is not a time of day.", "Write it like 16:30.")
    return time(int(found[1]), int(found[2] or 0))


def in_words(when: datetime, now: datetime) -> Message:
    """When a lesson is, as one says it: now, today at 16:30, tomorrow at 9:00, on Tuesday at 15:15."""
    if when <= now:
        return Message("when.now")
    clock = f"{when.hour}:{when.minute:02d}"
    days = (when.date() - now.date()).days
    if days in (0, 1):
        return Message("when.tomorrow" if days else "when.today", {"clock": clock})
    return Message("when.weekday", {"day": when.date(), "clock": clock})
