"""The style of standard widgets, by named colours; what carries the identity is painted."""

from __future__ import annotations

from collections.abc import Mapping

SHEET = """
QWidget {{ color: {ink}; }}
QMainWindow, QDialog {{ background: {ground}; }}
QToolTip {{ background: {raised}; color: {ink}; border: 1px solid {line}; padding: 4px 6px; }}
QLabel#quiet {{ color: {quiet}; }}
QLabel#heading {{ color: {quiet}; font-weight: 600; }}
QPushButton {{ background: {raised}; border: 1px solid transparent; border-radius: 7px; padding: 4px 10px;
    outline: 0; }}
QPushButton:hover {{ border-color: {line}; }}
QPushButton:focus {{ border-color: {input}; }}
QPushButton:disabled {{ color: {quiet}; background: {surface}; }}
QPushButton#plain {{ background: transparent; color: {quiet}; padding: 3px 6px; }}
QPushButton#plain:hover, QPushButton#plain:focus {{ color: {ink}; border-color: {line}; }}
QPushButton#edge {{ background: {ground}; color: {quiet}; border-radius: 0; padding: 0; }}
QPushButton#edge:hover {{ color: {ink}; }}
QPushButton#link {{ background: transparent; color: {input}; padding: 2px 4px; text-align: left; }}
QPushButton#link:hover {{ text-decoration: underline; }}
QPushButton#link:focus {{ border-color: {input}; }}
QPushButton#choice {{ background: transparent; color: {quiet}; border-radius: 0; padding: 3px 4px;
    border: 0; border-bottom: 2px solid transparent; }}
QPushButton#choice:hover {{ color: {ink}; }}
QPushButton#choice:focus {{ color: {ink}; background: {raised}; border-bottom-color: {line}; }}
QPushButton#choice:checked {{ color: {ink}; border-bottom-color: {input}; }}
QPushButton#tab {{ background: transparent; color: {quiet}; border-radius: 0; padding: 7px 12px 6px 12px;
    border: 0; border-bottom: 2px solid transparent; }}
QPushButton#tab:hover {{ color: {ink}; }}
QPushButton#tab:focus {{ color: {ink}; background: {raised}; border-bottom-color: {line}; }}
QPushButton#tab:checked {{ color: {ink}; border-bottom-color: {output}; }}
QFrame#lane {{ background: {raised}; border-radius: 8px; }}
QPushButton#take {{ background: transparent; border: 1px solid {output}; color: {output}; padding: 3px 9px; }}
QPushButton#take:hover {{ background: {output}; color: {on_output}; }}
QPushButton#take:focus {{ border: 2px solid {ink}; }}
QLabel#asks {{ color: {input}; }}
QLabel#command {{ background: {raised}; border-radius: 7px; padding: 5px 9px; font-family: monospace; }}
QPushButton#variant {{ background: transparent; border: 0; text-align: left; padding: 5px 8px; }}
QPushButton#variant:hover {{ background: {surface}; }}
QPushButton#variant:checked {{ background: {raised}; font-weight: 600; }}
QPushButton#variant:focus {{ border: 1px solid {input}; }}
QSpinBox {{ background: {raised}; border: 1px solid transparent; border-radius: 7px; padding: 3px 6px; }}
QLineEdit, QPlainTextEdit {{ background: {raised}; border: 1px solid transparent; border-radius: 7px; padding: 4px 8px;
    selection-background-color: {input}; selection-color: {on_input}; }}
QLineEdit:focus, QPlainTextEdit:focus {{ border-color: {input}; }}
QMenu {{ background: {raised}; border: 1px solid {line}; padding: 5px; }}
QMenu::item {{ padding: 5px 22px 5px 12px; border-radius: 5px; }}
QMenu::item:selected {{ background: {surface}; color: {ink}; }}
QMenu::item:disabled {{ color: {quiet}; }}
QMenu::separator {{ height: 1px; background: {line}; margin: 5px 8px; }}
QScrollArea {{ background: transparent; border: 0; }}
QScrollArea > QWidget > QWidget {{ background: transparent; }}
QAbstractScrollArea::corner {{ background: transparent; border: none; }}
QScrollBar:vertical {{ background: transparent; width: 6px; margin: 0; }}
QScrollBar::handle:vertical {{ background: {line}; border-radius: 3px; min-height: 30px; }}
QScrollBar:horizontal {{ background: transparent; height: 6px; margin: 0; }}
QScrollBar::handle:horizontal {{ background: {line}; border-radius: 3px; min-width: 30px; }}
QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; width: 0; }}
QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
QFrame#finder {{ background: {surface}; border: 1px solid {line}; }}
QListView {{ background: transparent; border: 0; outline: 0; }}
QListWidget {{ background: transparent; border: 0; outline: 0; }}
QListWidget::item {{ padding: 5px 8px; border-radius: 6px; }}
QListWidget::item:selected {{ background: {raised}; color: {ink}; }}
QComboBox {{ background: {raised}; border: 1px solid transparent; border-radius: 7px; padding: 4px 8px; }}
QComboBox:focus {{ border-color: {input}; }}
QComboBox::drop-down {{ border: 0; width: 18px; }}
QComboBox QAbstractItemView {{ background: {raised}; border: 1px solid {line}; selection-background-color: {surface}; }}
QCheckBox::indicator {{ width: 13px; height: 13px; border: 1px solid {quiet}; border-radius: 3px; }}
QCheckBox::indicator:checked {{ background: {input}; border-color: {input}; }}
QCheckBox:focus {{ color: {input}; }}
"""


def style_sheet(colours: Mapping[str, str]) -> str:
    """With these colours, by their names in the table."""
    return SHEET.format_map(colours)
