"""Caption styles in the terms of caption files: TTML attributes, CSS of WebVTT, cue settings.

What a format has no word for (rounded boxes, words that come one by one) is left out; ``unsaid``
tells what that is.
"""

from __future__ import annotations

from tamarind.formats.placing import Region
from tamarind.picture.looks import Box, Coming, Face, Look, Place, Side, Weight

_TTML_FAMILIES = {
    Face.PLAIN: "proportionalSansSerif", Face.BOOK: "proportionalSerif",
    Face.TYPED: "monospaceSansSerif",
}  # fmt: skip
_CSS_FAMILIES = {Face.PLAIN: "sans-serif", Face.BOOK: "serif", Face.TYPED: "monospace"}
_SIDES = {Side.LEFT: "left", Side.CENTRE: "center", Side.RIGHT: "right"}


def with_opacity(colour: str, opacity: float) -> str:
    """Return a colour as "#rrggbbaa", or "#rrggbb" if it is opaque."""
    alpha = round(255 * opacity)
    return colour if alpha == 255 else f"{colour}{alpha:02x}"


def is_bold(look: Look) -> bool:
    """Whether a weight is above normal."""
    return look.letters.weight is not Weight.REGULAR


def ttml_style(look: Look, rows: int, may_outline: bool) -> dict[str, str]:
    """Return the attributes of a TTML style; ``rows`` are the cells of a picture's height."""
    letters = look.letters
    style = {
        "fontFamily": _TTML_FAMILIES[letters.face],
        "fontSize": f"{100 * letters.size * rows:.4g}%",
        "lineHeight": f"{100 * look.standing.line_height:.4g}%",
        "textAlign": _SIDES[look.standing.side],
        "color": with_opacity(letters.colour, letters.opacity),
        "fontWeight": "bold" if is_bold(look) else "normal",
    }
    if may_outline and letters.outline:
        style["textOutline"] = f"{letters.outline_colour} {100 * letters.outline:.4g}%"
    if may_outline and letters.shadow:
        reach = f"{letters.shadow:.4g}em"
        style["textShadow"] = f"{reach} {reach} {reach} {letters.shadow_colour}"
    return style


def background(look: Look) -> str:
    """Return the colour behind the letters; "" for none."""
    ground = look.ground
    return "" if ground.box is Box.NONE else with_opacity(ground.colour, ground.opacity)


def region(look: Look) -> Region:
    """Return the region for captions without a place of their own."""
    standing = look.standing
    safe, width = 100 * standing.safe, 100 * standing.width
    align = _SIDES[standing.side]
    if standing.place is Place.FREE:
        middle, down = 100 * standing.across, 100 * standing.down
        half = min(width / 2, middle, 100 - middle)
        reach = min(down, 100 - down)
        return Region(
            round(middle - half, 2), round(down - reach, 2), round(2 * half, 2),
            height=round(2 * reach, 2), edge="center", align=align,
        )  # fmt: skip
    free = 100 - 2 * safe - width
    left = safe + {"left": 0.0, "center": max(free, 0) / 2, "right": max(free, 0)}[align]
    width = min(width, 100 - 2 * safe)
    edge = "before" if standing.place is Place.TOP else "after"
    return Region(round(left, 2), round(safe, 2), round(width, 2), height=round(100 - 2 * safe,
    2), edge=edge,
                  align=align)  # fmt: skip


def settings(look: Look) -> str:
    """Return the WebVTT settings for captions without a place of their own; "" for the default
    place."""
    standing = look.standing
    parts = []
    if standing.place is Place.TOP:
        parts.append("line:0")
    elif standing.place is Place.FREE:
        parts.append(f"line:{100 * standing.down:.4g}%,center")
        if standing.side is Side.CENTRE and abs(standing.across - 0.5) > 0.01:
            parts.append(f"position:{100 * standing.across:.4g}%")
    if standing.side is not Side.CENTRE:
        at = 100 * standing.safe if standing.side is Side.LEFT else 100 * (1 - standing.safe)
        parts.append(f"position:{at:.4g}% align:{_SIDES[standing.side]}")
    return " ".join(parts)


def css(look: Look) -> str:
    """Return the STYLE block of a WebVTT file."""
    letters = look.letters
    rules = [
        f"color: {_rgba(letters.colour, letters.opacity)}",
        f"background-color: {_rgba(look.ground.colour, look.ground.opacity)}"
        if look.ground.box is not Box.NONE
        else "background-color: transparent",
        f"font-family: {_CSS_FAMILIES[letters.face]}",
        f"font-size: {100 * letters.size:.4g}vh",
        f"line-height: {look.standing.line_height:.4g}",
    ]
    if is_bold(look):
        rules.append("font-weight: bold")
    shadows = []
    if letters.outline:
        reach = f"{letters.outline:.3g}em"
        shadows += [
            f"{across}{reach} {down}{reach} 0 {letters.outline_colour}"
            for across in ("", "-")
            for down in ("", "-")
        ]
    if letters.shadow:
        reach = f"{letters.shadow:.3g}em"
        shadows.append(f"{reach} {reach} {reach} {letters.shadow_colour}")
    if shadows:
        rules.append(f"text-shadow: {', '.join(shadows)}")
    body = "".join(f"  {rule};\n" for rule in rules)
    return f"STYLE\n::cue {{\n{body}}}\n"


def _rgba(colour: str, opacity: float) -> str:
    parts = [int(colour[place : place + 2], 16) for place in (1, 3, 5)]
    return colour if opacity >= 1 else f"rgba({parts[0]}, {parts[1]}, {parts[2]}, {opacity:.3g})"


def unsaid(look: Look) -> list[str]:
    """Describe what of a caption style no caption file can express, in a few words each."""
    found = []
    if look.words.coming is not Coming.WHOLE:
        found.append("words that come as they are said")
    if look.ground.box is not Box.NONE and look.ground.rounding:
        found.append("rounded corners")
    return found
