"""Checks of phones: kept by name, said of a take from the same place, taken off what is measured there."""

from __future__ import annotations

import json
from dataclasses import replace
from datetime import date

import numpy as np
import pytest

from dolcezza.core.base.errors import LandmarkError, StudioError
from dolcezza.core.bowing.known_bias import KnownBias
from dolcezza.core.bowing.zero import Zero
from dolcezza.core.check.card import CheckCard
from dolcezza.core.check.compare import CheckError, compare
from dolcezza.core.check.holds import Hold
from dolcezza.core.check.kept import PhoneCheck, PhonePlace
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.pipeline.cache import MeasurementCache, solve
from dolcezza.core.pipeline.fit_file import fit_from_dict, fit_to_dict
from dolcezza.core.pipeline.place import known_bias, phone_place
from dolcezza.services.phone_checks import CheckBook, checked, checked_take, read_check, write_check
from dolcezza.services.results import write_analysis
from dolcezza.storage.packed import CACHE_FILE, pack, unpack, write_packed

SOMEWHERE = PhonePlace(0.0, 30.0, 1500.0)


def a_check(place=SOMEWHERE, name="phone by the window", size="violin 4/4", **changes):
    asked = CheckCard.of(instrument(size)).holds()
    found = [Hold(1.5 * k, 1.5 * k + 1, a.angle_deg + 2.0, 1.0, a.contact_mm - 2.5, 1.0, 0.0) for k, a in enumerate(asked)]
    made = PhoneCheck.of(compare(found, asked), name=name, day="2026-11-28", instrument=size, place=place)
    return replace(made, **changes)


def test_a_check_is_taken_off_a_take_from_the_same_place(measured):
    """On a measured demo take: angle and contact point move by the bias, their ± grows by how well it is known, nothing else changes."""
    got = measured("demo-a1")
    here = phone_place(got.cache.poses)
    check = a_check(here, size=got.fit.instrument)
    bias, notes = known_bias(replace(got.fit, check=check), got.cache.poses)
    assert bias.angle_deg == pytest.approx(2.0) and bias.contact_mm == pytest.approx(-2.5)
    assert [n.id for n in notes] == ["note.check"]
    plain = solve(got.cache, got.model, got.fit.spec).series
    known = solve(replace(got.cache, known=bias), got.model, got.fit.spec).series
    there = np.isfinite(plain["bow_angle_deg"])
    assert there.sum() > 100
    for column, off, sd, own in (
        ("bow_angle_deg", 2.0, "bow_angle_sd_deg", bias.angle_sd_deg),
        ("contact_point_mm", -2.5, "contact_point_sd_mm", bias.contact_sd_mm),
    ):  # fmt: skip
        assert (plain[column] - known[column])[there] == pytest.approx(off, abs=1e-9)
        assert known[sd][there] == pytest.approx(np.hypot(plain[sd][there], own), rel=1e-6)
    for column in ("bow_position", "inclination_deg", "head_x_px", "contact_x_px"):
        assert known[column][there] == pytest.approx(plain[column][there], nan_ok=True)


def test_a_zero_stands_before_the_angle_of_a_check(measured):
    got = measured("demo-a1")
    at = float(got.series.t[np.flatnonzero(np.isfinite(got.series["bow_angle_deg"]))[40]])
    zeroed = solve(got.cache, got.model, got.fit.spec, zero_s=(at,)).series
    both = solve(replace(got.cache, known=KnownBias(2.0, 0.3, 1.0, 0.4)), got.model, got.fit.spec, zero_s=(at,)).series
    there = np.isfinite(zeroed["bow_angle_deg"])
    assert both["bow_angle_deg"][there] == pytest.approx(zeroed["bow_angle_deg"][there])
    assert both["contact_point_mm"][there] == pytest.approx(zeroed["contact_point_mm"][there] - 1.0)


