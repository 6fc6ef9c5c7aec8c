"""The check card: where its lines lie, which stretches are holds, and what their differences say."""

from __future__ import annotations

import numpy as np
import pytest

from dolcezza.core.bowing.series import COLUMNS, BowSeries
from dolcezza.core.check.card import LINES_DEG, CheckCard, Laid, seen_along_the_bow
from dolcezza.core.check.compare import CheckError, compare, lay
from dolcezza.core.check.holds import Hold, find_holds
from dolcezza.core.check.kept import PhoneCheck, PhonePlace
from dolcezza.core.instrument.catalog import CATALOG, instrument
from dolcezza.core.instrument.model import InstrumentModel

RATE = 25.0


def hold(angle, contact, at=0.0, *, sd=1.0, sd_mm=1.0, inclination=0.0):
    return Hold(at, at + 1.0, angle, sd, contact, sd_mm, inclination)


def holds_like(asked, off_deg=0.0, off_mm=0.0, seed=0, noise=0.0):
    rng = np.random.default_rng(seed)
    return [
        hold(line.angle_deg + off_deg + noise * rng.normal(), line.contact_mm + off_mm + noise * rng.normal(), 1.5 * k)
        for k, line in enumerate(asked)
    ]


def record(stretches):
    """Position, angle, contact by stretch: (seconds, position to, angle, contact); missing where the angle is None."""
    rows = []
    position = 0.5
    for seconds, to, angle, contact in stretches:
        n = round(seconds * RATE)
        for k in range(n):
            rows.append((position + (to - position) * k / n, np.nan if angle is None else angle, np.nan if contact is None else contact))
        position = to
    table = np.array(rows)
    rng = np.random.default_rng(1)
    values = {name: np.full(len(rows), np.nan) for name in COLUMNS if name != "string"}
    values["t_s"] = np.arange(len(rows)) / RATE
    values["bow_position"] = table[:, 0] + rng.normal(0, 0.0015, len(rows))
    values["bow_angle_deg"] = table[:, 1] + rng.normal(0, 0.1, len(rows))
    values["contact_point_mm"] = table[:, 2] + rng.normal(0, 0.2, len(rows))
    values |= {n: np.full(len(rows), v) for n, v in (("bow_angle_sd_deg", 1.2), ("contact_point_sd_mm", 1.5), ("inclination_deg", -7.0))}
    return BowSeries(values, ["D" if np.isfinite(a) else "" for a in table[:, 1]])


@pytest.mark.parametrize("name", list(CATALOG))
def test_the_card_lies_between_bridge_and_fingerboard(name):
    """Both fans of lines lie before the fingerboard's end, the far one at least 15 mm beyond; the card ends under the board."""
    spec = instrument(name)
    card = CheckCard.of(spec)
    near, far = card.distances
    assert 0.15 * spec.bridge_to_fingerboard < near < far < 0.8 * spec.bridge_to_fingerboard
    assert far - near >= 15
    assert near % 5 == far % 5 == 0
    assert card.edge < near
    assert spec.bridge_to_fingerboard < card.edge + card.length < spec.bridge_to_fingerboard + 12
    assert card.width > 2 * spec.spread_bridge
    assert [h.angle_deg for h in card.holds()] == [*LINES_DEG, *LINES_DEG]


def test_a_card_printed_smaller_brings_its_lines_nearer_but_not_its_edge():
    card = CheckCard.of(instrument("violin 4/4"))
    asked = card.holds(0.9)
    assert asked[0].contact_mm == pytest.approx(card.edge + 0.9 * (15 - card.edge))
    assert asked[0].angle_deg == 0


def test_a_line_seen_from_above_is_a_bow_angle_in_the_bows_own_plane():
    """Against the instrument model: a bow in a string's plane, seen along z, covers a line whose direction is worked out there."""
    model = InstrumentModel(instrument("violin 4/4"))
    for inclination in model.string_planes[:4]:
        angle = np.radians(seen_along_the_bow(10.0, float(inclination)))
        lean = np.radians(inclination)
        across = np.array([0.0, np.cos(lean), np.sin(lean)])
        bow = np.cos(angle) * across + np.sin(angle) * np.array([1.0, 0.0, 0.0])
        assert np.degrees(np.arctan2(bow[0], bow[1])) == pytest.approx(10.0, abs=1e-9)


def test_holds_are_stretches_in_which_nothing_moves():
    series = record(
        [
            (1.0, 0.5, 0.0, 15.0), (0.5, 0.5, None, None), (1.2, 0.5, 10.0, 15.0), (1.0, 0.9, 10.0, 15.0), (0.4, 0.9, 3.0, 20.0),
            (1.0, 0.9, -10.0, 40.0),
        ]
    )  # fmt: skip
    found = find_holds(series, 650.0)
    assert [round(h.angle_deg) for h in found] == [0, 10, -10]
    assert found[0].start_s < 0.2 and found[0].end_s == pytest.approx(1.0, abs=0.1)
    assert found[1].contact_mm == pytest.approx(15.0, abs=0.2)
    assert found[1].inclination_deg == -7.0
    assert found[2].contact_sd_mm == 1.5


def test_a_bow_that_is_drawn_is_no_hold_nor_one_that_turns():
    assert find_holds(record([(1.0, 0.2, 0.0, 20.0), (1.0, 0.8, 0.0, 20.0)]), 650.0) == []
    turning = record([(1.5, 0.5, 0.0, 20.0)])
    turning["bow_angle_deg"][:] += 12.0 * turning.t
    assert find_holds(turning, 650.0) == []


