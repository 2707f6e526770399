"""The look: paper, ink and two pencils. The only place for fonts, sizes and colours, but for those of outcomes (`model/colours.py`)."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PySide6.QtWidgets import QApplication

from ..model import colours

PAPER = QColor("#F6F3EC")
SHEET = QColor("#FFFDF8")
INK = QColor("#22262F")
MUTED = QColor(colours.MUTED)
RULE = QColor("#DDD7CA")
DESK = QColor("#ECE8DD")
TOUCH = QColor("#D5552C")
TOUCH_TEXT = QColor("#B8431D")  # the touch pencil dark enough for small words on paper
CHECK = QColor("#2C5AA0")
CHECK_PALE = QColor("#E4ECF7")
LINE = QColor("#FBF1E0")
OUTCOMES = {outcome: QColor(ink) for outcome, ink in colours.OUTCOMES.items()}
OUTCOME_WORDS = {outcome: QColor(ink) for outcome, ink in colours.OUTCOME_WORDS.items()}

CAPTION, BODY, TITLE, HEADLINE = 11, 13, 15, 22
FAMILY = "Hanken Grotesk"


def load_fonts() -> None:
    """Hanken Grotesk from its package; without it the system's sans stands in."""
    try:
        import font_hanken_grotesk
    except ImportError:
        return
    for path in sorted((Path(font_hanken_grotesk.__file__).parent / "files").glob("*.otf")):
        QFontDatabase.addApplicationFont(str(path))


def font(size: int = BODY, weight: int = 400, *, spaced: bool = False) -> QFont:
    """`size` in pixels at 100 %. `spaced` is for small capitals over a section."""
    made = QFont(FAMILY)
    made.setPixelSize(size)
    made.setWeight(QFont.Weight(weight))
    if spaced:
        made.setLetterSpacing(QFont.SpacingType.PercentageSpacing, 108)
        made.setCapitalization(QFont.Capitalization.AllUppercase)
    return made


def apply(app: QApplication) -> None:
    """Fonts, palette and style sheet for the whole application."""
    load_fonts()
    app.setStyle("Fusion")
    app.setFont(font())
    palette = QPalette()
    for role, colour in (
        (QPalette.ColorRole.Window, PAPER),
        (QPalette.ColorRole.Base, SHEET),
        (QPalette.ColorRole.AlternateBase, PAPER),
        (QPalette.ColorRole.Button, SHEET),
        (QPalette.ColorRole.WindowText, INK),
        (QPalette.ColorRole.Text, INK),
        (QPalette.ColorRole.ButtonText, INK),
        (QPalette.ColorRole.PlaceholderText, MUTED),
        (QPalette.ColorRole.Highlight, QColor("#E9DFC8")),
        (QPalette.ColorRole.HighlightedText, INK),
        (QPalette.ColorRole.ToolTipBase, INK),
        (QPalette.ColorRole.ToolTipText, SHEET),
    ):
        palette.setColor(role, colour)
    app.setPalette(palette)
    app.setStyleSheet(SHEET_RULES)


