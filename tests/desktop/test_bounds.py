"""Editors of styles take just what files take."""

from PySide6.QtCore import QLocale

from tamarind.captions.limits import Limits
from tamarind.desktop.widgets.decimal_box import DecimalBox
from tamarind.desktop.widgets.fields import Fields
from tamarind.language.housestyle import HouseStyle, read_style
from tamarind.system.declared import options_of
from tests.desktop.support import WindowTest


class Bounds(WindowTest):
    demo = False

    def test_every_number_of_an_editor_is_within_what_its_file_takes(self):
        changed = {}
        page = Fields(changed.__setitem__, Limits)
        for name, option in options_of(Limits).items():
            if option.values.bounds is None:
                continue
            box = page._rows[name]
            for value in (-1e9, 1e9):
                box.setValue(int(value))
                if name in changed:
                    option.values.read(changed[name])

    def test_the_shortest_time_that_can_be_chosen_is_read_again(self):
        low, _ = options_of(Limits)["shortest"].values.bounds
        style = HouseStyle("a", captions=HouseStyle("a").captions.__class__(shortest=int(low)))
        self.assertEqual(read_style(style.packed()).captions.shortest, low)

    def test_decimals_are_typed_with_a_point_or_a_comma(self):
        for language in ("de", "en"):
            box = DecimalBox()
            box.setLocale(QLocale(language))
            for typed in ("0.05", "0,05"):
                box.setValue(1)
                box.lineEdit().setText(typed)
                box.interpretText()
                self.assertEqual(box.value(), 0.05, (language, typed))
