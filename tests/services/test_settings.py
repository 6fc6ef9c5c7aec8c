"""Preferences and the last session come back; one desk for one studio."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dolcezza.services.settings import MOST_RECENT, Session, Settings, SettingsFile, settings_from
from dolcezza.services.single import INBOX, hand_over, taken_over

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
    hand_over(tmp_path, [])
    assert taken_over(tmp_path) == [], "only come forward"
    hand_over(tmp_path, [Path("a.mp4")])
    hand_over(tmp_path, [Path("/b.mp4")])
    (tmp_path / INBOX / "bad.json").write_text("{")
    assert set(taken_over(tmp_path)) == {Path("a.mp4").absolute(), Path("/b.mp4")}
    assert taken_over(tmp_path) is None and not list((tmp_path / INBOX).iterdir())


@pytest.mark.parametrize("data", [None, [], {"student": 1}, {"student": "x", "take": 1, "step": 1, "moment_s": 0}])
def test_a_session_that_cannot_be_is_none(data):
    assert settings_from({"sessions": {"/s": data}}).sessions == {}
