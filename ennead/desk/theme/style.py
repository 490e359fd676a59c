"""The style sheet and colour roles of the standard widgets, from a theme."""

from PyQt6.QtGui import QPalette
from PyQt6.QtWidgets import QApplication, QWidget

from ennead.drawings.painters.theme import Theme


def apply_theme(app: QApplication, window: QWidget, theme: Theme) -> None:
    """Dress a window, its dialogs and all standard widgets in a theme.

    The style sheet is the window's, not the application's: another one is then gone through once for each
    widget, where the application's is gone through once for each widget and each of its parents.
    """
    palette = QPalette()
    roles = QPalette.ColorRole
    pairs = (
        (roles.Window, "ground"),
        (roles.Base, "ground"),
        (roles.AlternateBase, "panel"),
        (roles.Button, "panel"),
        (roles.WindowText, "ink"),
        (roles.Text, "ink"),
        (roles.ButtonText, "ink"),
        (roles.ToolTipText, "ink"),
        (roles.ToolTipBase, "panel"),
        (roles.Highlight, "selection"),
        (roles.HighlightedText, "ink"),
        (roles.PlaceholderText, "soft"),
        (roles.Link, "accent"),
    )
    for role, name in pairs:
        palette.setColor(role, theme.colour(name))
    for role in (roles.WindowText, roles.Text, roles.ButtonText):
        palette.setColor(QPalette.ColorGroup.Disabled, role, theme.colour("soft"))
    app.setPalette(palette)
    app.setFont(theme.font(14))
    window.setStyleSheet(sheet(theme))


def sheet(theme: Theme) -> str:
    """Return the style sheet."""
    p, px = theme.palette, theme.px
    return f"""
    * {{ outline: none; }}
    QToolTip {{ background: {p.panel}; color: {p.ink}; border: 1px solid {p.rule}; padding: {px(4)}px; }}
    QMenuBar {{ background: {p.ground}; border-bottom: 1px solid {p.hairline}; padding: {px(2)}px {px(6)}px; }}
    QMenuBar::item {{ padding: {px(3)}px {px(9)}px; background: transparent; color: {p.ink}; }}
    QMenuBar::item:selected {{ background: {p.selection}; }}
    QMenu {{ background: {p.ground}; border: 1px solid {p.rule}; padding: {px(4)}px 0; }}
    QMenu::item {{ padding: {px(5)}px {px(26)}px {px(5)}px {px(18)}px; color: {p.ink}; }}
    QMenu::item:selected {{ background: {p.selection}; }}
    QMenu::item:disabled {{ color: {p.soft}; }}
    QMenu::separator {{ height: 1px; background: {p.hairline}; margin: {px(4)}px 0; }}
    QPushButton {{ background: transparent; border: 1px solid {p.accent}; border-radius: {px(3)}px;
        padding: {px(4)}px {px(12)}px; color: {p.accent}; }}
    QPushButton:hover, QPushButton:checked {{ background: {p.selection}; }}
    QPushButton:focus {{ border: {max(2, px(2))}px solid {p.accent}; }}
    QPushButton:disabled {{ color: {p.soft}; border-color: {p.hairline}; }}
    QPushButton[quiet="true"] {{ border-color: {p.hairline}; color: {p.ink}; }}
    QPushButton[quiet="true"]:checked {{ background: {p.selection}; border-color: {p.accent}; }}
    QPushButton[fix="true"] {{ text-align: left; }}
    QPushButton[switch="true"] {{ border: none; border-bottom: {px(2)}px solid {p.hairline}; border-radius: 0; color: {p.soft};
        padding: {px(4)}px {px(10)}px; }}
    QPushButton[switch="true"]:checked {{ background: transparent; color: {p.ink}; border-bottom: {px(2)}px solid {p.accent}; }}
    QPushButton[switch="true"]:focus {{ background: {p.selection}; }}
    QLineEdit, QComboBox, QPlainTextEdit {{ background: {p.ground}; border: 1px solid {p.rule};
        border-radius: {px(2)}px; padding: {px(3)}px {px(6)}px; color: {p.ink};
        placeholder-text-color: {p.soft};
        selection-background-color: {p.selection}; selection-color: {p.ink}; }}
    QLineEdit:focus, QComboBox:focus, QPlainTextEdit:focus {{ border: {max(2, px(2))}px solid {p.accent}; }}
    QComboBox::drop-down {{ border: none; width: {px(20)}px; }}
    QComboBox::down-arrow {{ width: 0; height: 0; border-left: {px(4)}px solid {p.panel};
        border-right: {px(4)}px solid {p.panel}; border-top: {px(6)}px solid {p.soft}; margin-right: {px(6)}px; }}
    QComboBox QAbstractItemView {{ background: {p.ground}; border: 1px solid {p.rule}; color: {p.ink};
        selection-background-color: {p.selection}; selection-color: {p.ink}; }}
    QTableView, QListView {{ background: {p.ground}; border: none; gridline-color: {p.hairline}; color: {p.ink};
        selection-background-color: {p.selection}; selection-color: {p.ink}; }}
    QListView::indicator, QTreeView::indicator, QCheckBox::indicator {{
        width: {px(13)}px; height: {px(13)}px; border: 1px solid {p.soft}; background: {p.ground}; }}
    QListView::indicator:checked, QTreeView::indicator:checked, QCheckBox::indicator:checked {{
        background: {p.accent}; border: 1px solid {p.ink}; }}
    QHeaderView, QTableCornerButton::section {{ background: {p.ground}; border: none; }}
    QHeaderView::section {{ background: {p.ground}; color: {p.soft}; border: none;
        border-bottom: 1px solid {p.rule}; padding: {px(4)}px {px(6)}px; font-weight: normal; }}
    """ + _furniture(theme)


