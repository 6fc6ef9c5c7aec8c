"""A small drawing for each drill (SVG of the project's own): the bow with the part that is played, what moves and where, who holds.

Drawn from a few signs: the bow (frog on the left), a strip under the part of it that counts, a hand, a ring, arrows for what moves.
"""

from __future__ import annotations

import base64
from collections.abc import Callable
from functools import cache

WIDTH, HEIGHT = 220, 84
LEFT, RIGHT, Y = 18.0, 206.0, 50.0
INK, SOFT, ACCENT = "#2B211B", "#8A7A6C", "#86381A"
BALANCE, MARKER = 0.28, 0.5


def _x(place: float) -> float:
    """Where a place on the bow lies, 0 = frog, 1 = head."""
    return LEFT + (RIGHT - LEFT) * place


def _line(x0: float, y0: float, x1: float, y1: float, colour: str = INK, width: float = 1.6, dash: str = "") -> str:
    more = f' stroke-dasharray="{dash}"' if dash else ""
    return f'<line x1="{x0:.1f}" y1="{y0:.1f}" x2="{x1:.1f}" y2="{y1:.1f}" stroke="{colour}" stroke-width="{width}"{more}/>'


def _path(d: str, colour: str = INK, width: float = 1.6, fill: str = "none") -> str:
    return f'<path d="{d}" stroke="{colour}" stroke-width="{width}" fill="{fill}" stroke-linecap="round" stroke-linejoin="round"/>'


def _circle(x: float, y: float, r: float, colour: str = INK, fill: str = "none") -> str:
    return f'<circle cx="{x:.1f}" cy="{y:.1f}" r="{r:.1f}" stroke="{colour}" stroke-width="1.6" fill="{fill}"/>'


def _bow(y: float = Y) -> str:
    """Stick, hair, frog, head."""
    stick = _path(f"M{LEFT - 6} {y - 6} Q{(LEFT + RIGHT) / 2} {y + 2} {RIGHT} {y - 8} L{RIGHT + 2} {y + 3}", INK, 2.4)
    hair = _line(LEFT + 14, y + 4, RIGHT + 1, y + 3, SOFT, 1.2)
    frog = f'<rect x="{LEFT}" y="{y - 4}" width="15" height="10" fill="{INK}"/>'
    return stick + hair + frog


def _pencil(y: float = Y) -> str:
    return (
        f'<rect x="{_x(0.2):.1f}" y="{y - 5}" width="{_x(0.7) - _x(0.2):.1f}" height="8" stroke="{INK}" stroke-width="1.6" fill="none"/>'
        + _path(f"M{_x(0.7):.1f} {y - 5} L{_x(0.76):.1f} {y - 1} L{_x(0.7):.1f} {y + 3}")
    )


def _part(low: float, high: float, y: float = Y + 16) -> str:
    """The part of the bow that is played."""
    return _line(_x(low), y, _x(high), y, ACCENT, 5)


def _arrow(x0: float, y0: float, x1: float, y1: float, *, both: bool = False) -> str:
    """What moves, from here to there, or to and fro."""
    dx, dy = x1 - x0, y1 - y0
    length = max((dx * dx + dy * dy) ** 0.5, 1e-9)
    ux, uy = dx / length, dy / length

    def tip(x: float, y: float, sx: float, sy: float) -> str:
        a, b = x - 6 * sx + 3.5 * sy, y - 6 * sy - 3.5 * sx
        c, d = x - 6 * sx - 3.5 * sy, y - 6 * sy + 3.5 * sx
        return f"M{a:.1f} {b:.1f} L{x:.1f} {y:.1f} L{c:.1f} {d:.1f}"

    marks = tip(x1, y1, ux, uy) + (tip(x0, y0, -ux, -uy) if both else "")
    return _line(x0, y0, x1, y1, ACCENT, 2) + _path(marks, ACCENT, 2)


