"""The pages of the editor: captions, transcript, wording, and how much each check counts."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QLineEdit

from tamarind.captions.limits import SpeakerMarks
from tamarind.checks.rules import RULES, level_of
from tamarind.desktop.intake.glossary_dialog import GlossaryDialog
from tamarind.desktop.widgets.fields import Changed, Fields
from tamarind.desktop.widgets.parts import button
from tamarind.formats.paragraphs import SpeakerForm, Stamps
from tamarind.language.housestyle import (
    CAPTIONS,
    TRANSCRIPT,
    WORDING,
    Dashes,
    Dates,
    HouseStyle,
    Letters,
    Level,
    Numbers,
    Quotes,
    Times,
    Written,
)
from tamarind.speech.glossary import terms_of, write_glossary

RATES = {
    "no": None, "23.976": 24_000 / 1_001, "24": 24.0, "25": 25.0, "29.97": 30_000 / 1_001,
    "30": 30.0, "50": 50.0, "59.94": 60_000 / 1_001, "60": 60.0,
}  # fmt: skip
SPELLINGS = {
    "British": "GB", "American": "US", "Australian": "AU", "Canadian": "CA", "Indian": "IN",
}  # fmt: skip


def captions_page(changed: Changed) -> Fields:
    """Lines, reading speed, times."""
    page = Fields(changed, CAPTIONS)
    page.add_heading("LINES")
    page.add_number("line_length", "Letters in a line")
    page.add_number("wide_line_length", "Full-width letters")
    page.add_number("lines", "Lines in a cue")
    page.add_choice(
        "speakers",
        "Who speaks",
        {
            "not shown": SpeakerMarks.NONE,
            "MARTIN HALE: at every change": SpeakerMarks.NAME,
            "[Martin Hale] at every change": SpeakerMarks.BRACKETS,
            "dashes where two share a cue": SpeakerMarks.DASHES,
            "a colour each": SpeakerMarks.COLOURS,
        },
    )
    page.add_heading("READING")
    page.add_rate("reading_speed", "Reading speed", "characters a second, at most")
    page.add_tick("counts_spaces", "spaces count")
    page.add_rate("wide_reading_speed", "Full-width letters", "a second, at most")
    page.add_heading("TIMES")
    page.add_seconds("shortest", "Shortest")
    page.add_seconds("longest", "Longest")
    page.add_seconds("gap", "Gap between cues", "at least")
    page.add_seconds("lead_in", "Before the voice", "where nothing else is said")
    page.add_seconds("lead_out", "After the voice", "where nothing else is said")
    page.add_choice("frame_rate", "On frames", RATES)
    page.add_tick("own_frames", "on those of the recording's picture, if it has one")
    page.add_tick("to_shots", "keep to the shots of the picture, from the draft on")
    page.finish()
    return page


def transcript_page(changed: Changed) -> Fields:
    """Speakers, times, paragraphs."""
    page = Fields(changed, TRANSCRIPT)
    page.add_heading("SPEAKERS")
    page.add_choice(
        "speakers",
        "Label",
        {
            "Martin Hale:": SpeakerForm.NAME,
            "MARTIN HALE:": SpeakerForm.CAPITALS,
            "[Martin Hale]": SpeakerForm.BRACKETS,
            "MH:": SpeakerForm.INITIALS,
            "none": SpeakerForm.NONE,
        },
    )
    page.add_tick("repeats_speaker", "at every paragraph, not at changes only")
    page.add_heading("TIMES")
    page.add_choice(
        "stamps",
        "Time stamps",
        {
            "none": Stamps.NONE,
            "every paragraph": Stamps.PARAGRAPHS,
            "every few minutes": Stamps.MINUTES,
        },
    )
    page.add_number("stamp_minutes", "Every", "min")
    page.counts_only("stamp_minutes", "stamps", Stamps.MINUTES)
    page.add_heading("PARAGRAPHS")
    page.add_number("paragraph_words", "About", "words, when a draft is made")
    page.add_number("longest_paragraph", "At most", "words (0: as they are)")
    page.finish()
    return page


def wording_page(changed: Changed) -> Fields:
    """Verbatim or clean, numbers, marks, spelling."""
    page = Fields(changed, WORDING)
    page.add_heading("WORDS")
    page.add_choice(
        "clean",
        "Wording",
        {"verbatim: every word": False, "clean: no fillers, repeats, false starts": True},
    )
    fillers = QLineEdit()
    fillers.editingFinished.connect(
        lambda: changed("fillers", tuple(fillers.text().replace(",", " ").split()))
    )

    def show_fillers(words: tuple[str, ...]) -> None:
        fillers.setText(", ".join(words))
        fillers.setCursorPosition(0)

    page.add_field("fillers", "Fillers", fillers, show_fillers)
    page.add_heading("FIGURES")
    page.add_choice(
        "numbers",
        "Numbers",
        {
            "as they are": Numbers.AS_THEY_ARE,
            "in words up to a limit": Numbers.WORDS_BELOW,
            "in figures": Numbers.FIGURES,
        },
    )
    page.add_number("figures_from", "Figures from")
    page.counts_only("figures_from", "numbers", Numbers.WORDS_BELOW)
    page.add_choice(
        "dates",
        "Dates, years",
        {"as they are": Dates.AS_THEY_ARE, "in figures: 14 March 1985": Dates.FIGURES},
    )
    page.add_choice(
        "times",
        "Times of day",
        {
            "as they are": Times.AS_THEY_ARE,
            "3:30 pm": Times.HALF_DAY,
            "15:30": Times.WHOLE_DAY,
        },
    )
    page.add_choice(
        "amounts",
        "Money",
        {
            "as it is": Written.AS_IT_IS,
            "with its sign: £350": Written.SHORT,
            "in full: 350 pounds": Written.IN_FULL,
        },
    )
    page.add_choice(
        "measures",
        "Measures",
        {
            "as they are": Written.AS_IT_IS,
            "short: 5 km, 20%": Written.SHORT,
            "in full: 5 kilometres": Written.IN_FULL,
        },
    )
    page.add_choice(
        "letters",
        "Spelt letters",
        {
            "as they are": Letters.AS_THEY_ARE,
            "P-E-N": Letters.HYPHENS,
            "PEN": Letters.TOGETHER,
        },
    )
    page.add_heading("MARKS")
    page.add_choice(
        "quotes",
        "Quotation marks",
        {
            "as they are": Quotes.AS_THEY_ARE,
            "“double”": Quotes.DOUBLE,
            "‘single’": Quotes.SINGLE,
            "«angled»": Quotes.ANGLED,
            '"straight"': Quotes.STRAIGHT,
            "as the language has them": Quotes.OF_THE_LANGUAGE,
        },
    )
    page.add_choice(
        "dashes",
        "Dashes",
        {
            "as they are": Dashes.AS_THEY_ARE,
            "spaced – en dash": Dashes.SPACED_EN,
            "closed—em dash": Dashes.EM,
            "spaced - hyphen": Dashes.HYPHEN,
        },
    )
    page.add_choice("spelling", "English spelling", SPELLINGS)
    page.add_heading("NAMES")
    _add_terms(page, changed)
    page.finish()
    return page


def _add_terms(page: Fields, changed: Changed) -> None:
    """The client's names and terms, which are listened for beside the job's."""
    terms: list[tuple[str, ...]] = [()]

    def ask() -> None:
        dialog = GlossaryDialog(terms_of(terms[0]), parent=page)
        if dialog.exec():
            lines = tuple(write_glossary(dialog.glossary()).splitlines())
            show(lines)
            changed("terms", lines)

    opened = button("", ask)

    def show(lines: tuple[str, ...]) -> None:
        terms[0] = lines
        opened.setText("none yet…" if not lines else f"{len(lines)} of the client…")

    opened.setToolTip("Names and terms to listen for in all recordings with this style")
    page.add_field("terms", "Listened for", opened, show)


class ChecksPage(Fields):
    """Off, hint or must for every rule."""

    def __init__(self, changed: Callable[[str, Level], None]) -> None:
        super().__init__(changed)
        group = ""
        levels = {"off": Level.OFF, "hint": Level.HINT, "must": Level.MUST}
        for rule in RULES.values():
            if rule.group != group:
                group = rule.group
                self.add_heading(group.upper())
            self.add_choice(rule.key, rule.title.capitalize(), levels)
        self.finish()

    def show_levels(self, style: HouseStyle) -> None:
        """Show how much each rule counts in a style."""
        for rule in RULES:
            self.show_value(rule, level_of(style, rule))
