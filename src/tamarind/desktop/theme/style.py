"""The style sheet for Qt's own widgets; custom painting uses ``colours``."""

from __future__ import annotations

from tamarind.desktop.theme import colours as c
from tamarind.desktop.theme.fonts import INTERFACE, MONO, TEXT
from tamarind.desktop.theme.icons import path_of


def style() -> str:
    """Return the style sheet in the current colours."""
    return "".join((_surfaces(), _buttons(), _small_buttons(), _fields(), _rest()))


def _surfaces() -> str:
    """Return the style of windows, bars, cards, and labels."""
    return f"""
* {{ font-family: "{INTERFACE}"; font-size: 14px; color: {c.INK}; }}
QMainWindow, QDialog {{ background: {c.PAPER}; }}
QToolTip {{ background: {c.INK}; color: {c.SHEET}; border: none; padding: 4px 8px; }}
#header {{ background: {c.SHEET}; border-bottom: 1px solid {c.LINE}; }}
#side {{ background: {c.SAND}; }}
#bar {{ background: {c.SAND}; }}
#versions {{ background: {c.SHEET}; border: 1px solid {c.LINE}; }}
#version {{ border-radius: 5px; }}
#version[tone="chosen"] {{ background: {c.LEAF_PALE}; }}
#card {{ background: {c.SHEET}; border: 1px solid {c.LINE}; border-radius: 10px; padding: 1px; }}
#card[chosen="true"] {{ border: 2px solid {c.LEAF}; padding: 0; }}
#card:focus {{ border-color: {c.PULP}; }}
#offer {{ background: {c.LEAF_PALE}; border: 1px solid {c.LEAF}; border-radius: 8px; }}
#transport {{ background: {c.SHEET}; border-top: 1px solid {c.LINE}; }}
QLabel {{ background: transparent; }}
QLabel[role="title"] {{ font-size: 22px; font-weight: 500; }}
QLabel[role="job"] {{ font-size: 16px; font-weight: 600; }}
QLabel[role="heading"] {{ font-size: 13px; font-weight: 600; color: {c.BARK}; }}
QLabel[role="note"] {{ font-size: 13px; color: {c.GREY}; }}
QLabel[role="card"] {{ font-size: 16px; font-weight: 500; }}
QLabel[role="stage"] {{ font-size: 15px; font-weight: 600; color: {c.GREY}; }}
QLabel[role="stage"][tone="plum"] {{ color: {c.PLUM}; }}
QLabel[role="stage"][tone="now"] {{ color: {c.PULP}; }}
QLabel[role="stage"][tone="good"] {{ color: {c.LEAF_TEXT}; }}
QLabel[role="plum"] {{ font-size: 13px; font-weight: 600; color: {c.PLUM}; }}
QLabel[role="time"] {{ font-family: "{MONO}"; font-size: 17px; color: {c.BARK}; }}
QLabel[role="heading"][tone="plum"] {{ color: {c.PLUM}; }}
QLabel[role="note"][tone="plum"] {{ color: {c.PLUM}; }}
QLabel[role="word"] {{ font-family: "{TEXT}"; font-size: 26px; }}
QLabel[role="before"] {{ font-family: "{TEXT}"; font-size: 16px; color: {c.GREY}; }}
QLabel[role="after"] {{ font-family: "{TEXT}"; font-size: 16px; }}
#caption {{ background: {c.NIGHT}; border-radius: 6px; }}
QLabel[role="caption"] {{ color: #FFFDF8; font-size: 15px; font-weight: 500; }}
#rule {{ background: {c.LINE}; border: none; }}
#notice {{ background: {c.INK}; border-radius: 8px; }}
#notice QLabel {{ color: {c.SHEET}; }}
#notice QPushButton {{ background: transparent; color: {c.SHEET}; border-color: {c.GREY}; }}
#notice QPushButton:hover {{ border-color: {c.SHEET}; }}
QLabel[role="mono"] {{ font-family: "{MONO}"; font-size: 12px; color: {c.GREY}; }}
QDialogButtonBox {{ dialogbuttonbox-buttons-have-icons: 0; }}
"""


