"""The one style sheet, made from a palette, and the font that ships with the program."""

from __future__ import annotations

from collections.abc import Callable
from importlib import resources

from PySide6.QtCore import QByteArray, QSize, Qt
from PySide6.QtGui import QColor, QFont, QFontDatabase, QIcon, QPainter, QPalette, QPixmap
from PySide6.QtSvg import QSvgRenderer
from PySide6.QtWidgets import QApplication

from dolcezza.app.theme.palette import LIGHT, Palette

FAMILY = "Cabin"
BASE_PX = 15

_SHEET = """
* {{ font-family: "{family}"; font-size: {base}px; color: {ink}; }}
QMainWindow, QWidget#page, QStackedWidget {{ background: {paper}; }}
QLabel#title {{ font-size: 24px; font-weight: 600; }}
QLabel#heading {{ font-size: 17px; font-weight: 600; }}
QLabel#faint {{ color: {faint}; }}
QLabel#figure {{ font-size: 21px; font-weight: 600; }}
QLabel#lead {{ color: {accent}; }}
QLabel#lead:focus {{ text-decoration: underline; }}
QLabel#problem {{ color: {warn}; font-weight: 600; }}
QFrame#card {{ background: {surface}; border: 1px solid {line}; border-radius: 9px; }}
QFrame#notice {{ background: {quiet}; border: 0; border-top: 2px solid {accent}; }}
QPushButton {{ background: {surface}; border: 1.5px solid {line}; border-radius: 15px; padding: 5px 15px; min-height: 19px; }}
QPushButton:hover {{ border-color: {accent}; }}
QPushButton:focus {{ border-color: {accent}; border-width: 2px; padding: 4px 14px; }}
QPushButton#chip {{ padding: 3px 7px; border-radius: 12px; }}
QPushButton#chip:focus {{ padding: 2px 6px; }}
QPushButton:checked {{ background: {quiet}; border-color: {accent}; font-weight: 600; }}
QPushButton:disabled {{ color: {faint}; background: {raised}; }}
QPushButton#main {{ background: {accent}; border-color: {accent}; color: {on_accent}; font-weight: 600; }}
QPushButton#main:disabled {{ background: {raised}; border-color: {line}; color: {faint}; }}
QPushButton#main:focus {{ border-color: {ink}; }}
QToolButton {{ background: transparent; border: 1.5px solid transparent; border-radius: 15px; padding: 4px;
    min-width: 24px; min-height: 24px; }}
QToolButton:hover {{ background: {quiet}; }}
QToolButton:focus {{ border-color: {accent}; }}
QToolButton:checked {{ background: {quiet}; border-color: {line}; }}
QLineEdit, QComboBox, QDateEdit, QPlainTextEdit, QAbstractSpinBox {{ background: {surface}; border: 1.5px solid {line};
    border-radius: 6px; padding: 4px 8px; }}
QLineEdit, QComboBox, QDateEdit, QAbstractSpinBox {{ min-height: 20px; }}
QLineEdit:focus, QComboBox:focus, QDateEdit:focus, QPlainTextEdit:focus, QAbstractSpinBox:focus {{ border-color: {accent}; }}
QComboBox::drop-down {{ border: 0; width: 22px; }}
QComboBox::down-arrow {{ image: url({arrow}); width: 12px; height: 12px; }}
QDateEdit::drop-down {{ border: 0; width: 22px; }}
QDateEdit::down-arrow {{ image: url({arrow}); width: 12px; height: 12px; }}
QSpinBox::up-button, QSpinBox::down-button, QDoubleSpinBox::up-button, QDoubleSpinBox::down-button {{ width: 0; border: 0; }}
QComboBox QAbstractItemView {{ background: {surface}; selection-background-color: {quiet}; selection-color: {ink}; }}
QCheckBox::indicator {{ width: 16px; height: 16px; border: 1.5px solid {faint}; border-radius: 4px; background: {surface}; }}
QCheckBox::indicator:checked {{ background: {accent}; border-color: {accent}; image: url({check}); }}
QAbstractSpinBox QLineEdit {{ border: 0; padding: 0 6px; background: transparent; }}
QCheckBox:focus {{ color: {accent}; }}
QListView {{ background: transparent; border: 0; outline: 0; }}
QScrollArea, QScrollArea > QWidget > QWidget {{ background: transparent; border: 0; }}
QProgressBar {{ background: {raised}; border: 0; border-radius: 5px; min-height: 10px; max-height: 10px; }}
QProgressBar::chunk {{ background: {accent}; border-radius: 5px; }}
QSlider::groove:horizontal {{ height: 4px; background: {line}; border-radius: 2px; }}
QSlider::handle:horizontal {{ background: {accent}; width: 14px; height: 14px; margin: -5px 0; border-radius: 7px; }}
QSlider:focus {{ background: {quiet}; }}
QMenuBar {{ background: {paper}; }}
QMenuBar::item:selected, QMenu::item:selected {{ background: {quiet}; color: {ink}; }}
QMenu {{ background: {surface}; border: 1px solid {line}; padding: 4px; }}
QToolTip {{ background: {ink}; color: {paper}; border: 0; padding: 5px; }}
QScrollBar:vertical {{ background: transparent; width: 10px; }}
QScrollBar::handle:vertical {{ background: {line}; border-radius: 5px; min-height: 24px; }}
QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; }}
"""


