"""Scripts played, filmed and told: what is asked is what is true, and what the measuring says of it."""

from __future__ import annotations

import json
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dolcezza.core.base.errors import InstrumentError
from dolcezza.core.base.job import finish
from dolcezza.core.camera.pose import fit_landmarks
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.media.audio import read_sound
from dolcezza.core.media.probe import probe
from dolcezza.core.pipeline.fit_file import read_fit
from dolcezza.simulator.film import JOINTS, PRESSED_MM, Studio, film
from dolcezza.simulator.motion import eased, move
from dolcezza.simulator.script import Bow, Script, ScriptError, read_script, script_from_dict
from dolcezza.simulator.sound import RATE_HZ, open_strings, tone

TWO = {"bow": [{"string": "D", "seconds": 1.0, "angle_deg": [3, 0, -6]}, {"string": "A", "seconds": 0.8, "start": 0.92, "end": 0.06}]}


def test_a_script_is_read_with_what_it_leaves_out():
    script = script_from_dict(
        {"take": {"instrument": "viola 16"}, "bow": [{"string": "C", "contact_mm": 30}], "differs": {"hair_length": 0.02}}
    )
    assert script.bows[0].contact_mm == (30.0, 30.0, 30.0)
    assert script.bows[0].direction == "down"
    assert script.spec.hair_length == pytest.approx(1.02 * script.table.hair_length)
    assert script.seconds == pytest.approx(0.8 + 1.0 + 0.6)


@pytest.mark.parametrize(
    ("data", "word"),
    [
        ({}, "no bow"), ({"bow": [{"string": "X"}]}, "'X'"), ({"bow": [{"string": "D", "seconds": 0}]}, "0 seconds"),
        ({"bow": [{"string": "D", "start": 0.5, "end": 0.5}]}, "0.5 to 0.5"), ({"bow": [{"string": "D", "rest": "sofa"}]}, "sofa"),
        ({"bow": [{"string": "D", "speed": 3}]}, "'speed'"), ({"bow": {"string": "D"}}, "not a list"), ({"bows": []}, "'bows'"),
        ({"bow": [{"string": "D", "angle_deg": [1, 2]}]}, "2 numbers"), ({"bow": [{"string": "D", "seconds": "long"}]}, "not a number"),
        ({**TWO, "take": {"handed": "both"}}, "both"), ({**TWO, "differs": {"colour": 0.1}}, "'colour'"), ({**TWO, "phone": 3}, "'phone'"),
        ({**TWO, "differs": {"hair_length": 5}}, "differs"), ({"bow": [{"string": "D", "seconds": 59.0}] * 20}, "too long"),
        ({"bow": [{"string": "D", "angle_deg": float("nan")}]}, "bound"), ({**TWO, "take": "x"}, "take"),
        ({"bow": [{"string": "D", "seconds": 10**400}]}, "not a number"),
    ],
)  # fmt: skip
def test_a_script_that_cannot_be_played_says_why(data, word):
    with pytest.raises(ScriptError, match=word):
        script_from_dict(data if isinstance(data.get("take", {}), dict) else {**data, "take": {"nothing": 1}})


def test_an_instrument_that_is_not_in_the_table_is_named():
    with pytest.raises(InstrumentError, match="trombone"):
        script_from_dict({"take": {"instrument": "trombone"}, **TWO})


def test_script_files_that_cannot_be_read(tmp_path):
    with pytest.raises(ScriptError, match="no script"):
        read_script(tmp_path / "none.toml")
    bad = tmp_path / "bad.toml"
    bad.write_text("[take\n")
    with pytest.raises(ScriptError, match="TOML"):
        read_script(bad)
    (tmp_path / "deep.toml").write_text("seed = " + "[" * 3000 + "]" * 3000)
    with pytest.raises(ScriptError, match="cannot be read"):
        read_script(tmp_path / "deep.toml")


@given(st.floats(0, 1), st.floats(0, 1))
def test_a_bow_never_turns_back_on_its_way(a, b):
    low, high = sorted((a, b))
    assert 0 <= eased(np.array(low)) <= eased(np.array(high)) <= 1


