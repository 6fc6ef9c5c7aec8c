"""Exercises in the studio, what was to be played, plans, and what is wrong with a recording: as the desk uses them."""

from __future__ import annotations

import re
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest

import dolcezza.core.assignment.match as match_module
from dolcezza.core.assignment.exercise import ready_made
from dolcezza.core.assignment.plan import to_exercise
from dolcezza.core.assignment.text import read_exercise, write_exercise
from dolcezza.core.base.errors import ExerciseError
from dolcezza.core.base.message import Message
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.pipeline.sound_pass import NO_SOUND, OTHERS, OVERLOADED, SILENT, TUNING, listen
from dolcezza.reports.language import language
from dolcezza.services.assignment import NOTHING, READY_NAMES, against, exercise_said
from dolcezza.services.bow_plans import READY_RHYTHMS, drift_said, plan_text, table
from dolcezza.services.exercises import ExerciseShelf
from tests_support import series_from

RATE = 16_000


def test_own_exercises_are_files_beside_the_ready_made_ones(tmp_path):
    shelf = ExerciseShelf(tmp_path)
    assert list(shelf.all("GDAE")) == [e.name for e in ready_made("GDAE")]
    path = shelf.save(read_exercise("exercise: Mine, slow\nG: 4 whole x8"))
    assert path.read_text().startswith("exercise: Mine, slow")
    assert "Mine, slow" in shelf.all("GDAE")
    shelf.save(read_exercise("exercise: High\nE: 2 whole"))
    assert "High" in shelf.all("GDAE") and "High" not in shelf.all("CGDA"), "a viola has no E string"
    (tmp_path / "broken.txt").write_text("G: many\n")
    assert "broken.txt is not used" in (shelf.all("GDAE"), shelf.faults[0])[1]
    shelf.remove("Mine, slow")
    assert "Mine, slow" not in shelf.all("GDAE")
    with pytest.raises(ExerciseError, match="cannot be the name"):
        shelf.save(read_exercise("exercise: Lower halves\nG: 2 lower"))


def test_what_was_asked_is_kept_undone_and_checked(studio):
    take = next(s.take for student in studio.students() for s in studio.takes(student.id) if s.analysed)
    stored = studio.analysis(take)
    how = studio.assigned(stored, "GDAE")
    assert how.recognised
    studio.assign(take.id, "exercise: Long bows\ntempo: 60\nD A: 3 whole x1")
    how = studio.assigned(stored, "GDAE")
    assert not how.recognised and how.match.exercise.name == "Long bows" and len(how.match.pairs) == 6
    studio.assign(take.id, NOTHING)
    assert studio.assigned(stored, "GDAE").match is None
    studio.undo.undo()
    assert studio.assigned(stored, "GDAE").match is not None
    with pytest.raises(ExerciseError, match="Line 1"):
        studio.assign(take.id, "D: lots")
    assert "Long bows" in studio.store.assignments.of(take.id), "a mistake changes nothing"
    studio.assign(take.id, "C: 2 whole")
    with pytest.raises(ExerciseError, match="'C' is not a string"):
        studio.assigned(stored, "GDAE")
    studio.delete_take(take.id)
    assert studio.store.assignments.of(take.id) == ""


def test_nothing_fits():
    assert against([], "GDAE", None).match is None


def test_plans_of_the_worked_examples():
    spec = instrument("cello 4/4")
    for text in READY_RHYTHMS.values():
        plans = plan_text(text, spec)
        assert plans[0].fits and plans[0].rhythm.string == "A"
        assert read_exercise(write_exercise(to_exercise(plans[0]))).seconds == pytest.approx(to_exercise(plans[0]).seconds)
    dotted = plan_text(READY_RHYTHMS["Dotted pairs"], spec)
    assert drift_said(dotted[-1]).id == "plan.drifts to the head" and drift_said(dotted[0]).id == "plan.comes back"
    assert "cm/s" in table(dotted[0])


