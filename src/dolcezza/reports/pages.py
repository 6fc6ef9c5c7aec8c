"""Paper and open formats: the student's sheet, the teacher's report of a take, its annotations as WebVTT."""

from __future__ import annotations

import base64
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from functools import cache
from typing import TYPE_CHECKING

import cv2
import numpy as np

from dolcezza.core.assignment.use import bow_use
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.base.message import Message
from dolcezza.core.base.units import clock
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.core.media.video import FrameStore
from dolcezza.core.pipeline.context import MOST_SIDE_PX
from dolcezza.core.practice.drills import READERS, Correction, Drill
from dolcezza.core.practice.plan import PracticePlan
from dolcezza.reports.drawn import draw_bow
from dolcezza.reports.drill_pictures import drill_address
from dolcezza.reports.faces import Others, hide_faces, kept_heads
from dolcezza.reports.findings import notes_of, sentence_of
from dolcezza.reports.language import Language, language
from dolcezza.reports.practice import cautions, correction_in, dose, drill_in, slot_name
from dolcezza.reports.sound import sound_lines
from dolcezza.storage.records import JudgedFinding, Remark, StoredAnalysis, Student, Take, Verdict

if TYPE_CHECKING:
    from jinja2 import Environment

PICTURE_PX = 900
PAPER_PX = 480


@dataclass(frozen=True)
class Still:
    """A picture for paper: JPEG bytes and what it shows."""

    jpeg: bytes
    words: str

    @property
    def url(self) -> str:
        """As a data address, so that a page is one file."""
        return "data:image/jpeg;base64," + base64.b64encode(self.jpeg).decode()


@cache
def _pages() -> Environment:
    import jinja2  # only where a page is written

    loader = jinja2.PackageLoader("dolcezza.reports")
    return jinja2.Environment(loader=loader, autoescape=True, trim_blocks=True, undefined=jinja2.StrictUndefined)


def around_the_bow(ends_px: tuple[float, float], width: int, wanted: float) -> tuple[int, int]:
    """Left and right side (px) of a cut ``wanted`` px wide out of a picture of ``width`` px, with a bow between ``ends_px`` in its middle
    and whole; the whole picture where it is not known where the bow is."""
    if not np.isfinite(ends_px).all():
        return 0, width
    low, high = min(ends_px) - BESIDE_SHARE * width, max(ends_px) + BESIDE_SHARE * width
    own = min(float(width), max(wanted, high - low))
    left = float(np.clip(0.5 * (low + high) - 0.5 * own, 0.0, width - own))
    return round(left), round(left + own)


BESIDE_SHARE = 0.03
"""So much of the picture's width is left beside the bow."""


def moments(seconds: Sequence[float]) -> str:
    """A few moments as the player shows them."""
    return ", ".join(clock(s) for s in seconds[:6]) + (" …" if len(seconds) > 6 else "")


