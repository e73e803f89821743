"""Names of languages for people, by their BCP 47 tag."""

from __future__ import annotations

NAMES = {
    "en": "English", "es": "Spanish", "ca": "Catalan", "gl": "Galician", "eo": "Esperanto",
    "fr": "French", "pt": "Portuguese", "it": "Italian", "ro": "Romanian", "cy": "Welsh",
    "de": "German", "oc": "Occitan", "eu": "Basque", "an": "Aragonese", "ast": "Asturian",
    "nl": "Dutch", "sv": "Swedish", "da": "Danish",
}  # fmt: skip


def name_of(tag: str) -> str:
    """The English name of a language, or the tag itself for one that is not listed."""
    return NAMES.get(tag.split("-")[0], tag)
