"""What the sound tells, in the trade's words: the same sentences on every screen and sheet."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from dolcezza.core.strokes.figures import Stroke
from dolcezza.core.tone.limits import room
from dolcezza.core.tone.report import ToneReport
from dolcezza.core.tone.signs import Start, Weight

MEANT = {
    Weight.CRUSHED: "too much weight for the speed: faster or lighter",
    Weight.AIRY: "too much speed for the weight: add weight or slow down",
    Weight.NOISY: "noisy, and the bow does not say why: listen",
}
STARTED = {
    Start.SLOW: "the tone rises slowly: a little weight first, then release",
    Start.SCRATCHED: "it starts with noise: less weight, or set off sooner",
}
NARROWER = 0.9
"""From this ratio on a narrower room between too light and too heavy is worth saying."""
NOTE_NAMES = ("C", "C♯", "D", "E♭", "E", "F", "F♯", "G", "G♯", "A", "B♭", "B")


def note_name(midi: int) -> str:
    """Name of a note with its octave: A4 = 69."""
    return f"{NOTE_NAMES[midi % 12]}{midi // 12 - 1}"


def sound_lines(tone: ToneReport, strokes: Sequence[Stroke]) -> list[str]:
    """The sound of a take in a few sentences."""
    out = []
    if tone.counts:
        out.append(f"Strokes: {', '.join(f'{n} {name}' for name, n in tone.counts.items())}.")
        out.append(f"Starts: {', '.join(f'{n} {name}' for name, n in tone.starts.items())}.")
    wobble = [s.wobble_db for s in strokes if math.isfinite(s.wobble_db)]
    if wobble:
        out.append(f"Loudness trembles by {np.median(wobble):.1f} dB, 3 to 12 times a second (median of the strokes).")
    betas = [s.beta for s in strokes if math.isfinite(s.beta)]
    near, far = (float(np.percentile(betas, q)) for q in (10, 90)) if betas else (1.0, 1.0)
    if room(near, far) < NARROWER:
        out.append(
            f"The bow met the string at {100 * near:.0f} to {100 * far:.0f} % of its sounding length: at the nearer end the room between "
            f"too light and too heavy is only {room(near, far):.1f} times as wide."
        )
    if tone.tuning is not None:
        out.append(f"Open strings {tone.tuning.offset_cents:+.0f} ± {tone.tuning.sd_cents:.0f} cents from A = 440 Hz.".replace("-", "−"))
    if tone.offset is not None:
        late = 1000 * tone.offset.late_s
        out.append(f"Sound against picture: {late:+.0f} ± {1000 * tone.offset.sd_s:.0f} ms.".replace("-", "−"))
    return [*out, *tone.notes]


def worth_hearing(tone: ToneReport, strokes: Sequence[Stroke]) -> list[tuple[str, str, float]]:
    """What to listen to: title, line, moment (s)."""
    own = {s.number: s for s in strokes}
    out = []
    for t in tone.strokes:
        s = own.get(t.stroke)
        if s is None:
            continue
        if t.weight in MEANT:
            out.append((f"Stroke {s.number}: {t.weight}, {MEANT[t.weight]}", "; ".join(t.reasons), 0.5 * (s.start_s + s.end_s)))
        if t.start in STARTED:
            rise = f"{1000 * s.rise_s:.0f} ms" if math.isfinite(s.rise_s) else ""
            out.append((f"Stroke {s.number}: {t.start} start", ", ".join(w for w in (STARTED[t.start], rise) if w), s.start_s))
    for b in tone.between:
        names = " and ".join(note_name(m) for m in b.midi)
        out.append((f"Noise between {names} while the bow is steady", "look at the left hand, not at the bow", b.t_s))
    return out
