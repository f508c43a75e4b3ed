"""Styles of OpenDocument: those of the document by their names, and automatic ones for what differs from them."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from typing import Any, NamedTuple

from odf.opendocument import OpenDocument
from odf.style import (
    BackgroundImage,
    Column,
    Columns,
    FontFace,
    GraphicProperties,
    ListLevelLabelAlignment,
    ListLevelProperties,
    ParagraphProperties,
    SectionProperties,
    Style,
    TableCellProperties,
    TableColumnProperties,
    TableProperties,
    TabStop,
    TabStops,
    TextProperties,
)
from odf.text import ListLevelStyleBullet, ListLevelStyleNumber, ListStyle

from evenquill.core.font_names import family_called
from evenquill.core.model import Align, Family, Marks, NumberFormat, Numbering, ResolvedStyle, Sides, StandIn
from evenquill.core.model import TabStop as Stop
from evenquill.core.model.inline import Inline, lettering_of
from evenquill.core.model.sides import LINE_SPACE, SIDE_NAMES
from evenquill.core.resolve.figures import BESIDE_GAP
from evenquill.core.resolve.lists import LEVELS, STEP, ListDefinition
from evenquill.core.typefaces import faces_for
from evenquill.core.writers.decimal_stops import CELL_PADDING

SIDES = {
    Align.LEFT: "start",
    Align.RIGHT: "end",
    Align.CENTER: "center",
    Align.JUSTIFY: "justify",
    Align.DECIMAL: "end",
}
STOPS = {Align.LEFT: "left", Align.RIGHT: "right", Align.CENTER: "center", Align.JUSTIFY: "left", Align.DECIMAL: "char"}
NUMBERS = {
    NumberFormat.DECIMAL: "1", NumberFormat.LOWER_LETTER: "a", NumberFormat.UPPER_LETTER: "A", NumberFormat.LOWER_ROMAN: "i",
    NumberFormat.UPPER_ROMAN: "I",
}  # fmt: skip
GENERIC = {Family.SERIF: "roman", Family.SANS: "swiss", Family.MONO: "modern"}
RULE = "0.5pt solid #000000"


class BegunPages(NamedTuple):
    """Pages that begin with a paragraph: the name of their sort, "" for none, and the number of the first one where it is said."""

    master: str = ""
    number: int | None = None


NO_PAGES = BegunPages()


def points(value: float) -> str:
    return f"{value:.2f}pt"


def style_name(name: str) -> str:
    """A name as ids are (NCName): what is no letter or figure is told by its code."""
    return "S-" + re.sub(r"[^0-9A-Za-z]", lambda found: f"_{ord(found[0]):x}_", name)


class Styles:
    """The styles of one file; automatic ones are made once for each look."""

    def __init__(self, file: OpenDocument, stand_ins: Sequence[StandIn] = ()) -> None:
        self._file = file
        self._stand_ins = stand_ins
        self._made: dict[object, str] = {}
        self._fonts: set[str] = set()

    def add(self, style: ResolvedStyle, language: str) -> None:
        """Adds a style of the document."""
        heading = {"defaultoutlinelevel": str(style.outline)} if style.outline else {}
        made = Style(name=style_name(style.id), displayname=style.name, family="paragraph", **heading)
        line: dict[str, Any] = {}
        if style.leading:
            line = {"lineheight" if style.leading < style.size else "lineheightatleast": points(style.leading)}
        keep = {"keepwithnext": "always"} if style.keep_next else {}
        made.addElement(
            ParagraphProperties(
                marginleft=points(style.left), marginright=points(style.right), textindent=points(style.first),
                margintop=points(style.before), marginbottom=points(style.after), textalign=SIDES[style.align], **line, **keep,
            )
        )  # fmt: skip
        look: dict[str, Any] = {"fontname": self.font(style.font, style.family), "fontsize": points(style.size)}
        look |= {"fontweight": "bold"} if style.bold else {}
        look |= {"fontstyle": "italic"} if style.italic else {}
        look |= {"color": f"#{style.color}"} if style.color else {}
        look |= {"language": language, "country": "none"} if language else {}
        made.addElement(TextProperties(**look))
        self._file.styles.addElement(made)

    def font(self, name: str, family: Family) -> str:
        """The name under which a typeface is declared, with what may stand for it."""
        faces = faces_for(name, family, self._stand_ins)
        if faces[0] not in self._fonts:
            self._fonts.add(faces[0])
            listed = ", ".join(f"'{face.replace(chr(39), '')}'" for face in faces)
            self._file.fontfacedecls.addElement(
                FontFace(name=faces[0], fontfamily=listed, fontfamilygeneric=GENERIC[family])
            )
        return faces[0]

    def of_paragraph(
        self,
        style: ResolvedStyle,
        align: Align | None,
        tabs: tuple[Stop, ...],
        page_break: bool,
        begun: BegunPages = NO_PAGES,
        sides: Sides = Sides.NONE,
    ) -> str:
        """The name of a style for a paragraph that differs from its own, or with which pages of another sort begin."""
        align = align if align is not style.align else None
        if align is None and not tabs and not page_break and not begun.master and not sides:
            return style_name(style.id)

        def make(name: str) -> Style:
            page = {"masterpagename": begun.master} if begun.master else {}
            made = Style(name=name, family="paragraph", parentstylename=style_name(style.id), **page)
            said: dict[str, Any] = {"textalign": SIDES[align]} if align is not None else {}
            said |= {"breakbefore": "page"} if page_break and not begun.master else {}
            said |= {"pagenumber": str(begun.number)} if begun.number is not None else {}
            for side, where in SIDE_NAMES.items():
                said |= {f"border{where}": RULE, f"padding{where}": points(LINE_SPACE)} if side & sides else {}
            said |= {"joinborder": "false"} if sides else {}
            properties = ParagraphProperties(**said)
            if tabs:
                stops = TabStops()
                for stop in tabs:
                    dots = {"leaderstyle": "dotted", "leadertext": "."} if stop.leader else {}
                    dots |= {"char": stop.sign or "."} if stop.align is Align.DECIMAL else {}
                    stops.addElement(TabStop(position=points(stop.at), type=STOPS[stop.align], **dots))
                properties.addElement(stops)
            made.addElement(properties)
            return made

        return self._automatic("P", (style.id, align, tabs, page_break, begun, sides), make)

    def of_text(self, item: Inline, style: ResolvedStyle) -> str:
        """The name of a style for a stretch of text, "" for one that is as its paragraph."""
        lettering = lettering_of(item)
        said: dict[str, Any] = {}
        if Marks.BOLD in item.marks:
            said["fontweight"] = "normal" if style.bold else "bold"
        if Marks.ITALIC in item.marks:
            said["fontstyle"] = "normal" if style.italic else "italic"
        if Marks.UNDERLINE in item.marks:
            said |= {"textunderlinestyle": "solid", "textunderlinewidth": "auto", "textunderlinecolor": "font-color"}
        if Marks.STRIKE in item.marks:
            said["textlinethroughstyle"] = "solid"
        if Marks.SMALL_CAPITALS in item.marks:
            said["fontvariant"] = "small-caps"
        if Marks.SUPER in item.marks:
            said["textposition"] = "super 58%"
        elif Marks.SUB in item.marks:
            said["textposition"] = "sub 58%"
        if item.color and item.link is None:
            said["color"] = f"#{item.color}"
        if lettering.size:
            said["fontsize"] = points(lettering.size)
        if lettering.font:
            said["fontname"] = self.font(lettering.font, family_called(lettering.font))
        if lettering.ground:
            said["backgroundcolor"] = f"#{lettering.ground}"
        if not said:
            return ""

        def make(name: str) -> Style:
            made = Style(name=name, family="text")
            made.addElement(TextProperties(**said))
            return made

        return self._automatic("T", tuple(sorted(said.items())), make)

    def of_frame(self, *, right: bool) -> str:
        """A frame at one side of the column, at the top of its paragraph, with text around it."""
        free = {"marginleft" if right else "marginright": points(BESIDE_GAP)}

        def make(name: str) -> Style:
            made = Style(name=name, family="graphic")
            made.addElement(
                GraphicProperties(
                    wrap="left" if right else "right", numberwrappedparagraphs="no-limit", verticalpos="top",
                    verticalrel="paragraph", horizontalpos="right" if right else "left", horizontalrel="paragraph",
                    border="none", padding="0pt", **free,
                )
            )  # fmt: skip
            return made

        return self._automatic("F", right, make)

    def of_table(self, width: float, align: Align) -> str:
        side = {Align.CENTER: "center", Align.RIGHT: "right"}.get(align, "left")

        def make(name: str) -> Style:
            made = Style(name=name, family="table")
            made.addElement(TableProperties(width=points(width), align=side))
            return made

        return self._automatic("TB", (width, side), make)

    def of_column(self, width: float) -> str:
        def make(name: str) -> Style:
            made = Style(name=name, family="table-column")
            made.addElement(TableColumnProperties(columnwidth=points(width)))
            return made

        return self._automatic("TC", width, make)

    def of_cell(self, sides: Sides, fill: str) -> str:
        def make(name: str) -> Style:
            made = Style(name=name, family="table-cell")
            properties = TableCellProperties(
                backgroundcolor=f"#{fill}" if fill else "transparent",
                **{f"border{name}": RULE if side & sides else "none" for side, name in SIDE_NAMES.items()},
                paddingleft=points(CELL_PADDING),
                paddingright=points(CELL_PADDING),
                paddingtop="1pt",
                paddingbottom="1pt",
            )
            properties.addElement(BackgroundImage())
            made.addElement(properties)
            return made

        return self._automatic("CE", (sides, fill), make)

    def of_columns(self, count: int, gap: float) -> str:
        """The name of a style for a section that stands in columns."""

        def make(name: str) -> Style:
            made = Style(name=name, family="section")
            properties = SectionProperties()
            columns = Columns(columncount=str(count), columngap=points(gap))
            for _ in range(count):
                columns.addElement(Column(relwidth="1*"))
            properties.addElement(columns)
            made.addElement(properties)
            return made

        return self._automatic("SE", (count, gap), make)

    def add_list(self, definition: ListDefinition) -> str:
        """The name of the style of a list, with what is used on each of its levels."""
        name = f"L{definition.number}"
        made = ListStyle(name=name)
        for depth in range(LEVELS):
            made.addElement(_level(definition.levels.get(depth) or Numbering(), depth))
        self._file.automaticstyles.addElement(made)
        return name

    def _automatic(self, prefix: str, key: object, make: Callable[[str], Style]) -> str:
        known = self._made.get((prefix, key))
        if known is None:
            known = f"{prefix}{sum(1 for made in self._made if isinstance(made, tuple) and made[0] == prefix) + 1}"
            self._made[prefix, key] = known
            self._file.automaticstyles.addElement(make(known))
        return known


def _level(numbering: Numbering, depth: int) -> Any:
    if not numbering.ordered:
        made = ListLevelStyleBullet(level=str(depth + 1), bulletchar=numbering.pattern[:1] or "•")
    else:
        first, *rest = numbering.pattern.split("%")
        made = ListLevelStyleNumber(
            level=str(depth + 1), numformat=NUMBERS[numbering.format], numprefix=first, numsuffix=rest[-1] if rest else ".",
            startvalue=str(numbering.start if numbering.start is not None else 1), displaylevels=str(min(max(len(rest), 1), depth + 1)),
        )  # fmt: skip
    properties = ListLevelProperties(listlevelpositionandspacemode="label-alignment")
    indent = STEP * (depth + 1)
    properties.addElement(
        ListLevelLabelAlignment(
            labelfollowedby="listtab",
            textindent=points(-STEP),
            marginleft=points(indent),
            listtabstopposition=points(indent),
        )
    )
    made.addElement(properties)
    return made