def test_two_strings_are_bowed_between_their_planes_and_both_sound():
    script = script_from_dict({"bow": [{"string": "GD", "seconds": 2.0}]})
    m, model = move(script, 100.0), InstrumentModel(script.spec)
    drawn = m.bow == 0
    assert model.string_planes[0] < m.inclination[drawn][50] < model.string_planes[1]
    assert set(m.lower[drawn]) == {0}
    sound = tone(script, m)[RATE_HZ : 2 * RATE_HZ]
    power = np.abs(np.fft.rfft(sound * np.hanning(len(sound))))
    low, high = (power[round(hz) - 3 : round(hz) + 4].max() for hz in open_strings(script.spec)[:2])
    assert high == pytest.approx(low, rel=0.3) and high > 20 * np.median(power)
    with pytest.raises(ScriptError, match="'GA'"):
        script_from_dict({"bow": [{"string": "GA"}]})


def test_a_tilted_bow_has_its_stick_towards_the_fingerboard_and_its_hair_where_it_was():
    script = script_from_dict(TWO)
    tilted = replace(script, player=replace(script.player, bow_tilt_deg=25.0))
    plain, turned = (Studio(s).moment(40).grip for s in (script, tilted))
    assert plain.along == pytest.approx(turned.along)
    assert np.degrees(np.arccos(plain.up @ turned.up)) == pytest.approx(25.0, abs=1e-3)
    assert turned.up[0] > plain.up[0] + 0.3, "the fingerboard lies in the way of x"


def test_light_focus_and_bow_look_as_the_script_says():
    small = {"phone": {"width": 320, "height": 180, "noise": 0.0}, "room": {"clutter": False}, **TWO}

    def seen(k=20, **changed):
        return Studio(script_from_dict({**small, "phone": {**small["phone"], **changed}})).picture(k).astype(float)

    plain, warm, hunting = seen(), seen(warm=1.0), seen(k=7, hunt_px=4.0)
    assert warm[..., 0].mean() / warm[..., 2].mean() > 1.15 * plain[..., 0].mean() / plain[..., 2].mean()
    assert np.abs(np.diff(hunting, axis=1)).mean() < 0.7 * np.abs(np.diff(seen(k=7), axis=1)).mean()
    steps = {round(float(seen(k=k, exposure_swing=0.6).mean() / seen(k=k).mean()), 3) for k in (5, 6, 60)}
    assert len(steps) == 2, "one step of the exposure for 5 and 6, another for 60"
    looks = {looks: Studio(script_from_dict({**TWO, "take": {"bow_looks": looks}})).bow.hair for looks in ("usual", "any", "dark")}
    assert max(looks["dark"]) < 0.1 < max(looks["usual"]) and looks["any"] != looks["usual"]
    with pytest.raises(ScriptError, match="'pink'"):
        script_from_dict({**TWO, "take": {"bow_looks": "pink"}})


def test_stickers_show_at_both_ends_of_the_bow_and_nowhere_else():
    def seen(stickers):
        script = script_from_dict({"phone": {"noise": 0.0, "sharpen": 0.0}, "room": {"calm": True}, **TWO, "take": {"stickers": stickers}})
        return Studio(script), Studio(script).picture(45).astype(int)

    (studio, with_them), (_, without) = seen(True), seen(False)
    grip, phone = studio.moment(45).grip, studio.moment(45).phone
    middles = [grip.frog + x * grip.along + 9.5 * grip.up for x in (-14.0, 1.013 * studio.bow.hair_length)]
    frog, head = phone.see(np.array(middles))
    rows, columns = np.nonzero(np.abs(with_them - without).max(axis=2) > 40)
    at = np.stack([columns, rows], 1) + 0.5
    near = [np.linalg.norm(at - end, axis=1) < 14 for end in (frog, head)]
    assert near[1].sum() > 20 and (near[0] | near[1]).all()
    red, green, blue = with_them[rows[near[1]], columns[near[1]]].mean(axis=0)
    assert red > green + 40 and blue > green + 40


def test_a_calm_room_is_painted_and_its_player_wears_plain_cloth():
    def studio(calm):
        return Studio(script_from_dict({"phone": {"width": 320, "height": 184}, "room": {"calm": calm}, **TWO}))

    calm, any_room = studio(True), studio(False)
    assert calm.background.shape == any_room.background.shape and not np.allclose(calm.background, any_room.background)
    assert (calm.background.max(axis=2) > 0.005).mean() > 0.99, "walls and floor all round"
    assert calm.clothes.trousers.texture is None and float(np.std(calm.clothes.shirt.texture)) < 0.15
    assert calm.clothes.skin == any_room.clothes.skin, "the same player"


