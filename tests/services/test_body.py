"""Arm and hand through the services: the models' thread, stills, profiles, what the studio keeps, the files."""

from __future__ import annotations

import csv
import json
from concurrent.futures import Future
from dataclasses import replace
from datetime import date

import cv2
import numpy as np
import pytest

from conftest import TRUTH
from dolcezza.core.base.errors import InstrumentError, LandmarkError, MediaError, ModelsMissing, StudioError
from dolcezza.core.base.job import finish
from dolcezza.core.base.message import said as as_said
from dolcezza.core.body.points import BodySeen
from dolcezza.core.findings.profiles import PROFILES, Profile, profile_from_dict, ready_texts
from dolcezza.core.findings.rules.arm import body_findings
from dolcezza.core.hold.figures import JOINTS
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.media.still import read_still
from dolcezza.core.media.video import Frame
from dolcezza.core.pipeline import body_pass
from dolcezza.core.pipeline.fit_file import ArmPoints, fit_from_dict, fit_to_dict
from dolcezza.core.pipeline.measure import NO_ARM
from dolcezza.core.strokes.joint_work import JointWork
from dolcezza.reports.language import language
from dolcezza.services.analysis import analyse
from dolcezza.services.body_model import BodyModel, stop
from dolcezza.services.corrections import at_ease, joint
from dolcezza.services.hold import hold_csv, look_at_hand, look_at_stills, write_holds
from dolcezza.services.model_files import VARIABLE
from dolcezza.services.profiles import ProfileShelf, named_profile
from dolcezza.storage.body_json import body_from_json, body_to_json
from tests_support import camera_at, cut_short, english

HANDS = TRUTH / "hands"


def picture(path, image) -> None:
    cv2.imwrite(str(path), image)


# stills


def test_a_picture_without_a_hand_is_said_and_how_to_film_it(tmp_path):
    picture(tmp_path / "wall.jpg", np.full((480, 640, 3), 140, np.uint8))
    [still] = finish(look_at_stills([tmp_path / "wall.jpg"]))
    assert still.hold is None
    assert "No hand was found" in still.notes[0] and "without gloves" in still.notes[0]
    [row] = csv.DictReader(hold_csv([still]).splitlines())
    assert row["thumb_mcp_deg"] == "" and row["thumb_shape"] == row["little_shape"] == "unclear"


def test_several_hands_the_largest_is_taken_and_said():
    one = read_still(HANDS / "dev-hand-04.jpg")
    small = cv2.resize(read_still(HANDS / "dev-hand-03.jpg"), None, fx=0.6, fy=0.6)
    both = np.full((720, 960 + small.shape[1], 3), 120, np.uint8)
    both[:, :960], both[: small.shape[0], 960:] = one, small
    still = look_at_hand(both, "two")
    assert "hands are in the picture" in still.notes[0]
    alone = look_at_hand(one, "one")
    assert np.linalg.norm(still.points_px.mean(axis=0) - alone.points_px.mean(axis=0)) < 40


def test_a_file_that_is_no_picture_is_refused(tmp_path):
    (tmp_path / "note.jpg").write_text("not a picture")
    with pytest.raises(MediaError, match="not a picture that can be read"):
        finish(look_at_stills([tmp_path / "note.jpg"]))
    with pytest.raises(MediaError, match="cannot be opened"):
        read_still(tmp_path / "gone.jpg")
    picture(tmp_path / "stamp.png", np.zeros((40, 60, 3), np.uint8))
    with pytest.raises(MediaError, match="60 x 40 px"):
        read_still(tmp_path / "stamp.png")


def test_the_columns_of_the_record_are_those_that_others_rely_on(tmp_path):
    stills = finish(look_at_stills([HANDS / "dev-hand-00.jpg"]))
    path = write_holds(stills, tmp_path)
    assert path.name == "hold.csv"
    with path.open() as text:
        [row] = csv.DictReader(text)
    wanted = ["image", *[c for j in JOINTS for c in (f"{j}_deg", f"{j}_sd_deg")], "thumb_shape", "little_shape"]
    assert list(row)[: len(wanted)] == wanted
    assert row["image"] == "dev-hand-00.jpg"
    assert row["thumb_shape"] in ("straight", "round", "unclear")


