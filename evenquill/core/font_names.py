"""What the name of a font in a file says of its letters: weight, slant, family."""

from __future__ import annotations

import re

from evenquill.core.model.styles import Family

_SUBSET = re.compile(r"^[A-Z]{6}\+")
# Names that begin with cm or sf are those of TeX's Computer Modern, Knuth's own and of the package cm-super. The medium one of NimbusRom
# is the bold of Times; LinLibertine and LinBiolinum say B for bold and Z for semi-bold.
_BOLD = re.compile(
    r"bold|black|heavy|demi(?!n)|semibold|extrabold|^cmb|^cmss(bx|dc)|^sf(b|rb|xc|sx|so)|-bd\b|,bd\b|"
    r"^nimbusrom.*-medi|^lin(libertine|biolinum)[ot][bz]",
    re.I,
)
_REGULAR = re.compile(r"regular|roman\b|book\b|light\b|thin\b", re.I)
_ITALIC = re.compile(
    r"italic|oblique|slanted|kursiv|-it\b|-obl\b|ital$|"
    r"^cm(ti|sl|mi|bxti|bxsl|ssi|itt)|^sf(ti|sl|bi|bl|sc|si|so|st|it)",
    re.I,
)
_MONO = re.compile(
    r"mono|nimbus ?mon|courier|typewriter|consol|menlo|monaco|source ?code|\bhack\b|xb?tt\b|code\b|fixed|"
    r"^cm(tt|sltt|itt|tcsc|tex)\d|^sf(tt|st|it|tc)\d",
    re.I,
)
_SANS = re.compile(
    r"sans|nimbus ?san|gothic|grotes|arial|helvet|carlito|calibri|verdana|tahoma|univers|futura|frutiger|segoe|roboto|"
    r"^cmss|^sfs[sixo]\d|lato|inter\b|noto(?!serif)|liberation ?sans|dejavu ?sans",
    re.I,
)
_SYMBOL = re.compile(r"dingbat|wingding|webding|symbol|^cmsy|^cmex|^msam|^msbm|ornament|awesome|icons?\b", re.I)
_SMALL_CAPITALS = re.compile(
    r"(?i:small[- ]?caps|caps\d+\b|romancaps|^cmt?csc|^sf(cc|xc|sc|tc)\d|[-_ ]sc\b)|SC(?=-|$)|[a-z]SC\d", re.A
)
_SC_IS_CHINESE = re.compile(r"noto|cjk|source ?han|hei|song|ming", re.I)
_STYLE = (
    "Bold|Black|Heavy|DemiBold|Demi|SemiBold|Semibold|ExtraBold|Light|Medium|Medi|Regular|Regu|Roman|Roma|Book|Italic|Ital|Oblique|Obli|Slant|"
    "Condensed|Cond|PSMT|MT|PS|Std"
)
_STYLE_TAIL = re.compile(rf"(?:[-, ]+(?i:{_STYLE})|(?<=[a-z0-9])(?:{_STYLE})|[-, ]+)$")
"""One word at the end of a font's name that says how its letters are made, or a sign that parts such a word from the family."""

_TOGETHER = {
    "timesnewroman": "Times New Roman", "latinmodernroman": "Latin Modern Roman", "arialblack": "Arial Black", "freeserif": "FreeSerif",
    "freesans": "FreeSans", "freemono": "FreeMono",
}  # fmt: skip
"""Families whose names are spelled otherwise than their parts tell, or end in what else says how letters are made."""

_LATIN_MODERN = re.compile(r"LM(Roman|Sans|Mono)", re.I)

_WORDS = re.compile(r"(?<=[a-z])(?<!\bTe)(?<!\bDeja)(?=[A-Z])|(?<=[A-Z])(?=[A-Z][a-z]{2})|(?<=DejaVu)(?=[A-Z])")
"""Where a new word begins in a name that is written together; TeX and DejaVu are words."""

_TEX_FAMILIES = (
    (re.compile(r"^(cmss|sfs[sixo])", re.I), "Latin Modern Sans"),
    (re.compile(r"^(cm(tt|sltt|itt|tcsc|tex)|sf(tt|st|it|tc))", re.I), "Latin Modern Mono"),
)
_TEX = re.compile(r"^(cm[a-z]+|sf[a-z]{2})\d+(~\w+)?$", re.I)
"""Names of TeX's typefaces; a second subset of one in a file has a number of its own behind them."""


def is_called_bold(name: str) -> bool:
    """Whether the name of a font says that its letters are bold."""
    return bool(_BOLD.search(without_subset(name)))


def is_called_regular(name: str) -> bool:
    """Whether the name of a font says that its letters are of the usual weight, or lighter: all names of TeX's say which they are."""
    bare = without_subset(name)
    return bool(_REGULAR.search(bare)) or (bool(_TEX.match(bare)) and not _BOLD.search(bare))


def is_called_italic(name: str) -> bool:
    """Whether the name of a font says that its letters are slanted."""
    return bool(_ITALIC.search(without_subset(name)))


def is_called_small_capitals(name: str) -> bool:
    """Whether the name of a font says that its small letters are small capitals; SC may stand for simplified Chinese."""
    bare = without_subset(name)
    return bool(_SMALL_CAPITALS.search(bare)) and not _SC_IS_CHINESE.search(bare)


def is_called_mono(name: str) -> bool:
    """Whether the name of a font says that its letters are all of one width."""
    return bool(_MONO.search(without_subset(name)))


def is_called_sans(name: str) -> bool:
    """Whether the name of a font says that its letters have no serifs."""
    return bool(_SANS.search(without_subset(name)))


def family_called(name: str) -> Family:
    """Which of the three families the name of a font says that it is of; serif where it says nothing."""
    return Family.MONO if is_called_mono(name) else proportional_family(name)


def proportional_family(name: str) -> Family:
    """That of a font which is in no fixed width."""
    return Family.SANS if is_called_sans(name) else Family.SERIF


def is_called_symbol(name: str) -> bool:
    """Whether the name of a font says that it holds signs instead of letters."""
    return bool(_SYMBOL.search(without_subset(name)))


def without_subset(name: str) -> str:
    """The name without the six letters that mark a subset (ISO 32000-1, 9.6.4)."""
    return _SUBSET.sub("", name)


def family_name(base: str) -> str:
    """The family in a PostScript font name: ``LiberationSerif-BoldItalic`` is ``Liberation Serif``."""
    if _TEX.match(base):
        return next((family for pattern, family in _TEX_FAMILIES if pattern.match(base)), "Latin Modern Roman")
    latin_modern = _LATIN_MODERN.match(base)
    if latin_modern:
        return f"Latin Modern {latin_modern[1].title()}"
    name = base.replace("_", " ")
    while (known := _TOGETHER.get(re.sub(r"[^a-z0-9]", "", name.lower()))) is None:
        shorter = _STYLE_TAIL.sub("", name)
        if shorter == name or not shorter:
            break
        name = shorter
    if known:
        return known
    return _WORDS.sub(" ", name)
