"""The record of a take as open text: frames and strokes as CSV, findings as JSON. What is written reads back the same."""

from __future__ import annotations

import csv
import io
import json
import math
from dataclasses import asdict, fields
from pathlib import Path
from typing import Any

import numpy as np

from dolcezza.core.base.errors import StudioError
from dolcezza.core.base.message import NOTHING
from dolcezza.core.bowing.series import COLUMNS, BowSeries
from dolcezza.core.findings.finding import Finding
from dolcezza.core.strokes.figures import STROKE_COLUMNS, Stroke
from dolcezza.storage.plain import from_plain, to_plain

_TEXT = {"direction", "string", "by_hand"}
_WHOLE = {"number"}
_RENAMED = {"number": "stroke"}


def _cell(value: float, decimals: int) -> str:
    return f"{value:.{decimals}f}" if math.isfinite(value) else ""


def series_to_csv(series: BowSeries) -> str:
    """One row a frame, columns and decimals as in ``COLUMNS``; empty = not measured."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for k in range(len(series)):
        writer.writerow([series.strings[k] if c == "string" else _cell(float(series[c][k]), d) for c, d in COLUMNS.items()])
    return out.getvalue()


def series_from_csv(text: str) -> BowSeries:
    """Read what ``series_to_csv`` wrote; unknown columns are passed over, missing ones are empty. Raises StudioError."""
    rows = list(csv.DictReader(io.StringIO(text)))
    values = {}
    try:
        for name in COLUMNS:
            if name != "string":
                values[name] = np.array([float(r[name]) if r.get(name) else np.nan for r in rows])
    except ValueError as error:
        raise StudioError("The record of this video is damaged.", "Analyse the video again.") from error
    return BowSeries(values, [r.get("string") or "" for r in rows])


def strokes_to_csv(strokes: list[Stroke]) -> str:
    """One row a stroke; the first six columns are those that others rely on."""
    first = ["start_s", "end_s", "direction", "string", "from_position", "to_position"]
    names = [*first, *[c for c in STROKE_COLUMNS if c not in first]]
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([_RENAMED.get(n, n) for n in names])
    for stroke in strokes:
        row = asdict(stroke)
        writer.writerow([row[n] if n in _TEXT | _WHOLE else _cell(float(row[n]), 4) for n in names])
    return out.getvalue()


def stroke_to_dict(stroke: Stroke) -> dict[str, Any]:
    """Plain JSON data; missing values are None."""
    return dict(to_plain(stroke))


def stroke_from_dict(data: dict[str, Any]) -> Stroke:
    """Inverse of ``stroke_to_dict``; columns that an earlier version did not have are empty."""
    missing = {f.name: "" if f.name in _TEXT else None for f in fields(Stroke)}
    return from_plain(Stroke, missing | data)


def finding_to_dict(finding: Finding) -> dict[str, Any]:
    """Plain JSON data of a finding, without words."""
    return dict(to_plain(finding, 3))


def finding_from_dict(data: dict[str, Any]) -> Finding:
    """Inverse of ``finding_to_dict``; also reads what earlier versions wrote, which kept the sentences themselves."""
    told = {"message": data["message"] if "message" in data else data["sentence"]}
    for key in ("against", "film"):
        told[key] = data.get(key) or NOTHING.to_dict()
    return from_plain(Finding, data | told)


def to_json(data: Any) -> str:
    """JSON as the project writes it; refuses numbers that are not finite."""
    return json.dumps(data, ensure_ascii=False, indent=1, allow_nan=False) + "\n"


def read_text(path: Path) -> str:
    """Text of a file of the studio. Raises StudioError when it is gone."""
    try:
        return Path(path).read_text(encoding="utf-8")
    except OSError as error:
        raise StudioError(f"{Path(path).name} is missing from the studio.", "Analyse the video again.") from error
