"""Numbered steps from an empty studio to today's. A step and the record of it are one transaction.

A step that has been released is never changed; a new form of the tables is a new step.
"""

from __future__ import annotations

import shutil
from dataclasses import dataclass
from pathlib import Path

from sqlalchemy import Connection, Engine, inspect, text

from dolcezza.core.base.errors import StudioError


@dataclass(frozen=True)
class Migration:
    """One step: its number, what it does, and the statements that do it."""

    number: int
    name: str
    statements: tuple[str, ...]


MIGRATIONS: tuple[Migration, ...] = (
    Migration(
        1,
        "students, instruments, takes, fits, analyses, strokes, findings",
        (
            "CREATE TABLE students (id INTEGER PRIMARY KEY, name VARCHAR NOT NULL, handed VARCHAR NOT NULL, profile VARCHAR NOT NULL, "
            "note VARCHAR NOT NULL, since VARCHAR NOT NULL)",
            "CREATE TABLE instruments (id INTEGER PRIMARY KEY, student_id INTEGER NOT NULL REFERENCES students (id) ON DELETE CASCADE, "
            "name VARCHAR NOT NULL, measured VARCHAR NOT NULL)",
            "CREATE INDEX ix_instruments_student_id ON instruments (student_id)",
            "CREATE TABLE takes (id INTEGER PRIMARY KEY, student_id INTEGER NOT NULL REFERENCES students (id) ON DELETE CASCADE, "
            "instrument_id INTEGER NOT NULL REFERENCES instruments (id) ON DELETE CASCADE, title VARCHAR NOT NULL, "
            "played_on VARCHAR NOT NULL, path VARCHAR NOT NULL, fingerprint VARCHAR NOT NULL, mirrored BOOLEAN NOT NULL, "
            "width INTEGER NOT NULL, height INTEGER NOT NULL, duration_s FLOAT NOT NULL)",
            "CREATE INDEX ix_takes_student_id ON takes (student_id)",
            "CREATE INDEX ix_takes_fingerprint ON takes (fingerprint)",
            "CREATE TABLE fits (id INTEGER PRIMARY KEY, take_id INTEGER NOT NULL REFERENCES takes (id) ON DELETE CASCADE, "
            "data VARCHAR NOT NULL, made_at VARCHAR NOT NULL)",
            "CREATE INDEX ix_fits_take_id ON fits (take_id)",
            "CREATE TABLE analyses (id INTEGER PRIMARY KEY, take_id INTEGER NOT NULL REFERENCES takes (id) ON DELETE CASCADE, "
            "fit_id INTEGER NOT NULL REFERENCES fits (id) ON DELETE CASCADE, version VARCHAR NOT NULL, profile VARCHAR NOT NULL, "
            "made_at VARCHAR NOT NULL, folder VARCHAR NOT NULL, summary VARCHAR NOT NULL)",
            "CREATE INDEX ix_analyses_take_id ON analyses (take_id)",
            "CREATE TABLE strokes (id INTEGER PRIMARY KEY, analysis_id INTEGER NOT NULL REFERENCES analyses (id) ON DELETE CASCADE, "
            "number INTEGER NOT NULL, data VARCHAR NOT NULL, UNIQUE (analysis_id, number))",
            "CREATE INDEX ix_strokes_analysis_id ON strokes (analysis_id)",
            "CREATE TABLE findings (id INTEGER PRIMARY KEY, analysis_id INTEGER NOT NULL REFERENCES analyses (id) ON DELETE CASCADE, "
            "place INTEGER NOT NULL, data VARCHAR NOT NULL, verdict VARCHAR NOT NULL, reason VARCHAR NOT NULL)",
            "CREATE INDEX ix_findings_analysis_id ON findings (analysis_id)",
        ),
    ),
    Migration(
        2,
        "stills of the bow hand, answers by feel",
        (
            "CREATE TABLE hands (id INTEGER PRIMARY KEY, student_id INTEGER NOT NULL REFERENCES students (id) ON DELETE CASCADE, "
            "role VARCHAR NOT NULL, taken_on VARCHAR NOT NULL, path VARCHAR NOT NULL, data VARCHAR NOT NULL, answers VARCHAR NOT NULL)",
            "CREATE INDEX ix_hands_student_id ON hands (student_id)",
            "CREATE TABLE felt (id INTEGER PRIMARY KEY, student_id INTEGER NOT NULL REFERENCES students (id) ON DELETE CASCADE, "
            "test VARCHAR NOT NULL, answer VARCHAR NOT NULL, said_on VARCHAR NOT NULL)",
            "CREATE INDEX ix_felt_student_id ON felt (student_id)",
        ),
    ),
    Migration(
        3,
        "what was to be played in a take",
        ("CREATE TABLE assignments (take_id INTEGER PRIMARY KEY REFERENCES takes (id) ON DELETE CASCADE, exercise VARCHAR NOT NULL)",),
    ),
    Migration(
        4,
        "the teacher's word: other words, remarks, what is dismissed for good; practice plans and their log",
        (
            "ALTER TABLE findings ADD COLUMN wording VARCHAR NOT NULL DEFAULT ''",
            "CREATE TABLE remarks (id INTEGER PRIMARY KEY, take_id INTEGER NOT NULL REFERENCES takes (id) ON DELETE CASCADE, "
            "t_s FLOAT NOT NULL, text VARCHAR NOT NULL, said_on VARCHAR NOT NULL)",
            "CREATE INDEX ix_remarks_take_id ON remarks (take_id)",
            "CREATE TABLE dismissals (id INTEGER PRIMARY KEY, student_id INTEGER NOT NULL REFERENCES students (id) ON DELETE CASCADE, "
            "profile VARCHAR NOT NULL, kind VARCHAR NOT NULL, cause VARCHAR NOT NULL, reason VARCHAR NOT NULL, value FLOAT NOT NULL, "
            "said_on VARCHAR NOT NULL)",
            "CREATE INDEX ix_dismissals_student_id ON dismissals (student_id)",
            "CREATE TABLE plans (id INTEGER PRIMARY KEY, student_id INTEGER NOT NULL REFERENCES students (id) ON DELETE CASCADE, "
            "begins VARCHAR NOT NULL, data VARCHAR NOT NULL, made_at VARCHAR NOT NULL)",
            "CREATE INDEX ix_plans_student_id ON plans (student_id)",
            "CREATE TABLE practised (id INTEGER PRIMARY KEY, student_id INTEGER NOT NULL REFERENCES students (id) ON DELETE CASCADE, "
            "day VARCHAR NOT NULL, what VARCHAR NOT NULL, minutes FLOAT NOT NULL, count INTEGER NOT NULL, pain BOOLEAN NOT NULL, "
            "note VARCHAR NOT NULL)",
            "CREATE INDEX ix_practised_student_id ON practised (student_id)",
        ),
    ),
    Migration(
        5,
        "weekly lessons",
        (
            "ALTER TABLE students ADD COLUMN lesson_day INTEGER NOT NULL DEFAULT -1",
            "ALTER TABLE students ADD COLUMN lesson_time VARCHAR NOT NULL DEFAULT ''",
        ),
    ),
    Migration(
        6,
        "that the teacher allows something again after pain is a state, not a note",
        (
            "ALTER TABLE practised ADD COLUMN allowed BOOLEAN NOT NULL DEFAULT 0",
            "UPDATE practised SET allowed = 1, note = '' WHERE note = 'allowed again by the teacher'",
        ),
    ),
    Migration(
        7,
        "what the teacher says of the hold, its steps, bows with their marks, since when a profile and a stage count, year of birth",
        (
            "CREATE TABLE hold_answers (id INTEGER PRIMARY KEY, student_id INTEGER NOT NULL REFERENCES students (id) ON DELETE CASCADE, "
            "question VARCHAR NOT NULL, answer VARCHAR NOT NULL, said_on VARCHAR NOT NULL)",
            "CREATE INDEX ix_hold_answers_student_id ON hold_answers (student_id)",
            "CREATE TABLE hold_steps (id INTEGER PRIMARY KEY, student_id INTEGER NOT NULL REFERENCES students (id) ON DELETE CASCADE, "
            "method VARCHAR NOT NULL, step VARCHAR NOT NULL, done_on VARCHAR NOT NULL)",
            "CREATE INDEX ix_hold_steps_student_id ON hold_steps (student_id)",
            "CREATE TABLE bows (id INTEGER PRIMARY KEY, student_id INTEGER NOT NULL REFERENCES students (id) ON DELETE CASCADE, "
            "name VARCHAR NOT NULL, marks VARCHAR NOT NULL)",
            "CREATE INDEX ix_bows_student_id ON bows (student_id)",
            "CREATE TABLE dated (id INTEGER PRIMARY KEY, student_id INTEGER NOT NULL REFERENCES students (id) ON DELETE CASCADE, "
            "what VARCHAR NOT NULL, value VARCHAR NOT NULL, since VARCHAR NOT NULL)",
            "CREATE INDEX ix_dated_student_id ON dated (student_id)",
            "INSERT INTO dated (student_id, what, value, since) SELECT id, 'profile', profile, since FROM students",
            "ALTER TABLE students ADD COLUMN born INTEGER NOT NULL DEFAULT 0",
            "ALTER TABLE students ADD COLUMN mobile_joints BOOLEAN NOT NULL DEFAULT 0",
            "ALTER TABLE students ADD COLUMN had_pain BOOLEAN NOT NULL DEFAULT 0",
        ),
    ),
    Migration(
        8,
        "what was agreed about keeping, and what was written out of the studio",
        (
            "CREATE TABLE consents (id INTEGER PRIMARY KEY, student_id INTEGER NOT NULL REFERENCES students (id) ON DELETE CASCADE, "
            "guardian VARCHAR NOT NULL, agreed_on VARCHAR NOT NULL, measuring BOOLEAN NOT NULL, pictures BOOLEAN NOT NULL, "
            "sharing BOOLEAN NOT NULL, until VARCHAR NOT NULL)",
            "CREATE INDEX ix_consents_student_id ON consents (student_id)",
            "CREATE TABLE written (id INTEGER PRIMARY KEY, student_id INTEGER NOT NULL REFERENCES students (id) ON DELETE CASCADE, "
            "what VARCHAR NOT NULL, path VARCHAR NOT NULL, written_on VARCHAR NOT NULL)",
            "CREATE INDEX ix_written_student_id ON written (student_id)",
        ),
    ),
    Migration(9, "numbers that were given away once", ("CREATE TABLE ids (name VARCHAR PRIMARY KEY NOT NULL, last INTEGER NOT NULL)",)),
    Migration(10, "initials instead of names", ("ALTER TABLE consents ADD COLUMN initials BOOLEAN NOT NULL DEFAULT 0",)),
)
"""All steps in order; their numbers rise by one."""


