"""The tables at the head of an RTF file: typefaces, colours, styles and lists, which text names by their numbers."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.model import Align, Family, NumberFormat, Numbering, ResolvedStyle, StandIn
from evenquill.core.resolve.lists import LEVELS, STEP, ListDefinition
from evenquill.core.typefaces import faces_for
from evenquill.core.writers.rtf.codes import flag, group, ignorable, shown, twips

SIDES = {Align.LEFT: "\\ql", Align.RIGHT: "\\qr", Align.CENTER: "\\qc", Align.JUSTIFY: "\\qj", Align.DECIMAL: "\\qr"}
_FAMILIES = {Family.SERIF: "\\froman", Family.SANS: "\\fswiss", Family.MONO: "\\fmodern"}
_FORMATS = {
    NumberFormat.DECIMAL: 0, NumberFormat.UPPER_ROMAN: 1, NumberFormat.LOWER_ROMAN: 2, NumberFormat.UPPER_LETTER: 3,
    NumberFormat.LOWER_LETTER: 4, NumberFormat.BULLET: 23,
}  # fmt: skip


class FileTables:
    """Typefaces, colours and styles by their numbers; they are written when all text is."""

    def __init__(self, styles: Sequence[ResolvedStyle], stand_ins: Sequence[StandIn] = ()) -> None:
        self._stand_ins = stand_ins
        self._fonts: dict[tuple[str, Family], int] = {}
        self._colors: dict[str, int] = {}
        self._styles = {style.id: n for n, style in enumerate(styles)}
        self._sheet = [self._defined(style) for style in styles]

    def font(self, name: str, family: Family) -> int:
        """The number of a typeface; without a name, of one of the family."""
        face = faces_for(name, family)[0]
        return self._fonts.setdefault((face, family), len(self._fonts))

    def color(self, value: str) -> int:
        """The number of a colour (``rrggbb``), from 1."""
        return self._colors.setdefault(value.lower(), len(self._colors) + 1)

    def look(self, style: ResolvedStyle, align: Align | None = None) -> str:
        """The codes of a paragraph in a style, which every paragraph says again: readers differ in what they take from the sheet."""
        line = ""
        if style.leading:
            exact = style.leading < style.size
            line = f"\\sl{-twips(style.leading) if exact else twips(style.leading)}\\slmult0"
        return (
            f"\\s{self._styles.get(style.id, 0)}{SIDES[align or style.align]}\\li{twips(style.left)}\\ri{twips(style.right)}"
            f"\\fi{twips(style.first)}\\sb{twips(style.before)}\\sa{twips(style.after)}{line}"
            f"{flag('keepn', style.keep_next)}{flag(f'outlinelevel{style.outline - 1}', style.outline > 0)}"
            f"{self.letters(style)}"
        )

    def letters(self, style: ResolvedStyle) -> str:
        """The codes of letters in a style."""
        return (
            f"\\f{self.font(style.font, style.family)}\\fs{round(style.size * 2)}{flag('b', style.bold)}{flag('i', style.italic)}"
            f"{flag(f'cf{self.color(style.color)}', True) if style.color else ''}"
        )

    def _defined(self, style: ResolvedStyle) -> str:
        return group(f"{self.look(style)} {shown(style.name).replace(';', ',')};")

    def _instead(self, name: str, family: Family) -> str:
        """The typeface that readers are to take where they have none of a name."""
        others = faces_for(name, family, self._stand_ins)[1:]
        return ignorable("falt", _name(others[0])) if others else ""

    def written(self, lists: Sequence[ListDefinition]) -> str:
        """All of them."""
        fonts = "".join(
            f"{{\\f{n}{_FAMILIES[family]} {_name(name)}{self._instead(name, family)};}}"
            for (name, family), n in self._fonts.items()
        )
        colors = "".join(
            f"\\red{int(value[:2], 16)}\\green{int(value[2:4], 16)}\\blue{int(value[4:], 16)};"
            for value in self._colors
        )
        out = [f"{{\\fonttbl{fonts}}}", f"{{\\colortbl;{colors}}}", f"{{\\stylesheet{''.join(self._sheet)}}}"]
        if lists:
            out.append(ignorable("listtable", "".join(map(_list, lists))))
            overrides = "".join(
                f"{{\\listoverride\\listid{one.number}\\listoverridecount0\\ls{one.number}}}" for one in lists
            )
            out.append(ignorable("listoverridetable", overrides))
        return "\n".join(out)


def _list(definition: ListDefinition) -> str:
    levels = "".join(_level(definition.levels.get(depth) or Numbering(), depth) for depth in range(LEVELS))
    return f"{{\\list\\listtemplateid{definition.number}\\listhybrid{levels}\\listid{definition.number}}}"


def _level(numbering: Numbering, depth: int) -> str:
    """A level: its text begins with how long it is, and has the levels of its numbers as characters of their own."""
    indent = f"\\fi{-twips(STEP)}\\li{twips(STEP * (depth + 1))}"
    start = numbering.start if numbering.start is not None else 1
    head = f"\\listlevel\\levelnfc{_FORMATS[numbering.format]}\\leveljc0\\levelfollow0\\levelstartat{start}"
    if not numbering.ordered:
        sign = numbering.pattern[:1] or "•"
        return f"{{{head}{{\\leveltext\\'01{shown(sign)};}}{{\\levelnumbers;}}{indent}}}"
    first, *rest = numbering.pattern.split("%")
    text, places, length = shown(first), "", len(first)
    for n, part in enumerate(rest):
        level = depth + 1 - len(rest) + n
        if level >= 0:
            length += 1
            places += f"\\'{length:02x}"
            text += f"\\'{level:02x}"
        text += shown(part)
        length += len(part)
    return f"{{{head}{{\\leveltext\\'{length:02x}{text};}}{{\\levelnumbers{places};}}{indent}}}"


def _name(face: str) -> str:
    return shown(face).replace(";", ",")
