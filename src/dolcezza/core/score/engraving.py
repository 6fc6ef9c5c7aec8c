"""Notation files to MEI and to engraved pages, by an engraving library. Meant to be run in a process of its own: a file may be anything."""

from __future__ import annotations

import io
import zipfile
from dataclasses import dataclass, field
from pathlib import Path
from xml.etree import ElementTree

from dolcezza.core.score.plain_svg import plain
from dolcezza.core.score.score import NotationError
from dolcezza.core.score.strings_written import with_numerals

MOST_BYTES = 4_000_000
MOST_UNPACKED = 12_000_000
_SVG = "{http://www.w3.org/2000/svg}"
_LINK = "{http://www.w3.org/1999/xlink}href"


@dataclass(frozen=True)
class Engraved:
    """Pages of one part. ``svg``: one a page; ``notes``: id to (page, x, y) of its head, ``systems``: a page's systems as (top, bottom) of
    their staves, all in units of the page's view box, ``size``: (width, height) of it a page."""

    svg: tuple[str, ...]
    notes: dict[str, tuple[int, float, float]] = field(default_factory=dict)
    systems: tuple[tuple[tuple[float, float], ...], ...] = ()
    size: tuple[tuple[float, float], ...] = ()


def to_mei(data: bytes) -> str:
    """MEI of a MusicXML, compressed MusicXML, MEI or ABC file. Raises NotationError."""
    import verovio  # a native library, only where it is used

    verovio.enableLog(False)
    text = with_numerals(_text(data))
    toolkit = verovio.toolkit()
    if not toolkit.loadData(text) or not toolkit.getPageCount():
        raise NotationError("The file is not notation that can be read.", "MusicXML (also compressed), MEI and ABC are.")
    return str(toolkit.getMEI())


def _text(data: bytes) -> str:
    if len(data) > MOST_BYTES:
        raise NotationError(f"The file is larger than {MOST_BYTES // 1_000_000} MB.", "Save the one part that is to be played.")
    if data[:2] == b"PK":
        data = _unpacked(data)
    try:
        text = data.decode("utf-16" if data[:2] in (b"\xff\xfe", b"\xfe\xff") else "utf-8-sig")
    except UnicodeDecodeError as error:
        raise NotationError("The file is not text in UTF-8.", "Save it again as MusicXML.") from error
    if "<!ENTITY" in text:
        raise NotationError("The file defines entities of its own.", "Save it again from the notation program.")
    if not text.strip() or "\0" in text:
        raise NotationError("The file is not notation that can be read.", "MusicXML (also compressed), MEI and ABC are.")
    if text.lstrip()[:1] == "<":
        try:
            ElementTree.fromstring(text)
        except ElementTree.ParseError as error:
            raise NotationError(f"The file breaks off or is damaged (line {error.position[0]}).", "Save it again.") from error
    return text


