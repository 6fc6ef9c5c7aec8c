"""What the sound of a take came to, as open JSON. Reads back the same."""

from __future__ import annotations

import json

from dolcezza.core.base.errors import UNREADABLE, StudioError
from dolcezza.core.tone.report import ToneReport
from dolcezza.storage.plain import from_plain, to_plain

TONE_FILE = "sound.json"


def tone_to_json(report: ToneReport) -> str:
    """JSON text; what is not known is null. Counts are added for others to read."""
    data = to_plain(report, 4) | {"counts": report.counts, "starts": report.starts}
    return json.dumps(data, indent=1, ensure_ascii=False) + "\n"


def tone_from_json(text: str) -> ToneReport:
    """Inverse of ``tone_to_json``. Raises StudioError."""
    try:
        return from_plain(ToneReport, json.loads(text))
    except UNREADABLE as error:
        raise StudioError("What was heard of this video is damaged.", "Analyse the video again.") from error
