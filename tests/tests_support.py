"""Made-up views and lines for the core's tests; the projection is OpenCV's, not the program's."""

from __future__ import annotations

from dataclasses import fields
from pathlib import Path

import av
import cv2
import numpy as np

from dolcezza.core.bowing.series import COLUMNS, BowSeries, speed_cm_s
from dolcezza.core.camera.lens import Camera
from dolcezza.core.camera.precision import HEAD_BIAS_PX
from dolcezza.core.camera.unknowns import COUNT, FOCAL, MOVE, TURN
from dolcezza.core.findings.finding import Finding
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.strokes.figures import Stroke
from dolcezza.core.tracking.bow_path import BowLines
from dolcezza.reports.language import language
from takes_support import take_video


def english(finding: Finding) -> str:
    """What a finding says in English, and its cause."""
    words = language("en")
    return f"{words.sentence(finding.message)} {words.cause(finding.cause)}"


def camera_at(model: InstrumentModel, azimuth_deg: float, height_deg: float, focal: float = 1300.0, distance: float = 0.0) -> Camera:
    """A camera ``distance`` mm (usually 4.6 string lengths) from the bridge; azimuth 0 = in line with the scroll."""
    az, el = np.radians([azimuth_deg, height_deg])
    place = (distance or 4.6 * model.spec.string_length) * np.array([np.cos(el) * np.cos(az), np.cos(el) * np.sin(az), np.sin(el)])
    forward = -place / np.linalg.norm(place)
    right = np.cross(forward, [0.0, 0.0, 1.0])
    right /= np.linalg.norm(right)
    rotation = np.array([right, np.cross(forward, right), forward])
    return Camera(cv2.Rodrigues(rotation)[0].ravel(), -rotation @ place, focal, (640.0, 360.0))


def seen_lines(model, camera, params, string, *, rng=None, end_noise=0.5) -> BowLines:
    """What the tracking would see of bows with parameter rows (n, 4): hair lines and ends, by cv2.projectPoints."""
    n = len(params)
    string = np.broadcast_to(string, n)
    k = np.array([[camera.focal, 0, camera.center[0]], [0, camera.focal, camera.center[1]], [0, 0, 1.0]])
    contact = model.string_point(string, params[:, 0])
    along = model.bow_direction(params[:, 1], params[:, 2])
    length = model.spec.hair_length
    frog = contact - along * (params[:, 3] * length)[:, None]
    points = np.stack([contact, frog, frog + along * length], axis=1).reshape(-1, 3)
    xy = cv2.projectPoints(points, camera.rvec, camera.tvec, k, None)[0].reshape(n, 3, 2)
    direction = xy[:, 2] - xy[:, 1]
    direction /= np.linalg.norm(direction, axis=1, keepdims=True)
    ends = np.einsum("nki,ni->nk", xy[:, 1:] - xy[:, :1], direction)
    noise = rng.normal(0, end_noise, ends.shape) if rng is not None else 0.0
    ends = ends + noise
    return BowLines(
        xy[:, 0], direction, np.full((n, 2), 0.05), np.full((n, 2, 2), np.nan), ends[:, 1] - HEAD_BIAS_PX, np.full(n, np.nan), ends[:, 0],
        np.full(n, 4.0), np.ones(n),
    )  # fmt: skip


def series_from(t, position, *, angle=0.0, contact=28.0, string="D", hair=645.0) -> BowSeries:
    """A record as the bowing room would give it, from arrays or constants."""
    n = len(t)
    values = {name: np.full(n, np.nan) for name in COLUMNS if name != "string"}
    values["t_s"] = np.asarray(t, float)
    values["bow_position"] = np.asarray(position, float)
    values["bow_angle_deg"] = np.broadcast_to(np.asarray(angle, float), n).copy()
    values["bow_angle_sd_deg"] = np.full(n, 1.0)
    values["contact_point_mm"] = np.broadcast_to(np.asarray(contact, float), n).copy()
    values["contact_point_sd_mm"] = np.full(n, 1.0)
    values["contact_fraction"] = values["contact_point_mm"] / 57.0
    values["bow_position_sd"] = np.full(n, 0.005)
    values["inclination_deg"] = np.zeros(n)
    values["bow_speed_cm_s"] = speed_cm_s(values["bow_position"], values["t_s"], hair)
    strings = [string] * n if isinstance(string, str) else list(string)
    return BowSeries(values, strings)


def take_covariance(turn=1e-4, side=1e-7, depth=2e-4, focal=1e-3) -> np.ndarray:
    """Covariance (22, 22) of a take's unknowns as landmarks of a usual hand leave it, lengths and lean known."""
    out = np.zeros((COUNT, COUNT))
    out[TURN, TURN], out[MOVE, MOVE], out[FOCAL, FOCAL] = turn * np.eye(3), np.diag([side, side, depth]), focal
    return out


def minimum_jerk(start: float, end: float, seconds: float, rate: float = 60.0) -> np.ndarray:
    """Positions of the smoothest movement from one place to another (Flash & Hogan 1985): 10 u^3 - 15 u^4 + 6 u^5."""
    u = np.linspace(0, 1, round(seconds * rate) + 1)
    return start + (end - start) * (10 * u**3 - 15 * u**4 + 6 * u**5)


def changed_at(before, after, column):
    """Times at which a column has changed."""
    a, b = before.series[column], after.series[column]
    return before.series.t[~np.isclose(a, b, atol=1e-9, equal_nan=True)]


def frame_at(stored, seconds):
    return int(np.argmin(np.abs(stored.series.t - seconds)))


def made_stroke(
    number: int, start_s: float, end_s: float, *, down: bool, start: float = 0.1, end: float = 0.9, string: str = "A"
) -> Stroke:
    """A stroke of which only what a bow did is known; every other figure is NaN."""
    numbers = {f.name: float("nan") for f in fields(Stroke) if f.type == "float"}
    own = {"number": number, "direction": "down" if down else "up", "string": string, "start_s": start_s, "end_s": end_s}
    places = {"from_position": start, "to_position": end, "share_used": abs(end - start)}
    return Stroke(**(numbers | own | places))


def cut_short(take: str | Path, seconds: float, folder: Path, *, flip: bool = False) -> Path:
    """The beginning of a take, or of a reference take by its name, as a film of its own; ``flip``: turned left for right."""
    whole = take if isinstance(take, Path) else take_video(take)
    path = folder / whole.name
    with av.open(str(whole)) as film, av.open(str(path), "w") as out:
        source = film.streams.video[0]
        stream = out.add_stream("libx264", rate=source.average_rate, options={"crf": "16", "preset": "ultrafast"})
        stream.width, stream.height, stream.pix_fmt = source.width, source.height, "yuv420p"
        for frame in film.decode(source):
            if frame.time > seconds:
                break
            picture = frame.to_ndarray(format="rgb24")
            out.mux(stream.encode(av.VideoFrame.from_ndarray(np.ascontiguousarray(picture[:, ::-1]) if flip else picture, format="rgb24")))
        out.mux(stream.encode(None))
    return path
