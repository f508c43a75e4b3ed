"""How a made document looks: drawn by seed from wide ranges, apart from what it says."""

from __future__ import annotations

import random
from dataclasses import dataclass

from .parts import Item

SERIF = (
    "EB Garamond",
    "Linux Libertine O",
    "TeX Gyre Pagella",
    "TeX Gyre Termes",
    "TeX Gyre Schola",
    "TeX Gyre Bonum",
    "Liberation Serif",
    "DejaVu Serif",
    "Caladea",
    "Cardo",
    "Goudy Bookletter 1911",
    "Fanwood",
    "Quattrocento",
    "Junicode",
    "Old Standard TT",
    "GFS Didot",
    "GFS Artemisia",
    "Vollkorn",
    "Baskervald ADF Std",
    "Romande ADF Std",
    "Accanthis ADF Std",
    "Tribun ADF Std",
    "Roboto Slab",
    "C059",
    "P052",
    "Nimbus Roman",
)
SANS = (
    "Lato",
    "Open Sans",
    "Roboto",
    "Cantarell",
    "Liberation Sans",
    "DejaVu Sans",
    "Carlito",
    "Cabin",
    "Inter",
    "Karla",
    "TeX Gyre Heros",
    "TeX Gyre Adventor",
    "Gillius ADF",
    "Universalis ADF Std",
    "GFS Neohellenic",
    "Dosis",
    "Comfortaa",
    "Nimbus Sans",
    "URW Gothic",
)
MONO = (
    "Liberation Mono",
    "DejaVu Sans Mono",
    "Courier Prime",
    "Fira Code",
    "Inconsolata",
    "Anonymous Pro",
    "Hack",
    "JetBrains Mono",
    "Noto Mono",
    "TeX Gyre Cursor",
    "Nimbus Mono PS",
)
WITH_CYRILLIC = (
    "Liberation Serif",
    "DejaVu Serif",
    "EB Garamond",
    "Liberation Sans",
    "DejaVu Sans",
    "Open Sans",
    "Roboto",
    "Linux Libertine O",
    "Carlito",
)

BULLETS = ("•", "•", "•", "–", "-", "◦", "▪", "■", "*", "·", "→", "○", "‣")
ORDINALS = ("1.", "1.", "1)", "(1)", "a)", "(a)", "a.", "i.", "(i)", "I.", "A.", "1")


@dataclass(frozen=True)
class HeadingLook:
    """``size`` over that of the text, distances in ems of it; ``number`` is "", "1", "1.", "A.", "I." or "§"."""

    size: float
    bold: bool
    italic: bool
    small_capitals: bool
    capitals: bool
    underline: bool
    color: str
    align: str
    above: float
    below: float
    sans: bool


@dataclass(frozen=True)
class Look:
    """Lengths in points, ``indent``, ``space`` and list measures in ems of the text, as are those that end in ``_space`` and ``hang``."""

    width: float
    height: float
    margins: tuple[float, float, float, float]
    text_font: str
    head_font: str
    mono_font: str
    size: float
    leading: float
    indent: float
    space: float
    indent_first: bool
    justify: bool
    hyphens: bool
    headings: tuple[HeadingLook, ...]
    numbered: bool
    number_sign: str
    bullets: tuple[str, str]
    ordinals: tuple[str, str]
    list_indent: float
    list_hang: float
    list_space: float
    list_after: float
    table_rules: str
    table_shade: bool
    table_padding: float
    header_bold: bool
    caption_above: bool
    caption_style: str
    quotation_indent: float
    quotation_italic: bool
    quotation_size: float
    running_size: float
    running_italic: bool
    running_rule: bool
    running_mirrored: bool
    first_page_plain: bool
    note_sign: str
    column_gap: float
    column_rule: bool
    pairs_bold: bool
    pairs_share: float
    term_bold: bool
    note_size: float
    note_rule: bool
    lines_space: float
    verse_space: float
    cell_align: str
    header_align: str
    cell_place: str
    dashed: bool
    labels_right: bool
    hang: float
    floats: bool

    @property
    def table_size(self) -> float:
        """Ems of the text that tables are set in. It comes from a number that has nothing to do with it, so that looks drawn
        before there was this stay as they were."""
        return (1.0, 1.0, 0.9, 0.8)[round(self.column_gap * 1000) % 4]