def load_font() -> str:
    """Register the font family of the program and return its name."""
    folder = resources.files("dolcezza") / "app" / "theme" / "fonts"
    for entry in sorted(folder.iterdir(), key=lambda p: p.name):
        if entry.name.endswith(".otf"):
            QFontDatabase.addApplicationFontFromData(QByteArray(entry.read_bytes()))
    return FAMILY


def sheet(palette: Palette) -> str:
    """The style sheet in a palette's colours."""
    icons = resources.files("dolcezza") / "app" / "theme" / "icons"
    pictures = {name: str(icons / f"{name}-{palette.name}.svg").replace("\\", "/") for name in ("arrow", "check")}
    return _SHEET.format(family=FAMILY, base=BASE_PX, **pictures, **vars(palette))


def dress(app: QApplication, palette: Palette = LIGHT) -> None:
    """Give the whole application its font, colours and style sheet."""
    load_font()
    app.setStyle("Fusion")
    font = QFont(FAMILY)
    font.setPixelSize(BASE_PX)
    app.setFont(font)
    colours = QPalette()
    roles = QPalette.ColorRole
    for role, colour in (
        (roles.Window, palette.paper), (roles.Base, palette.surface), (roles.Button, palette.surface),
        (roles.Text, palette.ink), (roles.WindowText, palette.ink), (roles.ButtonText, palette.ink),
        (roles.Highlight, palette.accent), (roles.HighlightedText, palette.on_accent), (roles.PlaceholderText, palette.faint),
        (roles.ToolTipBase, palette.ink), (roles.ToolTipText, palette.paper),
    ):  # fmt: skip
        colours.setColor(role, QColor(colour))
    app.setPalette(colours)
    app.setProperty("theme", palette.name)
    app.setStyleSheet(sheet(palette))


def built_bare(build: Callable[[], None]) -> None:
    """Put widgets together without the style sheet, which looks through all of them for every one that is added; then give it to all at
    once. Where something is shown already it is left in place."""
    app = QApplication.instance()
    if not isinstance(app, QApplication) or any(w.isVisible() for w in app.topLevelWidgets()):
        build()
        return
    whole = app.styleSheet()
    app.setStyleSheet("")
    try:
        build()
    finally:
        app.setStyleSheet(whole)


def icon(name: str, colour: str, size: int = 22) -> QIcon:
    """One of the program's own icons (``theme/icons/NAME.svg``) drawn in ``colour``."""
    svg = (resources.files("dolcezza") / "app" / "theme" / "icons" / f"{name}.svg").read_text(encoding="utf-8")
    renderer = QSvgRenderer(QByteArray(svg.replace("currentColor", colour).encode()))
    pixmap = QPixmap(QSize(size * 2, size * 2))
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    renderer.render(painter)
    painter.end()
    pixmap.setDevicePixelRatio(2.0)
    return QIcon(pixmap)
