"""Where the window is put, and that it comes back there."""

from PySide6.QtTest import QTest

from tamarind.application import personal
from tamarind.desktop import placement
from tests.desktop.support import WindowTest


class Placement(WindowTest):
    def test_never_larger_than_the_screen_leaves_and_the_transport_is_seen(self):
        room = self.window.screen().availableGeometry()
        placement.put(self.window)
        self.window.show()
        QTest.qWait(60)
        # What the window needs at least is more than this screen is wide.
        self.assertLessEqual(self.window.frameGeometry().height(), room.height())
        self.assertEqual(self.window.width(), max(self.least()[0], room.width()))
        self.window.resize(room.width() + 300, room.height() + 200)
        placement.fit(self.window)
        self.assertLessEqual(self.window.frameGeometry().height(), room.height())
        bottom = self.window.transport.mapTo(self.window, self.window.transport.rect().bottomLeft())
        self.assertLess(bottom.y(), self.window.height())

    def least(self):
        size = self.window.minimumSize()
        return size.width(), size.height()

    def test_it_comes_back_to_where_it_was_on_the_same_screens(self):
        self.window.show()
        self.window.resize(self.least()[0], self.least()[1] + 37)
        placement.keep(self.window)
        self.window.resize(self.least()[0], self.least()[1])
        placement.put(self.window)
        self.assertEqual(self.window.height(), self.least()[1] + 37)
        personal.keep(personal.WINDOW_PLACES, {placement.screens(): "no geometry"})
        placement.put(self.window)
        self.assertGreater(self.window.height(), 400)

    def test_small_screens_are_enough_for_every_page(self):
        self.window.resize(940, 540)
        self.window.show()
        for name in ("intake", "proof", "translation", "export"):
            self.window.show_step(name)
            self.assertEqual((self.window.width(), self.window.height()), (940, 540), name)
