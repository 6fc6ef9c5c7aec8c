"""An analysis as open files in a folder: frames.csv, strokes.csv, findings.json, summary.json, arm.json where the arm was seen, sound.json
where there is sound."""

from __future__ import annotations

import platform
from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING, Any

import cv2
import numpy as np

from dolcezza.core.pipeline.fit_file import Fit, fit_to_dict
from dolcezza.core.pipeline.report import Report
from dolcezza.core.pipeline.second_phone import SecondPhone
from dolcezza.core.strokes.joint_work import work_by_speed, work_by_third
from dolcezza.reports.findings import finding_row
from dolcezza.reports.language import language
from dolcezza.storage.body_json import FILE_NAME, body_to_json
from dolcezza.storage.files import write_whole
from dolcezza.storage.tables import series_to_csv, strokes_to_csv, to_json
from dolcezza.storage.tone_json import TONE_FILE, tone_to_json

if TYPE_CHECKING:
    from dolcezza.core.pipeline.measure import TakeAnalysis


def summary(analysis: TakeAnalysis) -> dict[str, Any]:
    """Versions, settings, timings and what the view can measure, as plain JSON data."""
    measured = np.isfinite(analysis.series["bow_angle_deg"])
    return {
        "dolcezza": analysis.version,
        "python": platform.python_version(), "numpy": np.__version__, "opencv": cv2.__version__,
        "take": analysis.file.path.name,
        "picture": {"width": analysis.file.width, "height": analysis.file.height, "frames_per_s": round(analysis.series.rate_hz, 3)},
        "fit": fit_to_dict(analysis.fit),
        "instrument": asdict(analysis.fit.spec),
        "pins_rms_px": round(analysis.landmark_fit.rms_px, 3),
        "focal_px": round(analysis.landmark_fit.camera.focal, 1),
        "predicted_sd": {k: round(v, 4) for k, v in asdict(analysis.precision).items()},
        "profile": asdict(analysis.profile),
        "frames": len(analysis.series), "frames_measured": int(measured.sum()),
        "frames_with_arm": int(np.isfinite(analysis.series["elbow_level_deg"]).sum()),
        **({"second": _second(analysis.second)} if analysis.second is not None else {}),
        "strokes": len(analysis.strokes), "findings": len(analysis.findings),
        "notes": [language("en").sentence(n) for n in analysis.notes], "messages": [n.to_dict() for n in analysis.notes],
        "timings_s": {k: round(v, 3) for k, v in analysis.timings.items()},
        "times_real_time": round(float(analysis.series.t[-1]) / max(analysis.timings.get("total", 0.0), 1e-6), 2),
    }  # fmt: skip


def _second(used: SecondPhone) -> dict[str, Any]:
    """What a second phone gave, as plain JSON data."""
    return {
        "take": used.path.name, "fit": fit_to_dict(used.fit), "offset_s": round(used.offset_s, 4), "drift": round(used.drift, 7),
        "offset_sd_s": round(used.sd_s, 4), "between_deg": round(used.between_deg, 1), "shows": "player" if used.series is None else "bow",
        **{
            name: {"first": round(alone, 3) if np.isfinite(alone) else None, "both": round(both, 3)}
            for name, alone, both in (
                ("bow_angle_sd_deg", used.alone[0], used.together[0]), ("contact_point_sd_mm", used.alone[1], used.together[1]),
                ("elbow_level_sd_deg", *used.elbow),
            ) if np.isfinite(both)
        },
    }  # fmt: skip


FOUND_FILE = "found.fit.json"


def write_found(fit: Fit, folder: Path, number: int = 1) -> Path:
    """Write the fit that was found, as a fit file like any; ``number`` of the phone. Raises StudioError."""
    Path(folder).mkdir(parents=True, exist_ok=True)
    path = Path(folder) / (FOUND_FILE if number == 1 else f"found-{number}.fit.json")
    write_whole(path, to_json(fit_to_dict(fit)))
    return path


def write_analysis(analysis: TakeAnalysis, folder: Path) -> list[Path]:
    """Write the files and return their paths. Raises StudioError, naming a full disk as such."""
    told = Report(analysis.series, analysis.strokes, analysis.findings, analysis.body, analysis.tone)
    return write_told(Path(folder), told, summary(analysis))


def write_told(folder: Path, told: Report, about: dict[str, Any]) -> list[Path]:
    """The same for what is told of a record, with its summary."""
    files = {
        "frames.csv": series_to_csv(told.series),
        "strokes.csv": strokes_to_csv(told.strokes),
        "findings.json": to_json([finding_row(f) for f in told.findings]),
        "summary.json": to_json(about),
    }
    if told.body is not None:
        work = work_by_third(told.series, told.strokes) | work_by_speed(told.series, told.strokes)
        files[FILE_NAME] = body_to_json(told.body, work)
    if told.tone is not None:
        files[TONE_FILE] = tone_to_json(told.tone)
    for name, text in files.items():
        write_whole(folder / name, text)
    return [folder / name for name in files]
