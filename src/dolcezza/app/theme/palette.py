"""Colours of the desk: paper, ink, varnish. Every pair that carries text is at least 4.5 : 1, in both themes."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Palette:
    """Colours by what they are for. ``to_scroll`` and ``to_player`` are the two sides of a crooked bow; they differ in
    lightness and hue for every kind of colour vision, and the hatching differs too."""

    name: str
    paper: str
    surface: str
    raised: str
    ink: str
    faint: str
    line: str
    accent: str
    on_accent: str
    quiet: str
    to_scroll: str
    to_player: str
    straight: str
    good: str
    warn: str
    stage: str


LIGHT = Palette(
    name="light", paper="#F3EDE2", surface="#FFFBF3", raised="#E9DFCF", ink="#2B211B", faint="#64564B", line="#CDBFAC", accent="#86381A",
    on_accent="#FFF8EE", quiet="#F0E2D2", to_scroll="#B35209", to_player="#28569B", straight="#6B6058", good="#2F6342", warn="#8A4B00",
    stage="#1F1A17",
)  # fmt: skip
DARK = Palette(
    name="dark", paper="#211B18", surface="#2B2420", raised="#3A312B", ink="#F3E9DC", faint="#BFAF9F", line="#54473D", accent="#E39A6B",
    on_accent="#2A1509", quiet="#3B2C23", to_scroll="#F0A050", to_player="#86B2F2", straight="#B9ABA0", good="#8CCB9F", warn="#F0B860",
    stage="#14100E",
)  # fmt: skip
THEMES = {p.name: p for p in (LIGHT, DARK)}

# drawn on the picture, whatever the theme: light lines with a dark edge
ON_PICTURE = {
    "bow": "#FFD75E", "straight": "#FFFFFF", "bridge": "#7FE0D2", "contact": "#FF8A5C", "outline": "#7FE0D2",
    "landmark": "#FFD75E", "edge": "#1A1310",
}  # fmt: skip


def _luminance(colour: str) -> float:
    parts = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(a: str, b: str) -> float:
    """Contrast ratio of two colours ``#RRGGBB`` by WCAG 2.1 (relative luminance), 1 to 21."""
    high, low = sorted((_luminance(a), _luminance(b)), reverse=True)
    return (high + 0.05) / (low + 0.05)
