"""The teacher's word: accepted, reworded, dismissed for good, remarks; judged again without measuring; everything undone."""

from __future__ import annotations

import json
from dataclasses import replace

import pytest

from dolcezza.core.base.errors import StudioError
from dolcezza.core.base.message import said
from dolcezza.core.findings.finding import Finding
from dolcezza.core.findings.rank import GROUPS, group_of, in_order, why
from dolcezza.core.pipeline.judge import judge
from dolcezza.reports.findings import sentence_of
from dolcezza.reports.language import language
from dolcezza.services.studio import Studio

ENGLISH = language("en")


@pytest.fixture
def swinging(studio):
    """The studio, and the measured take whose bow swings round."""
    take = next(s.take for student in studio.students() for s in studio.takes(student.id) if s.analysed)
    return studio, take, studio.analysis(take)


def finding(kind: str, *, value=9.0, limit=4.0, sure=True, shown=6, of=6, cause="c") -> Finding:
    return Finding(kind, tuple(range(1, shown + 1)), of, (1.0,), value, 0.5, limit, "deg", sure, cause, said(f"{kind}."))


def test_the_order_is_that_of_the_trade_and_can_be_changed():
    """Set-up, straightness, arm, bow use, tone, hold (common practice, no source); many signs of tension before all."""
    found = [finding(k) for k in ("crushed tone", "short bows", "elbow staircase", "crooked")]
    assert [f.kind for f in in_order(found)] == ["crooked", "elbow staircase", "short bows", "crushed tone"]
    tense = finding("signs of tension", value=3.0, limit=1.0)
    assert in_order([*found, tense])[0] is tense and group_of(replace(tense, value=2.0)) == "arm"
    start = finding("crooked", cause="set down crooked")
    assert in_order([finding("crooked"), start])[0] is start
    tone_first = ("tone", *[g for g in GROUPS if g != "tone"])
    assert in_order(found, tone_first)[0].kind == "crushed tone"
    assert in_order([finding("crooked", sure=False), finding("crushed tone")])[0].kind == "crushed tone"
    often, seldom = finding("crooked", shown=6), finding("crooked", shown=2, value=12.0)
    assert in_order([seldom, often])[0] is often


def test_the_order_is_explained():
    first = why(finding("crooked"), 0)
    assert ENGLISH.sentence(first) == "First: straightness comes before the arm and bow distribution; it shows on 6 of 6 strokes."
    assert language("de").sentence(first) == "Zuerst: Geradheit kommt vor Arm und Bogeneinteilung; es zeigt sich bei 6 von 6 Strichen."
    assert "not sure" in ENGLISH.sentence(why(finding("crooked", sure=False), 3))
    accepted = ENGLISH.sentence(why(finding("crooked", sure=False), 3, accepted=True))
    assert "accepted" in accepted and "not sure" not in accepted, "the teacher has the last word"
    assert "signs of tension are many" in ENGLISH.sentence(why(finding("signs of tension", value=4.0), 0))


def test_other_words_are_kept_and_taken_back(swinging):
    studio, take, stored = swinging
    studio.review.reword(stored.findings[0], " The bow looks at the ear. ")
    assert sentence_of(studio.analysis(take).findings[0], ENGLISH) == "The bow looks at the ear."
    studio.undo.undo()
    assert sentence_of(studio.analysis(take).findings[0], ENGLISH) == ENGLISH.sentence(stored.findings[0].finding.message)
    studio.undo.redo()
    assert studio.analysis(take).findings[0].wording == "The bow looks at the ear."


def test_a_remark_is_tied_to_its_moment(swinging):
    studio, take, _ = swinging
    assert studio.review.remark(take.id, 1.4, "  ") is None
    studio.review.remark(take.id, 3.0, "Later")
    kept = studio.review.remark(take.id, 1.4, "Left shoulder")
    assert [r.text for r in studio.store.words.remarks(take.id)] == ["Left shoulder", "Later"]
    studio.review.take_back(kept)
    assert [r.text for r in studio.store.words.remarks(take.id)] == ["Later"]
    studio.undo.undo()
    studio.undo.undo()
    assert [r.text for r in studio.store.words.remarks(take.id)] == ["Later"]
    studio.delete_take(take.id)
    assert studio.store.words.remarks(take.id) == []