def still_of(
    take: Take, stored: StoredAnalysis, t_s: float, words: Language | None = None, *, faces: bool = False, others: Others | None = None,
    shape: float | None = None,
) -> Still | None:  # fmt: skip
    """The frame at a moment with the bow and the straight line drawn; None where the video cannot be read any more. Faces are hidden
    unless they are asked for (``faces``: for the screen, not for paper); ``others`` finds those of other people in the picture.
    ``shape``: width over height that is wanted, as far as the whole bow stays in the picture; the whole frame if none is."""
    try:
        store = FrameStore(take.path)
        try:
            frame = store.at(t_s)
        finally:
            store.close()
    except (DolcezzaError, OSError):
        return None
    image = cv2.cvtColor(np.ascontiguousarray(frame.image), cv2.COLOR_RGB2BGR)
    k = int(np.argmin(np.abs(stored.series.t - t_s)))
    s = stored.series

    def at(name: str) -> tuple[float, float]:
        return float(s[f"{name}_x_px"][k]), float(s[f"{name}_y_px"][k])

    if not faces:
        told, wide = stored.summary.get("fit", {}), image.shape[1]
        flip = (told.get("handed") == "left") != bool(told.get("mirrored"))
        reduced = min(1.0, MOST_SIDE_PX / max(image.shape[:2]))
        heads = kept_heads(stored.folder, t_s, width=wide, flip=flip, reduced=reduced)
        more = others(np.ascontiguousarray(frame.image)) if others is not None else []
        image = np.ascontiguousarray(hide_faces(image, heads, [at("frog"), at("head")], more))
    draw_bow(image, s, k)
    if shape is not None:
        image = image[:, slice(*around_the_bow((at("frog")[0], at("head")[0]), image.shape[1], shape * image.shape[0]))]
    wide = min(1.0, PICTURE_PX / image.shape[1])
    image = cv2.resize(image, None, fx=wide, fy=wide, interpolation=cv2.INTER_AREA)
    done, data = cv2.imencode(".jpg", image, [cv2.IMWRITE_JPEG_QUALITY, 85])
    words = words or language("en")
    shown = Message("paper.still", {"clock": clock(t_s), "angle": words.show("bow_angle", float(s["bow_angle_deg"][k]))})
    return Still(data.tobytes(), words.sentence(shown)) if done else None


def student_sheet(
    student: Student, correction: Correction | None, drills: Sequence[Drill], *, day: date, plan: PracticePlan | None = None,
    still: Still | None = None, reader: str = "child", picture: str | None = None, words: Language | None = None,
) -> str:  # fmt: skip
    """One page for the student: one thing, a picture, drills with doses, boxes to tick. ``picture``: another address for the still."""
    days = [d for d in plan.days if d.day >= day][:14] if plan is not None else []
    words = words or language("en")
    names = list(dict.fromkeys(slot_name(s, words) for d in days for s in d.slots))
    rows = [{"words": n, "days": [any(slot_name(s, words) == n for s in d.slots) for d in days]} for n in names]
    thumbs = any(d.thumb for d in drills)
    return _pages().get_template("sheet.html.j2").render(
        title=words.sentence(Message("paper.sheet", {"name": student.name})), student=student, day=words.day(day),
        next_lesson=words.day(days[-1].day, "%d %B") if days else "",
        correction=correction_in(correction, words) if correction is not None else None,
        drills=[drill_in(d, words) for d in drills], picture_of=drill_address, dose=dose, say=words.word, words=words,
        reader=reader if reader in READERS else "child", days=days, rows=rows, picture=picture or (still.url if still is not None else ""),
        picture_width=PAPER_PX, picture_words=still.words if still is not None else "", cautions=cautions(words, thumb=thumbs),
    )  # fmt: skip


def tick_list(title: str, parts: Mapping[str, Sequence[str]], *, words: Language) -> str:
    """A page of lines to tick by hand, under the heading of each part."""
    template = _pages().get_template("ticks.html.j2")
    return template.render(title=title, parts=parts, words=words, cautions=[words.word("caution.pain")])


def take_report(
    student: Student, take: Take, stored: StoredAnalysis, spec: InstrumentSpec, *, remarks: Sequence[Remark] = (),
    still: Still | None = None, picture: str | None = None, words: Language | None = None,
) -> str:  # fmt: skip
    """The teacher's report of a take: all findings with evidence, all strokes with ±, arm, bow use, sound, method."""
    use = bow_use(stored.series, stored.strokes, hair_mm=spec.hair_length)["all"]
    words = words or language("en")
    told = [(words.word(f"use.{k}"), _use_words(f.value, f.sd, f.unit, words)) for k, f in use.figures.items()]
    return _pages().get_template("report.html.j2").render(
        title=f"{take.title}, {student.name}", student=student, take=take, stored=stored, instrument=spec.name, findings=stored.findings,
        remarks=remarks, use=told, number=words.number,
        sound=sound_lines(stored.tone, stored.strokes, words) if stored.tone is not None else [],
        moments=moments, picture=picture or (still.url if still is not None else ""), picture_width=PAPER_PX,
        picture_words=still.words if still is not None else "", cautions=cautions(words), say=words.word, words=words,
        sentence_of=sentence_of, notes=notes_of(stored.summary, words),
        made=words.sentence(Message("paper.made", {"version": stored.version, "at": stored.made_at})),
        heading=words.sentence(Message("paper.heading", {
            "name": student.name, "day": take.played_on, "instrument": spec.name, "profile": stored.profile, "n": len(stored.strokes)})),
    )  # fmt: skip