def _heading(rng: random.Random, level: int, base: HeadingLook | None) -> HeadingLook:
    step = (2.0, 1.5, 1.25, 1.1)[level]
    plain = rng.random() < 0.25
    size = 1.0 if plain else round(max(1.0, step * rng.uniform(0.8, 1.25)), 2)
    if base is not None:
        size = min(size, base.size)
    bold = rng.random() < (0.65 if size > 1.2 else 0.6)
    italic = rng.random() < (0.15 if level < 2 else 0.3)
    small, capitals = rng.random() < 0.1, rng.random() < 0.15
    underline = rng.random() < 0.08
    align = (
        rng.choice(("left",) * 6 + ("center",) * 3 + ("right",))
        if base is None
        else base.align
        if rng.random() < 0.7
        else "left"
    )
    if size <= 1.05 and not (bold or italic or small or capitals or underline) and align == "left":
        bold = rng.random() < 0.8
    color = rng.choice(("#000000",) * 7 + ("#1f3a5f", "#7a1f1f", "#2e5d34", "#555555"))
    if base is not None and rng.random() < 0.8:
        color = base.color
    return HeadingLook(
        size,
        bold,
        italic,
        small,
        capitals and not small,
        underline,
        color,
        align,
        round(rng.uniform(0.6, 2.5), 2),
        round(rng.uniform(0.1, 1.0), 2),
        base.sans if base else rng.random() < 0.4,
    )


def draw_look(rng: random.Random, family: str, language: str) -> Look:
    """One look; some families have a narrower range, as typescripts have."""
    typed = family == "typescript" or rng.random() < 0.04
    fonts = WITH_CYRILLIC if language == "ru" else (SERIF + SANS)
    text_font = rng.choice(MONO[:3] if typed and language != "ru" else fonts)
    head_font = text_font if rng.random() < 0.5 or typed else rng.choice(fonts)
    width, height = rng.choice(
        ((595.3, 841.9),) * 5 + ((612, 792),) * 2 + ((419.5, 595.3), (498.9, 708.7), (841.9, 595.3))
    )
    if family in ("newsletter", "article", "catalogue") and width < 500:
        width, height = 595.3, 841.9
    side = rng.uniform(36, 110) if width > 500 else rng.uniform(36, 60)
    margins = (rng.uniform(45, 95), side if rng.random() < 0.7 else rng.uniform(36, 90), rng.uniform(50, 100), side)
    paragraph = (
        rng.choice(("indent", "space", "both", "space", "indent"))
        if family != "letter"
        else rng.choice(("space", "space", "both"))
    )
    if typed:
        leading = rng.choice((1.0, 1.2, 1.5, 1.8, 2.0, 2.2))
        paragraph = rng.choice(("indent", "space", "both", "none"))
    else:
        leading = rng.choice((1.0, 1.1, 1.15, 1.2, 1.2, 1.25, 1.3, 1.35, 1.4, 1.5, 1.6, 1.8, 2.0))
    headings: list[HeadingLook] = []
    for level in range(4):
        headings.append(_heading(rng, level, headings[-1] if headings else None))
    if typed:
        headings = [_typed(h, rng) for h in headings]
    numbered = rng.random() < (0.5 if family in ("report", "article", "manual", "minutes") else 0.12)
    return Look(
        width,
        height,
        margins,
        text_font,
        head_font,
        text_font if typed else rng.choice(MONO),
        12 if typed else round(rng.uniform(8.5, 12.5) * 2) / 2,
        leading,
        round(rng.uniform(1, 2.2), 2) if paragraph in ("indent", "both") else 0,
        round(rng.uniform(0.3, 1.2), 2) if paragraph in ("space", "both") else 0,
        rng.random() < 0.4,
        not typed and rng.random() < 0.55,
        not typed and rng.random() < 0.5,
        tuple(headings),
        numbered,
        rng.choice(("1", "1", "1.", "1.", "§", "I.")),
        (rng.choice(BULLETS), rng.choice(BULLETS)),
        (rng.choice(ORDINALS), rng.choice(ORDINALS)),
        rng.choice((0, 0, 0.5, 1, 1.5, 2.5)),
        rng.choice((1.2, 1.5, 2, 2, 2.5)),
        rng.choice((0, 0, 0.2, 0.5)),
        rng.choice((0.2, 0.5, 1.0)),
        rng.choice(("all", "all", "rows", "three", "three", "none", "none", "outer", "head")),
        rng.random() < 0.3,
        round(rng.uniform(1, 6), 1),
        rng.random() < 0.7,
        rng.random() < 0.5,
        rng.choice(("small", "italic", "bold-label", "plain", "centered")),
        rng.choice((1.5, 2.5, 4)),
        rng.random() < 0.3,
        rng.choice((1.0, 1.0, 0.9, 0.8)),
        round(rng.uniform(0.7, 1.0), 2),
        rng.random() < 0.3,
        rng.random() < 0.3,
        rng.random() < 0.25,
        rng.random() < 0.2,
        rng.choice(("figures", "figures", "symbols")),
        rng.uniform(12, 30),
        rng.random() < 0.25,
        rng.random() < 0.4,
        rng.uniform(0.2, 0.5),
        rng.random() < 0.6,
        round(rng.uniform(0.7, 0.95), 2) if rng.random() < 0.85 else 1.0,
        rng.random() < 0.7,
        rng.choice((0.0, 0.1, 0.3, 0.6, 0.6, 0.9)),
        rng.choice((0.0, 0.1, 0.3, 0.6, 0.6, 0.9)),
        rng.choice(("left", "left", "left", "center")),
        rng.choice(("", "", "center", "left")),
        rng.choice(("top", "top", "top", "middle", "bottom")),
        rng.random() < 0.1,
        rng.random() < 0.2,
        round(rng.uniform(1.0, 3.0), 1),
        rng.random() < 0.5,
    )