def test_two_windows_on_one_studio_lose_nothing(swinging):
    """The second is told, and what the first said stays."""
    studio, take, stored = swinging
    other = Studio(studio.folder)
    seen = other.analysis(take)
    studio.review.judge(stored.findings[0], "accepted")
    with pytest.raises(StudioError, match="accepted meanwhile, in another window"):
        other.review.judge(seen.findings[0], "dismissed")
    assert other.analysis(take).findings[0].verdict == "accepted"
    other.review.judge(other.analysis(take).findings[0], "dismissed")
    assert studio.analysis(take).findings[0].verdict == "dismissed"
    studio.review.reword(studio.analysis(take).findings[1], "Mine")
    with pytest.raises(StudioError, match="put in other words meanwhile"):
        other.review.reword(seen.findings[1], "Theirs")
    assert studio.analysis(take).findings[1].wording == "Mine"
    other.close()


def test_what_is_dismissed_for_good_stays_dismissed_until_it_grows(swinging):
    studio, take, stored = swinging
    judged = stored.findings[0]
    offer = studio.review.dismiss_for_good(stored, judged, take.student_id, "a habit of hers")
    assert "move the limit" in offer and studio.analysis(take).findings[0].verdict == "dismissed"
    again = studio.review.remembered(take.student_id, stored.profile, [judged.finding])
    assert again[0].verdict == "dismissed" and again[0].reason == "a habit of hers"
    worse = replace(judged.finding, value=3 * judged.finding.value)
    assert studio.review.remembered(take.student_id, stored.profile, [worse])[0].verdict == "open"
    assert studio.review.remembered(take.student_id, "Russian", [judged.finding])[0].verdict == "open", "another profile"
    studio.undo.undo()
    assert studio.review.remembered(take.student_id, stored.profile, [judged.finding])[0].verdict == "open"
    assert studio.analysis(take).findings[0].verdict == "open"


def test_another_assignment_is_judged_at_once_and_words_stay(swinging):
    studio, take, stored = swinging
    studio.review.judge(stored.findings[0], "accepted")
    assert "short bows" not in {f.finding.kind for f in studio.analysis(take).findings}
    studio.assign(take.id, "exercise: Whole bows\nD A: 3 whole")
    kinds = {f.finding.kind: f for f in studio.analysis(take).findings}
    assert "short bows" in kinds and kinds["short bows"].finding.value == pytest.approx(69, abs=2)
    assert kinds["crooked"].verdict == "accepted"
    studio.review.judge(kinds["short bows"], "accepted")
    studio.undo.undo()
    studio.undo.undo()
    assert "short bows" not in {f.finding.kind for f in studio.analysis(take).findings}
    studio.undo.undo()
    assert studio.analysis(take).findings == stored.findings, "taken back to the last word, under the same ids"
    studio.undo.redo()
    assert studio.analysis(take).findings[0].verdict == "accepted"


def test_an_order_of_work_is_checked_and_used(swinging):
    studio = swinging[0]
    path = studio.shelf.copy("Starter, thumb outside", "Tone first")
    data = json.loads(path.read_text()) | {"order_of_work": ["tone", *[g for g in GROUPS if g != "tone"]]}
    path.write_text(json.dumps(data))
    assert studio.shelf.get("Tone first").order_of_work[0] == "tone"
    path.write_text(json.dumps(data | {"order_of_work": ["tone", "dancing"]}))
    studio.shelf.all()
    assert "order of work" in studio.shelf.faults[0]


def test_another_profile_is_judged_at_once(swinging):
    studio, take, _ = swinging
    strict = studio.shelf.copy("Starter, thumb outside", "Wide limits")
    strict.write_text(strict.read_text().replace('"value": 6.0', '"value": 30.0', 1))
    studio.schools.use(take.student_id, "Wide limits")
    assert "crooked" not in {f.finding.kind for f in studio.analysis(take).findings}
    studio.undo.undo()
    assert "crooked" in {f.finding.kind for f in studio.analysis(take).findings}


@pytest.mark.accuracy
def test_each_scripted_fault_is_found_and_nothing_on_clean_strokes(measured):
    """What the players were told to do: swing (a1, crooked), drift to the fingerboard (crooked), shaking and bouncing (tense), short
    bows away from the frog (b1)."""

    def sure(stem: str) -> set[str]:
        a = measured(stem)
        return {f.kind for f in judge(a.series, a.strokes, a.body, a.tone, a.fit.spec, a.profile) if f.sure}

    for clean in ("dev-straight", "dev-stickers", "demo-a3", "demo-b2", "dev-cello"):
        assert sure(clean) == set(), clean
    assert "crooked" in sure("dev-crooked")
    # seen along the strings its contact point is known to 3 mm only: said, but not as sure
    lane = next(f for f in measured("dev-crooked").findings if f.kind == "out of the lane")
    assert lane.value - lane.limit < 2 * lane.sd
    assert "crooked" in sure("demo-a1")
    assert "signs of tension" in sure("dev-tense")
    assert "avoids the frog" in sure("demo-b1")
