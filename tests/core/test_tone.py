"""The sound against outside references: Boersma's ratio as the phonetics library computes it, onsets and pitches by the scores of
music information retrieval, notes of a General MIDI sound font (tests/takes/sounds, origin in its notes.json)."""

from __future__ import annotations

import json
from dataclasses import replace

import mir_eval
import numpy as np
import parselmouth
import pytest

from conftest import TRUTH
from dolcezza.core.media.audio import read_sound
from dolcezza.core.sound.heard import heard_columns, others_sound, overloaded, silent
from dolcezza.core.sound.level import loudness
from dolcezza.core.sound.notes import find_notes, moved_target, semitones_up
from dolcezza.core.sound.onset import attack, onsets
from dolcezza.core.sound.pitch import RATE_HZ, track_pitch
from dolcezza.core.sound.strings import open_pitches
from dolcezza.core.sound.tone import track_tone
from dolcezza.core.sound.tuning import believed_cents, find_tuning

SOUNDS = TRUTH / "sounds"
NOTES = json.loads((SOUNDS / "notes.json").read_text())["notes"]


def bowed(hz, seconds: float = 1.0, *, noise: float = 0.0, upto: int = 60) -> np.ndarray:
    """A sawtooth (Helmholtz motion) of its partials; ``hz`` a number or one for every sample."""
    n = int(seconds * RATE_HZ)
    phase = 2 * np.pi * np.cumsum(np.broadcast_to(hz, n)) / RATE_HZ
    top = min(upto, int(0.45 * RATE_HZ / np.max(hz)))
    return sum(np.sin(k * phase) / k for k in range(1, top + 1)) + noise * np.random.default_rng(0).normal(size=n)


def heard(samples, family="violin", start_s=0.0):
    lowest = 0.9 * float(open_pitches(family)[0])
    pitch = track_pitch(samples, start_s=start_s, lowest_hz=lowest, highest_hz=22 * lowest)
    tone = track_tone(samples, pitch, start_s=start_s, lowest_hz=lowest, rate_hz=RATE_HZ)
    return replace(pitch, hz=np.where(np.isfinite(tone.hz), tone.hz, pitch.hz)), tone


@pytest.fixture(scope="module")
def played():
    """Samples, pitch and tone of each sampled instrument."""
    out = {}
    for name in NOTES:
        samples, start = read_sound(SOUNDS / f"{name}.flac", rate_hz=RATE_HZ)
        out[name] = (samples, *heard(samples, name, start))
    return out


@pytest.mark.parametrize("name", list(NOTES))
def test_harmonics_to_noise_is_what_the_phonetics_library_says(played, name):
    """Reference: Boersma 1993 as implemented in the registry's praat-parselmouth (autocorrelation, six periods a window)."""
    samples, _, tone = played[name]
    lowest = 0.9 * float(open_pitches(name)[0])
    theirs = parselmouth.Sound(samples.astype(float), RATE_HZ).to_harmonicity_ac(0.01, lowest, 0.03, 6.0)
    for note in NOTES[name]:
        a, b = note["start_s"] + 0.2, note["start_s"] + 0.8
        own = np.nanmedian(tone.hnr_db[(tone.t_s > a) & (tone.t_s < b)])
        ref = theirs.values[0][(theirs.xs() > a) & (theirs.xs() < b) & (theirs.values[0] > -100)]
        assert own == pytest.approx(float(np.median(ref)), abs=1.0), note


@pytest.mark.parametrize("ratio_db", [5.0, 10.0, 20.0])
def test_noise_that_is_mixed_in_is_found_again(ratio_db):
    tone = bowed(293.66)
    white = np.random.default_rng(1).normal(size=len(tone))
    mixed = tone + white * np.sqrt((tone**2).mean() / (white**2).mean() / 10 ** (ratio_db / 10))
    assert np.nanmedian(heard(mixed)[1].hnr_db) == pytest.approx(ratio_db, abs=1.0)


@pytest.mark.parametrize("name", list(NOTES))
def test_onsets_of_sampled_notes(played, name):
    """mir_eval's onset score, 50 ms."""
    reference = np.array([n["start_s"] for n in NOTES[name]])
    f, precision, recall = mir_eval.onset.f_measure(reference, onsets(played[name][0], start_s=0.0, rate_hz=RATE_HZ), window=0.05)
    assert f > 0.95 and precision > 0.9 and recall > 0.9