def quick(**phone):
    """A quick bow filmed small and plainly: frame 12 is in its middle."""
    bows = [{"string": "A", "seconds": 0.5, "start": 0.1, "end": 0.9}]
    phone = {"width": 320, "height": 184, "rate": 25.0, "noise": 0.0, "sharpen": 0.0, **phone}
    return Studio(script_from_dict({"take": {"lead_in_s": 0.2}, "phone": phone, "bow": bows}))


def test_rows_that_are_read_later_show_the_bow_later():
    """Read over a whole frame: a row a quarter down the picture is as a quarter of a frame before, the middle one as it is."""
    rolling, plain = quick(rolling=1.0), quick()
    seen, usual = rolling._taken(10), plain._seen(plain.moment(10))
    moved = []
    for quarter in (-4, -2, 0, 2):
        row = round(184 * (0.5 + quarter / 8))
        then = plain._seen(plain.moment(8 * 10 + quarter, plain.fine))
        assert seen[row] == pytest.approx(then[row], abs=1e-3), quarter
        moved.append(float(np.abs(then[row] - usual[row]).max()))
    assert max(moved[:2]) > 0.05 and moved[2] < 1e-3
    between = np.abs(seen - usual).max(axis=(1, 2))
    assert between[:80].max() > 0.05 and between[92] < 1e-3


def test_while_the_shutter_is_open_what_moves_is_smeared_and_what_rests_is_sharp():
    open_, plain = quick(shutter=0.8), quick()
    moving, resting = 10, 1
    assert np.abs(open_._taken(resting) - plain._taken(resting)).max() < 1e-5
    smeared, sharp = open_._taken(moving), plain._taken(moving)
    ends = [plain._seen(plain.moment(8 * moving + d, plain.fine)) for d in (-3, 3)]
    changed = np.abs(ends[0] - ends[1]).max(axis=2) > 0.05
    assert changed.sum() > 100
    # all the light is there, and edges are softer
    assert smeared.mean() == pytest.approx(sharp.mean(), rel=0.02)
    edge = [float(np.abs(np.diff(p, axis=1)).max(axis=2)[:, :-1][changed[:, :-2]].mean()) for p in (smeared, sharp)]
    assert edge[0] < 0.92 * edge[1]


def test_others_are_heard_where_the_script_has_them():
    script = script_from_dict({"bow": [{"string": "D", "seconds": 1.5}, {"rest": "hang", "seconds": 1.5}]})
    m = move(script, 100.0)

    def level(a, b, **changed):
        sound = tone(replace(script, sound=replace(script.sound, **changed)), m)
        return float(np.sqrt((sound[round(a * RATE_HZ) : round(b * RATE_HZ)] ** 2).mean()))

    bow, rest = (1.0, 2.1), (2.6, 3.6)
    assert level(*rest, talk=0.5) > 10 * level(*rest) and level(*bow, talk=0.5) == pytest.approx(level(*bow), rel=1e-2)
    assert level(*rest, piano=0.5) > 10 * level(*rest)
    assert level(2.35, 2.45, echo_s=1.2) > 3 * level(2.35, 2.45)


def test_the_bow_does_what_the_script_says():
    script = script_from_dict(TWO)
    m = move(script, 100.0)
    first = m.bow == 0
    assert m.position[first][[0, -1]] == pytest.approx([0.06, 0.92], abs=0.003)
    assert m.angle[first][0] == pytest.approx(3.0, abs=0.05)
    assert m.angle[np.argmin(np.abs(m.position - 0.49) + ~first)] == pytest.approx(0.0, abs=0.3)
    assert (m.speed[first][5:-5] > 0).all()
    assert (m.speed[m.bow == 1][5:-5] < 0).all()
    # the speed's integral is the way (a share of the hair)
    assert (m.speed[first].sum() / 100) == pytest.approx(0.86 * script.spec.hair_length, rel=0.02)
    planes = InstrumentModel(script.spec).string_planes
    assert m.inclination[first][50] == pytest.approx(planes[1])
    assert m.inclination[m.bow == 1][60] == pytest.approx(planes[2])
    assert set(m.string[first]) == {1}