def test_models_run_in_one_thread_and_know_an_empty_room():
    models = BodyModel()
    assert models.body(np.full((240, 320, 3), 130, np.uint8), anew=True).result() is None
    assert models.hands(np.full((240, 320, 3), 130, np.uint8)).result() == []


def test_without_models_a_still_says_what_to_do(monkeypatch, tmp_path):
    stop()
    monkeypatch.setenv(VARIABLE, str(tmp_path))
    still = look_at_hand(read_still(HANDS / "dev-hand-00.jpg"), "a still")
    assert still.hold is None and len(still.notes) == 1
    assert "dolcezza setup" in still.notes[0]
    stop()


def test_a_close_up_video_is_told_frame_by_frame(film, tmp_path):
    path = film("close-up.mp4", frames=45, size=(320, 240))
    stills = finish(look_at_stills([path]))
    assert [s.image for s in stills] == ["close-up.mp4@0.23s", "close-up.mp4@0.73s", "close-up.mp4@1.23s"]
    assert all(s.hold is None and "No hand was found" in s.notes[0] for s in stills)


# takes


class Answers:
    """Stands in for the models' process: always the same body points, or a process that has died."""

    def __init__(self, answer) -> None:
        self.answer = answer

    def warm(self, *what: str) -> None:
        pass

    def body(self, image, *, anew: bool = False):
        future: Future = Future()
        if isinstance(self.answer, Exception):
            future.set_exception(self.answer)
        else:
            future.set_result(self.answer)
        return future


def watch_with(answer):
    model = InstrumentModel(instrument("violin 4/4"))
    camera = camera_at(model, -15, 30)
    watch = body_pass.BodyPass(model, 2.0, Answers(answer))
    for k in range(60):
        watch.look(Frame(k, k / 30, np.full((720, 1280), 120, np.uint8)), camera)
    return watch, camera


def test_somebody_else_in_the_picture_is_not_the_player():
    stranger = np.zeros((33, 3))
    watch, _ = watch_with(stranger)
    seen, notes = watch.seen()
    assert len(seen) == 10, "five looks a second"
    assert not seen.found.any()
    assert notes[0].id == "note.somebody else"


def test_the_player_is_the_one_whose_shoulder_is_at_the_instrument():
    watch, camera = watch_with(None)
    x0, y0, scale = watch._asked[0][1]
    shoulder = camera.project(watch._person.shoulder[None])[0]
    player = np.zeros((33, 3))
    player[12, :2] = (shoulder - [x0, y0]) * scale
    again, _ = watch_with(player)
    seen, notes = again.seen()
    assert seen.found.all() and notes == []
    assert np.allclose(seen.points[:, 12], shoulder, atol=0.5), "points come back in pixels of the whole picture"


def test_models_that_are_not_there_are_one_note():
    watch, _ = watch_with(ModelsMissing("gone"))
    seen, notes = watch.seen()
    assert len(seen) == 0 and [language("en").sentence(n) for n in notes] == ["The arm was not measured. gone"]


def test_a_mirrored_take_has_the_same_arm_on_the_other_side(measured, tmp_path):
    """The picture turned left for right, the landmarks with it: the same levels, the joints mirrored."""
    plain = measured("demo-a3")
    path = cut_short("demo-a3", 4.0, tmp_path, flip=True)
    fit = measured.fit("demo-a3")
    landmarks = tuple(replace(m, points={k: (1280 - x, y) for k, (x, y) in m.points.items()}) for m in fit.landmarks)
    got = finish(analyse(path, replace(fit, landmarks=landmarks, mirrored=True)))
    n = min(len(got.series), len(plain.series))
    off = np.abs(got.series["elbow_level_deg"][:n] - plain.series["elbow_level_deg"][:n])
    assert np.nanmedian(off) < 4.0
    elbow = 1280 - got.series["elbow_x_px"][:n]
    assert np.nanmedian(np.abs(elbow - plain.series["elbow_x_px"][:n])) < 15.0
    assert np.nanmedian(np.abs(got.series["bow_angle_deg"][:n] - plain.series["bow_angle_deg"][:n])) < 1.0


