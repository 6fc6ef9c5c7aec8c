"""Preferences and the last session come back; one desk for one studio."""

from __future__ import annotations

import json
import subprocess
import sys
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dolcezza.core.base.errors import StudioError
from dolcezza.services.settings import MOST_RECENT, Session, Settings, SettingsFile, settings_from
from dolcezza.services.single import INBOX, DeskLock, hand_over, taken_over

STUDIO = Path("/somewhere/studio")


def test_settings_read_back_the_same(tmp_path):
    file = SettingsFile(tmp_path / "s.json")
    assert file.now == Settings()
    new = Settings("dark", "de", 150, True, "AAAA").opened(STUDIO, 7).left(STUDIO, Session(2, 7, 3, 1.25))
    file.change(new)
    assert SettingsFile(tmp_path / "s.json").now == new
    assert new.session(STUDIO) == Session(2, 7, 3, 1.25) and new.session(Path("/other")) == Session()


def test_takes_opened_lately_come_newest_first_and_not_too_many():
    now = Settings()
    for k in [*range(12), 5]:
        now = now.opened(STUDIO, k)
    assert now.recent[str(STUDIO)] == [5, 11, 10, 9, 8, 7, 6, 4] and len(now.recent[str(STUDIO)]) == MOST_RECENT


words = st.text("ab1", max_size=3)
values = st.recursive(
    st.none() | st.integers() | words, lambda c: st.lists(c, max_size=3) | st.dictionaries(words, c, max_size=3), max_leaves=5
)


@given(st.dictionaries(st.sampled_from(["theme", "language", "size", "quiet", "window", "recent", "sessions", "other"]), values))
def test_whatever_stands_in_the_file_gives_settings_that_work(data):
    got = settings_from(json.loads(json.dumps(data)))
    assert got.theme in ("light", "dark") and got.size in (100, 125, 150, 175, 200)
    assert isinstance(got.opened(STUDIO, 1).session(STUDIO), Session)


def test_a_damaged_file_counts_as_not_set(tmp_path):
    for text in ("", "no json", "[1, 2]", '{"size": 4000, "theme": "pink"}'):
        (tmp_path / "s.json").write_text(text)
        assert SettingsFile(tmp_path / "s.json").now == Settings()


def test_videos_are_handed_over_once(tmp_path):
    assert taken_over(tmp_path) is None
    with ThreadPoolExecutor(3) as others:

        def waits(count):
            while len(list((tmp_path / INBOX).glob("*.json"))) < count:
                time.sleep(0.01)

        (tmp_path / INBOX).mkdir()
        others.submit(hand_over, tmp_path, [], answer_s=20.0)
        waits(1)
        assert taken_over(tmp_path) == [], "only come forward"
        asked = [others.submit(hand_over, tmp_path, [Path(name)], answer_s=20.0) for name in ("a.mp4", "/b.mp4")]
        waits(2)
        (tmp_path / INBOX / "bad.json").write_text("{")
        assert set(taken_over(tmp_path)) == {Path("a.mp4").absolute(), Path("/b.mp4")}
        assert all(a.result(timeout=20) is None for a in asked)
    assert taken_over(tmp_path) is None and not list((tmp_path / INBOX).iterdir())


def test_a_desk_that_does_not_answer_is_said_and_no_message_stays(tmp_path):
    with pytest.raises(StudioError, match="does not answer"):
        hand_over(tmp_path, [Path("a.mp4")], answer_s=0.0)
    assert not list((tmp_path / INBOX).iterdir())


def test_one_desk_whatever_lies_in_the_folder(tmp_path):
    """An old lock file, empty or somebody else's, keeps nobody out, and no second desk gets in because one was deleted."""
    (tmp_path / ".desk.lock").write_bytes(b"")
    first, second = DeskLock(tmp_path), DeskLock(tmp_path)
    assert (first.first, second.first) == (True, False)
    second.release()
    for path in tmp_path.iterdir():
        path.unlink()
    third = DeskLock(tmp_path)
    assert not third.first
    third.release()
    first.release()
    first.release()
    again = DeskLock(tmp_path)
    assert again.first
    again.release()


def test_a_killed_desk_leaves_the_studio_open(tmp_path):
    code = "from dolcezza.services.single import DeskLock\nimport sys, time\nlock = DeskLock(sys.argv[1])\n"
    code += "print(lock.first, flush=True)\ntime.sleep(60)"
    other = subprocess.Popen([sys.executable, "-c", code, str(tmp_path)], stdout=subprocess.PIPE, text=True)
    try:
        assert other.stdout.readline().strip() == "True"
        mine = DeskLock(tmp_path)
        assert not mine.first
        mine.release()
    finally:
        other.kill()
        other.communicate()
    mine = DeskLock(tmp_path)
    assert mine.first
    mine.release()


@pytest.mark.parametrize("data", [None, [], {"student": 1}, {"student": "x", "take": 1, "step": 1, "moment_s": 0}])
def test_a_session_that_cannot_be_is_none(data):
    assert settings_from({"sessions": {"/s": data}}).sessions == {}
