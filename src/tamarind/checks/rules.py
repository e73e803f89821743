"""Every rule that can be checked: its key, what it is called, and how much it usually counts."""

from __future__ import annotations

from dataclasses import dataclass

from tamarind.language.housestyle import HouseStyle, Level


@dataclass(frozen=True, slots=True)
class Rule:
    """One rule; ``group`` is where it stands in lists.

    Where the fix is ``certain`` it follows from the rule alone: marks, times, lines, figures by the
    style. Others are guesses, which a person takes one by one.
    """

    key: str
    title: str
    group: str
    level: Level
    certain: bool = False


CAPTIONS, SOUND, WORDING, OUTPUT = "Captions", "Sound", "Wording", "Other languages and files"

RULES = {
    rule.key: rule
    for rule in (
        Rule("reading-speed", "too fast to read", CAPTIONS, Level.MUST, certain=True),
        Rule("line-length", "too long a line", CAPTIONS, Level.MUST, certain=True),
        Rule("line-count", "too many lines", CAPTIONS, Level.MUST, certain=True),
        Rule("too-short", "too short a time", CAPTIONS, Level.HINT, certain=True),
        Rule("too-long", "too long a time", CAPTIONS, Level.MUST, certain=True),
        Rule("overlap", "overlaps the next cue", CAPTIONS, Level.MUST, certain=True),
        Rule("gap", "too small a gap", CAPTIONS, Level.MUST, certain=True),
        Rule("same-text", "the same text twice", CAPTIONS, Level.HINT),
        Rule("frames", "time off the frames", CAPTIONS, Level.HINT, certain=True),
        Rule("contrast", "too little contrast", CAPTIONS, Level.HINT, certain=True),
        Rule("silent-text", "text without speech", SOUND, Level.HINT),
        Rule("unheard", "speech without text", SOUND, Level.MUST),
        Rule("at-once", "two speak at once", SOUND, Level.HINT),
        Rule("doubt", "unsettled doubt", SOUND, Level.HINT),
        Rule("speaker", "speaker without a name", SOUND, Level.HINT),
        Rule("repeated", "repeated word", WORDING, Level.HINT),
        Rule("filler", "filler or false start", WORDING, Level.HINT, certain=True),
        Rule("quotes", "unbalanced quotes", WORDING, Level.MUST),
        Rule("brackets", "unbalanced brackets", WORDING, Level.MUST),
        Rule("typography", "quotes or dashes of another style", WORDING, Level.HINT, certain=True),
        Rule("numbers", "number against the style", WORDING, Level.HINT, certain=True),
        Rule("sentence-start", "lower-case sentence start", WORDING, Level.HINT, certain=True),
        Rule("sentence-end", "missing sentence end", WORDING, Level.HINT),
        Rule(
            "opening-marks", "question or exclamation not opened", WORDING, Level.HINT, certain=True
        ),
        Rule("spelling", "spelling", WORDING, Level.HINT),
        Rule("grammar", "grammar", WORDING, Level.HINT),
        Rule("characters", "characters the file cannot hold", OUTPUT, Level.MUST),
        Rule("file-limits", "too much for the file", OUTPUT, Level.MUST),
        Rule("untranslated", "translation missing", OUTPUT, Level.MUST),
        Rule("stale", "translation of an older text", OUTPUT, Level.MUST),
        Rule("translation-numbers", "number missing in a translation", OUTPUT, Level.HINT),
        Rule("translation-spelling", "spelling in a translation", OUTPUT, Level.HINT),
        Rule("translation-speed", "translation too long for its time", OUTPUT, Level.HINT),
    )
}
"""In the order in which they are listed."""


def level_of(style: HouseStyle, rule: str) -> Level:
    """How much a rule counts in a style."""
    return style.levels.get(rule, RULES[rule].level)