def _turn(x: float, y: float, r: float, *, both: bool = False) -> str:
    """Something that goes round."""
    arc = f"M{x - r:.1f} {y:.1f} A{r} {r} 0 1 1 {x + 0.5 * r:.1f} {y + 0.87 * r:.1f}"
    head = (
        f"M{x + 0.5 * r + 6:.1f} {y + 0.87 * r - 3:.1f} L{x + 0.5 * r:.1f} {y + 0.87 * r:.1f} L{x + 0.5 * r + 3:.1f} {y + 0.87 * r - 8:.1f}"
    )
    other = f"M{x - r - 4:.1f} {y + 5:.1f} L{x - r:.1f} {y:.1f} L{x - r + 5:.1f} {y + 4:.1f}" if both else ""
    return _path(arc + head + other, ACCENT, 2)


def _hand(x: float, y: float = Y, *, fingers: int = 4, colour: str = INK) -> str:
    """A hand over the stick: a palm and its fingers."""
    palm = _path(f"M{x - 11:.1f} {y - 12:.1f} Q{x:.1f} {y - 26:.1f} {x + 12:.1f} {y - 13:.1f}", colour, 2)
    drawn = "".join(_line(x - 9 + 6.5 * k, y - 14, x - 9 + 6.5 * k, y + 1, colour, 2.6) for k in range(fingers))
    return palm + drawn


def _thumb(x: float, y: float = Y) -> str:
    return _path(f"M{x:.1f} {y + 17:.1f} Q{x + 6:.1f} {y + 10:.1f} {x:.1f} {y + 2:.1f}", ACCENT, 3)


def _ring(x: float, y: float = Y - 2, r: float = 11) -> str:
    """A tube of paper, or a ring to look through."""
    return f'<ellipse cx="{x:.1f}" cy="{y:.1f}" rx="{r * 0.55:.1f}" ry="{r:.1f}" stroke="{ACCENT}" stroke-width="2.4" fill="none"/>'


def _arm(x: float, y: float, drop: float) -> str:
    """An arm from the shoulder: upper arm and forearm."""
    return _circle(x, y, 4) + _path(f"M{x:.1f} {y:.1f} L{x + 28:.1f} {y + 16:.1f} L{x + 62:.1f} {y + 16 - drop:.1f}", INK, 3)


def _notes(x: float, count: int, y: float = 18) -> str:
    return "".join(
        _circle(x + 9 * k, y, 2.6, INK, INK) + _line(x + 9 * k + 2.6, y, x + 9 * k + 2.6, y - 10, INK, 1.4) for k in range(count)
    )


def _table() -> str:
    return _line(20, 66, 120, 66, SOFT, 3)


