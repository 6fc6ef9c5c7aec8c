"""The practice room's own geometry: its lens against OpenCV's, its bodies against the tables, its light against Lambert's law."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest

from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import LANDMARK_NAMES, InstrumentModel
from dolcezza.simulator.bow import MadeBow
from dolcezza.simulator.camera import Phone, looking_at
from dolcezza.simulator.chance import PLACES, any_pictures, any_scene
from dolcezza.simulator.instrument import Looks, MadeInstrument
from dolcezza.simulator.mesh import Material, box, curve, ellipsoid, plane, tube
from dolcezza.simulator.picture import Sensor, developed
from dolcezza.simulator.player import Grip, Player, Posture, elbow_between
from dolcezza.simulator.render import Light, render
from dolcezza.simulator.room import any_clothes

UP = np.array([0.0, 0.0, 1.0])


def phone(place=(700.0, -500.0, 900.0), focal=900.0, barrel=0.0, middle=(400.0, 300.0)):
    place = np.array(place)
    return Phone(place, looking_at(place, np.array([100.0, 0, 0]), UP, roll_deg=7.0), focal, middle, barrel)


def test_the_lens_agrees_with_opencv():
    """OpenCV's projectPoints with its first radial coefficient (its documentation, "Camera Calibration and 3D Reconstruction")."""
    lens = phone(barrel=-0.05)
    rng = np.random.default_rng(0)
    points = rng.normal(size=(50, 3)) * 150
    turn = cv2.Rodrigues(lens.axes)[0]
    move = -lens.axes @ lens.place
    k = np.array([[lens.focal, 0, lens.middle[0]], [0, lens.focal, lens.middle[1]], [0, 0, 1]])
    theirs, _ = cv2.projectPoints(points, turn, move, k, np.array([lens.barrel, 0, 0, 0, 0.0]))
    assert np.allclose(lens.see(points), theirs[:, 0], atol=1e-6)


def test_a_part_of_the_picture_is_the_picture_moved():
    lens = phone()
    part = replace(lens, cut=np.array([[2.0, 0, -30], [0, 2, -50]]))
    points = np.array([[10.0, 20, 5], [200, -30, 0]])
    assert np.allclose(part.see(points), 2 * lens.see(points) - [30, 50])


def seen_middle(mesh, lens, size=(400, 300)):
    """Middle and extent of what a bright mesh covers of a dark picture, px."""
    light = Light(UP, np.zeros(3), np.ones(3), UP, shadow=False)
    picture = render([mesh], lens, size, light, finer=3)[..., 0]
    y, x = np.nonzero(picture > 0.02)
    return np.array([x.mean() + 0.5, y.mean() + 0.5]), np.array([np.ptp(x), np.ptp(y)])


def test_a_ball_is_painted_where_the_lens_sees_it_and_as_large():
    lens = phone(middle=(200.0, 150.0), focal=500.0)
    spot, radius = np.array([100.0, 0.0, 0.0]), 60.0
    middle, extent = seen_middle(ellipsoid(spot, np.eye(3) * radius, Material((1, 1, 1)), rows=24, columns=36), lens)
    assert np.allclose(middle, lens.see(spot[None])[0], atol=0.6)
    assert extent == pytest.approx(np.full(2, 2 * radius * lens.focal / lens.depth(spot[None])[0]), abs=2.0)


def test_light_falls_off_with_the_cosine():
    """Lambert's cosine law (J. H. Lambert, Photometria, 1760)."""
    lens = Phone(np.array([0.0, 0, 1000]), looking_at(np.array([0.0, 0, 1000]), np.zeros(3), np.array([0.0, 1, 0])), 300.0, (50.0, 50.0))
    floor = plane(np.array([-500.0, -500, 0]), np.array([1000.0, 0, 0]), np.array([0.0, 1000, 0]), Material((1, 1, 1), gloss=0.0))
    bright = []
    for degrees in (0.0, 40.0, 70.0):
        towards = np.array([np.sin(np.radians(degrees)), 0.0, np.cos(np.radians(degrees))])
        light = Light(towards, np.ones(3), np.zeros(3), UP, shadow=False)
        bright.append(float(render([floor], lens, (100, 100), light, finer=1)[50, 50, 0]))
    assert bright == pytest.approx(np.cos(np.radians([0, 40, 70])), abs=1e-3)