def _buttons() -> str:
    """Return the style of buttons, as they are usually."""
    return f"""
QPushButton {{ background: {c.SHEET}; border: 1px solid {c.LINE}; border-radius: 8px;
    padding: 6px 14px; }}
QPushButton:hover {{ border-color: {c.SOUND}; background: {c.CARD}; }}
QPushButton:focus {{ border: 2px solid {c.PULP}; padding: 5px 13px; }}
QPushButton:disabled {{ color: {c.GREY}; background: {c.SAND}; }}
QPushButton[role="primary"] {{ background: {c.PULP}; color: {c.SHEET}; border: 1px solid {c.PULP};
    font-size: 16px; font-weight: 600; padding: 13px; border-radius: 9px; }}
QPushButton[role="primary"]:hover {{ background: {c.PULP_DARK}; }}
QPushButton[role="primary"]:focus {{ border: 2px solid {c.INK}; padding: 12px; }}
QPushButton[role="primary"]:disabled {{ background: {c.LINE}; color: {c.GREY};
    border-color: {c.LINE}; }}
QDialog QPushButton[role="primary"] {{ font-size: 14px; padding: 6px 16px; border-radius: 8px; }}
QDialog QPushButton[role="primary"]:focus {{ padding: 5px 15px; }}
QPushButton[role="link"] {{ background: transparent; border: none; color: {c.LEAF_TEXT};
    font-weight: 600; padding: 2px 0; text-align: left; }}
QPushButton[role="link"]:hover {{ text-decoration: underline; }}
QPushButton[role="link"]:focus {{ text-decoration: underline; border: none; padding: 2px 0; }}
QPushButton[role="link"]:disabled {{ color: {c.GREY}; }}
QPushButton[role="plain"] {{ background: transparent; border: none; color: {c.BARK};
    padding: 4px 8px; }}
QPushButton[role="plain"]:hover {{ background: {c.SAND}; }}
QPushButton[role="step"] {{ background: transparent; border: none; border-radius: 0;
    border-bottom: 3px solid transparent; font-size: 16px; color: {c.GREY};
    padding: 12px 2px 9px; }}
"""


def _small_buttons() -> str:
    """Return the style of tabs, rows and choices."""
    return f"""
QPushButton[role="step"]:hover {{ color: {c.INK}; }}
QPushButton[role="step"]:checked {{ color: {c.BARK}; font-weight: 600;
    border-bottom: 3px solid {c.PULP}; }}
QPushButton[role="step"]:focus {{ color: {c.INK}; text-decoration: underline; }}
QPushButton[role="tab"] {{ background: transparent; border: 1px solid transparent;
    color: {c.GREY}; padding: 3px 12px; border-radius: 12px; }}
QPushButton[role="tab"]:hover {{ color: {c.INK}; background: {c.SAND}; }}
QPushButton[role="tab"]:checked {{ color: {c.BARK}; font-weight: 600; background: {c.SHEET};
    border-color: {c.LINE}; }}
QPushButton[role="tab"]:focus {{ border: 1px solid {c.PULP}; }}
QPushButton[role="listed"] {{ background: transparent; border: none; color: {c.BARK};
    padding: 4px 8px; text-align: left; }}
QPushButton[role="listed"]:hover {{ background: {c.CARD}; }}
QPushButton[role="listed"]:focus {{ text-decoration: underline; }}
QPushButton[role="play"] {{ background: {c.PULP}; border: none; border-radius: 19px; padding: 0; }}
QPushButton[role="play"]:hover {{ background: {c.PULP_DARK}; }}
QPushButton[role="play"]:focus {{ border: 2px solid {c.INK}; padding: 0; }}
QPushButton[role="play"]:disabled {{ background: {c.SOUND}; }}
QPushButton[role="choice"] {{ text-align: left; padding: 6px 10px; }}
QPushButton[role="choice"]:checked {{ border: 2px solid {c.LEAF}; padding: 5px 9px;
    background: {c.CARD}; }}
"""