@pytest.mark.parametrize("name", list(NOTES))
def test_pitches_and_notes_of_sampled_instruments(played, name):
    """mir_eval's melody score (50 cents) and its score of notes (pitch and onset)."""
    _, pitch, _ = played[name]
    truth = np.zeros(len(pitch.t_s))
    inside = np.zeros(len(pitch.t_s), bool)
    for n in NOTES[name]:
        at = (pitch.t_s > n["start_s"] + 0.1) & (pitch.t_s < n["start_s"] + n["seconds"] - 0.1)
        truth[at], inside = 440 * 2 ** ((n["midi"] - 69) / 12), inside | at
    score = mir_eval.melody.evaluate(pitch.t_s[inside], truth[inside], pitch.t_s[inside], np.nan_to_num(pitch.hz[inside]))
    assert score["Raw Pitch Accuracy"] > 0.95
    found = find_notes(pitch)
    spans = np.array([(n["start_s"], n["start_s"] + n["seconds"]) for n in NOTES[name]])
    hz = np.array([440 * 2 ** ((n["midi"] - 69) / 12) for n in NOTES[name]])
    p, r, _, _ = mir_eval.transcription.precision_recall_f1_overlap(
        spans, hz, np.array([(n.start_s, n.end_s) for n in found]), np.array([n.hz for n in found]), onset_tolerance=0.1, offset_ratio=None
    )  # fmt: skip
    assert r > 0.85 and p > 0.6, "vibrato of the samples may split a note, none may be missed"
    assert {n.midi for n in found} == {n["midi"] for n in NOTES[name]}


@pytest.mark.parametrize("hz", [65.406, 196.0, 440.0, 659.255, 1046.5])
def test_the_finer_pitch_is_good_to_a_tenth_of_a_cent(hz):
    family = "cello" if hz < 100 else "violin"
    _, tone = heard(bowed(hz), family)
    assert abs(1200 * np.log2(np.nanmedian(tone.hz) / hz)) < 0.1


def test_a_split_tone_a_thin_tone_and_a_hissing_tone():
    clear = heard(bowed(440.0))[1]
    assert np.nanmedian(clear.split) < 0.01
    # every other period is weaker: multiple slips
    doubled = bowed(440.0) * (1 + 0.15 * np.sign(np.sin(np.pi * 440.0 * np.arange(RATE_HZ) / RATE_HZ)))
    assert np.nanmedian(heard(doubled)[1].split) > 0.03
    pitch, tone = heard(bowed(220.0))
    t = np.arange(0.2, 0.8, 1 / 30)
    fallen = heard_columns(pitch, tone, t, np.full(len(t), 2), np.full(len(t), 28.0), family="violin", string_length_mm=328.0)
    assert (fallen["split"] > 0.3).all() and np.isnan(fallen["semitones"]).all(), "an octave below the open A"
    t = np.arange(RATE_HZ) / RATE_HZ
    thin = bowed(440.0) - 0.9 * np.sin(2 * np.pi * 440.0 * np.arange(1, RATE_HZ + 1) / RATE_HZ)
    assert np.nanmedian(heard(thin)[1].fundamental) < 0.5 * np.nanmedian(clear.fundamental)
    hiss = bowed(440.0, upto=6) + 0.3 * np.sin(2 * np.pi * 6600 * t)
    assert np.nanmedian(heard(hiss)[1].hiss_db) > np.nanmedian(heard(bowed(440.0, upto=6))[1].hiss_db) + 10


@pytest.mark.parametrize("cents", [-45.0, 0.0, 30.0])
def test_the_tuning_is_found_from_open_strings(cents):
    samples = np.concatenate([bowed(hz * 2 ** (cents / 1200)) for hz in open_pitches("viola")])
    found = find_tuning(heard(samples, "viola")[0], "viola")
    assert found.offset_cents == pytest.approx(cents, abs=2.0) and not found.ask
    assert found.strings == pytest.approx(dict.fromkeys(range(4), cents), abs=2.0)


def test_a_finger_set_low_is_no_string_out_of_tune():
    """A first finger's semitone lies as far from its open string as a string that is tuned a semitone too high."""
    d, a = open_pitches("violin")[1:3]
    semitone = 2 ** (1 / 12)
    samples = np.concatenate([bowed(d), bowed(d * semitone), bowed(a * semitone), bowed(a * semitone)])
    found = find_tuning(heard(samples, "violin")[0], "violin")
    assert found.offset_cents == pytest.approx(0.0, abs=2.0) and set(found.strings) == {1}
    alone = find_tuning(heard(np.concatenate([bowed(d * 2 ** (15 / 1200)), bowed(a * semitone)]))[0], "violin")
    assert alone.offset_cents == pytest.approx(15.0, abs=2.0)


