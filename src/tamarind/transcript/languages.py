"""Names of spoken languages for lists, by their BCP 47 tags; English first, as it is built in."""

from __future__ import annotations

LANGUAGES = {
    "en": "English", "af": "Afrikaans", "ar": "Arabic", "eu": "Basque", "bg": "Bulgarian",
    "ca": "Catalan", "zh": "Chinese", "hr": "Croatian", "cs": "Czech", "da": "Danish",
    "nl": "Dutch", "et": "Estonian", "fi": "Finnish", "fr": "French", "gl": "Galician",
    "de": "German", "el": "Greek", "he": "Hebrew", "hi": "Hindi", "hu": "Hungarian",
    "is": "Icelandic", "id": "Indonesian", "it": "Italian", "ja": "Japanese", "ko": "Korean",
    "lv": "Latvian", "lt": "Lithuanian", "no": "Norwegian", "fa": "Persian", "pl": "Polish",
    "pt": "Portuguese", "ro": "Romanian", "ru": "Russian", "sr": "Serbian", "sk": "Slovak",
    "sl": "Slovenian", "es": "Spanish", "sw": "Swahili", "sv": "Swedish", "ta": "Tamil",
    "th": "Thai", "tr": "Turkish", "uk": "Ukrainian", "ur": "Urdu", "vi": "Vietnamese",
    "cy": "Welsh",
}  # fmt: skip

_OTHERS = {"eo": "Esperanto", "oc": "Occitan", "an": "Aragonese", "ast": "Asturian"}
"""Languages that are translated into or from, and in no list of what may be spoken."""


def base_of(tag: str) -> str:
    """The language of a BCP 47 tag, without region and script: "es" for "es-MX"."""
    return tag.split("-")[0].casefold()


def name_of(tag: str) -> str:
    """A language's English name, or the tag itself."""
    code = base_of(tag)
    return LANGUAGES.get(code) or _OTHERS.get(code, tag)
