"""What the arm came to over a take as open JSON: staircase, joint shares, signs of tension. Reads back the same."""

from __future__ import annotations

import json
from collections.abc import Mapping

from dolcezza.core.base.errors import UNREADABLE, StudioError
from dolcezza.core.findings.rules.arm import BodyReport
from dolcezza.core.strokes.joint_work import JointWork
from dolcezza.storage.plain import from_plain, to_plain

FILE_NAME = "arm.json"
DECIMALS = 5


def body_to_json(report: BodyReport, work: Mapping[str, JointWork | None] | None = None) -> str:
    """JSON text; what is not known is null. For others to read: ``work``, degrees of the joints a tenth of the bow by third and speed, and
    how many signs of tension there are."""
    data = to_plain(report, DECIMALS)
    if work is not None:
        data["joint_work"] = {name: to_plain(w, DECIMALS) for name, w in work.items()}
    data["tension"]["amount"] = str(report.tension.amount)
    return json.dumps(data, indent=2) + "\n"


def body_from_json(text: str) -> BodyReport:
    """Inverse of ``body_to_json``. Raises StudioError."""
    try:
        return from_plain(BodyReport, json.loads(text))
    except UNREADABLE as error:
        raise StudioError("What was measured of the arm is damaged.", "Analyse the video again.") from error
