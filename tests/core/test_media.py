"""Video files: true times, upright pictures, sound on the video's clock, and a sentence for every bad file."""

from __future__ import annotations

import struct

import numpy as np
import pytest

from dolcezza.core.base.errors import MediaError
from dolcezza.core.media.audio import read_sound
from dolcezza.core.media.probe import fingerprint, probe
from dolcezza.core.media.video import FrameStore, read_frames
from takes_support import take_video


def square_at(image: np.ndarray) -> float:
    """x of the middle of the bright square."""
    return float(np.nonzero(image[20] > 128)[0].mean())


def turn(path, degrees: int) -> None:
    """Mark an mp4 as filmed with the phone on its side: writes the display matrix of its video track."""
    data = bytearray(path.read_bytes())
    at = data.index(b"tkhd") + 4 + 4 + 20 + 16  # version, times and ids, then reserved, layer, group, volume
    c, s = {90: (0, 1), 180: (-1, 0), 270: (0, -1)}[degrees]
    matrix = [c << 16, s << 16, 0, -s << 16, c << 16, 0, 0, 0, 1 << 30]
    data[at : at + 36] = struct.pack(">9i", *matrix)
    path.write_bytes(bytes(data))


def test_frames_come_in_order_with_true_times(film):
    frames = list(read_frames(film(frames=12, rate=25)))
    assert [round(f.t_s * 25) for f in frames] == list(range(12))
    assert [round((square_at(f.image) - 9.5) / 4) for f in frames] == list(range(12))


def test_any_moment_can_be_shown_forwards_and_backwards(film):
    store = FrameStore(film(frames=34), grey=True)
    for k in (30, 2, 3, 3, 17, 33, 0):
        frame = store.at(k / 30.0)
        assert round((square_at(frame.image) - 9.5) / 4) == k
        assert frame.t_s == pytest.approx(k / 30.0, abs=0.002)
    store.close()


@pytest.mark.parametrize(("degrees", "size"), [(90, (120, 160)), (180, (160, 120)), (270, (120, 160))])
def test_a_phone_on_its_side_gives_an_upright_picture(film, degrees, size):
    path = film(frames=3)
    plain = next(iter(read_frames(path))).image
    turn(path, degrees)
    info = probe(path)
    assert info.size == size
    image = next(iter(read_frames(path))).image
    assert image.shape == (size[1], size[0])
    # the display matrix of 90 means: turn the stored picture clockwise (ISO/IEC 14496-12, from memory)
    assert np.array_equal(image, np.rot90(plain, -degrees // 90))


def test_a_mirrored_picture_is_turned_back(film):
    path = film(frames=1)
    plain, flipped = (next(iter(read_frames(path, flip=f))).image for f in (False, True))
    assert np.array_equal(flipped, plain[:, ::-1])


def test_sound_comes_at_the_asked_rate(film):
    samples, start = read_sound(film(frames=60, sound=True), rate_hz=22_050)
    assert abs(start) < 0.1
    spectrum = np.abs(np.fft.rfft(samples[4000:12_192]))
    assert np.argmax(spectrum) * 22_050 / 8192 == pytest.approx(440, abs=3)
    assert read_sound(film("quiet.mp4"), rate_hz=22_050) is None


def test_the_demo_takes_are_what_they_say():
    info = probe(take_video("dev-straight"))
    assert info.size == (1280, 720)
    assert info.frame_rate == pytest.approx(30)
    assert info.duration_s == pytest.approx(10.47, abs=0.1)


def test_the_fingerprint_follows_the_content_not_the_name(film, tmp_path):
    path = film(frames=4)
    mark = fingerprint(path)
    assert fingerprint(path.rename(tmp_path / "other.mp4")) == mark
    assert fingerprint(film("longer.mp4", frames=5)) != mark


@pytest.mark.parametrize(
    ("name", "content", "words"),
    [
        ("notes.txt", b"four long, four short", "not a video"),
        ("empty.mp4", b"", "is empty"),
        ("broken.mp4", b"\0\0\0\x18ftypmp42" + b"x" * 400, "damaged, cut off, or not a video"),
    ],
)
def test_bad_files_get_a_sentence(tmp_path, name, content, words):
    path = tmp_path / name
    path.write_bytes(content)
    with pytest.raises(MediaError, match=words) as caught:
        probe(path)
    assert caught.value.advice


def test_a_missing_file_a_folder_a_sound_and_a_still(tmp_path):
    import wave

    with pytest.raises(MediaError, match="no longer where it was"):
        probe(tmp_path / "gone.mp4")
    with pytest.raises(MediaError, match="is a folder"):
        probe(tmp_path)
    with wave.open(str(tmp_path / "tone.wav"), "wb") as out:
        out.setnchannels(1)
        out.setsampwidth(2)
        out.setframerate(8000)
        out.writeframes(bytes(16_000))
    with pytest.raises(MediaError, match="sound but no picture"):
        probe(tmp_path / "tone.wav")
    import cv2

    cv2.imwrite(str(tmp_path / "still.png"), np.zeros((20, 20, 3), np.uint8))
    with pytest.raises(MediaError, match="single picture"):
        probe(tmp_path / "still.png")


def test_a_file_cut_off_in_the_middle(tmp_path):
    whole = take_video("demo-a1").read_bytes()
    cut = tmp_path / "cut.mp4"
    cut.write_bytes(whole[: len(whole) // 2])
    try:
        n = sum(1 for _ in read_frames(cut))
    except MediaError as error:
        assert "cut off" in str(error) or "no picture" in str(error)
    else:
        assert 5 < n < 228
