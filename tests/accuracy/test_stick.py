"""A cellist seen from the front, the stick before hair as dull as cloth: a take that nothing bright could be followed in."""

from __future__ import annotations

import numpy as np
import pytest

from compared import Compared
from conftest import TRUTH
from dolcezza.core.base.job import finish
from dolcezza.core.pipeline.fit_file import read_fit
from dolcezza.core.pipeline.stick_pass import BY_STICK
from dolcezza.services.analysis import analyse

FOLDER = TRUTH / "stick"


@pytest.fixture(scope="module")
def pair():
    return Compared(finish(analyse(FOLDER / "stick.mp4", read_fit(FOLDER / "stick.fit.json"))), "stick", FOLDER)


@pytest.mark.accuracy
def test_a_bow_of_which_the_stick_alone_is_seen_is_measured_by_it(pair):
    assert BY_STICK in pair.analysis.notes
    for column, sd, true, limit in (
        ("bow_angle_deg", "bow_angle_sd_deg", "skew_deg", 1.0), ("contact_point_mm", "contact_point_sd_mm", "contact_mm", 4.0),
        ("bow_position", "bow_position_sd", "bow_pos", 0.03),
    ):  # fmt: skip
        off = np.abs(pair.error(column, true))
        assert np.isfinite(off).mean() > 0.95, column
        assert np.nanmedian(off) < limit, column
        assert np.nanmean(off <= 2 * pair.series[sd][pair.at][pair.play]) > 0.85, column
    assert pair.strings_right() > 0.95


@pytest.mark.accuracy
def test_its_strokes_are_found_and_nothing_about_the_bow_is_sure(pair):
    strokes, true = pair.analysis.strokes, pair.meta["strokes"]
    assert [(s.direction, s.string) for s in strokes] == [(s["direction"], s["string"]) for s in true]
    assert all(abs(s.start_s - t["start_s"]) < 0.15 and abs(s.end_s - t["end_s"]) < 0.15 for s, t in zip(strokes, true, strict=True))
    assert not [f.kind for f in pair.analysis.findings if f.sure]