SHEET_RULES = f"""
QWidget {{ color: {INK.name()}; }}
QMainWindow, QWidget#page {{ background: {PAPER.name()}; }}
QWidget#header {{ background: {SHEET.name()}; border-bottom: 1px solid {RULE.name()}; }}
QWidget#side {{ background: {PAPER.name()}; }}
QWidget#desk {{ background: {DESK.name()}; }}
QWidget#sheet {{ background: {SHEET.name()}; }}
QPushButton {{ background: {SHEET.name()}; border: 1px solid {RULE.name()}; border-radius: 6px; padding: 6px 12px; }}
QPushButton:hover {{ border-color: {MUTED.name()}; }}
QPushButton:focus {{ border: 2px solid {CHECK.name()}; padding: 5px 11px; }}
QPushButton:disabled {{ color: {MUTED.name()}; background: {PAPER.name()}; }}
QPushButton#tab {{ border: none; background: transparent; color: {MUTED.name()}; padding: 7px 13px; }}
QPushButton#tab:hover {{ color: {INK.name()}; background: {PAPER.name()}; }}
QPushButton#tab:checked {{ background: {INK.name()}; color: {SHEET.name()}; font-weight: 600; }}
QPushButton#tab:focus {{ border: 2px solid {CHECK.name()}; padding: 5px 11px; }}
QPushButton#main {{ background: {INK.name()}; color: {SHEET.name()}; border: 1px solid {INK.name()}; font-weight: 600; padding: 7px 15px; }}
QPushButton#main:disabled {{ background: #D9D4C8; color: {MUTED.name()}; border-color: #D9D4C8; }}
QPushButton#main[recording="true"] {{ background: #C24A23; border-color: #C24A23; }}
QPushButton#main:focus {{ border: 2px solid {CHECK.name()}; padding: 6px 14px; }}
QPushButton#check {{ color: {CHECK.name()}; border-color: {CHECK.name()}; }}
QPushButton#check:disabled {{ color: {MUTED.name()}; border-color: {RULE.name()}; background: {PAPER.name()}; }}
QPushButton#check:checked {{ background: {CHECK.name()}; color: {SHEET.name()}; }}
QPushButton#choice:checked {{ background: {INK.name()}; color: {SHEET.name()}; border-color: {INK.name()}; }}
QPushButton#choice:checked:focus {{ border: 2px solid {CHECK.name()}; }}
QPushButton#link {{ border: none; background: transparent; color: {MUTED.name()}; padding: 2px 4px; }}
QPushButton#link:hover {{ color: {INK.name()}; }}
QLineEdit {{ background: {SHEET.name()}; border: 1px solid {RULE.name()}; border-radius: 6px; padding: 5px 8px; }}
QLineEdit:focus {{ border: 2px solid {CHECK.name()}; padding: 4px 7px; }}
QLineEdit#plain {{ background: transparent; border: 1px solid transparent; font-size: 15px; font-weight: 600; padding: 3px 4px; }}
QLineEdit#plain:focus {{ border: 1px solid {CHECK.name()}; }}
QListView, QTreeView, QTableView, QPlainTextEdit, QScrollArea {{ background: transparent; border: 1px solid transparent; outline: none; }}
QListView:focus, QTreeView:focus, QTableView:focus, QPlainTextEdit:focus, QScrollArea:focus {{ border: 1px solid {CHECK.name()}; }}
QPlainTextEdit {{ background: {SHEET.name()}; selection-background-color: #D9E3F2; }}
QTableView::item {{ padding: 2px 8px; }}
QTableView {{ gridline-color: {RULE.name()}; background: {SHEET.name()}; }}
QPushButton#table {{ border: none; background: transparent; color: {MUTED.name()}; padding: 4px 8px; font-size: 12px; }}
QPushButton#table:checked {{ color: {INK.name()}; font-weight: 700; }}
QPushButton#table:focus {{ border: 2px solid {CHECK.name()}; padding: 2px 6px; }}
QTableCornerButton::section {{ background: #EAE5D9; border: none; }}
QHeaderView::section {{ background: #EAE5D9; color: #5C5E67; border: none; padding: 5px 10px; font-size: 11px; font-weight: 600; }}
QSplitter::handle {{ background: {RULE.name()}; }}
QSplitter::handle:horizontal {{ width: 1px; }}
QSplitter::handle:vertical {{ height: 1px; }}
QScrollBar:vertical {{ width: 10px; background: transparent; margin: 0; }}
QScrollBar:horizontal {{ height: 10px; background: transparent; margin: 0; }}
QScrollBar::handle {{ background: #CFC8B8; border-radius: 4px; margin: 2px; min-height: 28px; min-width: 28px; }}
QScrollBar::handle:hover {{ background: #B5AD9A; }}
QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
QMenuBar {{ background: {SHEET.name()}; }}
QMenuBar::item {{ padding: 3px 9px; background: transparent; color: {MUTED.name()}; }}
QMenuBar::item:selected {{ color: {INK.name()}; background: {PAPER.name()}; }}
QMenu {{ background: {SHEET.name()}; border: 1px solid {RULE.name()}; padding: 4px; }}
QMenu::item {{ padding: 5px 22px 5px 12px; border-radius: 4px; }}
QMenu::item:selected {{ background: {LINE.name()}; }}
QToolTip {{ background: {INK.name()}; color: {SHEET.name()}; border: none; padding: 4px 7px; }}
QFrame#card {{ background: {SHEET.name()}; border: 1px solid {RULE.name()}; border-radius: 8px; }}
QFrame#popup {{ background: {SHEET.name()}; border: 1px solid {CHECK.name()}; border-radius: 8px; }}
QLabel#caption {{ color: {MUTED.name()}; font-size: 11px; }}
QLabel#section {{ color: #5C5E67; font-size: 11px; }}
QLabel#muted {{ color: {MUTED.name()}; }}
QLabel#title {{ font-size: 15px; font-weight: 700; }}
QLabel#headline {{ font-size: 22px; font-weight: 700; }}
QLabel#problem {{ background: #F6E3DD; color: #7A2318; border-top: 1px solid #E4C3B8; padding: 7px 14px; }}
QLabel#hint {{ background: {LINE.name()}; color: {INK.name()}; border-top: 1px solid #E3CFA8; padding: 7px 14px; }}
QFrame#message {{ background: {LINE.name()}; border: 1px solid #E3CFA8; border-radius: 8px; }}
QFrame#paper {{ background: {SHEET.name()}; border: 1px solid {RULE.name()}; border-radius: 12px; }}
QComboBox {{ background: {SHEET.name()}; border: 1px solid {RULE.name()}; border-radius: 6px; padding: 7px 10px; }}
QComboBox:focus {{ border: 2px solid {CHECK.name()}; padding: 6px 9px; }}
QComboBox QAbstractItemView {{ background: {SHEET.name()}; border: 1px solid {RULE.name()}; padding: 4px; }}
QComboBox QAbstractItemView {{ selection-background-color: {LINE.name()}; selection-color: {INK.name()}; }}
QComboBox::drop-down {{ border: none; width: 26px; }}
QRadioButton, QCheckBox {{ spacing: 8px; padding: 0; border: 2px solid transparent; border-radius: 5px; }}
QRadioButton:focus, QCheckBox:focus {{ border-color: {CHECK.name()}; }}
QRadioButton:disabled, QCheckBox:disabled {{ color: {MUTED.name()}; }}
"""