def test_a_bow_is_lifted_from_a_rest():
    with pytest.raises(ScriptError, match="Bow 2 is lifted without a rest"):
        script_from_dict({"bow": [{"string": "D"}, {"string": "D", "lift": True}]})
    with pytest.raises(ScriptError, match="Bow 3 is lifted without a rest"):
        script_from_dict({"bow": [{"string": "D"}, {"string": "D", "rest": "string", "seconds": 0.2}, {"string": "D", "lift": True}]})


def test_rests_lift_and_retake():
    still, air = {"rest": "string", "seconds": 0.5}, {"rest": "air", "seconds": 0.6}
    script = script_from_dict({"bow": [{"string": "D"}, still, {"string": "D", "lift": True}, air, {"string": "A"}]})
    m = move(script, 50.0)
    assert m.playing.sum() == pytest.approx(3 * 50, abs=3)
    assert m.lift[m.playing].max() == 0
    assert m.lift[(m.t > 1.9) & (m.t < 2.25)].max() > 40  # lifted to set down anew at the frog
    assert m.lift[m.t > 3.3][:20].max() > 40


def test_what_sounds_is_the_string_and_its_stop():
    """A = 440 Hz, fifths apart; a semitone is the twelfth root of two (ISO 16:1975 for the tuning fork's A)."""
    script = script_from_dict({"take": {"instrument": "violin 4/4"}, "bow": [{"string": "A", "seconds": 1.0, "notes": [0, 2]}]})
    sound = tone(script, move(script, 50.0))
    for start, hertz in ((1.05, 440.0), (1.55, 440.0 * 2 ** (2 / 12))):
        part = sound[round(start * RATE_HZ) : round((start + 0.2) * RATE_HZ)]
        spectrum = np.abs(np.fft.rfft(part * np.hanning(len(part)), 1 << 16))
        assert np.argmax(spectrum) * RATE_HZ / (1 << 16) == pytest.approx(hertz, rel=0.01)
    assert np.std(sound[: RATE_HZ // 2]) < 0.1 * np.std(sound[RATE_HZ : 3 * RATE_HZ // 2])
    assert open_strings(script.spec)[3] / open_strings(script.spec)[2] == pytest.approx(1.5, rel=0.002)


def test_sound_is_late_by_what_the_script_says():
    late = script_from_dict({**TWO, "sound": {"late_ms": 200}})
    first = [np.argmax(np.abs(tone(s, move(s, 50.0))) > 0.05) / RATE_HZ for s in (script_from_dict(TWO), late)]
    assert first[1] - first[0] == pytest.approx(0.2, abs=0.01)


@pytest.fixture(scope="module")
def filmed(tmp_path_factory):
    folder = tmp_path_factory.mktemp("filmed")
    script = script_from_dict({
        "phone": {"rate": 12.5, "width": 480, "height": 270, "pins_px": 0.0}, "room": {"clutter": False},
        "bow": [{"string": "D", "seconds": 0.6}, {"string": "A", "seconds": 0.6, "start": 0.9, "end": 0.1}],
    })  # fmt: skip
    return script, finish(film(script, folder, "short"))


def test_a_film_has_picture_sound_and_truth(filmed):
    script, path = filmed
    file = probe(path)
    assert file.size == (480, 270)
    assert file.duration_s == pytest.approx(script.seconds, abs=0.2)
    samples, start_s = read_sound(path, rate_hz=RATE_HZ)
    assert start_s + len(samples) / RATE_HZ == pytest.approx(script.seconds, abs=0.2)
    truth = np.load(path.with_suffix(".truth.npz"))
    about = json.loads(path.with_suffix(".truth.json").read_text())
    n = len(truth["t"])
    assert truth["landmarks_px"].shape == (n, 12, 2)
    assert truth["joints_px"].shape == (n, len(JOINTS), 2)
    assert [s["direction"] for s in about["strokes"]] == ["down", "up"]
    assert set(truth["stroke"][truth["playing"] > 0]) == {0, 1}


def test_the_truth_is_what_the_measurings_own_camera_would_see(filmed):
    """Two projections written apart from each other agree: landmarks without error give back the phone's place and lens."""
    script, path = filmed
    fit = read_fit(path.with_suffix(".fit.json"))
    model = InstrumentModel(script.spec)
    told = fit_landmarks(model, fit.landmarks[0].points, size=(480, 270))
    assert told.rms_px < 0.2
    studio = Studio(script)
    lens = studio.moment(4)
    assert np.linalg.norm(told.camera.place - lens.phone.place) / np.linalg.norm(lens.phone.place) < 0.08
    frog, tip = lens.grip.frog, lens.grip.frog + script.spec.hair_length * lens.grip.along
    truth = np.load(path.with_suffix(".truth.npz"))
    assert truth["frog_px"][4] == pytest.approx(told.camera.project(frog), abs=2.5)
    assert truth["tip_px"][4] == pytest.approx(told.camera.project(tip), abs=2.5)


def test_left_handed_players_are_the_mirrors_picture():
    right = Studio(script_from_dict({**TWO, "phone": {"width": 480, "height": 270}}))
    left = Studio(replace(right.script, handed="left"))
    a, b = right.truth()[0]["landmarks_px"], left.truth()[0]["landmarks_px"]
    assert np.allclose(a[..., 0], 480 - b[..., 0])
    assert np.allclose(a[..., 1], b[..., 1])


def test_a_player_who_sways_moves_in_the_picture():
    still = Studio(script_from_dict(TWO))
    moving = Studio(script_from_dict({**TWO, "player": {"sway_mm": 30, "turn_deg": 5}}))
    a, b = (np.ptp(s.truth()[0]["landmarks_px"][:, 0, 0]) for s in (still, moving))
    assert a == pytest.approx(0.0, abs=1e-6)
    assert b > 8.0


def test_the_elbow_rises_with_the_string():
    script = script_from_dict({"bow": [{"string": s, "seconds": 0.5} for s in "EADG"]})
    truth, _ = Studio(script).truth()
    level = [np.median(truth["elbow_elev_deg"][truth["stroke"] == k]) for k in range(4)]
    assert level == sorted(level)
    assert level[3] - level[0] > 15


def test_an_empty_script_has_no_length_of_its_own():
    assert Script(bows=(Bow("D"),)).seconds == pytest.approx(2.4)


def test_a_bow_is_laid_still_where_it_is_asked_and_turns_on_its_way_through_the_air():
    laid = {"rest": "laid", "string": "D", "seconds": 1.5, "start": 0.4, "lift": True}
    script = script_from_dict({"bow": [{**laid, "angle_deg": 0, "contact_mm": 15}, {**laid, "angle_deg": 10, "contact_mm": 40}]})
    m = move(script, 50.0)
    assert not m.playing.any()
    first, second = (m.t > 1.0) & (m.t < 1.9), (m.t > 2.4) & (m.t < 3.7)
    for held, angle, contact in ((first, 0, 15), (second, 10, 40)):
        assert (m.angle[held] == angle).all() and (m.contact[held] == contact).all() and (m.lift[held] == 0).all()
    way = (m.t > 1.96) & (m.t < 2.29)
    assert m.lift[way].max() > 60 and (np.diff(m.angle[way]) > 0).all() and (np.diff(m.contact[way]) > 0).all()


def test_the_string_is_touched_by_hair_that_it_presses_in():
    """Of a bow on a string: the drawn hair goes through the place where it is touched, its ends lie lower, most at the middle, little near
    the frog; in the air it is straight."""
    script = script_from_dict({"bow": [{"string": "D", "seconds": 1.0}, {"rest": "air", "seconds": 1.0}]})
    studio = Studio(script)
    early, late, lifted = 4, round(1.1 * script.phone.rate), round(2.3 * script.phone.rate)
    assert 0 < studio.motion.position[early] < 0.5 * studio.motion.position[late]
    for k, on in ((early, True), (late, True), (lifted, False)):
        moment, p = studio.moment(k), float(studio.motion.position[k])
        depth = PRESSED_MM * p * (1 - p) / 0.25 if on else 0.0
        assert float((moment.contact - moment.grip.frog) @ moment.grip.up) == pytest.approx(depth, abs=1e-6)
