"""The four open strings by ear's helper: named, in cents, with what to turn, against tones of known pitch."""

from __future__ import annotations

import numpy as np
import pytest

from dolcezza.core.base.errors import MediaError
from dolcezza.core.base.job import finish
from dolcezza.core.practice.ready import ready_list
from dolcezza.core.sound.open_strings import Turn, strings_heard
from dolcezza.core.sound.pitch import RATE_HZ, track_pitch
from dolcezza.services.tuning import listen

# A4 = 440 Hz (ISO 16:1975), pure fifths of 3/2 between neighbouring strings
VIOLIN = {"G": 440 / 1.5**2, "D": 440 / 1.5, "A": 440.0, "E": 440 * 1.5}
CELLO = {"C": 220 / 1.5**3, "G": 220 / 1.5**2, "D": 220 / 1.5, "A": 220.0}


def tones(*pitches_hz: float, seconds: float = 1.2, gap: float = 0.3) -> np.ndarray:
    """Tones with five harmonics, one after the other."""
    t = np.arange(round(seconds * RATE_HZ)) / RATE_HZ
    ramp = np.minimum(1.0, np.minimum(t, t[::-1]) / 0.05)
    parts = []
    for hz in pitches_hz:
        parts += [0.2 * ramp * sum(np.sin(2 * np.pi * n * hz * t) / n for n in range(1, 6)), np.zeros(round(gap * RATE_HZ))]
    return np.concatenate(parts)


def heard(samples, family="violin", lowest=150.0):
    return strings_heard(track_pitch(samples, start_s=0.0, lowest_hz=lowest, highest_hz=2400.0), family)


def test_four_strings_in_tune():
    """Equal-tempered open strings differ from pure fifths by two cents each: nobody turns a peg for that."""
    found = heard(tones(*VIOLIN.values()))
    assert [s.place for s in found] == [0, 1, 2, 3] and {s.turn for s in found} == {Turn.NOTHING}
    assert [s.hz for s in found] == pytest.approx(list(VIOLIN.values()), rel=2e-3)


@pytest.mark.parametrize(
    ("cents", "turn"), [(-30, Turn.TIGHTEN), (25, Turn.LOOSEN), (-180, Turn.PEG_UP), (150, Turn.PEG_DOWN), (3, Turn.NOTHING)]
)
def test_how_far_a_string_is_off_and_what_to_turn(cents, turn):
    """A semitone is a hundred cents; the fine tuner reaches about half of one (common practice, no source)."""
    found = heard(tones(VIOLIN["G"], VIOLIN["D"], 440.0 * 2 ** (cents / 1200)))
    (a,) = [s for s in found if s.place == 2]
    assert a.cents == pytest.approx(cents, abs=2.5) and a.turn is turn and a.sd < 5


def test_a_cello_and_any_order():
    found = heard(tones(*reversed(CELLO.values())), "cello", 48.0)
    assert [s.place for s in found] == [0, 1, 2, 3]
    assert [s.hz for s in found] == pytest.approx(list(CELLO.values()), rel=2e-3)


def test_short_notes_and_noise_are_no_strings():
    assert heard(tones(VIOLIN["D"], seconds=0.15)) == []
    assert heard(0.1 * np.random.default_rng(2).normal(size=3 * RATE_HZ)) == []


def test_a_recording_is_listened_to_and_a_silent_one_says_what_to_do(tmp_path):
    import wave

    def write(name, samples):
        with wave.open(str(tmp_path / name), "wb") as out:
            out.setnchannels(1)
            out.setsampwidth(2)
            out.setframerate(RATE_HZ)
            out.writeframes((32767 * samples).astype(np.int16).tobytes())
        return tmp_path / name

    found = finish(listen(write("strings.wav", tones(*VIOLIN.values())), "violin"))
    assert [s.place for s in found] == [0, 1, 2, 3]
    with pytest.raises(MediaError, match="No open string is held"):
        finish(listen(write("quiet.wav", np.zeros(RATE_HZ)), "violin"))
    with pytest.raises(MediaError):
        finish(listen(tmp_path / "nothing.wav", "violin"))


def test_what_is_made_ready_is_the_instruments():
    violin, cello = ready_list("violin"), ready_list("cello")
    assert "chair" in cello and "chair" not in violin and "feet" in violin and list(violin)[-1] == "loosen"
    assert ready_list("viola") == violin