def _use_words(value: float, sd: float, unit: str, words: Language) -> str:
    if unit.startswith("share"):
        return f"{words.number(100 * value)} ± {words.number(100 * sd, 1)} %{unit.removeprefix('share')}"
    return f"{words.number(value, 2)} ± {words.number(sd, 2)} {unit}".strip()


def standing(findings: Sequence[JudgedFinding]) -> list[JudgedFinding]:
    """The findings that stand: open ones and those that the teacher has accepted."""
    return [f for f in findings if f.verdict is not Verdict.DISMISSED]


def worst_moment(findings: Sequence[JudgedFinding]) -> float | None:
    """The first moment of the first finding that is not dismissed."""
    first = next((f.finding for f in standing(findings) if f.finding.evidence_s), None)
    return first.evidence_s[0] if first is not None else None


def to_webvtt(stored: StoredAnalysis, remarks: Sequence[Remark] = (), words: Language | None = None) -> str:
    """Strokes, findings and remarks as WebVTT cues, for any player that shows subtitles."""
    words = words or language("en")
    cues = [
        (s.start_s, s.end_s, f"{s.number} {words.word(f'{s.direction}-bow')} {s.string}, {words.show('bow_angle', s.bow_angle_deg)}")
        for s in stored.strokes
    ]
    cues += [(t, t + 1.0, sentence_of(f, words)) for f in standing(stored.findings) for t in f.finding.evidence_s]
    cues += [(r.t_s, r.t_s + 2.0, r.text) for r in remarks]
    lines = ["WEBVTT", ""]
    for start, end, text in sorted(cues):
        lines += [f"{_stamp(start)} --> {_stamp(max(end, start + 0.1))}", text.replace("-->", "->").replace("\n", " "), ""]
    return "\n".join(lines)


def _stamp(seconds: float) -> str:
    whole = round(1000 * max(0.0, seconds))
    return f"{whole // 3_600_000:02d}:{whole // 60_000 % 60:02d}:{whole // 1000 % 60:02d}.{whole % 1000:03d}"


def moment_at(stored: StoredAnalysis, string: str, place: float, *, down: bool = True) -> float | None:
    """A moment of a stroke on ``string`` at a place on the bow (0..1), nearest to it; None where no stroke goes there."""
    best: tuple[float, float] | None = None
    for stroke in stored.strokes:
        if stroke.string != string or stroke.down != down:
            continue
        at = np.flatnonzero((stored.series.t >= stroke.start_s) & (stored.series.t <= stroke.end_s))
        off = np.abs(stored.series["bow_position"][at] - place)
        if len(at) and np.isfinite(off).any():
            k = int(np.nanargmin(off))
            if best is None or off[k] < best[0]:
                best = (float(off[k]), float(stored.series.t[at[k]]))
    return best[1] if best is not None and best[0] < 0.1 else None


def common_place(measured: Sequence[StoredAnalysis], string: str, place: float) -> float | None:
    """The place on the bow nearest to ``place`` that a down-bow on ``string`` reaches in every take; None where there is none."""
    ends = []
    for stored in measured:
        own = [sorted((s.from_position, s.to_position)) for s in stored.strokes if s.string == string and s.down]
        if not own:
            return None
        ends.append((min(a for a, _ in own), max(b for _, b in own)))
    low, high = max(a for a, _ in ends), min(b for _, b in ends)
    return float(np.clip(place, low, high)) if low <= high else None
