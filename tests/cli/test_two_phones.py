"""Two phones' videos of one playing (``tests/takes/two``, made by ``dolcezza simulate pair.toml``), measured by the command line."""

from __future__ import annotations

import csv
import json
import subprocess
import sys
from dataclasses import replace
from pathlib import Path

import av
import cv2
import numpy as np
import pytest

from dolcezza.core.base.errors import MediaError
from dolcezza.core.base.job import finish
from dolcezza.core.pipeline import two_phones
from dolcezza.core.pipeline.fit_file import read_fit

PAIR = Path(__file__).parents[1] / "takes" / "two"
FIRST, SECOND = PAIR / "pair.mp4", PAIR / "pair-2.mp4"


def run(*arguments: object) -> subprocess.CompletedProcess:
    return subprocess.run(
        [sys.executable, "-m", "dolcezza", *map(str, arguments)], capture_output=True, text=True, check=False, timeout=240
    )


def errors(out: Path, truth: Path, column: str, name: str) -> tuple[np.ndarray, np.ndarray]:
    """How far the record is off while playing, and its ±."""
    with (out / "frames.csv").open() as handle:
        rows = list(csv.DictReader(handle))
    names = (column, column.replace("_deg", "_sd_deg").replace("_mm", "_sd_mm"), "t_s")
    told, sd, t = (np.array([float(r[c]) if r[c] else np.nan for r in rows]) for c in names)
    true = np.load(truth)
    off = told - np.interp(t, true["t"], true[name])
    playing = np.interp(t, true["t"], true["playing"]) > 0.5
    return off[playing], sd[playing]


@pytest.mark.accuracy
def test_two_phones_measure_better_than_either(tmp_path):
    fits = [v.with_suffix("").with_suffix(".fit.json") for v in (FIRST, SECOND)]
    alone = run("analyse", FIRST, "--fit", fits[0], "--out", tmp_path / "one", "--quiet")
    assert alone.returncode == 0, alone.stderr
    done = run("analyse", FIRST, SECOND, "--fit", *fits, "--out", tmp_path / "two", "--quiet")
    assert done.returncode == 0, done.stderr
    assert "Two phones, 43 degrees apart" in done.stdout
    used = json.loads((tmp_path / "two" / "summary.json").read_text())["second"]
    # the second phone began 0.36 s later; its sound is as late as the first one's
    assert used["take"] == "pair-2.mp4" and used["offset_s"] == pytest.approx(-0.36, abs=0.012)
    assert used["bow_angle_sd_deg"]["both"] < 0.7 * used["bow_angle_sd_deg"]["first"]
    truth = PAIR / "pair.truth.npz"
    for column, name, most in (("bow_angle_deg", "skew_deg", 0.8), ("contact_point_mm", "contact_mm", 2.8)):
        one, _ = errors(tmp_path / "one", truth, column, name)
        both, sd = errors(tmp_path / "two", truth, column, name)
        assert np.nanmedian(np.abs(both)) < min(most, 0.75 * np.nanmedian(np.abs(one)))
        assert (np.abs(both) < 2 * sd)[np.isfinite(both)].mean() > 0.85
    one, _ = errors(tmp_path / "one", truth, "elbow_level_deg", "elbow_elev_deg")
    both, sd = errors(tmp_path / "two", truth, "elbow_level_deg", "elbow_elev_deg")
    assert np.nanmedian(np.abs(both)) < min(4.0, 0.75 * np.nanmedian(np.abs(one)))
    assert used["elbow_level_sd_deg"]["both"] < 0.85 * used["elbow_level_sd_deg"]["first"]


