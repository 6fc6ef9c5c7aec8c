"""Render the test notes in tests/takes/sounds:  python tools/sound_samples.py SOUNDFONT.sf2 [FOLDER].

Needs Debian's fluidsynth and fluid-soundfont-gm (MIT licence). Violin, viola and cello of General MIDI (programs 40 to 42) play
their open strings from the bass side, then four stopped notes on the highest string; each note is 0.9 s long and begins every
1.1 s from 0.3 s on. The files are FLAC at 16 kHz; their notes are in notes.json beside them.
"""

from __future__ import annotations

import json
import struct
import subprocess
import sys
import tempfile
from pathlib import Path

import av
import numpy as np

RATE_HZ = 16_000
TICKS_A_SECOND = 1000
FIRST_S, EVERY_S, LONG_S = 0.3, 1.1, 0.9
OPEN = {"violin": (40, (55, 62, 69, 76)), "viola": (41, (48, 55, 62, 69)), "cello": (42, (36, 43, 50, 57))}
STOPPED = (2, 4, 5, 7)


def variable(value: int) -> bytes:
    """A number as a MIDI file writes it."""
    out = [value & 0x7F]
    while value := value >> 7:
        out.append((value & 0x7F) | 0x80)
    return bytes(reversed(out))


def midi(program: int, notes: list[int]) -> bytes:
    """A MIDI file, one tick a millisecond, with ``notes`` one after the other."""
    events = b"\x00" + bytes([0xC0, program])
    at = 0
    for k, note in enumerate(notes):
        on = round((FIRST_S + k * EVERY_S) * TICKS_A_SECOND)
        events += variable(on - at) + bytes([0x90, note, 90])
        at = on + round(LONG_S * TICKS_A_SECOND)
        events += variable(at - on) + bytes([0x80, note, 0])
    events += variable(300) + b"\xff\x2f\x00"
    track = b"\x00\xff\x51\x03" + (1_000_000).to_bytes(3, "big") + events
    return b"MThd" + struct.pack(">IHHH", 6, 0, 1, TICKS_A_SECOND) + b"MTrk" + struct.pack(">I", len(track)) + track


def write_flac(path: Path, samples: np.ndarray) -> None:
    """Mono 16-bit FLAC."""
    with av.open(str(path), "w") as container:
        stream = container.add_stream("flac", rate=RATE_HZ, layout="mono")
        frame = av.AudioFrame.from_ndarray((32000 * samples[None]).astype(np.int16), format="s16", layout="mono")
        frame.sample_rate = RATE_HZ
        for packet in [*stream.encode(frame), *stream.encode(None)]:
            container.mux(packet)


def main() -> None:
    """All three instruments."""
    font, folder = sys.argv[1], Path(sys.argv[2] if len(sys.argv) > 2 else "tests/takes/sounds")
    folder.mkdir(parents=True, exist_ok=True)
    told = {}
    for name, (program, strings) in OPEN.items():
        notes = [*strings, *(strings[-1] + n for n in STOPPED)]
        with tempfile.TemporaryDirectory() as temporary:
            score, wave = Path(temporary) / "notes.mid", Path(temporary) / "notes.raw"
            score.write_bytes(midi(program, notes))
            command = ["fluidsynth", "-ni", "-R", "0", "-C", "0", "-g", "1.2", "-r", str(RATE_HZ), "-O", "s16", "-T", "raw"]
            subprocess.run([*command, "-F", str(wave), font, str(score)], check=True, capture_output=True)
            stereo = np.frombuffer(wave.read_bytes(), "<i2").reshape(-1, 2).astype(float)
        mono = stereo.mean(axis=1)
        write_flac(folder / f"{name}.flac", 0.8 * mono / np.abs(mono).max())
        told[name] = [{"midi": n, "start_s": round(FIRST_S + k * EVERY_S, 3), "seconds": LONG_S} for k, n in enumerate(notes)]
    origin = "Rendered by tools/sound_samples.py with fluidsynth from Debian's fluid-soundfont-gm (MIT licence)."
    (folder / "notes.json").write_text(json.dumps({"origin": origin, "notes": told}, indent=1) + "\n")


if __name__ == "__main__":
    main()
