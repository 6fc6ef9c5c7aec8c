"""No face leaves the machine on paper: the mosaic lies over the head whatever happened between two looks, and the bow stays to be seen."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from conftest import TRUTH
from dolcezza.core.body.points import BodySeen
from dolcezza.core.media.video import FrameStore
from dolcezza.reports.faces import coarse, heads_at, hide_faces, kept_heads
from dolcezza.reports.pages import still_of
from dolcezza.services.body_model import everybodys_heads
from takes_support import take_video


def body(*looks) -> BodySeen:
    """Looks (t, x, y): a face whose points lie within 10 px of (x, y), shoulders 80 px apart below; x None = nobody."""
    rows = []
    for _, x, y in looks:
        if x is None:
            rows.append(None)
            continue
        points = np.zeros((33, 3))
        points[:11, 0], points[:11, 1] = x + np.linspace(-10, 10, 11), y
        points[11, :2], points[12, :2] = (x - 40, y + 60), (x + 40, y + 60)
        points[:, 2] = 1.0
        rows.append(points)
    return BodySeen.of([t for t, _, _ in looks], rows)


def test_the_head_is_where_the_looks_around_the_moment_have_it():
    seen = body((0.0, 100, 50), (0.4, 120, 50), (2.0, 300, 90))
    heads = heads_at(seen, 0.2)
    assert [(x, y) for x, y, _ in heads] == [(100, 50), (120, 50)]
    assert all(r == pytest.approx(0.42 * 80) for _, _, r in heads)
    assert [x for x, _, _ in heads_at(seen, 1.4)] == [300]  # nothing nearer
    assert heads_at(body((0.0, None, None)), 0.0) == []


def test_of_a_block_only_its_mean_is_left():
    rng = np.random.default_rng(0)
    image = rng.integers(0, 255, (120, 160, 3), np.uint8)
    mosaic = coarse(image, 20)
    assert len(np.unique(mosaic.reshape(-1, 3), axis=0)) <= 6 * 8
    assert mosaic[:20, :20].reshape(-1, 3).std(axis=0).max() == 0


def picture() -> np.ndarray:
    """A chequered picture: every pixel differs from its neighbour."""
    y, x = np.mgrid[0:360, 0:640]
    return np.repeat(((x + y) % 2 * 200 + 20)[..., None], 3, 2).astype(np.uint8)


def test_heads_are_hidden_the_bow_is_not():
    out = hide_faces(picture(), [(200.0, 120.0, 60.0)], [(60.0, 120.0), (500.0, 130.0)])
    inside, outside = out[80:110, 190:210], out[200:260, 300:400]
    assert inside.std() < 1.0
    assert (outside == picture()[200:260, 300:400]).all()
    assert (out[122:125, 200:220] == picture()[122:125, 200:220]).all()  # along the bow
    # what is left under the mosaic tells nothing of the checks: every block has the same mean
    assert abs(int(inside.mean()) - 120) <= 1


def test_where_no_head_is_known_only_the_bows_surroundings_are_left():
    out = hide_faces(picture(), [], [(60.0, 300.0), (600.0, 310.0)])
    assert out[40:120, 100:500].std() < 12.0
    assert (out[303:307, 200:400] == picture()[303:307, 200:400]).all()
    assert hide_faces(picture(), [], [(np.nan, np.nan)])[300:310, 200:300].std() < 12.0


def test_the_heads_of_others_are_hidden_too_and_never_instead():
    out = hide_faces(picture(), [(200.0, 120.0, 60.0)], [(60.0, 320.0), (500.0, 330.0)], [(520.0, 100.0, 40.0)])
    assert out[90:110, 190:210].std() < 1.0 and out[90:110, 510:530].std() < 1.0
    assert (out[200:260, 300:400] == picture()[200:260, 300:400]).all()
    # others alone are no reason to show the rest
    unknown = hide_faces(picture(), [], [(60.0, 320.0), (500.0, 330.0)], [(520.0, 100.0, 40.0)])
    assert unknown[40:120, 100:300].std() < 12.0


def test_a_still_asks_for_everybody_in_the_picture(studio_still):
    take, stored = studio_still
    asked = []
    x, y = (float(np.nanmedian(stored.series[f"bridge_treble_{c}_px"])) for c in "xy")

    def somebody(picture):
        asked.append(picture.shape)
        return [(x, y, 60.0)]

    plain, more = (
        cv2.imdecode(np.frombuffer(still_of(take, stored, 1.0, others=others).jpeg, np.uint8), cv2.IMREAD_COLOR).astype(int)
        for others in (None, somebody)
    )
    assert asked == [(720, 1280, 3)]
    rows, columns = np.nonzero(np.abs(plain - more).max(axis=2) > 12)
    scale = plain.shape[1] / 1280
    assert len(rows) > 200 and np.hypot(columns / scale - x, rows / scale - y).max() < 80


@pytest.fixture
def studio_still(studio):
    """A demo take without its kept body: everything but the bow is hidden, but for its head that is told here."""
    status = next(s for student in studio.students() for s in studio.takes(student.id) if s.analysed)
    return status.take, studio.analysis(status.take)


@pytest.mark.accuracy
def test_everybody_in_a_picture_has_a_head_to_hide():
    """Two rendered players side by side, by their own truth; then one of them far smaller, behind."""
    frames, heads = [], []
    for stem in ("demo-a1", "demo-b1"):
        truth = np.load(TRUTH / f"{stem}.truth.npz")
        store = FrameStore(take_video(stem))
        image = store.at(2.0).image
        store.close()
        k = int(np.abs(truth["t"] - 2.0).argmin())
        left = 300
        frames.append(image[:, left : left + 640])
        heads.append(truth["joints_px"][k][2] - [left, 0])
    both = np.ascontiguousarray(np.hstack(frames))
    found = everybodys_heads(both)
    for n, (x, y) in enumerate(heads):
        assert any(np.hypot(hx - x - 640 * n, hy - y) < 0.6 * r for hx, hy, r in found), (n, found)
    small = cv2.resize(frames[1], (320, 360), interpolation=cv2.INTER_AREA)
    behind = np.full((720, 1280, 3), 128, np.uint8)
    behind[:, :640], behind[200:560, 800:1120] = frames[0], small
    x, y = heads[1] * 0.5 + [800, 200]
    assert any(np.hypot(hx - x, hy - y) < 0.7 * r for hx, hy, r in everybodys_heads(behind))
    assert everybodys_heads(np.full((720, 1280, 3), 90, np.uint8)) == []


def test_nothing_kept_is_no_head(tmp_path):
    assert kept_heads(tmp_path, 1.0, width=640, flip=False, reduced=1.0) == []
    (tmp_path / "bench.npz").write_bytes(b"damaged")
    assert kept_heads(tmp_path, 1.0, width=640, flip=False, reduced=1.0) == []


@pytest.mark.accuracy
def test_the_head_of_a_rendered_player_is_hidden_on_paper(studio):
    """By the take's own truth: where the head is, the written picture is flat in blocks; on the screen it is as filmed."""
    status = next(s for student in studio.students() for s in studio.takes(student.id) if s.analysed)
    take, stored = status.take, studio.analysis(status.take)
    truth = np.load(TRUTH / f"{take.path.stem}.truth.npz")
    store = FrameStore(take.path)
    filmed = cv2.cvtColor(store.at(2.0).image, cv2.COLOR_RGB2BGR)
    store.close()
    k = int(np.abs(truth["t"] - 2.0).argmin())
    x, y = truth["joints_px"][k][2] * 900 / filmed.shape[1]
    for faces in (False, True):
        shown = cv2.imdecode(np.frombuffer(still_of(take, stored, 2.0, faces=faces).jpeg, np.uint8), cv2.IMREAD_COLOR)
        small = cv2.resize(filmed, (shown.shape[1], shown.shape[0]), interpolation=cv2.INTER_AREA)
        part = slice(int(y) - 16, int(y) + 16), slice(int(x) - 16, int(x) + 16)
        # what is finer than a block: how much of it is still there
        fine = [p[part].astype(float) - cv2.GaussianBlur(p[part].astype(float), (0, 0), 3) for p in (shown, small)]
        alike = float(np.corrcoef(fine[0].ravel(), fine[1].ravel())[0, 1])
        assert alike > 0.9 if faces else alike < 0.35, alike
