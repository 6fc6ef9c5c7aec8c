"""What the sound tells, in the trade's words: the same sentences on every screen and sheet."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

import numpy as np

from dolcezza.core.base.message import Message
from dolcezza.core.strokes.figures import Stroke
from dolcezza.core.tone.limits import room
from dolcezza.core.tone.report import ToneReport
from dolcezza.core.tone.signs import Start, Weight
from dolcezza.reports.language import Language

NARROWER = 0.9
"""From this ratio on a narrower room between too light and too heavy is worth saying."""
NOTE_NAMES = ("C", "C♯", "D", "E♭", "E", "F", "F♯", "G", "G♯", "A", "B♭", "B")


def note_name(midi: int) -> str:
    """Name of a note with its octave: A4 = 69."""
    return f"{NOTE_NAMES[midi % 12]}{midi // 12 - 1}"


def sound_lines(tone: ToneReport, strokes: Sequence[Stroke], words: Language) -> list[str]:
    """The sound of a take in a few sentences."""
    out: list[Message] = []
    if tone.counts:
        out.append(Message("sound.strokes", {"counts": _counted(tone.counts)}))
        out.append(Message("sound.starts", {"counts": _counted(tone.starts)}))
    wobble = [s.wobble_db for s in strokes if math.isfinite(s.wobble_db)]
    if wobble:
        out.append(Message("sound.wobble", {"db": float(np.median(wobble))}))
    betas = [s.beta for s in strokes if math.isfinite(s.beta)]
    near, far = (float(np.percentile(betas, q)) for q in (10, 90)) if betas else (1.0, 1.0)
    if room(near, far) < NARROWER:
        out.append(Message("sound.room", {"near": 100 * near, "far": 100 * far, "room": room(near, far)}))
    if tone.tuning is not None:
        out.append(Message("sound.tuning", {"cents": float(tone.tuning.offset_cents), "sd": float(tone.tuning.sd_cents)}))
    if tone.offset is not None:
        out.append(Message("sound.late", {"ms": 1000 * tone.offset.late_s, "sd": 1000 * tone.offset.sd_s}))
    return [words.sentence(m) for m in (*out, *tone.notes)]


def _counted(counts: Mapping[str, int]) -> tuple[Message, ...]:
    return tuple(Message("counted", {"count": n, "what": Message(f"tone of a stroke.{name}")}) for name, n in counts.items())


def worth_hearing(tone: ToneReport, strokes: Sequence[Stroke], words: Language) -> list[tuple[str, str, float]]:
    """What to listen to: title, line, moment (s)."""
    own = {s.number: s for s in strokes}
    out = []
    for t in tone.strokes:
        s = own.get(t.stroke)
        if s is None:
            continue
        if t.weight in (Weight.CRUSHED, Weight.AIRY, Weight.NOISY):
            title = words.sentence(Message(f"hear.{t.weight}", {"stroke": s.number}))
            out.append((title, "; ".join(words.sentence(m) for m in t.reasons), 0.5 * (s.start_s + s.end_s)))
        if t.start in (Start.SLOW, Start.SCRATCHED):
            rise = f"{1000 * s.rise_s:.0f} ms" if math.isfinite(s.rise_s) else ""
            title = words.sentence(Message(f"hear.{t.start} start", {"stroke": s.number}))
            out.append((title, ", ".join(w for w in (words.word(f"meant.{t.start}"), rise) if w), s.start_s))
    for b in tone.between:
        first, second = (note_name(m) for m in b.midi[:2])
        out.append((words.sentence(Message("hear.between", {"first": first, "second": second})), words.word("meant.between"), b.t_s))
    return out
