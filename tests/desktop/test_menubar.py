"""The menus: where desktops have them, opened by key, behind a button in a narrow window."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QMenu

from tamarind.application import personal
from tests.desktop.support import WindowTest


def titles(menu: QMenu) -> list[str]:
    """What stands in a menu and in those within it, which are filled when they are opened."""
    menu.aboutToShow.emit()
    found = []
    for action in menu.actions():
        inner = action.menu()
        found += titles(inner) if isinstance(inner, QMenu) else [action.text().replace("&", "")]
    return found


class Menus(WindowTest):
    def test_they_are_where_desktops_have_them_and_hold_the_commands(self):
        bar = self.window.menu_bar.bar
        names = [action.text().replace("&", "") for action in bar.actions()]
        self.assertEqual(names, ["File", "Edit", "View", "Play", "Text", "Tools", "Help"])
        inside = {title for action in bar.actions() for title in titles(action.menu())}
        for command in ("Undo", "Add recordings…", "Join with", "Accessibility check…", "Quit"):
            self.assertTrue(any(title.startswith(command) for title in inside), command)

    def test_a_narrow_window_or_a_wish_puts_them_behind_a_button(self):
        menus = self.window.menu_bar
        self.assertTrue(menus.bar.isVisible())
        self.window.resize(960, 640)
        self.assertFalse(menus.bar.isVisible())
        self.assertTrue(menus.compact.property("button").isVisible())
        self.window.resize(1280, 800)
        self.assertTrue(menus.bar.isVisible())
        self.window.commands.run("menu_bar_shown")
        self.assertFalse(menus.bar.isVisible())
        self.assertFalse(personal.read(personal.MENU_BAR))
        self.window.commands.run("menu_bar_shown")

    def test_the_key_of_desktops_opens_the_first(self):
        self.key(Qt.Key.Key_F10)
        bar = self.window.menu_bar.bar
        self.assertEqual(bar.activeAction(), bar.actions()[0])