def take_without_arm(measured, monkeypatch, seen, folder, *, seconds=4.0, stem="demo-a2"):
    """The first strokes (four in 4 s) of a take whose body is not seen."""
    monkeypatch.setattr(body_pass.BodyPass, "seen", lambda _self: seen)
    return finish(analyse(cut_short(stem, seconds, folder), measured.fit(stem)))


def test_a_take_with_nobody_in_it_is_measured_all_the_same(measured, monkeypatch, tmp_path):
    analysis = take_without_arm(measured, monkeypatch, (BodySeen.of([0.0, 1.0], [None, None]), []), tmp_path)
    assert len(analysis.strokes) == 4
    assert analysis.body is None
    assert np.isnan(analysis.series["elbow_level_deg"]).all()
    assert NO_ARM in analysis.notes
    assert "from the head to the hips" in language("en").sentence(NO_ARM)


def test_a_model_that_cannot_run_is_said_once(measured, monkeypatch, tmp_path):
    said = [as_said("The arm was not measured: the body model could not run (broken).")]
    analysis = take_without_arm(measured, monkeypatch, (BodySeen.of([], []), said), tmp_path, seconds=2.5)
    assert analysis.notes.count(said[0]) == 1
    assert NO_ARM not in analysis.notes


def test_an_elbow_set_by_hand_moves_the_arm_there(measured, tmp_path):
    plain = measured("demo-b1")
    k = int(np.flatnonzero(np.isfinite(plain.series["elbow_x_px"]))[60])
    t = float(plain.series.t[k])
    place = (float(plain.series["elbow_x_px"][k]) - 24.0, float(plain.series["elbow_y_px"][k]) + 10.0)
    fit = replace(measured.fit("demo-b1"), arm=(ArmPoints(t, elbow=place),))
    mended = finish(analyse(cut_short("demo-b1", 4.5, tmp_path), fit)).series
    after = np.array([mended["elbow_x_px"][k], mended["elbow_y_px"][k]])
    assert np.linalg.norm(after - place) < 14.0


def test_findings_about_the_arm_and_none_for_an_arm_in_its_bands(measured):
    analysis = measured("dev-straight")
    spec = analysis.fit.spec
    assert body_findings(analysis.body, analysis.series, analysis.strokes, spec, PROFILES["Franco-Belgian"]) == []
    strict = replace(
        PROFILES["Franco-Belgian"], least_step_deg=40.0, swing_limit_deg=10.0, plane_mm=replace(analysis.profile.plane_mm, low=-20.0)
    )
    found = {f.kind: f for f in body_findings(analysis.body, analysis.series, analysis.strokes, spec, strict)}
    assert set(found) == {"elbow staircase", "elbow level", "elbow behind the back"}
    assert all(f.evidence_s and f.strokes and f.sd > 0 for f in found.values())
    assert "degrees a string" in english(found["elbow staircase"])
    loose = replace(strict, order={})
    assert "elbow staircase" not in {f.kind for f in body_findings(analysis.body, analysis.series, analysis.strokes, spec, loose)}


def test_what_was_measured_of_the_arm_reads_back_the_same(measured):
    body = measured("dev-tense").body
    work = {"middle": JointWork((6.0, 9.0, 4.0), (1.0, 1.0, 2.0), (1, 2)), "tip": None}
    written = body_to_json(body, work)
    assert json.loads(written)["joint_work"] == {
        "middle": {"degrees": [6.0, 9.0, 4.0], "sd": [1.0, 1.0, 2.0], "strokes": [1, 2]}, "tip": None
    }  # fmt: skip
    again = body_from_json(written)
    assert again.stairs.shape is body.stairs.shape
    assert again.stairs.steps == pytest.approx(body.stairs.steps, abs=1e-4)
    assert again.tension.reasons == body.tension.reasons and again.tension.amount is body.tension.amount
    assert again.by_third["tip"].shares == pytest.approx(body.by_third["tip"].shares, abs=1e-4)
    assert again.posture["clock"].value == pytest.approx(body.posture["clock"].value, abs=1e-4)
    with pytest.raises(StudioError, match="damaged"):
        body_from_json("{}")