def film(path, samples: np.ndarray | None) -> None:
    """A second or more of grey picture with a sound track."""
    with av.open(str(path), "w") as container:
        video = container.add_stream("mpeg4", rate=25)
        video.width, video.height, video.pix_fmt = 64, 64, "yuv420p"
        audio = container.add_stream("aac", rate=RATE, layout="mono") if samples is not None else None
        seconds = len(samples) / RATE if samples is not None else 2.0
        for k in range(int(25 * seconds)):
            frame = av.VideoFrame.from_ndarray(np.full((64, 64, 3), 99, np.uint8), format="rgb24")
            frame.pts, frame.time_base = k, Fraction(1, 25)
            container.mux(video.encode(frame))
        container.mux(video.encode(None))
        if audio is not None:
            sound = av.AudioFrame.from_ndarray(samples[None].astype(np.float32), format="fltp", layout="mono")
            sound.sample_rate = RATE
            container.mux([*audio.encode(sound), *audio.encode(None)])


def tone(hz: float, seconds: float = 2.0) -> np.ndarray:
    t = np.arange(int(seconds * RATE)) / RATE
    return 0.25 * sum(np.sin(2 * np.pi * k * hz * t) / k for k in range(1, 12))


@pytest.mark.parametrize(("samples", "said"), [(None, NO_SOUND), (np.zeros(2 * RATE), SILENT)])
def test_takes_without_sound_say_so(tmp_path, samples, said):
    film(tmp_path / "take.mp4", samples)
    assert listen(tmp_path / "take.mp4", "violin") == (None, [Message(said)])


def test_overloaded_sound_and_another_tuning_are_said(tmp_path):
    film(tmp_path / "loud.mp4", np.clip(12 * tone(440.0), -1.2, 1.2))
    heard, said = listen(tmp_path / "loud.mp4", "violin")
    assert said == [Message(OVERLOADED)] and heard.tuning.offset_cents == pytest.approx(0, abs=4)
    film(tmp_path / "low.mp4", tone(440 * 2 ** (-80 / 1200)))
    heard, said = listen(tmp_path / "low.mp4", "violin")
    assert said[0].id == TUNING and said[0].values["cents"] == pytest.approx(-80, abs=1.5)
    assert heard.cents == 0.0, "not used before it is known"
    told, said = listen(tmp_path / "low.mp4", "violin", -80.0)
    assert said == [] and told.string_costs(np.array([1.0]), "violin")[0].argmin() == 2, "with the teacher's word it is the open A"
    film(tmp_path / "flat.mp4", tone(440 * 2 ** (-40 / 1200)))
    heard, said = listen(tmp_path / "flat.mp4", "violin")
    assert said == [] and heard.cents == pytest.approx(-40, abs=3)
    costs = heard.string_costs(np.array([1.0]), "violin")[0]
    assert costs.argmin() == 2, "the open A, 40 cents flat"


def test_music_in_the_room_is_said(tmp_path):
    film(tmp_path / "room.mp4", tone(523.0, 3.0))
    heard, _ = listen(tmp_path / "room.mp4", "violin")
    t = np.arange(0, 3, 1 / 25)
    assert Message(OTHERS) in heard.report(series_from(t, np.full(len(t), 0.5)), [], instrument("violin 4/4")).notes


def test_every_ready_exercise_and_every_fault_has_words():
    """Names and faults make ids of messages; the teacher's own exercise keeps the name it was given."""
    text = (Path(match_module.__file__)).read_text(encoding="utf-8")
    faults = [f.strip() for f in re.search(r"``faults``: ([^.]+)[.]", text)[1].replace("\n", " ").split(",")]
    assert len(faults) == 10
    for code in ("en", "de"):
        words = language(code)
        assert all(words.word(f"match.{f}") for f in faults) and all(words.sentence(exercise_said(n)) for n in READY_NAMES)
    assert language("de").sentence(exercise_said("My own")) == "My own"
    assert language("de").sentence(exercise_said("Lower halves")) == "Untere Hälften"
