"""The pages of the look's editor: letters, what is behind them, place, words, a second language."""

from __future__ import annotations

from tamarind.desktop.widgets.fields import Changed, Fields
from tamarind.picture.looks import (
    FIT,
    GROUND,
    LETTERS,
    SECOND,
    STANDING,
    WORDS,
    Box,
    Coming,
    Face,
    Place,
    Side,
    SpeakerSign,
    Weight,
)

WEIGHTS = {"ordinary": Weight.REGULAR, "strong": Weight.SEMIBOLD, "heavy": Weight.BOLD}


def letters_page(changed: Changed) -> Fields:
    """Face, size, colours, outline, shadow."""
    page = Fields(changed, LETTERS)
    page.add_heading("LETTERS")
    page.add_choice(
        "face", "Face", {"plain": Face.PLAIN, "of a book": Face.BOOK, "typed": Face.TYPED}
    )
    page.add_choice("weight", "Weight", WEIGHTS)
    page.add_share("size", "Size", "of the picture's height")
    page.add_share("spacing", "Between letters", "of the size")
    page.add_colour("colour", "Colour")
    page.add_share("opacity", "Opacity")
    page.add_tick("capitals", "capitals only")
    page.add_heading("AROUND THEM")
    page.add_share("outline", "Outline", "of the size; 0 for none")
    page.add_colour("outline_colour", "Its colour")
    page.add_share("shadow", "Shadow", "how soft; 0 for none")
    page.add_colour("shadow_colour", "Its colour")
    page.finish()
    return page


def ground_page(changed: Changed) -> Fields:
    """The box."""
    page = Fields(changed, GROUND)
    page.add_heading("BOX")
    page.add_choice("box", "Box", {"none": Box.NONE, "one a line": Box.LINES, "one": Box.BLOCK})
    page.add_colour("colour", "Colour")
    page.add_share("opacity", "Opacity")
    page.add_share("padding", "Room around", "of the letters' size")
    page.add_share("rounding", "Round corners", "of the letters' size")
    page.finish()
    return page


def standing_page(changed: Changed) -> Fields:
    """Where the captions stand."""
    page = Fields(changed, STANDING)
    page.add_heading("PLACE")
    page.add_choice(
        "place", "Place", {"below": Place.BOTTOM, "above": Place.TOP, "anywhere": Place.FREE}
    )
    page.add_share("across", "Across", "or drag them on the picture")
    page.add_share("down", "Down")
    for name in ("across", "down"):
        page.counts_only(name, "place", Place.FREE)
    page.add_choice(
        "side", "Lines are set", {"left": Side.LEFT, "middle": Side.CENTRE, "right": Side.RIGHT}
    )
    page.add_share("width", "At most as wide", "of the picture")
    page.add_share("safe", "From the edge")
    page.add_share("line_height", "From line to line", "of the letters' size")
    page.finish()
    return page


def words_page(changed: Changed, fit_changed: Changed) -> tuple[Fields, Fields]:
    """How words come and who says them; and the lines that the look asks for."""
    page = Fields(changed, WORDS)
    page.add_heading("WORDS")
    page.add_choice(
        "coming",
        "They come",
        {
            "all at once": Coming.WHOLE,
            "each when it is said": Coming.WORDS,
            "all, the said one lit": Coming.LIT,
        },
    )
    page.add_colour("lit", "The lit one")
    page.counts_only("lit", "coming", Coming.LIT)
    page.add_choice(
        "speakers",
        "Who speaks",
        {
            "not shown": SpeakerSign.NONE,
            "the name before": SpeakerSign.NAME,
            "a colour and a dash": SpeakerSign.COLOUR,
        },
    )
    fit = Fields(fit_changed, FIT)
    fit.add_heading("LINES")
    fit.add_number("line_length", "Letters in a line", "(0: as the house style)")
    fit.add_number("lines", "Lines at a time", "(0: as the house style)")
    fit.finish()
    return page, fit


def second_page(changed: Changed) -> Fields:
    """The second language's letters."""
    page = Fields(changed, SECOND)
    page.add_heading("SECOND LANGUAGE")
    page.add_tick("above", "above the first")
    page.add_share("size", "Size", "of the first's letters")
    page.add_choice("weight", "Weight", WEIGHTS)
    page.add_colour("colour", "Colour")
    page.finish()
    return page
