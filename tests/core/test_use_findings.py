"""Findings about bow use and sound, each from strokes that were made to show it, and none from strokes that do not."""

from __future__ import annotations

import json
from dataclasses import fields, replace
from itertools import pairwise

import numpy as np
import pytest

from dolcezza.core.assignment.match import match
from dolcezza.core.assignment.text import read_exercise
from dolcezza.core.assignment.use import bow_use
from dolcezza.core.base.message import Message, said
from dolcezza.core.findings.finding import surely_above, surely_below, surely_beyond
from dolcezza.core.findings.profiles import LIMITS, PROFILES
from dolcezza.core.findings.rules.tone import tone_findings
from dolcezza.core.findings.rules.use import use_findings
from dolcezza.core.sound.tuning import Tuning
from dolcezza.core.strokes.figures import Stroke, find_strokes
from dolcezza.core.strokes.offset import SoundOffset
from dolcezza.core.tone.report import BetweenNotes, FieldPoint, ToneReport
from dolcezza.core.tone.signs import Start, StrokeTone, Weight
from dolcezza.storage.tone_json import tone_from_json, tone_to_json
from tests_support import english, minimum_jerk, series_from

HAIR_MM = 645.0

USUAL = PROFILES["Franco-Belgian"]
EVEN = LIMITS["uneven speed"].value


def played(places: list[float]):
    """A record that goes from place to place, one second each, and its strokes."""
    way = np.concatenate([minimum_jerk(a, b, 1.0)[:-1] for a, b in pairwise(places)])
    series = series_from(np.arange(len(way)) / 60, way, hair=HAIR_MM)
    return series, find_strokes(series)


def found(places: list[float], exercise: str = ""):
    series, strokes = played(places)
    matched = match(read_exercise(exercise), strokes) if exercise else None
    use = bow_use(series, strokes, matched=matched, hair_mm=HAIR_MM)["all"]
    return {f.kind: f for f in use_findings(strokes, use, matched, USUAL)}


def test_whole_even_bows_give_no_finding():
    assert found([0.05, 0.95] * 4) == {}
    assert found([0.05, 0.95] * 4, "D: 7 whole") == {}


def test_short_bows_only_where_long_ones_were_asked():
    """0.3 to 0.7 is two fifths of a whole bow: 40 %, beyond the limit of 75 %."""
    short = found([0.3, 0.7] * 4, "D: 7 whole")["short bows"]
    assert short.value == pytest.approx(40, abs=2) and short.limit == 75 and short.sure and len(short.strokes) == 7
    assert "short bows" not in found([0.3, 0.7] * 4) and "short bows" not in found([0.3, 0.7] * 4, "D: 7 0.3-0.7")


def test_some_bows_that_are_hardly_short_are_nothing_to_be_sure_of():
    """Half of the bows use 0.64 of the hair (73 % of the 0.88 asked, the limit is 75), the others 0.72 (82 %)."""
    mixed = found([0.06, 0.70, 0.06, 0.78] * 2, "D: 7 0.06-0.94")["short bows"]
    assert len(mixed.strokes) < 7 and mixed.value == pytest.approx(73, abs=1.5) and not mixed.sure
    plain = found([0.06, 0.40, 0.06, 0.78] * 2, "D: 7 0.06-0.94")["short bows"]
    assert plain.value == pytest.approx(100 * 0.34 / 0.88, abs=2) and plain.sure, "of the short ones, not of all"


@pytest.mark.parametrize(("value", "above", "below", "beyond"), [
    (9.0, True, False, True), (5.5, False, False, False), (4.5, False, False, False), (1.0, False, True, True),
])  # fmt: skip
def test_sure_is_what_is_two_sd_on_the_side_that_is_wrong(value, above, below, beyond):
    """Limit 5, ± 1: two of them is 7 or 3. A figure far on the right side of its limit is no fault, let alone a sure one."""
    assert surely_above(value, 5.0, 1.0) is above and surely_below(value, 5.0, 1.0) is below and surely_beyond(value, 5.0, 1.0) is beyond


