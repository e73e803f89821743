"""Names of languages by BCP 47 tag: in English, and in the language itself."""

from __future__ import annotations

import re
from collections.abc import Iterable

UNDETERMINED = "und"
"""The tag of a language that nobody has said yet (BCP 47, ISO 639-2)."""

USUAL = ("en", "es", "fr", "de", "it", "pt", "nl", "pl", "ru", "ar", "zh", "ja")
"""What is asked for most."""

_NAMES = {
    "af": ("Afrikaans", "Afrikaans"),
    "am": ("Amharic", "አማርኛ"),
    "an": ("Aragonese", "aragonés"),
    "ar": ("Arabic", "العربية"),
    "as": ("Assamese", "অসমীয়া"),
    "ast": ("Asturian", "asturianu"),
    "az": ("Azerbaijani", "azərbaycan"),
    "ba": ("Bashkir", "башҡорт теле"),
    "be": ("Belarusian", "беларуская"),
    "bg": ("Bulgarian", "български"),
    "bn": ("Bengali", "বাংলা"),
    "bo": ("Tibetan", "བོད་སྐད་"),
    "br": ("Breton", "brezhoneg"),
    "bs": ("Bosnian", "bosanski"),
    "ca": ("Catalan", "català"),
    "cs": ("Czech", "čeština"),
    "cy": ("Welsh", "Cymraeg"),
    "da": ("Danish", "dansk"),
    "de": ("German", "Deutsch"),
    "el": ("Greek", "Ελληνικά"),
    "en": ("English", "English"),
    "eo": ("Esperanto", "Esperanto"),
    "es": ("Spanish", "español"),
    "et": ("Estonian", "eesti"),
    "eu": ("Basque", "euskara"),
    "fa": ("Persian", "فارسی"),
    "fi": ("Finnish", "suomi"),
    "fo": ("Faroese", "føroyskt"),
    "fr": ("French", "français"),
    "gl": ("Galician", "galego"),
    "gu": ("Gujarati", "ગુજરાતી"),
    "ha": ("Hausa", "Hausa"),
    "haw": ("Hawaiian", "ʻŌlelo Hawaiʻi"),
    "he": ("Hebrew", "עברית"),
    "hi": ("Hindi", "हिन्दी"),
    "hr": ("Croatian", "hrvatski"),
    "ht": ("Haitian Creole", "kreyòl ayisyen"),
    "hu": ("Hungarian", "magyar"),
    "hy": ("Armenian", "հայերեն"),
    "id": ("Indonesian", "Bahasa Indonesia"),
    "is": ("Icelandic", "íslenska"),
    "it": ("Italian", "italiano"),
    "ja": ("Japanese", "日本語"),
    "jw": ("Javanese", "Basa Jawa"),
    "ka": ("Georgian", "ქართული"),
    "kk": ("Kazakh", "қазақ тілі"),
    "km": ("Khmer", "ខ្មែរ"),
    "kn": ("Kannada", "ಕನ್ನಡ"),
    "ko": ("Korean", "한국어"),
    "la": ("Latin", "Latina"),
    "lb": ("Luxembourgish", "Lëtzebuergesch"),
    "ln": ("Lingala", "lingála"),
    "lo": ("Lao", "ລາວ"),
    "lt": ("Lithuanian", "lietuvių"),
    "lv": ("Latvian", "latviešu"),
    "mg": ("Malagasy", "Malagasy"),
    "mi": ("Māori", "Māori"),
    "mk": ("Macedonian", "македонски"),
    "ml": ("Malayalam", "മലയാളം"),
    "mn": ("Mongolian", "монгол"),
    "mr": ("Marathi", "मराठी"),
    "ms": ("Malay", "Bahasa Melayu"),
    "mt": ("Maltese", "Malti"),
    "my": ("Burmese", "မြန်မာ"),
    "ne": ("Nepali", "नेपाली"),
    "nl": ("Dutch", "Nederlands"),
    "nn": ("Norwegian Nynorsk", "norsk nynorsk"),
    "no": ("Norwegian", "norsk"),
    "oc": ("Occitan", "occitan"),
    "pa": ("Punjabi", "ਪੰਜਾਬੀ"),
    "pl": ("Polish", "polski"),
    "ps": ("Pashto", "پښتو"),
    "pt": ("Portuguese", "português"),
    "ro": ("Romanian", "română"),
    "ru": ("Russian", "русский"),
    "sa": ("Sanskrit", "संस्कृतम्"),
    "sd": ("Sindhi", "سنڌي"),
    "si": ("Sinhala", "සිංහල"),
    "sk": ("Slovak", "slovenčina"),
    "sl": ("Slovenian", "slovenščina"),
    "sn": ("Shona", "chiShona"),
    "so": ("Somali", "Soomaali"),
    "sq": ("Albanian", "shqip"),
    "sr": ("Serbian", "српски"),
    "su": ("Sundanese", "Basa Sunda"),
    "sv": ("Swedish", "svenska"),
    "sw": ("Swahili", "Kiswahili"),
    "ta": ("Tamil", "தமிழ்"),
    "te": ("Telugu", "తెలుగు"),
    "tg": ("Tajik", "тоҷикӣ"),
    "th": ("Thai", "ไทย"),
    "tk": ("Turkmen", "türkmen dili"),
    "tl": ("Tagalog", "Tagalog"),
    "tr": ("Turkish", "Türkçe"),
    "tt": ("Tatar", "татар"),
    "uk": ("Ukrainian", "українська"),
    "ur": ("Urdu", "اردو"),
    "uz": ("Uzbek", "oʻzbek"),
    "vi": ("Vietnamese", "Tiếng Việt"),
    "yi": ("Yiddish", "ייִדיש"),
    "yo": ("Yoruba", "Yorùbá"),
    "zh": ("Chinese", "中文"),
}

_TAG = re.compile(r"[A-Za-z]{2,3}(?:-[A-Za-z0-9]{1,8})*")

NAMED = tuple(_NAMES)
"""All that have a name here."""


def base_of(tag: str) -> str:
    """Return the language of a BCP 47 tag without region and script: "es" for "es-MX"."""
    return tag.split("-")[0].casefold()


def name_of(tag: str) -> str:
    """Return a language's English name, or the tag itself."""
    return _names_of(tag)[0]


def own_name_of(tag: str) -> str:
    """Return a language's name in the language itself, or the tag."""
    return _names_of(tag)[1]


def is_known(tag: str) -> bool:
    """Whether a language has a name here."""
    return base_of(tag) in _NAMES


def tag_of(text: str) -> str | None:
    """Return the tag of a language given by tag or by either name; None if there is none."""
    wanted = text.strip().casefold()
    for tag, names in _NAMES.items():
        if wanted in (name.casefold() for name in names):
            return tag
    return text.strip() if _TAG.fullmatch(text.strip()) else None


def by_name(tags: Iterable[str]) -> list[str]:
    """Return tags sorted by their English names."""
    return sorted(tags, key=name_of)


def _names_of(tag: str) -> tuple[str, str]:
    return _NAMES.get(base_of(tag), (tag, tag))