def test_joints_and_the_moment_at_ease_live_in_the_fit_file(measured):
    fit = joint(measured.fit("demo-a1"), 2.0, {"elbow": (200.0, 300.0)}).fit
    fit = at_ease(joint(fit, 2.005, {"wrist": (260.0, 310.0)}).fit, 0.4).fit
    assert fit.arm == (ArmPoints(2.0, None, (200.0, 300.0), (260.0, 310.0)),)
    assert fit_from_dict(json.loads(json.dumps(fit_to_dict(fit)))) == fit
    assert joint(fit, 2.0, {"elbow": None, "wrist": None}).fit.arm == ()
    assert at_ease(fit, None).fit.relaxed_s is None
    for wrong in ({"arm": [{"t_s": 1.0, "elbow": "here"}]}, {"relaxed_s": "soon"}):
        with pytest.raises(LandmarkError, match="cannot be read"):
            fit_from_dict(fit_to_dict(fit) | wrong)


# profiles


def test_six_profiles_ship_and_every_limit_has_its_reason():
    assert len(PROFILES) == 6
    families = {f for p in PROFILES.values() for f in p.families}
    assert families == {"violin", "viola", "cello"}
    for text in ready_texts().values():
        data = json.loads(text)
        limits = [
            data["angle_limit_deg"],
            data["lane"],
            data["swing_limit_deg"],
            data["staircase"]["least_step_deg"],
            data["elbow_to_bow_plane_mm"],
        ]
        limits += [*data["tension"].values(), *data["posture"].values(), *(c for c in data["choices"].values() if isinstance(c, dict))]
        assert all(len(limit["reason"]) > 15 for limit in limits), data["name"]


def test_facts_of_the_trade_in_the_profiles():
    """Violin elbows from lowest to highest E, A, D, G; no order is agreed for the cello; half past ten on the clock (common
    practice, no source)."""
    assert PROFILES["Franco-Belgian"].elbow_order(instrument("violin 4/4")) == tuple("EADG")
    cello = PROFILES["Cello"]
    assert not cello.order_is_set(instrument("cello 4/4"))
    assert cello.elbow_order(instrument("cello 4/4")) == tuple("ADGC")
    clock = PROFILES["Russian"].posture["clock"]
    assert clock.holds(10.5) and not clock.holds(9.0) and not clock.holds(12.0)
    assert clock.holds(9.4, sd=0.5), "within its own uncertainty nothing is said"
    # 45 degrees to the left is half past ten: 60 is still fine, 30 already too near the front, 90 too far round
    assert clock.holds(10.0) and not clock.holds(11.0)
    starter = PROFILES["Starter, thumb outside"]
    assert (starter.want("along the bow"), starter.want("wrist"), starter.want("thumb place")) == ("stable", "below", "outside")
    fiddle = PROFILES["Fiddle"]
    assert [fiddle.want(k) for k in ("thumb place", "thumb shape", "little shape", "index")] == ["under", "bent", "round", "square"]