def _fields() -> str:
    """Return the style of fields, lists and ticks."""
    return f"""
QScrollArea, QAbstractScrollArea {{ background: transparent; border: none; }}
QLineEdit, QComboBox, QAbstractSpinBox {{ background: {c.SHEET}; border: 1px solid {c.LINE};
    border-radius: 7px; padding: 5px 9px; selection-background-color: {c.LEAF_PALE};
    selection-color: {c.INK}; }}
QLineEdit:focus, QComboBox:focus, QAbstractSpinBox:focus {{ border: 2px solid {c.PULP};
    padding: 4px 8px; }}
QLineEdit:disabled, QComboBox:disabled {{ background: {c.SAND}; color: {c.GREY}; }}
QAbstractSpinBox QLineEdit, QAbstractSpinBox QLineEdit:focus {{ border: none; padding: 0 6px;
    background: transparent; }}
QAbstractSpinBox::up-button, QAbstractSpinBox::down-button {{ width: 16px; border: none;
    background: transparent; }}
QComboBox::drop-down {{ border: none; width: 22px; }}
QComboBox::down-arrow {{ width: 0; height: 0; border-left: 4px solid {c.SAND};
    border-right: 4px solid {c.SAND}; border-top: 6px solid {c.GREY}; margin-right: 8px; }}
QComboBox QAbstractItemView, #completions {{ background: {c.SHEET}; border: 1px solid {c.LINE};
    color: {c.INK}; selection-background-color: {c.LEAF_PALE}; selection-color: {c.INK};
    outline: none; }}
QListWidget, QTreeWidget {{ background: {c.SHEET}; border: 1px solid {c.LINE};
    border-radius: 8px; padding: 4px; outline: none; }}
QProgressBar {{ background: {c.SAND}; border: none; border-radius: 4px; min-height: 8px;
    max-height: 8px; }}
QProgressBar::chunk {{ background: {c.LEAF}; border-radius: 4px; }}
QSlider::groove:horizontal {{ background: {c.LINE}; height: 4px; border-radius: 2px; }}
QSlider::sub-page:horizontal {{ background: {c.SOUND}; height: 4px; border-radius: 2px; }}
QSlider::handle:horizontal {{ background: {c.BARK}; width: 12px; height: 12px; margin: -4px 0;
    border-radius: 6px; }}
QSlider::handle:horizontal:focus {{ background: {c.PULP}; }}
QHeaderView::section {{ background: {c.SAND}; color: {c.BARK}; border: none; padding: 4px 8px; }}
QKeySequenceEdit QLineEdit {{ min-width: 150px; }}
QListWidget::item {{ height: 24px; padding: 0 6px; }}
QTreeWidget::item {{ height: 25px; padding: 0 4px; }}
QListWidget::item:selected, QTreeWidget::item:selected {{ background: {c.LEAF_PALE};
    color: {c.INK}; }}
QCheckBox {{ spacing: 8px; }}
QCheckBox::indicator, QListWidget::indicator, QTreeWidget::indicator {{ width: 15px; height: 15px;
    border: 1px solid {c.SOUND}; border-radius: 4px;
    background: {c.SHEET}; }}
QCheckBox::indicator:checked, QListWidget::indicator:checked,
QTreeWidget::indicator:checked {{ background: {c.LEAF}; border-color: {c.LEAF};
    image: url("{path_of("tick")}"); }}
QCheckBox:focus {{ color: {c.PULP}; }}
"""


def _rest() -> str:
    """Return the style of menus, long texts and scroll bars."""
    return f"""
QMenuBar {{ background: {c.SHEET}; padding: 1px 10px; }}
QMenuBar::item {{ padding: 3px 9px; border-radius: 5px; background: transparent; }}
QMenuBar::item:selected {{ background: {c.LEAF_PALE}; }}
QMenu {{ background: {c.SHEET}; border: 1px solid {c.LINE}; padding: 5px; }}
QMenu::item {{ padding: 6px 26px 6px 14px; border-radius: 5px; }}
QMenu::item:selected {{ background: {c.LEAF_PALE}; }}
QMenu::item:disabled {{ color: {c.GREY}; }}
QMenu::separator {{ height: 1px; background: {c.LINE}; margin: 5px 8px; }}
QScrollArea > QWidget > QWidget#page {{ background: transparent; }}
QPlainTextEdit {{ background: {c.SHEET}; border: 1px solid {c.LINE}; border-radius: 8px;
    padding: 12px; font-family: "{MONO}"; font-size: 13px;
    selection-background-color: {c.LEAF_PALE}; selection-color: {c.INK}; }}
QPlainTextEdit#prose {{ font-family: "{INTERFACE}"; font-size: 15px; padding: 6px 8px; }}
QTextEdit {{ background: {c.SHEET}; border: 1px solid {c.LINE}; border-radius: 8px;
    padding: 8px 16px; selection-background-color: {c.CHOSEN}; selection-color: {c.INK}; }}
QScrollBar:vertical {{ background: transparent; width: 11px; margin: 2px; }}
QScrollBar::handle:vertical {{ background: {c.LINE}; border-radius: 3px; min-height: 36px; }}
QScrollBar::handle:vertical:hover {{ background: {c.SOUND}; }}
QScrollBar:horizontal {{ background: transparent; height: 11px; margin: 2px; }}
QScrollBar::handle:horizontal {{ background: {c.LINE}; border-radius: 3px; min-width: 36px; }}
QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
"""