def _typed(look: HeadingLook, rng: random.Random) -> HeadingLook:
    """A heading as a typewriter makes it: of one size, in capitals, underlined or in the middle."""
    capitals, underline = rng.random() < 0.5, rng.random() < 0.4
    align = "center" if not (capitals or underline) else rng.choice(("left", "center"))
    return HeadingLook(
        1.0,
        False,
        False,
        False,
        capitals,
        underline,
        "#000000",
        align,
        max(look.above, 1.0),
        max(look.below, 0.6),
        False,
    )


ROMAN = (
    "",
    "i",
    "ii",
    "iii",
    "iv",
    "v",
    "vi",
    "vii",
    "viii",
    "ix",
    "x",
    "xi",
    "xii",
    "xiii",
    "xiv",
    "xv",
    "xvi",
    "xvii",
    "xviii",
    "xix",
    "xx",
)


def ordinal(sign: str, number: int) -> str:
    """The number of an item as a pattern writes it: ``(a)`` -> ``(c)``."""
    letter = chr(96 + (number - 1) % 26 + 1)
    kinds = {
        "1": str(number),
        "a": letter,
        "A": letter.upper(),
        "i": ROMAN[min(number, 20)],
        "I": ROMAN[min(number, 20)].upper(),
    }
    return "".join(kinds.get(c, c) for c in sign)


def item_mark(item: Item, look: Look) -> str:
    """The mark that an item begins with: its number as its depth writes it, or the bullet of its depth."""
    depth = min(item.depth, 1)
    return ordinal(look.ordinals[depth], item.ordinal) if item.ordinal else look.bullets[depth]


def item_hang(item: Item, look: Look) -> float:
    """Ems that its mark takes."""
    return look.list_hang + (0.8 if item.ordinal else 0)
