"""The check card as a page of SVG, A4 at true size: 1 unit = 1 mm. Slid under the strings, its top edge touches the bridge's feet."""

from __future__ import annotations

from html import escape

import numpy as np

from dolcezza.core.base.message import Message
from dolcezza.core.check.card import LINES_DEG, RULER_MM, THIN_DEG, CheckCard
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.reports.language import Language

PAGE_MM = (210.0, 297.0)
TOP_MM, RULER_AT = 52.0, (20.0, 30.0)
INK, FAINT = "#111", "#777"
SHARE_OF_WIDTH = 0.42
"""A line reaches so far (share of the card's width) to both sides of the middle."""


def card_svg(spec: InstrumentSpec, words: Language, *, handed: str = "right") -> str:
    """The page for one instrument: its bridge is up, its scroll down; a right-handed violin has treble side and frog on the left."""
    card = CheckCard.of(spec)
    tip = -spec.frog_side if handed == "right" else spec.frog_side
    left, middle = (PAGE_MM[0] - card.width) / 2, PAGE_MM[0] / 2
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{PAGE_MM[0]:g}mm" height="{PAGE_MM[1]:g}mm"'
        f' viewBox="0 0 {PAGE_MM[0]:g} {PAGE_MM[1]:g}" font-family="sans-serif">',
        f'<rect width="{PAGE_MM[0]:g}" height="{PAGE_MM[1]:g}" fill="#fff"/>',
        _text(20, 18, words.sentence(Message("card.title", {"instrument": spec.name})), 5.0),
        *_ruler(words),
        f'<rect id="card" x="{left:g}" y="{TOP_MM:g}" width="{card.width:g}" height="{card.length:g}" fill="none" stroke="{INK}"'
        ' stroke-width="0.3"/>',
        _text(middle, TOP_MM - 3, words.word("card.bridge"), 3.2, anchor="middle"),
        *_scale(card, middle),
    ]
    for at in card.distances:
        y = TOP_MM + at - card.edge
        parts += [_line((middle, y), angle, card, tip) for angle in THIN_DEG]
        parts.append(_text(left + 2, y - 1.2, f"{at:g} mm", 2.6))
    below = TOP_MM + card.length
    parts.append(_text(middle, below + 5, words.word("card.board"), 3.2, anchor="middle"))
    for k, sentence in enumerate(words.word("card.how").split("\n")):
        parts.append(_text(20, below + 16 + 6 * k, sentence, 3.6))
    return "\n".join([*parts, "</svg>"])


def _line(at: tuple[float, float], angle_deg: float, card: CheckCard, tip: int) -> str:
    """A line through a place on the page; ``tip``: +1 = the bow's tip lies on the right. + = the tip's end lies farther from the bridge."""
    along = SHARE_OF_WIDTH * card.width * np.array([tip * np.cos(np.radians(angle_deg)), np.sin(np.radians(angle_deg))])
    (x1, y1), (x2, y2) = at - along, at + along
    thick = angle_deg in LINES_DEG
    drawn = (
        f'<line class="line{angle_deg:+g}" x1="{x1:.3f}" y1="{y1:.3f}" x2="{x2:.3f}" y2="{y2:.3f}" stroke="{INK if thick else FAINT}"'
        f' stroke-width="{0.7 if thick else 0.25}"/>'
    )
    sign = f"{angle_deg:+g}°".replace("-", "−") if angle_deg else "0°"
    return drawn + (_text(x2 + 0.8 * tip, y2 + 0.9, sign, 2.6, anchor="start" if tip > 0 else "end") if thick else "")


def _scale(card: CheckCard, middle: float) -> list[str]:
    """Millimetres along the middle, from the bridge's top."""
    marks = []
    for mm in range(int(np.ceil(card.edge)), int(card.edge + card.length) + 1):
        y = TOP_MM + mm - card.edge
        half = 3.0 if mm % 10 == 0 else 2.0 if mm % 5 == 0 else 1.0
        place = f'x1="{middle - half:g}" y1="{y:.3f}" x2="{middle + half:g}" y2="{y:.3f}"'
        marks.append(f'<line class="mm{mm}" {place} stroke="{INK}" stroke-width="0.15"/>')
        if mm % 10 == 0 and all(abs(mm - at) > 3 for at in card.distances):
            marks.append(_text(middle + 4, y + 0.9, f"{mm}", 2.4))
    return marks


def _ruler(words: Language) -> list[str]:
    """The ruler that proves the print."""
    x, y = RULER_AT
    marks = [f'<line id="ruler" x1="{x:g}" y1="{y:g}" x2="{x + RULER_MM:g}" y2="{y:g}" stroke="{INK}" stroke-width="0.3"/>']
    for mm in range(0, int(RULER_MM) + 1):
        high = 5.0 if mm % 10 == 0 else 3.5 if mm % 5 == 0 else 2.0
        marks.append(f'<line x1="{x + mm:g}" y1="{y:g}" x2="{x + mm:g}" y2="{y - high:g}" stroke="{INK}" stroke-width="0.15"/>')
    return [*marks, _text(x, y + 5, words.sentence(Message("card.ruler", {"length": RULER_MM})), 3.2)]


def _text(x: float, y: float, words: str, size: float, *, anchor: str = "start") -> str:
    return f'<text x="{x:g}" y="{y:g}" font-size="{size:g}" text-anchor="{anchor}" fill="{INK}">{escape(words)}</text>'
