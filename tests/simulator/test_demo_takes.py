"""The demo studio's takes are what their scripts say."""

from __future__ import annotations

import json
from pathlib import Path

import av
import numpy as np
import pytest

from dolcezza.services.demo import STUDENTS, demo_video
from dolcezza.simulator.film import Studio
from dolcezza.simulator.script import read_script

SCRIPTS = Path(__file__).parents[2] / "examples" / "scripts" / "demo"
STEMS = [take.stem for student in STUDENTS for take in student.takes]


def test_every_take_of_the_demo_studio_has_a_script_and_every_script_a_student():
    assert sorted(STEMS) == sorted(path.stem for path in SCRIPTS.glob("*.toml"))


@pytest.mark.parametrize("stem", STEMS)
def test_a_demo_take_is_played_and_marked_as_its_script_says(stem):
    script = read_script(SCRIPTS / f"{stem}.toml")
    student = next(s for s in STUDENTS if stem in [t.stem for t in s.takes])
    assert (script.instrument, script.handed) == (student.instrument, student.handed)
    kept, own = json.loads(demo_video(stem).with_suffix(".fit.json").read_text()), Studio(script).fit(stem)
    assert kept["instrument"] == script.instrument
    for there, here in zip(kept["pins"], own["pins"], strict=True):
        assert there["points"].keys() == here["points"].keys()
        assert np.abs(np.array(list(there["points"].values())) - np.array(list(here["points"].values()))).max() < 0.2
    with av.open(str(demo_video(stem))) as video:
        assert video.streams.audio
        assert video.duration / av.time_base == pytest.approx(script.seconds, abs=0.3)


def test_a_demo_take_shows_what_its_script_draws():
    studio = Studio(read_script(SCRIPTS / "demo-whole.toml"))
    with av.open(str(demo_video("demo-whole"))) as video:
        shown = next(f for k, f in enumerate(video.decode(video=0)) if k == 40).to_ndarray(format="rgb24").astype(int)
    drawn = studio.picture(40).astype(int)
    assert np.abs(shown - drawn).mean() < 6.0, "but for what compressing it does"
    assert np.abs(shown - studio.picture(52).astype(int)).max(axis=2).mean() > np.abs(shown - drawn).max(axis=2).mean() + 0.5