def version_of(connection: Connection) -> int:
    """Number of the last step that was taken; 0 for an empty studio."""
    if not inspect(connection).has_table("migrations"):
        return 0
    return int(connection.execute(text("SELECT COALESCE(MAX(number), 0) FROM migrations")).scalar_one())


def migrate(engine: Engine, path: Path, steps: tuple[Migration, ...] = MIGRATIONS) -> int:
    """Take every step that is missing and return the version reached.

    A copy of the database is kept beside it before the first step on an existing studio. Raises StudioError for a studio
    that a newer version wrote; nothing is touched then.
    """
    with engine.connect() as connection:
        now = version_of(connection)
    newest = steps[-1].number
    if now > newest:
        raise StudioError(
            "This studio was written by a newer version of Dolcezza.",
            "Update Dolcezza, or choose another studio folder. Nothing was changed.",
        )
    if 0 < now < newest and path.exists():
        shutil.copy2(path, path.with_suffix(f".before-{newest}.sqlite"))
    for step in steps:
        if step.number <= now:
            continue
        with engine.begin() as connection:
            connection.execute(text("CREATE TABLE IF NOT EXISTS migrations (number INTEGER PRIMARY KEY, name VARCHAR NOT NULL)"))
            for statement in step.statements:
                connection.execute(text(statement))
            connection.execute(text("INSERT INTO migrations (number, name) VALUES (:n, :w)"), {"n": step.number, "w": step.name})
    return newest