def test_a_tuning_too_far_off_is_asked_about_and_one_string_alone_is_told():
    low = find_tuning(heard(np.concatenate([bowed(hz * 2 ** (-80 / 1200)) for hz in open_pitches("violin")]))[0], "violin")
    assert low.ask and low.offset_cents == pytest.approx(-80, abs=3)
    assert believed_cents(low) == believed_cents(None) == 0.0, "it is asked about, not believed"
    flat = [hz * (2 ** (-25 / 1200) if k == 1 else 1) for k, hz in enumerate(open_pitches("violin"))]
    found = find_tuning(heard(np.concatenate([bowed(hz) for hz in flat]))[0], "violin")
    assert found.offset_cents == pytest.approx(0, abs=2) and found.strings[1] == pytest.approx(-25, abs=2)
    assert find_tuning(heard(np.zeros(RATE_HZ))[0], "violin") is None


def test_semitones_and_the_target_that_moves_with_them():
    """An octave halves the string, so it halves the target; a fifth takes it to two thirds (2^(-7/12) = 0.667)."""
    up = semitones_up(np.array([440.0, 493.88, 659.26, 300.0, np.nan]), np.array([2, 2, 2, 2, 2]), "violin")
    assert up[:3] == pytest.approx([0, 2, 7], abs=0.02) and np.isnan(up[3:]).all()
    assert moved_target(30.0, 12) == pytest.approx(15.0)
    assert moved_target(30.0, 7) == pytest.approx(20.02, abs=0.05)


def test_what_is_heard_is_laid_on_the_frames():
    pitch, tone = heard(bowed(493.88, 2.0), start_s=0.5)
    t = np.arange(0, 3.2, 1 / 30)
    got = heard_columns(
        pitch, tone, t, np.full(len(t), 2), np.full(len(t), 28.0), family="violin", string_length_mm=328.0
    )  # fmt: skip
    inside = (t > 0.8) & (t < 2.2)
    assert got["semitones"][inside] == pytest.approx(2.0, abs=0.02)
    assert got["beta"][inside] == pytest.approx(28 / (328 * 2 ** (-2 / 12)), rel=0.01)
    assert np.isnan(got["pitch_hz"][t < 0.4]).all() and np.isnan(got["pitch_hz"][t > 2.7]).all()
    assert np.abs(got["level_db"][inside]).max() < 1.0


@pytest.mark.parametrize(("rise", "gap"), [(0.03, 0.0), (0.08, 0.12), (0.25, 0.1)])
def test_how_a_tone_begins(rise, gap):
    """A straight rise from nothing takes seven tenths of its length from a tenth to four fifths."""
    t = np.arange(int(1.6 * RATE_HZ)) / RATE_HZ
    gain = np.clip((t - 0.4 - gap) / rise, 0, 1) + (t < 0.4)
    level = loudness(gain * bowed(300.0, 1.6), start_s=0.0, rate_hz=RATE_HZ)
    begins = attack(level, 0.4 + gap, 1.55)
    assert begins.rise_s == pytest.approx(0.7 * rise, abs=0.02)
    assert begins.gap_s == pytest.approx(gap + 0.2 * rise if gap else 0.0, abs=0.03)


def test_recordings_that_are_no_good():
    tone = 0.5 * bowed(440.0) / 2
    assert not overloaded(tone) and not silent(tone)
    assert overloaded(np.clip(4 * tone, -1, 1)) and overloaded(np.clip(4 * tone, -0.99, 0.99))
    assert silent(np.zeros(1000)) and silent(np.zeros(0))
    pitch, _ = heard(np.concatenate([bowed(440.0), bowed(330.0)]))
    assert others_sound(pitch, [(1.1, 1.9)], lowest_hz=196.0), "a melody goes on while the bow stands"
    assert not others_sound(heard(np.concatenate([bowed(440.0), np.zeros(RATE_HZ)]))[0], [(1.1, 1.9)], lowest_hz=196.0)
    low = track_pitch(bowed(120.0), start_s=0.0, lowest_hz=80.0, highest_hz=2000.0)
    assert others_sound(low, [], lowest_hz=196.0), "a violin has no such low notes"
