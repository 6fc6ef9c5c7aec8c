"""What the sound of a take came to, as open JSON. Reads back the same."""

from __future__ import annotations

import json
import math
from dataclasses import asdict
from typing import Any

from dolcezza.core.base.errors import StudioError
from dolcezza.core.base.message import Message, said
from dolcezza.core.sound.tuning import Tuning
from dolcezza.core.strokes.offset import SoundOffset
from dolcezza.core.tone.report import BetweenNotes, FieldPoint, ToneReport
from dolcezza.core.tone.signs import Start, StrokeTone, Weight

TONE_FILE = "sound.json"


def tone_to_json(report: ToneReport) -> str:
    """JSON text; what is not known is null."""
    data = asdict(report)
    data["counts"], data["starts"] = report.counts, report.starts
    data["notes"] = [n.to_dict() for n in report.notes]
    return json.dumps(_plain(data), indent=1, ensure_ascii=False) + "\n"


def _plain(value: Any) -> Any:
    if isinstance(value, dict):
        return {str(k): _plain(v) for k, v in value.items()}
    if isinstance(value, (list, tuple)):
        return [_plain(v) for v in value]
    if isinstance(value, float):
        return round(value, 4) if math.isfinite(value) else None
    return str(value) if isinstance(value, (Weight, Start)) else value


def _number(value: float | None) -> float:
    return math.nan if value is None else float(value)


def tone_from_json(text: str) -> ToneReport:
    """Inverse of ``tone_to_json``. Raises StudioError."""
    try:
        data = json.loads(text)
        tuning, offset = data["tuning"], data["offset"]
        return ToneReport(
            strokes=tuple(_stroke(s) for s in data["strokes"]),
            points=tuple(FieldPoint(**p) for p in data["points"]),
            between=tuple(BetweenNotes(b["t_s"], b["stroke"], tuple(b["midi"])) for b in data["between"]),
            tuning=None if tuning is None else Tuning(
                tuning["offset_cents"], tuning["sd_cents"], {int(k): float(v) for k, v in tuning["strings"].items()}
            ),
            offset=None if offset is None else SoundOffset(offset["late_s"], offset["sd_s"], bool(offset.get("rings", False))),
            notes=_messages(data["notes"]),
        )  # fmt: skip
    except (KeyError, TypeError, ValueError) as error:
        raise StudioError("What was heard of this video is damaged.", "Analyse the video again.") from error


def _messages(data: list[Any]) -> tuple[Message, ...]:
    """Earlier versions kept sentences."""
    return tuple(Message.from_dict(m) if isinstance(m, dict) else said(str(m)) for m in data)


def _stroke(data: dict[str, Any]) -> StrokeTone:
    return StrokeTone(
        data["stroke"], Weight(data["weight"]), _messages(data["reasons"]), _number(data["noise_db"]), _number(data["speed_ratio"]),
        Start(data["start"]), _number(data["start_noise_db"]),
    )  # fmt: skip