def test_a_check_from_elsewhere_takes_off_nothing_and_says_so(measured):
    got = measured("demo-a1")
    here = phone_place(got.cache.poses)
    for check in (a_check(replace(here, side_deg=here.side_deg + 40), size=got.fit.instrument), a_check(here, size="violin 4/4")):
        bias, notes = known_bias(replace(got.fit, check=check), got.cache.poses)
        assert bias == KnownBias()
        assert [n.id for n in notes] == ["note.check from elsewhere"]
    assert known_bias(got.fit, got.cache.poses) == (KnownBias(), [])


def test_a_check_goes_with_the_fit_and_with_what_is_kept_of_a_measurement(measured):
    fit = replace(measured.fit("demo-a1"), check=a_check())
    assert fit_from_dict(fit_to_dict(fit)) == fit
    with pytest.raises(LandmarkError, match="check of the phone"):
        fit_from_dict({**fit_to_dict(fit), "check": {"name": "half of one"}})
    cache = replace(measured("demo-a1").cache, known=KnownBias(1.0, 0.2, 2.0, 0.3))
    assert unpack(MeasurementCache, pack(cache)).known == cache.known


def test_the_book_keeps_checks_by_name_and_passes_over_what_is_damaged(tmp_path):
    book = CheckBook(tmp_path)
    assert book.checks == []
    book.keep(a_check())
    book.keep(a_check(name="old phone"))
    book.keep(a_check(day="2026-12-01"))
    assert [(c.name, c.day) for c in CheckBook(tmp_path).checks] == [("phone by the window", "2026-12-01"), ("old phone", "2026-11-28")]
    with pytest.raises(StudioError, match="no name"):
        book.keep(a_check(name="  "))
    path = tmp_path / "checks.json"
    data = json.loads(path.read_text())
    data["checks"][0]["within_mm"] = "wide"
    path.write_text(json.dumps(data))
    assert [c.name for c in CheckBook(tmp_path).checks] == ["old phone"]
    path.write_text("[" * 5000)
    assert CheckBook(tmp_path).checks == []
    book.forget(book.checks[0])
    assert [c.name for c in CheckBook(tmp_path).checks] == ["old phone"]


def test_what_is_written_are_figures_alone(tmp_path):
    asked = CheckCard.of(instrument("violin 4/4")).holds()
    result = compare([Hold(1.5 * k, 1.5 * k + 1, a.angle_deg, 1.0, a.contact_mm, 1.0, 0.0) for k, a in enumerate(asked)], asked)
    path = write_check(a_check(), result, tmp_path / "check.json")
    assert read_check(path) == a_check()
    data = json.loads(path.read_text())
    assert data["held"] == [6, 6]
    assert len(data["holds_found"]) == 6
    with pytest.raises(CheckError, match="no check"):
        read_check(tmp_path / "none.json")
    path.write_text("{}")
    with pytest.raises(CheckError, match="cannot be read"):
        read_check(path)


def test_a_lesson_is_no_check_and_a_wrong_ruler_is_said(measured):
    got = measured("demo-a1")
    with pytest.raises(CheckError, match="held still on"):
        checked(got.series, got.fit)
    with pytest.raises(CheckError, match="cannot be 20 mm long"):
        checked(got.series, got.fit, ruler_mm=20)


def test_what_was_measured_with_a_bias_taken_off_is_no_check_whatever_the_fit_says_by_now(measured, tmp_path):
    got = measured("demo-a1")
    stored = type("Stored", (), {"series": got.series, "folder": tmp_path})()
    for changes in ({"known": KnownBias(0.0, 0.0, -2.5, 0.4)}, {"zero": Zero(1.0, 0.3, np.zeros(24))}):
        write_packed(tmp_path / CACHE_FILE, replace(got.cache, **changes))
        with pytest.raises(CheckError, match="a check or a zero already"):
            checked_take(stored, got.fit, name="p", day=date(2026, 11, 28))


def test_a_measurement_of_which_too_little_was_kept_is_no_check(measured, tmp_path):
    write_analysis(measured("demo-a1"), tmp_path)
    stored = type("Stored", (), {"series": measured("demo-a1").series, "folder": tmp_path})()
    (tmp_path / "bench.npz").unlink(missing_ok=True)
    with pytest.raises(StudioError, match="too little was kept"):
        checked_take(stored, measured.fit("demo-a1"), name="p", day=date(2026, 11, 28))
