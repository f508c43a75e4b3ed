"""Typefaces that packages carry, in which symbols are shown to the recogniser."""

from __future__ import annotations

from functools import cache
from pathlib import Path
from typing import NamedTuple

from fontTools.pens.boundsPen import BoundsPen
from fontTools.ttLib import TTFont
from PIL import ImageFont

TEX = Path("/usr/share/texmf/fonts/opentype/public")
FONTS = Path("/usr/share/fonts")

MATHEMATICAL = {
    "latin-modern": TEX / "lm-math/latinmodern-math.otf",
    "pagella": TEX / "tex-gyre-math/texgyrepagella-math.otf",
    "termes": TEX / "tex-gyre-math/texgyretermes-math.otf",
    "bonum": TEX / "tex-gyre-math/texgyrebonum-math.otf",
    "schola": TEX / "tex-gyre-math/texgyreschola-math.otf",
    "dejavu": TEX / "tex-gyre-math/texgyredejavu-math.otf",
    "stix": FONTS / "opentype/stix-word/STIXMath-Regular.otf",
    "asana": FONTS / "opentype/asana-math/Asana-Math.otf",
}
"""Typefaces for mathematics, by family; Debian's packages fonts-lmodern, fonts-texgyre-math, fonts-stix, fonts-oflb-asana-math."""

TEXT = {
    "latin-modern": (TEX / "lm/lmroman10-regular.otf", TEX / "lm/lmroman10-italic.otf"),
    "termes": (TEX / "tex-gyre/texgyretermes-regular.otf", TEX / "tex-gyre/texgyretermes-italic.otf"),
    "pagella": (TEX / "tex-gyre/texgyrepagella-regular.otf", TEX / "tex-gyre/texgyrepagella-italic.otf"),
    "bonum": (TEX / "tex-gyre/texgyrebonum-regular.otf", TEX / "tex-gyre/texgyrebonum-italic.otf"),
    "schola": (TEX / "tex-gyre/texgyreschola-regular.otf", TEX / "tex-gyre/texgyreschola-italic.otf"),
}
"""Typefaces for text, upright and slanted."""

LEFT_OUT = ("schola", "asana")
"""Families that the recogniser is judged on and never sees."""


class Glyphs(NamedTuple):
    """A typeface, and the characters that it has."""

    family: str
    path: Path
    characters: frozenset[str]

    def at(self, pixels: int) -> ImageFont.FreeTypeFont:
        return _at(self.path, pixels)


@cache
def _at(path: Path, pixels: int) -> ImageFont.FreeTypeFont:
    return ImageFont.truetype(str(path), pixels)


def glyphs_of(family: str, path: Path) -> Glyphs:
    """A typeface of a family. Raises FileNotFoundError where its package is not installed."""
    return Glyphs(family, path, frozenset(map(chr, TTFont(path, lazy=True).getBestCmap())))


class Extent(NamedTuple):
    """Where the ink of a character ends, above and below, in ems above the baseline, and how broad it is."""

    top: float
    bottom: float
    width: float


def extent(path: Path, character: str) -> Extent | None:
    """The extent of a character's ink; None for one without ink."""
    font = _font(path)
    pen = BoundsPen(font.getGlyphSet())
    font.getGlyphSet()[font.getBestCmap()[ord(character)]].draw(pen)
    if pen.bounds is None:
        return None
    left, bottom, right, top = (value / font["head"].unitsPerEm for value in pen.bounds)
    return Extent(top, bottom, right - left)


@cache
def _font(path: Path) -> TTFont:
    return TTFont(path)