def without_the_instrument(folder: Path) -> Path:
    """The second phone's video with a board before the instrument: what is left is the player."""
    path = folder / "player.mp4"
    truth = np.load(PAIR / "pair-2.truth.npz")
    with av.open(str(SECOND)) as take, av.open(str(path), "w") as out:
        source, sound = take.streams.video[0], take.streams.audio[0]
        stream = out.add_stream("libx264", rate=source.average_rate, options={"crf": "22", "preset": "ultrafast"})
        stream.width, stream.height, stream.pix_fmt = source.width, source.height, "yuv420p"
        track = out.add_stream_from_template(sound)
        for packet in take.demux(source, sound):
            if packet.dts is None:
                continue
            if packet.stream is sound:
                packet.stream = track
                out.mux(packet)
                continue
            for frame in packet.decode():
                picture = frame.to_ndarray(format="rgb24")
                places = truth["landmarks_px"][int(np.abs(truth["t"] - frame.time).argmin())]
                board = cv2.convexHull(places.astype(np.float32)).astype(int)
                cv2.fillPoly(picture, [board], (90, 90, 90))
                cv2.polylines(picture, [board], True, (90, 90, 90), 30)
                hidden = av.VideoFrame.from_ndarray(picture, format="rgb24")
                hidden.pts, hidden.time_base = frame.pts, frame.time_base
                out.mux(stream.encode(hidden))
        out.mux(stream.encode(None))
    return path


@pytest.mark.accuracy
def test_a_second_phone_without_the_instrument_in_view_tells_of_the_arm(tmp_path):
    player = without_the_instrument(tmp_path)
    done = run("analyse", FIRST, player, "--fit", FIRST.with_name("pair.fit.json"), "--out", tmp_path / "out", "--quiet")
    assert done.returncode == 0, done.stderr
    assert "shows the player and not the instrument" in done.stdout
    used = json.loads((tmp_path / "out" / "summary.json").read_text())["second"]
    assert used["shows"] == "player" and "bow_angle_sd_deg" not in used and used["fit"]["pins"] == []
    assert used["offset_s"] == pytest.approx(-0.36, abs=0.05)
    assert used["elbow_level_sd_deg"]["both"] < 0.95 * used["elbow_level_sd_deg"]["first"]
    both, sd = errors(tmp_path / "out", PAIR / "pair.truth.npz", "elbow_level_deg", "elbow_elev_deg")
    assert np.nanmedian(np.abs(both)) < 6.0 and (np.abs(both) < 2 * sd)[np.isfinite(both)].mean() > 0.93
    # the bow is the first one's alone
    assert not (tmp_path / "out" / "found-2.fit.json").exists()


def test_a_second_video_without_instrument_and_sound_says_what_to_do(tmp_path):
    player = without_the_instrument(tmp_path)
    silent = tmp_path / "silent.mp4"
    with av.open(str(player)) as take, av.open(str(silent), "w") as out:
        stream = out.add_stream_from_template(take.streams.video[0])
        for packet in take.demux(take.streams.video[0]):
            if packet.dts is not None:
                packet.stream = stream
                out.mux(packet)
    done = run("analyse", FIRST, silent, "--fit", FIRST.with_name("pair.fit.json"), "--out", tmp_path / "out", "--quiet")
    assert done.returncode == 2 and "its sound does not say when" in done.stderr and "with sound" in done.stderr


def test_a_silent_video_of_the_player_is_refused_before_anything_is_measured(tmp_path, film, monkeypatch):
    monkeypatch.setattr(two_phones, "measure_take", lambda *_, **__: pytest.fail("the first video was measured for nothing"))
    fit = read_fit(FIRST.with_name("pair.fit.json"))
    silent = film("silent.mp4", frames=40, size=(320, 240))
    with pytest.raises(MediaError, match="its sound does not say when"):
        finish(two_phones.measure_two((FIRST, silent), (fit, replace(fit, landmarks=())), models=None))


@pytest.mark.parametrize(("arguments", "sentence"), [
    ([FIRST, SECOND, SECOND, "--instrument", "violin 4/4"], "3 videos are too many"),
    ([FIRST, "--fit", FIRST.with_name("pair.fit.json"), SECOND.with_name("pair-2.fit.json")], "1 videos and 2 fit files"),
])  # fmt: skip
def test_what_does_not_belong_together_is_said(tmp_path, arguments, sentence):
    done = run("analyse", *arguments, "--out", tmp_path / "out")
    assert done.returncode == 2 and sentence in done.stderr
