"""Reads and engraves notation in a process of its own (``python -m dolcezza.services.read_notation``): a file may be anything, and what a
native library does with it must not end the desk. What to do comes in, and what came of it goes out, as one line of JSON and the data."""

from __future__ import annotations

import base64
import json
import sys
from dataclasses import asdict
from typing import Any

from dolcezza.core.score.engraving import engrave, to_mei
from dolcezza.core.score.score import NotationError


def answer(asked: dict[str, Any]) -> dict[str, Any]:
    """Do one of "mei" (of ``data``, base64) and "engrave" (of ``mei``); what is wrong comes as ``sentence`` and ``advice``."""
    try:
        if asked["what"] == "mei":
            return {"mei": to_mei(base64.b64decode(asked["data"]))}
        made = engrave(asked["mei"], int(asked["staff"]), width=int(asked["width"]), below=float(asked["below"]))
        return {"engraved": asdict(made)}
    except NotationError as error:
        return {"sentence": error.sentence, "advice": error.advice}


def main() -> int:
    """Answer what stands on the input."""
    json.dump(answer(json.load(sys.stdin)), sys.stdout)
    return 0


if __name__ == "__main__":
    sys.exit(main())