def _furniture(theme: Theme) -> str:
    """Return what the style sheet says of scroll bars, tabs, dialogs and the parts of the window."""
    p, px = theme.palette, theme.px
    return f"""
    QScrollArea, QAbstractScrollArea {{ border: none; background: transparent; }}
    QAbstractScrollArea::corner {{ background: transparent; border: none; }}
    QPlainTextEdit {{ border: 1px solid {p.rule}; background: {p.ground}; }}
    QPlainTextEdit:focus {{ border: {max(2, px(2))}px solid {p.accent}; }}
    QTabWidget::pane {{ border: 1px solid {p.hairline}; }}
    QTabBar::tab {{ background: {p.ground}; color: {p.soft}; border: none; border-bottom: {px(2)}px solid {p.ground};
        padding: {px(5)}px {px(10)}px; }}
    QTabBar::tab:selected {{ color: {p.ink}; border-bottom: {px(2)}px solid {p.accent}; }}
    QTabBar::tab:focus {{ background: {p.selection}; }}
    QSpinBox {{ background: {p.ground}; color: {p.ink}; border: 1px solid {p.rule}; padding: {px(3)}px {px(4)}px;
        selection-background-color: {p.selection}; selection-color: {p.ink}; }}
    QSpinBox:focus {{ border: {max(2, px(2))}px solid {p.accent}; }}
    QSpinBox::up-button, QSpinBox::down-button {{ background: {p.panel}; border: none; width: {px(18)}px; }}
    QSpinBox::up-arrow {{ width: 0; height: 0; border-left: {px(4)}px solid {p.panel};
        border-right: {px(4)}px solid {p.panel}; border-bottom: {px(5)}px solid {p.soft}; }}
    QSpinBox::down-arrow {{ width: 0; height: 0; border-left: {px(4)}px solid {p.panel};
        border-right: {px(4)}px solid {p.panel}; border-top: {px(5)}px solid {p.soft}; }}
    #margin QLineEdit, #margin QComboBox {{ border: none; border-bottom: 1px solid {p.hairline}; border-radius: 0;
        background: transparent; padding: {px(2)}px {px(2)}px; }}
    #margin QLineEdit:hover, #margin QComboBox:hover {{ border-bottom: 1px solid {p.rule}; }}
    #margin QLineEdit:focus, #margin QComboBox:focus {{ border-bottom: {max(2, px(2))}px solid {p.accent}; }}
    #margin QPushButton {{ padding: {px(4)}px {px(8)}px; }}
    QScrollBar:vertical {{ background: transparent; width: {px(11)}px; margin: 0; }}
    QScrollBar:horizontal {{ background: transparent; height: {px(11)}px; margin: 0; }}
    QScrollBar::handle {{ background: {p.rule}; border-radius: {px(3)}px; margin: {px(2)}px; min-height: {px(28)}px;
        min-width: {px(28)}px; }}
    QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page {{
        background: transparent; border: none; width: 0; height: 0; }}
    QSplitter::handle {{ background: {p.hairline}; }}
    QProgressBar {{ background: {p.panel}; border: 1px solid {p.rule}; border-radius: {px(2)}px; color: {p.ink};
        min-height: {px(12)}px; max-height: {px(16)}px; text-align: center; }}
    QProgressBar::chunk {{ background: {p.accent}; border-radius: {px(1)}px; }}
    QDialog {{ background: {p.ground}; }}
    QDialogButtonBox {{ dialogbuttonbox-buttons-have-icons: 0; }}
    QLabel[tone="ink"], #tally QPushButton[tone="ink"] {{ color: {p.ink}; }}
    QLabel[tone="soft"] {{ color: {p.soft}; }}
    QLabel[tone="accent"] {{ color: {p.accent}; }}
    QLabel[tone="trouble"], #tally QPushButton[tone="trouble"] {{ color: {p.trouble}; }}
    QLabel[tone="caution"], #tally QPushButton[tone="caution"] {{ color: {p.caution}; }}
    #tally QPushButton {{ border: none; padding: {px(4)}px {px(6)}px; font-weight: normal; }}
    #tally QPushButton[tone="trouble"], #tally QPushButton[tone="caution"] {{ font-weight: bold; }}
    #tally QPushButton:focus, #tally QPushButton:hover {{ background: {p.selection}; }}
    #hairline {{ background: {p.hairline}; }}
    #margin, #margin QWidget#marginPage {{ background: {p.panel}; }}
    #tally {{ background: {p.panel}; border-top: 1px solid {p.rule}; }}
    #notice {{ background: {p.panel}; border: 1px solid {p.rule}; padding: {px(8)}px; }}
    #navigation {{ background: {p.panel}; }}
    #lower {{ background: {p.ground}; border-top: 1px solid {p.hairline}; }}
    """