def test_a_frog_that_is_kept_away_from():
    away = found([0.25, 0.95] * 4)["avoids the frog"]
    assert away.value == pytest.approx(25, abs=1.5) and away.limit == 12 and away.of == 7
    assert "avoids the frog" not in found([0.08, 0.95] * 4)
    series, strokes = played([0.25, 0.95] * 4)
    use = bow_use(series, strokes, hair_mm=HAIR_MM)["all"]

    def sure(members) -> bool:
        (finding,) = [f for f in use_findings(members, use, None, USUAL) if f.kind == "avoids the frog"]
        return finding.sure

    assert sure(strokes)
    assert not sure([replace(s, share_unseen=0.15) for s in strokes]), "lost on their way, they may have gone on to the frog"


def test_a_bow_that_wanders_towards_the_head():
    """Down 0.45, up 0.40: every stroke of a direction starts 5 % farther along."""
    places = [0.05]
    for k in range(8):
        places.append(places[-1] + (0.45 if k % 2 == 0 else -0.40))
    wanders = found(places)["bow wanders"]
    assert wanders.value == pytest.approx(5, abs=0.5) and "runs out towards the head" in english(wanders) and wanders.sure
    series, strokes = played(places)
    use = bow_use(series, strokes, hair_mm=HAIR_MM)["all"]
    faint = [replace(s, confidence=0.35) for s in strokes]
    assert [f.sure for f in use_findings(faint, use, None, USUAL) if f.kind == "bow wanders"] == [False], "seen too faintly to be sure"
    back = found([1.0 - p for p in places])["bow wanders"]
    assert back.value == pytest.approx(-5, abs=0.5) and "piles up at the frog" in english(back)


def test_upper_and_lower_halves_after_each_other_are_no_wandering():
    assert "bow wanders" not in found([0.05, 0.5] * 3 + [0.55, 0.95] * 3)


def test_uneven_speed():
    series, strokes = played([0.05, 0.95] * 4)
    use = bow_use(series, strokes, hair_mm=HAIR_MM)["all"]
    rough = [replace(s, evenness=EVEN - 0.1) if s.down else s for s in strokes]
    [uneven] = [f for f in use_findings(rough, use, None, USUAL) if f.kind == "uneven speed"]
    assert uneven.strokes == tuple(s.number for s in strokes if s.down) and uneven.value == pytest.approx(EVEN - 0.1)
    assert uneven.sure
    doubtful = [replace(s, evenness_sd=0.06) for s in rough]
    [unsure] = [f for f in use_findings(doubtful, use, None, USUAL) if f.kind == "uneven speed"]
    assert not unsure.sure and unsure.sd == pytest.approx(0.06, rel=0.01), "its place on the bow is not known well enough"
    once = [replace(s, evenness=0.5) if s.number == 1 else s for s in strokes]
    assert all(f.kind != "uneven speed" for f in use_findings(once, use, None, USUAL)), "one slip is no habit"


def heard(weights: list[Weight], starts: list[Start] | None = None, **more) -> tuple[list[Stroke], ToneReport]:
    blank = {f.name: float("nan") for f in fields(Stroke)} | {"direction": "down", "string": "A"}
    strokes = [Stroke(**(blank | {"number": k + 1, "start_s": float(k), "end_s": k + 0.9, "rise_s": 0.3})) for k in range(len(weights))]
    begins = starts or [Start.CLEAR] * len(weights)
    tones = tuple(StrokeTone(k + 1, w, (said("why"),), 12.0, 0.7, b, 2.0) for k, (w, b) in enumerate(zip(weights, begins, strict=True)))
    return strokes, ToneReport(tones, (), **({"between": ()} | more))


