"""Engraved pages made plain enough for a reader of SVG Tiny 1.2: no picture within the picture, no span within a span, no font of signs."""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import cache
from pathlib import Path
from xml.etree import ElementTree

SVG, LINK = "http://www.w3.org/2000/svg", "http://www.w3.org/1999/xlink"
_TEXT, _SPAN, _PATH = (f"{{{SVG}}}{name}" for name in ("text", "tspan", "path"))
USUAL_SIZE = "405px"
EM, GAP = 1000.0, 150.0
"""Units of a sign's drawing that are as wide as the letters are high, and that lie between a sign and the words after it."""


def plain(svg: str, glyphs: Path) -> str:
    """The page with the same picture for plain readers; ``glyphs``: folder with a file for every sign of every music font."""
    return _flat(_words(svg, glyphs))


def _words(svg: str, glyphs: Path) -> str:
    """Every word in a span of its own, and signs that stand before words (a note in "= 60") drawn."""
    ElementTree.register_namespace("", SVG)
    ElementTree.register_namespace("xlink", LINK)
    root = ElementTree.fromstring(svg)
    for parent in list(root.iter()):
        for place, text in reversed(list(enumerate(parent))):
            if text.tag != _TEXT:
                continue
            spans = list(_spans(text, {}))
            for child in list(text):
                text.remove(child)
            while spans and _is_sign(spans[0][1]):
                said, sign = spans.pop(0)
                drawn = _drawn(sign, said, text, glyphs)
                if drawn is not None:
                    parent.insert(place, drawn)
            words = [(said, w) for said, w in spans if not _is_sign(w)]
            # a size of nothing stands for "as each span says"
            if text.get("font-size") == "0px":
                text.set("font-size", words[0][0].get("font-size", USUAL_SIZE) if words else USUAL_SIZE)
            for said, w in words:
                ElementTree.SubElement(text, _SPAN, said).text = w
    return ElementTree.tostring(root, encoding="unicode")


def _spans(element: ElementTree.Element, said: dict[str, str]) -> Iterator[tuple[dict[str, str], str]]:
    """The words under an element, each with what is said of its letters."""
    for child in element:
        own = said | {k: v for k, v in child.attrib.items() if k.startswith("font")}
        if child.text and child.text.strip():
            yield own, child.text
        yield from _spans(child, own)


def _is_sign(words: str) -> bool:
    """Whether these are signs of a music font: they lie where no letters do."""
    return all("\ue000" <= c <= "\uf8ff" for c in words.strip())


def _drawn(signs: str, said: dict[str, str], text: ElementTree.Element, glyphs: Path) -> ElementTree.Element | None:
    """Signs as a path where the text begins, which then begins after them; None where they cannot be drawn."""
    size = float(said.get("font-size", USUAL_SIZE).removesuffix("px")) / EM
    x, y = float(text.get("x", 0)), float(text.get("y", 0))
    found = [_glyph(glyphs, said.get("font-family", ""), c) for c in signs.strip()]
    text.set("x", f"{x + size * (sum(wide for _, wide in found) + GAP):g}")
    [(shape, _)] = found if len(found) == 1 else [("", 0.0)]
    if not shape:
        return None
    return ElementTree.Element(_PATH, {"d": shape, "transform": f"translate({x:g}, {y:g}) scale({size:g}, {-size:g})"})


@cache
def _glyph(glyphs: Path, font: str, sign: str) -> tuple[str, float]:
    """The drawing of a sign (upwards) and how wide it is, in units; nothing where the font does not have it."""
    code = f"{ord(sign):04X}"
    try:
        drawing = (glyphs / font / f"{code}.xml").read_text()
        table = (glyphs / f"{font}.xml").read_text()
    except OSError:
        return "", 0.0
    shape, wide = re.search(r' d="([^"]+)"', drawing), re.search(rf'c="{code}"[^>]*h-a-x="([\d.]+)"', table)
    return (shape[1] if shape else "", float(wide[1]) if wide else 0.0)


def _flat(svg: str) -> str:
    """The page without a picture inside the picture, which plain readers of SVG (Tiny 1.2) leave out: its scale as a group."""
    found = re.search(r'<svg class="definition-scale"[^>]*viewBox="0 0 ([\d.]+) [\d.]+"[^>]*>', svg)
    outer = re.search(r'viewBox="0 0 ([\d.]+) ', svg)
    if not found or not outer:
        return svg
    scale = float(outer[1]) / float(found[1])
    body = svg[found.end() :]
    inner, _, rest = body.rpartition("</svg>")
    inner, _, tail = inner.rpartition("</svg>")
    return f'{svg[: found.start()]}<g color="black" transform="scale({scale:.8g})">{inner}</g>{tail}</svg>{rest}'