def test_what_is_nearer_hides_and_throws_a_shadow():
    lens = Phone(np.array([0.0, 0, 1000]), looking_at(np.array([0.0, 0, 1000]), np.zeros(3), np.array([0.0, 1, 0])), 300.0, (100.0, 100.0))
    floor = plane(
        np.array([-300.0, -300, 0]), np.array([600.0, 0, 0]), np.array([0.0, 600, 0]), Material((1, 1, 1), gloss=0.0), cell_mm=40.0
    )
    block = box(np.array([0.0, 0, 100]), np.eye(3) * [[40], [40], [5]], Material((0.2, 0, 0), gloss=0.0))
    towards = np.array([1.0, 0, 1.0]) / np.sqrt(2)
    picture = render([floor, block], lens, (200, 200), Light(towards, np.ones(3), np.full(3, 0.05), UP))
    under, beside, away = picture[100, 100], picture[100, 70], picture[100, 150]
    assert under[1] == 0  # the red block
    assert beside[1] < 0.3 * away[1]  # its shadow falls away from the lamp, 100 mm to the other side


@pytest.mark.parametrize("turned_first", [False, True])
def test_each_pixel_sees_the_nearer_of_two_surfaces_that_cross(turned_first):
    """A level sheet and one through it that rises to the right: as seen from above, right of their crossing (x = 30) the risen one."""
    lens = Phone(np.array([0.0, 0, 1000]), looking_at(np.array([0.0, 0, 1000]), np.zeros(3), np.array([0.0, 1, 0])), 300.0, (100.0, 100.0))
    level = plane(np.array([-200.0, -200, 0]), np.array([400.0, 0, 0]), np.array([0.0, 400, 0]), Material((1, 0, 0)))
    rising = plane(np.array([-200.0, -200, -115]), np.array([400.0, 0, 200]), np.array([0.0, 400, 0]), Material((0, 1, 0)))
    light, sheets = Light(UP, np.zeros(3), np.ones(3), UP, shadow=False), [level, rising]
    picture = render(sheets[::-1] if turned_first else sheets, lens, (200, 200), light, finer=1)
    at = lens.see(np.array([[30.0, 0, 0], [60.0, 60, 0]]))
    right = np.sign(at[1, 0] - at[0, 0])
    green = picture[50:150, :, 1] > picture[50:150, :, 0]
    across = (np.arange(200) + 0.5 - at[0, 0]) * right
    wide = np.abs(np.arange(200) + 0.5 - 100) < 50
    assert green[:, wide & (across > 1)].all() and not green[:, wide & (across < -1)].any()


def test_a_smooth_line_goes_through_its_points():
    points = np.array([[0.0, 0, 0], [10, 5, 0], [20, 0, 3], [40, 0, 0]])
    line = curve(points, 31)
    assert line[[0, 10, 20, 30]] == pytest.approx(points, abs=1e-6)
    assert len(tube(points, 2.0, Material(), sides=6).points) == 6 * 6


@pytest.mark.parametrize("name", ["violin 4/4", "violin 1/4", "viola 16", "cello 4/4"])
def test_the_body_is_as_wide_as_the_table_has_it(name):
    made = MadeInstrument(InstrumentModel(instrument(name)))
    top = made.meshes()[0].points
    for bout in ("lower_bout", "upper_bout"):
        at = made.model.landmarks[f"{bout}_bass"]
        near = top[np.abs(top[:, 0] - at[0]) < 12 * made.k]
        assert near[:, 1].max() == pytest.approx(at[1], rel=0.02)
        assert near[np.argmax(near[:, 1]), 2] == pytest.approx(at[2], abs=1.0)
    assert top[:, 0].min() == pytest.approx(made.model.landmarks["end_button"][0], rel=0.02)


def test_strings_lie_on_the_bridge_and_under_the_bow():
    made = MadeInstrument(InstrumentModel(instrument("violin 4/4")))
    points = np.concatenate([m.points for m in made._strings()])
    for k in range(4):
        at = made.model.string_point(k, 30.0)
        assert np.linalg.norm(points - at, axis=1).min() < 16.0  # a ring of the tube every 15 mm
        line = points[np.abs(points[:, 1] - at[1]) < 2.5]
        assert np.abs(np.interp(30.0, *np.sort(line[:, [0, 2]], axis=0).T) - at[2]) < 2.5
    bridge = np.concatenate([m.points for m in made._bridge()])
    assert bridge[:, 2].max() <= 0.0
    assert bridge[:, 1].max() == pytest.approx(made.model.landmarks["bridge_bass"][1], abs=0.1)


def test_hair_is_as_long_as_it_is_and_gives_where_it_is_pressed():
    bow = MadeBow(645.0, 9.0)
    hair = bow.meshes(np.zeros(3), np.array([0.0, 1, 0]), UP, pressed=6.0, at=0.3)[0].points
    assert np.ptp(hair[:, 1]) == pytest.approx(645.0)
    assert hair[np.argmax(hair[:, 2]), 1] == pytest.approx(0.3 * 645, abs=25)
    assert hair[:, 2].max() == pytest.approx(6.0, abs=0.7)