def test_a_teacher_copies_edits_and_uses_a_profile(tmp_path, studio):
    shelf = ProfileShelf(tmp_path / "profiles")
    path = shelf.copy("Cello", "Cello, my way")
    data = json.loads(path.read_text())
    data["staircase"]["order"]["cello"] = "ADGC"
    data["angle_limit_deg"]["value"] = 7.5
    path.write_text(json.dumps(data))
    own = shelf.get("Cello, my way")
    assert own.angle_limit_deg == 7.5 and own.order_is_set(instrument("cello 4/4"))
    assert shelf.copy("Cello, my way", "Another").exists()
    with pytest.raises(InstrumentError, match="cannot be the name"):
        shelf.copy("Cello", "Russian")
    (tmp_path / "profiles" / "broken.json").write_text('{"name": "half"}')
    (tmp_path / "profiles" / "deep.json").write_text("[" * 100_000)
    assert "Cello, my way" in shelf.all()
    assert any("broken.json is not used" in f for f in shelf.faults) and any("deep.json is not used" in f for f in shelf.faults)
    assert shelf.file_of("Cello, my way") == path
    with pytest.raises(InstrumentError, match="cannot be read"):
        named_profile(str(tmp_path / "profiles" / "deep.json"))
    with pytest.raises(InstrumentError, match="Choose one of"):
        shelf.get("half")
    assert named_profile(str(path)).name == "Cello, my way" and named_profile("Cello").name == "Cello"
    with pytest.raises(InstrumentError, match="cannot be read"):
        named_profile(str(tmp_path / "gone.json"))
    mine = studio.shelf.copy("Franco-Belgian", "Mine")
    student = studio.add_student("Ottoline Vey", "violin 4/4", profile_name="Mine")
    assert student.profile == "Mine" and mine.parent == studio.folder / "profiles"


@pytest.mark.parametrize(
    ("change", "said"),
    [({"families": ["tuba"]}, "no known instrument"), ({"lane": {"measure": "mm", "low": 9, "high": 4, "text": "", "reason": ""}}, "lane"),
     ({"tension": {"aura": {"value": 1, "reason": ""}}}, "cannot be read"), ({"name": " "}, "no name"),
     ({"swing_limit_deg": {"value": 10**400, "reason": ""}}, "cannot be read")],
)  # fmt: skip
def test_a_profile_that_cannot_be_is_refused_with_what_is_wrong(change, said):
    data = json.loads(ready_texts()["Fiddle"])
    assert isinstance(profile_from_dict(data), Profile)
    with pytest.raises(InstrumentError, match=said):
        profile_from_dict(data | change)


# the studio


def test_hands_and_answers_are_kept_undone_and_really_deleted(studio):
    [student] = [s for s in studio.students() if any(t.analysed for t in studio.takes(s.id))][:1]
    still = look_at_hand(read_still(HANDS / "dev-hand-00.jpg"), "dev-hand-00.jpg")
    kept = studio.keep_hand(student.id, "frog", HANDS / "dev-hand-00.jpg", still, taken_on=date(2026, 3, 2))
    [found] = studio.store.hands.stills(student.id)
    assert found == kept and found.hold.thumb == still.hold.thumb
    assert np.allclose(found.points, still.points_px, atol=0.06)
    studio.answer_hand(found, {"thumb": "straight"})
    assert studio.store.hands.stills(student.id)[0].answered.thumb == "straight"
    studio.undo.undo()
    assert studio.store.hands.stills(student.id)[0].answers == {}
    studio.forget_hand(found)
    assert studio.store.hands.stills(student.id) == []
    studio.undo.undo()
    assert studio.store.hands.stills(student.id) == [found], "it comes back as it was"
    newer = studio.keep_hand(student.id, "tip", HANDS / "dev-hand-03.jpg", still, taken_on=date(2026, 5, 2))
    studio.undo.undo()
    studio.undo.redo()
    studio.undo.undo()
    assert studio.store.hands.stills(student.id) == [found], "kept, taken back, done again, taken back: nothing else is touched"
    studio.undo.redo()
    studio.forget_hand(found)
    studio.undo.undo()
    studio.undo.redo()
    assert [s.id for s in studio.store.hands.stills(student.id)] == [newer.id], "the older picture is forgotten, not the newest"
    studio.building.say_felt(student.id, "arm_drop", "no", date(2026, 3, 2))
    studio.building.say_felt(student.id, "arm_drop", "yes", date(2026, 4, 2))
    assert [a.answer for a in studio.store.hands.felt(student.id)] == ["yes", "no"]
    for test, answer in (("arm_drop", "maybe"), ("horoscope", "yes")):
        with pytest.raises(StudioError, match="cannot be kept"):
            studio.building.say_felt(student.id, test, answer)
    studio.store.delete_student(student.id)
    assert studio.store.hands.stills(student.id) == [] and studio.store.hands.felt(student.id) == []