def _unpacked(data: bytes) -> bytes:
    """The score in a compressed MusicXML file."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            names = [i for i in archive.infolist() if not i.is_dir()]
            if sum(i.file_size for i in names) > MOST_UNPACKED:
                raise NotationError("The compressed file is too large when unpacked.", "Save the one part that is to be played.")
            wanted = [i for i in names if not i.filename.startswith("META-INF") and i.filename.lower().endswith((".xml", ".musicxml"))]
            if not wanted:
                raise NotationError("There is no score in the compressed file.", "Save it again as MusicXML.")
            return archive.read(wanted[0])
    except (zipfile.BadZipFile, NotImplementedError, RuntimeError, EOFError) as error:
        raise NotationError("The compressed file is damaged.", "Save it again as MusicXML.") from error


def engrave(mei: str, staff: int, *, width: int, below: float) -> Engraved:
    """Pages of one staff as wide as ``width`` (px), with room for ``below`` (px) under every system. Raises NotationError."""
    import verovio

    verovio.enableLog(False)
    toolkit = verovio.toolkit()
    scale = 40
    toolkit.setOptions({
        "pageWidth": round(width * 100 / scale), "pageHeight": 60_000, "adjustPageHeight": True, "header": "none", "footer": "none",
        "breaks": "auto", "scale": scale, "spacingSystem": min(48, round(below / 4)), "svgViewBox": True, "pageMarginLeft": 40,
        "pageMarginRight": 40, "pageMarginTop": 40, "pageMarginBottom": round(below * 100 / scale), "mnumInterval": 1,
    })  # fmt: skip
    if not toolkit.loadData(_one_staff(mei, staff)):
        raise NotationError("The part cannot be engraved.", "Choose another staff.")
    pages = [str(toolkit.renderToSVG(k + 1)) for k in range(toolkit.getPageCount())]
    notes: dict[str, tuple[int, float, float]] = {}
    systems, sizes = [], []
    for page, svg in enumerate(pages):
        own, rows, size = _places(svg, page)
        notes |= own
        systems.append(tuple(rows))
        sizes.append(size)
    glyphs = Path(verovio.__file__).parent / "data"
    return Engraved(tuple(plain(p, glyphs) for p in pages), notes, tuple(systems), tuple(sizes))


def _one_staff(mei: str, staff: int) -> str:
    """The MEI with only one of its staves."""
    space = "{http://www.music-encoding.org/ns/mei}"
    ElementTree.register_namespace("", space[1:-1])
    root = ElementTree.fromstring(mei)
    definitions = list(root.iter(f"{space}staffDef"))
    if len({d.get("n") for d in definitions}) < 2:
        return mei
    for parent in root.iter():
        for child in list(parent):
            if (child.tag in (f"{space}staffDef", f"{space}staff") and child.get("n") != str(staff)) or (
                child.get("staff") and str(staff) not in child.get("staff", "").split() and child.tag != f"{space}staffGrp"
            ):
                parent.remove(child)
    return ElementTree.tostring(root, encoding="unicode")


def _places(svg: str, page: int) -> tuple[dict[str, tuple[int, float, float]], list[tuple[float, float]], tuple[float, float]]:
    root = ElementTree.fromstring(svg)
    width, height = (float(v) for v in root.get("viewBox", "0 0 100 100").split()[2:])
    inner = next((e for e in root.iter(f"{_SVG}svg") if e.get("class") == "definition-scale"), root)
    inner_width = float(inner.get("viewBox", root.get("viewBox", "0 0 100 100")).split()[2])
    per = width / inner_width
    margin = next((e for e in inner.iter(f"{_SVG}g") if (e.get("class") or "") == "page-margin"), None)
    dx, dy = _moved(margin.get("transform", "")) if margin is not None else (0.0, 0.0)
    notes: dict[str, tuple[int, float, float]] = {}
    rows: list[tuple[float, float]] = []
    for group in inner.iter(f"{_SVG}g"):
        kind = (group.get("class") or "").split()
        if "note" in kind or "rest" in kind or "mRest" in kind:
            use = next(group.iter(f"{_SVG}use"), None)
            if use is not None:
                x, y = _moved(use.get("transform", "")) if use.get("transform") else (float(use.get("x", 0)), float(use.get("y", 0)))
                notes[group.get("id", "")] = (page, (x + dx) * per, (y + dy) * per)
        elif "system" in kind:
            ys = [
                _line_y(p.get("d", ""))
                for s in group.iter(f"{_SVG}g")
                if "staff" in (s.get("class") or "").split()
                for p in s.findall(f"{_SVG}path")
            ]
            known = [y for y in ys if y is not None]
            if known:
                rows.append(((min(known) + dy) * per, (max(known) + dy) * per))
    return notes, rows, (width, height)


def _moved(transform: str) -> tuple[float, float]:
    inside = transform.partition("translate(")[2].partition(")")[0].replace(",", " ").split()
    return (float(inside[0]), float(inside[1])) if len(inside) >= 2 else (0.0, 0.0)


def _line_y(path: str) -> float | None:
    """Height of a horizontal line "M x y L x y"."""
    numbers = path.replace("M", " ").replace("L", " ").replace(",", " ").split()
    try:
        return float(numbers[1]) if len(numbers) == 4 and numbers[1] == numbers[3] else None
    except ValueError:
        return None
