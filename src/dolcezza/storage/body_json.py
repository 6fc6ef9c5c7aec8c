"""What the arm came to over a take as open JSON: staircase, joint shares, signs of tension. Reads back the same."""

from __future__ import annotations

import json
import math
from collections.abc import Mapping
from dataclasses import asdict, fields
from typing import Any

from dolcezza.core.arm.joint_contributions import JointContributions
from dolcezza.core.arm.posture import PostureFigure
from dolcezza.core.arm.staircase import Stair, Staircase, StairShape
from dolcezza.core.base.errors import StudioError
from dolcezza.core.findings.rules.arm import BodyReport
from dolcezza.core.strokes.joint_work import JointWork
from dolcezza.core.tension.signs import Sign, Tension

FILE_NAME = "arm.json"


def body_to_json(report: BodyReport, work: Mapping[str, JointWork | None] | None = None) -> str:
    """JSON text; what is not known is null. ``work``: degrees of the joints a tenth of the bow by third and speed, for others to read."""
    data = asdict(report)
    if work is not None:
        data["joint_work"] = {name: asdict(w) if w is not None else None for name, w in work.items()}
    data["tension"]["amount"] = str(report.tension.amount)
    return json.dumps(_plain(data), indent=2) + "\n"


def _plain(value: Any) -> Any:
    if isinstance(value, dict):
        return {k: _plain(v) for k, v in value.items()}
    if isinstance(value, (list, tuple)):
        return [_plain(v) for v in value]
    if isinstance(value, float):
        return round(value, 5) if math.isfinite(value) else None
    return value


def body_from_json(text: str) -> BodyReport:
    """Inverse of ``body_to_json``. Raises StudioError."""
    try:
        data = json.loads(text)
        stairs = data["stairs"]
        return BodyReport(
            stairs=Staircase(
                tuple(Stair(**{**s, "thirds": tuple(_number(v) for v in s["thirds"])}) for s in stairs["stairs"]),
                tuple(stairs["steps"]), tuple(stairs["step_sd"]), StairShape(stairs["shape"]),
            ),
            by_third={k: _shares(v) for k, v in data["by_third"].items()},
            by_speed={k: _shares(v) for k, v in data["by_speed"].items()},
            tension=Tension(tuple(_sign(s) for s in data["tension"]["signs"]), tuple(data["tension"]["unknown"])),
            upper_arm_mm=data["upper_arm_mm"], forearm_mm=data["forearm_mm"], arm_seen=data["arm_seen"],
            posture={k: _figure(v) for k, v in data.get("posture", {}).items()},
        )  # fmt: skip
    except (KeyError, TypeError, ValueError) as error:
        raise StudioError("What was measured of the arm is damaged.", "Analyse the video again.") from error


def _number(value: float | None) -> float:
    return math.nan if value is None else float(value)


def _figure(data: dict[str, Any]) -> PostureFigure:
    lines = tuple(((float(a[0]), float(a[1])), (float(b[0]), float(b[1]))) for a, b in data.get("lines", []))
    return PostureFigure(**{**data, "t_s": _number(data.get("t_s")), "lines": lines})


def _shares(data: dict[str, Any] | None) -> JointContributions | None:
    return None if data is None else JointContributions(tuple(data["shares"]), data["travel_mm"])


def _sign(data: dict[str, Any]) -> Sign:
    values = {f.name: data[f.name] for f in fields(Sign)}
    for name in ("value", "sd", "reference", "own"):
        values[name] = _number(values[name])
    for name in ("strokes", "evidence_s"):
        values[name] = tuple(values[name])
    return Sign(**values)