@pytest.mark.parametrize(("weight", "kind"), [(Weight.CRUSHED, "crushed tone"), (Weight.AIRY, "airy tone")])
def test_crushed_and_airy_tone_are_habits_not_slips(weight, kind):
    strokes, tone = heard([weight] * 3 + [Weight.CLEAN] * 3 + [Weight.UNKNOWN] * 4)
    [finding] = tone_findings(strokes, tone, USUAL)
    assert finding.kind == kind and finding.strokes == (1, 2, 3) and finding.of == 6, "what could not be told does not count"
    assert finding.value == pytest.approx(12.0) and finding.limit == 6.0 and finding.sure
    assert tone_findings(*heard([weight] + [Weight.CLEAN] * 5), USUAL) == []
    assert not tone_findings(*heard([weight] * 2 + [Weight.CLEAN] * 3), USUAL)[0].sure, "two are no habit to be sure of"


def test_unclear_starts_say_whether_slow_or_scratched():
    slow = tone_findings(*heard([Weight.CLEAN] * 4, [Start.SLOW, Start.SLOW, Start.CLEAR, Start.CLEAR]), USUAL)
    assert slow[0].kind == "unclear start" and "start slowly" in english(slow[0]) and slow[0].value == pytest.approx(300)
    assert not slow[0].sure, "two are slips"
    assert tone_findings(*heard([Weight.CLEAN] * 4, [Start.SLOW] * 3 + [Start.CLEAR]), USUAL)[0].sure
    scratched = tone_findings(*heard([Weight.CLEAN] * 4, [Start.SCRATCHED] * 2 + [Start.CLEAR] * 2), USUAL)
    assert "with a scratch" in english(scratched[0]) and scratched[0].evidence_s == (0.0, 1.0)


@pytest.mark.parametrize(("noise_db", "sure"), [(11.0, False), (14.9, False), (15.5, True)])
def test_a_scratched_start_is_sure_only_where_its_noise_is_beyond_doubt(noise_db, sure):
    """The noise of a tenth of a second differs by 3 dB among starts that are all alike; from 9 dB on a start counts as scratched."""
    strokes, tone = heard([Weight.CLEAN] * 4, [Start.SCRATCHED] * 4)
    tone = replace(tone, strokes=tuple(replace(t, start_noise_db=noise_db) for t in tone.strokes))
    [finding] = tone_findings(strokes, tone, USUAL)
    assert finding.sure is sure and finding.value == pytest.approx(noise_db) and (finding.limit, finding.unit) == (9.0, "dB")


def test_a_trembling_tone_and_noise_that_is_the_left_hand_s():
    strokes, tone = heard([Weight.CLEAN] * 4, between=(BetweenNotes(0.4, 1, (69, 71)), BetweenNotes(1.4, 2, (71, 69))))
    [left] = tone_findings(strokes, tone, USUAL)
    assert left.cause == "left hand" and left.evidence_s == (0.4, 1.4) and "not at the bow" in english(left)
    trembling = [replace(s, wobble_db=LIMITS["trembling tone"].value + 1) for s in strokes]
    kinds = [f.kind for f in tone_findings(trembling, heard([Weight.CLEAN] * 4)[1], USUAL)]
    assert kinds == ["trembling tone"]


def test_what_was_heard_reads_back_the_same():
    _, tone = heard([Weight.CRUSHED, Weight.UNKNOWN], between=(BetweenNotes(0.4, 1, (69, 71)),), notes=(said("said"),))
    pressed = replace(tone.strokes[0], reasons=(Message("tone.why.noise", {"db": 13.0}), Message("tone.why.split")))
    full = replace(
        tone,
        strokes=(pressed, *tone.strokes[1:]),
        points=(FieldPoint(0.5, 1, "A", 40.0, 21.5),),
        tuning=Tuning(-12.0, 2.0, {0: -12.0, 3: -11.5}),
        offset=SoundOffset(0.1, 0.01, True),
    )
    assert tone_from_json(tone_to_json(full)) == full and full.counts == {"crushed": 1, "cannot tell": 1}
    earlier = json.loads(tone_to_json(full))
    earlier["strokes"][0]["reasons"] = ["the slips split"]
    assert tone_from_json(json.dumps(earlier)).strokes[0].reasons == (said("the slips split"),)
