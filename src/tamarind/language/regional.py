"""Spell words of regional variants, such as British and American English, in one of them.

A table of stems for what differs regularly in English between the United States and the rest. Where
a word is spelled in both ways in one region ("program" and "programme", "meter" that measures) it
is left alone, and so is "-ize", which is right everywhere.
"""

from __future__ import annotations

import re
from functools import cache

from tamarind.transcript.languages import base_of

AMERICAN = "US"

_OUR = (
    "colour favour honour labour neighbour behaviour flavour harbour humour rumour vapour odour"
    " armour endeavour savour vigour splendour rigour parlour candour fervour clamour tumour valour"
).split()
_RE = (
    "centre theatre fibre litre millilitre centilitre decilitre calibre sombre spectre lustre"
    " meagre sabre centimetre millimetre kilometre micrometre nanometre decimetre sepulchre"
).split()
_LL = (
    "travel cancel label model fuel level signal tunnel channel marvel counsel quarrel shovel"
    " pencil dial equal rival swivel total initial jewel panel funnel grovel libel snivel duel"
).split()
_OTHERS = {
    "catalogue": "catalog", "dialogue": "dialog", "analogue": "analog",
    "analyse": "analyze", "analysed": "analyzed", "analysing": "analyzing",
    "paralyse": "paralyze", "paralysed": "paralyzed", "catalyse": "catalyze",
    "defence": "defense", "offence": "offense", "pretence": "pretense",
    "mould": "mold", "mouldy": "moldy", "plough": "plow", "ploughed": "plowed",
    "ploughing": "plowing", "grey": "gray", "aluminium": "aluminum", "manoeuvre": "maneuver",
    "manoeuvres": "maneuvers", "sceptical": "skeptical", "sceptic": "skeptic",
    "moustache": "mustache", "pyjamas": "pajamas", "jewellery": "jewelry", "skilful": "skillful",
    "wilful": "willful", "fulfil": "fulfill", "fulfilment": "fulfillment", "enrol": "enroll",
    "enrolment": "enrollment", "instalment": "installment", "cosy": "cozy",
    "paediatric": "pediatric", "anaesthetic": "anesthetic", "oestrogen": "estrogen",
    "foetus": "fetus", "archaeology": "archeology", "encyclopaedia": "encyclopedia",
    "diarrhoea": "diarrhea", "haemoglobin": "hemoglobin", "woollen": "woolen",
    "marvellous": "marvelous", "counsellor": "counselor", "counsellors": "counselors",
    "traveller": "traveler", "travellers": "travelers", "sulphur": "sulfur",
    "acknowledgement": "acknowledgment", "ageing": "aging", "favourite": "favorite",
    "favourites": "favorites", "favourable": "favorable", "honourable": "honorable",
    "neighbourhood": "neighborhood", "neighbourhoods": "neighborhoods",
    "colourful": "colorful", "behavioural": "behavioral", "labourer": "laborer",
    "labourers": "laborers", "harbourmaster": "harbormaster", "centred": "centered",
    "fibreglass": "fiberglass",
}  # fmt: skip
_ENDS = ("", "s", "ed", "ing")
_CORE = re.compile(r"[^\W\d_]+")


@cache
def _american() -> dict[str, str]:
    """Return American spellings by British ones, in lower case."""
    found = dict(_OTHERS)
    for stem in _OUR:
        found |= {f"{stem}{end}": f"{stem[:-2]}r{end}" for end in _ENDS}
    for stem in _RE:
        found |= {stem: f"{stem[:-2]}er", f"{stem}s": f"{stem[:-2]}ers"}
    for stem in _LL:
        found |= {f"{stem}l{end}": f"{stem}{end}" for end in ("ed", "ing")}
    return found


@cache
def _british() -> dict[str, str]:
    return {american: british for british, american in _american().items()}


def region_of(language: str, usual: str) -> str:
    """Return the region by which a language (BCP 47) is spelled: its own, else the usual one."""
    parts = language.split("-")[1:]
    return next((part.upper() for part in parts if len(part) == 2), usual)


def spelled(token: str, language: str, usual: str) -> str:
    """Return a word with its marks in its region's spelling; ``usual`` is the region of a language
    that names none."""
    if base_of(language) != "en":
        return token
    table = _american() if region_of(language, usual) == AMERICAN else _british()

    def put(found: re.Match[str]) -> str:
        word = found[0]
        other = table.get(word.casefold())
        if other is None:
            return word
        if word.isupper() and len(word) > 1:
            return other.upper()
        return other[0].upper() + other[1:] if word[0].isupper() else other

    return _CORE.sub(put, token)