def test_an_arm_has_two_bones_of_fixed_length():
    shoulder, wrist = np.zeros(3), np.array([300.0, 100, 0])
    elbow, hand = elbow_between(shoulder, wrist, 290.0, 250.0, np.array([0.0, 0, -1]))
    assert np.linalg.norm(elbow) == pytest.approx(290)
    assert np.linalg.norm(hand - elbow) == pytest.approx(250)
    assert np.allclose(hand, wrist)
    assert elbow[2] < 0
    far, reached = elbow_between(shoulder, 10 * wrist, 290.0, 250.0, np.array([0.0, 0, -1]))
    assert np.linalg.norm(reached) < 540
    assert np.linalg.norm(reached - far) == pytest.approx(250)


@pytest.mark.parametrize("name", ["violin 4/4", "violin 1/2", "cello 3/4"])
def test_the_bow_hand_is_at_the_frog_and_the_left_hand_at_the_neck(name):
    made = MadeInstrument(InstrumentModel(instrument(name)))
    model, spec = made.model, made.spec
    along = model.bow_direction(np.array(0.0), np.array(model.string_planes[2]))
    frog = model.string_point(2, 30.0) - 0.3 * spec.hair_length * along
    player = Player(made, Posture(size=0.35 + 0.65 * spec.body_scale, rise=22.0 if made.cello else 0.0, tilt=0.0 if made.cello else 26.0),
                    any_clothes(np.random.default_rng(0)))  # fmt: skip
    joints = player.joints(Grip(frog, along, UP))
    assert np.linalg.norm(joints["wrist_r"] - frog) < 160
    neck = 0.5 * (model.landmarks["nut_bass"] + model.landmarks["nut_treble"])
    assert np.linalg.norm(joints["wrist_l"] - neck) < 240
    up, front, right = player.axes
    assert np.allclose([up @ front, up @ right, front @ right], 0, atol=1e-9)
    assert (joints["shoulder_r"] - joints["shoulder_l"]) @ right > 0


def test_a_darker_sensor_is_darker_and_noise_is_seeded():
    light = np.full((40, 60, 3), 0.2)
    light[:, 30:] = 0.6
    rng = np.random.default_rng
    bright, dark = (developed(light, Sensor(exposure=e), rng(0)) for e in (1.0, 0.3))
    assert dark.mean() < bright.mean()
    noisy = Sensor(noise=0.03, focus_px=1.0, shake_px=(4.0, 0.0), sharpen=0.5, quality=50, vignette=0.3, curve=0.2)
    one, two = (developed(light, noisy, rng(4)) for _ in range(2))
    assert (one == two).all()
    assert (one != developed(light, noisy, rng(5))).any()
    grey = developed(light * [1.0, 0.5, 0.2], Sensor(grey=True), rng(0))
    assert (grey[..., 0] == grey[..., 2]).all()


def test_a_smear_keeps_the_light_and_widens_an_edge():
    light = np.zeros((60, 60, 3))
    light[:, 30:] = 0.5
    still, moved = (developed(light, Sensor(shake_px=s), np.random.default_rng(0))[30, :, 0].astype(float) for s in ((0, 0), (12.0, 0)))
    assert ((moved > 20) & (moved < 180)).sum() > ((still > 20) & (still < 180)).sum() + 5


def test_a_lesson_by_chance_is_the_same_for_the_same_seed_and_shows_what_it_marks():
    one, two = any_pictures(12, 128, 1), any_pictures(12, 128, 1)
    assert (one[0][0] == two[0][0]).all()
    assert one[0][0].shape == (128, 128, 3)
    assert one[0][1].shape == (len(PLACES), 2)
    other = any_pictures(13, 128, 1)
    assert (one[0][0] != other[0][0]).any()


@pytest.mark.parametrize("family", ["violin", "viola", "cello"])
def test_scenes_have_instruments_of_the_family_and_marks_on_them(family):
    scene = any_scene(np.random.default_rng(3), family=family)
    assert scene.made.spec.family == family
    assert np.allclose(scene.marks[: len(LANDMARK_NAMES)], [scene.made.model.landmarks[n] for n in LANDMARK_NAMES])
    assert np.linalg.norm(scene.marks[13] - scene.marks[12]) == pytest.approx(scene.made.spec.hair_length)


def test_looks_change_the_picture_and_not_the_places():
    spec = instrument("violin 4/4")
    plain, other = (
        MadeInstrument(InstrumentModel(spec), looks)
        for looks in (Looks(), Looks(varnish=(0.1, 0.05, 0.02), waist=0.1, soft=20.0, pegs="rods"))
    )
    assert plain.model.landmarks["scroll"] == pytest.approx(other.model.landmarks["scroll"])
    light, lens = Light(UP, np.ones(3), np.ones(3) * 0.3, UP, shadow=False), phone(focal=300.0, middle=(100.0, 75.0))
    pictures = [render(m.meshes(), lens, (200, 150), light) for m in (plain, other)]
    assert pictures[1].mean() < 0.8 * pictures[0].mean()