PICTURES: dict[str, Callable[[], str]] = {
    "D1": lambda: _bow() + _hand(_x(BALANCE)) + _thumb(_x(BALANCE)) + _arrow(_x(BALANCE) + 14, Y + 20, _x(BALANCE) + 14, Y + 8, both=True),
    "D2": lambda: _bow() + _hand(_x(BALANCE), fingers=4) + _arrow(_x(BALANCE) + 20, Y - 24, _x(BALANCE) + 20, Y - 8, both=True),
    "D3": lambda: _arm(52, 20, 16) + _arrow(128, 22, 128, 62) + _line(60, 74, 160, 74, SOFT, 3),
    "D4": lambda: _bow() + _hand(_x(0.08)) + "".join(_circle(92 + 11 * k, 18, 3, ACCENT, ACCENT if k < 4 else "none") for k in range(10)),
    "D5": lambda: _bow() + _hand(_x(0.08)) + _hand(_x(0.68), colour=SOFT) + _arrow(_x(0.52), Y + 20, _x(0.86), Y + 20, both=True),
    "D6": lambda: _pencil(28) + _hand(_x(0.34), 28) + _bow(68) + _arrow(_x(0.85), 30, _x(0.85), 56),
    "D7": lambda: _hand(40, 66) + _line(40, 62, 108, 30, INK, 2.4) + _turn(128, 30, 18, both=True),
    "D8": lambda: (
        _bow() + _hand(_x(0.08)) + _ring(_x(0.6)) + _arrow(_x(0.72), 22, _x(0.92), 22, both=True)
        + _arrow(_x(0.35), 68, _x(0.35), 24, both=True)
    ),
    "D9": lambda: (
        _table() + _path("M30 58 L92 58", INK, 4) + _path("M92 58 L128 50", INK, 4) + _arrow(140, 34, 140, 70, both=True)
        + _turn(176, 48, 14)
    ),
    "D10": lambda: _path("M34 60 L110 46", INK, 4) + _hand(122, 50) + _turn(160, 42, 16, both=True),
    "D11": lambda: _bow() + _ring(_x(0.5), Y - 2, 14) + _arrow(_x(0.2), Y + 22, _x(0.8), Y + 22, both=True),
    "D12": lambda: (
        _bow() + _hand(_x(BALANCE)) + _arrow(_x(0.96), 58, _x(0.96), 24, both=True)
        + _arrow(_x(BALANCE) - 4, Y + 20, _x(0.04), Y + 20)
    ),
    "D13": lambda: _bow() + _hand(_x(0.06)) + _path("M92 18 L132 18", ACCENT, 3) + _path("M150 22 Q166 4 182 22", ACCENT, 3),
    "D14": lambda: _path("M24 62 L196 62", SOFT, 2) + _bow(34) + _arrow(_x(0.1), 42, _x(0.1), 58, both=True) + _turn(_x(0.62), 26, 14),
    "D15": lambda: _bow() + _part(0, 1) + _staircase(),
    "D16": lambda: _bow() + _part(0, MARKER) + _marker() + _count("8", 150),
    "D17": lambda: _bow() + _part(MARKER, 1) + _marker() + _count("8", 60),
    "D18": lambda: _bow() + _part(0, 1) + _mirror(),
    "D19": lambda: _bow() + _part(0, 1, Y + 13) + _part(0, MARKER, Y + 22) + _marker(),
    "D20": lambda: _bow() + _arrow(_x(0.03), 18, _x(0.03), 40) + _part(0, 0.18) + _path("M92 22 q8 -12 16 0 t16 0 t16 0", ACCENT, 2),
    "D21": lambda: _bow() + _arrow(_x(0.25), Y + 20, _x(0.75), Y + 20) + _arrow(_x(0.5), 14, _x(0.5), 38),
    "D22": lambda: _bow() + _part(0, 1) + _path("M60 26 Q108 6 156 26", INK, 1.6) + _notes(64, 10, 30),
    "D23": lambda: _bow() + _arrow(_x(0.1), Y + 20, _x(0.9), Y + 20) + _notes(40, 4, 26) + _notes(112, 8, 26),
    "D24": lambda: _bow() + _hand(_x(0.3)) + _arrow(_x(0.36), 18, _x(0.62), 18, both=True)
    + _path(f"M{_x(0.2):.1f} 74 Q{_x(0.4):.1f} 84 {_x(0.6):.1f} 74", SOFT, 3),
}  # fmt: skip


def _marker() -> str:
    return _line(_x(MARKER), Y - 14, _x(MARKER), Y + 10, ACCENT, 2, "3 2")


def _count(words: str, x: float) -> str:
    return f'<text x="{x}" y="28" font-size="18" font-family="sans-serif" fill="{ACCENT}">{words}</text>'


def _mirror() -> str:
    frame = f'<rect x="84" y="8" width="56" height="26" rx="3" stroke="{ACCENT}" stroke-width="2" fill="none"/>'
    return frame + _line(92, 28, 104, 14, SOFT) + _line(104, 28, 116, 14, SOFT)


def _staircase() -> str:
    return _path("M96 34 h18 v-7 h18 v-7 h18 v-7 h18", ACCENT, 2.4)


@cache
def drill_svg(key: str) -> str:
    """The drawing of a drill as an SVG document. Raises KeyError."""
    head = f'<svg xmlns="http://www.w3.org/2000/svg" width="{WIDTH}" height="{HEIGHT}" viewBox="0 0 {WIDTH} {HEIGHT}">'
    return f"{head}{PICTURES[key]()}</svg>"


def drill_address(key: str) -> str:
    """The drawing of a drill as an address that carries it: nothing is fetched."""
    return "data:image/svg+xml;base64," + base64.b64encode(drill_svg(key).encode()).decode()