def test_a_bias_that_is_the_same_in_all_holds_is_told_and_taken_off():
    asked = CheckCard.of(instrument("violin 4/4")).holds()
    result = compare(holds_like(asked, off_deg=2.0, off_mm=-3.0, noise=0.3), asked)
    assert result.constant_angle and result.constant_contact
    assert result.angle_bias_deg == pytest.approx(2.0, abs=0.3)
    assert result.contact_bias_mm == pytest.approx(-3.0, abs=0.3)
    # a bias is not better known than a hand lays a bow: 0.7 degrees by six holds
    assert result.angle_sd_deg == pytest.approx(0.7 / np.sqrt(6), abs=0.02)
    assert result.within_deg < 1.5 and result.within_mm < 2.0
    assert [m.id for m in result.messages] == ["check.result", "check.angle off", "check.contact off", "check.held"]


def test_what_is_not_constant_stays_in_what_is_said():
    asked = CheckCard.of(instrument("violin 4/4")).holds()
    found = [hold(a.angle_deg + (2.0 if k % 2 else -2.0), a.contact_mm, 1.5 * k) for k, a in enumerate(asked)]
    result = compare(found, asked)
    assert not result.constant_angle and not result.constant_contact
    assert result.within_deg == pytest.approx(4.0, abs=0.1)  # twice the root mean square of ±2
    assert PhoneCheck.of(
        result, name="p", day="2026-11-28", instrument="violin 4/4", place=PhonePlace(0.0, 30.0, 1500.0)
    ).bias.angle_deg == 0.0  # fmt: skip


def test_of_how_many_holds_the_stated_uncertainty_held():
    asked = CheckCard.of(instrument("violin 4/4")).holds()
    found = [
        hold(a.angle_deg + off, a.contact_mm + 0.5, 1.5 * k, sd=0.5)
        for k, (a, off) in enumerate(zip(asked, (0, 0, 3, 0, 0, 0), strict=True))
    ]
    # 3 degrees against 2 x the root of 0.5 and 0.7 squared: 1.7
    assert compare(found, asked).held == (5, 6)


def test_a_hold_too_many_or_too_few_leaves_the_others_with_their_lines():
    asked = CheckCard.of(instrument("cello 4/4")).holds()
    found = holds_like(asked)
    more = [*found[:2], hold(-30.0, 60.0, 2.0), *found[2:]]
    assert [line for _, line in lay(more, asked)] == list(asked)
    less = [*found[:2], *found[3:]]
    assert [line for _, line in lay(less, asked)] == [*asked[:2], *asked[3:]]


def test_what_no_check_can_be_made_of_is_said_in_one_sentence():
    asked = CheckCard.of(instrument("violin 4/4")).holds()
    found = holds_like(asked)
    with pytest.raises(CheckError, match="held still on 3 of 6 lines"):
        compare(found[:3], asked)
    stretched = [hold(h.angle_deg, 27.5 + 1.3 * (h.contact_mm - 27.5), h.start_s) for h in found]
    with pytest.raises(CheckError, match="30% too long.*ruler"):
        compare(stretched, asked)
    off = [hold(h.angle_deg + d, h.contact_mm, h.start_s) for h, d in zip(found, (0, 5, -5, 0, 5, 0), strict=True)]
    with pytest.raises(CheckError, match="On 3 of 6 lines the bow did not lie along"):
        compare(off, asked)


def test_one_bow_that_was_not_along_its_line_is_left_out_and_named():
    asked = CheckCard.of(instrument("violin 4/4")).holds()
    found = holds_like(asked, off_deg=0.4)
    found[4] = hold(16.0, found[4].contact_mm, found[4].start_s)
    result = compare(found, asked)
    assert [r.left_out for r in result.rows] == [False] * 4 + [True, False]
    assert len(result.used) == 5
    assert result.angle_bias_deg == pytest.approx(0.4)
    assert result.messages[-1].values["n"] == 1


def test_a_check_speaks_of_takes_from_about_the_same_place():
    here = PhonePlace.of(np.array([1000.0, 0.0, 1000.0]))
    assert (here.side_deg, here.high_deg, here.far_mm) == (0.0, 45.0, 1414)
    assert here.same(PhonePlace(10.0, 40.0, 1500.0))
    assert not here.same(PhonePlace(30.0, 45.0, 1500.0))
    assert not here.same(PhonePlace(0.0, 45.0, 2200.0))
    assert PhonePlace(0.0, 0.0, 1.0).apart_deg(PhonePlace(90.0, 0.0, 1.0)) == pytest.approx(90.0)


def test_a_check_comes_back_as_it_was_written():
    asked = CheckCard.of(instrument("violin 4/4")).holds()
    result = compare(holds_like(asked, off_mm=2.5), asked)
    check = PhoneCheck.of(result, name="phone", day="2026-11-28", instrument="violin 4/4", place=PhonePlace(-8.0, 32.0, 1767.0))
    assert PhoneCheck.from_dict(check.to_dict()) == check
    assert check.bias.contact_mm == pytest.approx(2.5)
    assert check.holds == 6
    assert check.speaks_of("violin 4/4", PhonePlace(-8.0, 32.0, 1767.0))
    assert not check.speaks_of("violin 3/4", PhonePlace(-8.0, 32.0, 1767.0))
    with pytest.raises(ValueError, match="cannot be"):
        PhoneCheck.from_dict({**check.to_dict(), "within_mm": float("nan")})


def test_asked_lines_are_laid_in_their_order_even_where_all_are_off_by_some_degrees():
    asked = [Laid(0.0, 15.0), Laid(10.0, 15.0), Laid(-10.0, 15.0)]
    found = [hold(4.0, 15.0), hold(14.0, 15.0, 1.5), hold(-6.0, 15.0, 3.0)]
    assert [(round(h.angle_deg), line.angle_deg) for h, line in lay(found, asked)] == [(4, 0.0), (14, 10.0), (-6, -10.0)]
