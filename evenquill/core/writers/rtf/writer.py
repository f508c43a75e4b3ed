"""A document -> the bytes of an RTF file."""

from __future__ import annotations

import itertools

from evenquill.core.model import (
    Align,
    Block,
    Document,
    NumberFormat,
    PictureBlock,
    Running,
    RunningPart,
    TableBlock,
    TabStop,
    TextBlock,
)
from evenquill.core.model.cell_lines import sides_in_row
from evenquill.core.model.sides import LINE_SPACE, SIDE_NAMES, Sides
from evenquill.core.resolve import Resolved, resolve
from evenquill.core.resolve.figures import BESIDE_GAP, figure_around
from evenquill.core.resolve.list_labels import list_labels
from evenquill.core.resolve.lists import STEP
from evenquill.core.resolve.sections import ResolvedSection
from evenquill.core.writers.decimal_stops import CELL_PADDING, with_decimal_stops
from evenquill.core.writers.picture import GetPicture
from evenquill.core.writers.rtf.codes import flag, group, ignorable, shown, twips
from evenquill.core.writers.rtf.content import Content, bookmark
from evenquill.core.writers.rtf.tables_of_file import SIDES, FileTables

_NUMBERS = {
    NumberFormat.DECIMAL: "\\pgndec", NumberFormat.UPPER_ROMAN: "\\pgnucrm", NumberFormat.LOWER_ROMAN: "\\pgnlcrm",
    NumberFormat.UPPER_LETTER: "\\pgnucltr", NumberFormat.LOWER_LETTER: "\\pgnlcltr", NumberFormat.BULLET: "\\pgndec",
}  # fmt: skip
_STOPS = {Align.LEFT: "", Align.RIGHT: "\\tqr", Align.CENTER: "\\tqc", Align.JUSTIFY: "", Align.DECIMAL: "\\tqdec"}
EMPTY = "\\pard\\plain\\par"
"""A paragraph without text."""


def write_rtf(document: Document, picture: GetPicture) -> bytes:
    """The document as RTF, blocks that are set aside left out."""
    resolved = resolve(document)
    tables = FileTables(list(document.resolved_styles.values()) or [document.body_style], document.stand_ins)
    writer = _Writer(resolved, tables, Content(tables, resolved, picture))
    body = "".join(writer.section(section, n) for n, section in enumerate(resolved.sections))
    facing = "\\facingp" if any(part.even is not None for part in document.running) else ""
    title = group(f"\\info{{\\title {shown(document.title)}}}")
    head = f"{{\\rtf1\\ansi\\ansicpg1252\\uc1\\deff0{facing}\\fet2\n{tables.written(resolved.lists)}\n{title}\n"
    return f"{head}{body}}}\n".encode("ascii")


class _Writer:
    def __init__(self, resolved: Resolved, tables: FileTables, content: Content) -> None:
        self._resolved = resolved
        self._tables = tables
        self._content = content
        self._labels = list_labels(resolved.document.blocks)

    def section(self, section: ResolvedSection, number: int) -> str:
        """A section with its page, its heads and feet, and its blocks."""
        layout = section.layout
        setup, part = layout.setup, layout.part
        goes_on = section.continues and number > 0
        page = (
            f"\\sectd{flag('sbknone', goes_on)}{flag('sbkpage', not goes_on)}\\pgwsxn{twips(setup.width)}\\pghsxn{twips(setup.height)}"
            f"\\marglsxn{twips(setup.left)}\\margrsxn{twips(setup.right)}\\margtsxn{twips(setup.top)}\\margbsxn{twips(setup.bottom)}"
        )
        if layout.columns > 1:
            page += f"\\cols{layout.columns}\\colsx{twips(layout.column_gap)}"
        if part is not None:
            page += _NUMBERS[part.format]
            page += f"\\pgnstarts{part.start}\\pgnrestart" if part.start is not None and section.begins_part else ""
            page += self._heads(part, with_first=section.begins_part)
        width = layout.setup.text_width / layout.columns
        blocks = "".join(
            self._block(block, width, _frame(figure_around(section.blocks, n)))
            for n, block in enumerate(section.blocks)
        )
        return ("\\sect\n" if number else "") + page + "\n" + blocks

    def _heads(self, part: RunningPart, *, with_first: bool) -> str:
        usual, out = part.usual, ""
        for side, short in (("header", "header"), ("footer", "footer")):
            right = self._running(getattr(usual, side))
            if part.even is None:
                out += group(f"\\{short} {right}") if right else ""
            else:
                out += group(f"\\{short}r {right}") + group(f"\\{short}l {self._running(getattr(part.even, side))}")
            if part.first is not None and with_first:
                out += group(f"\\{short}f {self._running(getattr(part.first, side)) or EMPTY}")
        return out + ("\\titlepg" if part.first is not None and with_first else "")

    def _running(self, running: Running | None) -> str:
        if running is None:
            return ""
        style = self._resolved.document.style(running.style)
        codes = self._tables.look(style) + _lines(running.sides) + _tabs(running.stops)
        return f"\\pard\\plain{codes} {self._content.of(running.content, style)}\\par"

    def _block(self, block: Block, width: float, frame: str) -> str:
        if isinstance(block, TableBlock):
            return self._table(block, width)
        start = frame + ("\\pagebb" if block.page_break else "")
        if isinstance(block, PictureBlock):
            scale = min(1.0, width / max(block.width, 1.0))
            drawn = self._content.picture(block.picture, block.media, block.width * scale, block.height * scale)
            inner = group(drawn) + (group(f"\\v {shown(block.alt)}") if block.alt else "")
            return f"\\pard\\plain{start}{SIDES[block.align]} {self._marked(block, inner)}\\par\n"
        return f"\\pard\\plain{start}{self._paragraph(block)}\\par\n"

    def _paragraph(self, text: TextBlock) -> str:
        style = self._resolved.style(text)
        codes = self._tables.look(style, text.align) + _lines(text.sides) + _tabs(text.tabs)
        number, label = self._resolved.list_of.get(text.id, 0), ""
        if number:
            depth = max(text.level, 0)
            codes += f"\\ls{number}\\ilvl{depth}\\fi{-twips(STEP)}\\li{twips(STEP * (depth + 1))}"
            label = f"{{\\listtext {shown(self._labels.get(text.id, ''))}\\tab}}"
        return f"{codes} {label}{self._marked(text, self._content.of(text.content, style))}"

    def _marked(self, block: Block, inner: str) -> str:
        if not self._resolved.is_target(block):
            return inner
        name = bookmark(block.id)
        return f"{ignorable('bkmkstart', name)}{inner}{ignorable('bkmkend', name)}"

    def _table(self, block: TableBlock, width: float) -> str:
        widths = block.widths_within(width)
        block = with_decimal_stops(block, widths, lambda text: self._resolved.style(text).size)
        ends = list(map(twips, itertools.accumulate(widths)))
        rows = []
        for number in range(block.row_count):
            own = sorted(
                (cell for cell in block.cells if cell.row <= number < cell.row + cell.rows),
                key=lambda cell: cell.column,
            )
            head = f"\\trowd\\trgaph{twips(CELL_PADDING)}\\trkeep{flag('trhdr', number < block.header_rows)}"
            head += {Align.CENTER: "\\trqc", Align.RIGHT: "\\trqr"}.get(block.align, "\\trql")
            for cell in own:
                merged = ("\\clvmgf" if cell.row == number else "\\clvmrg") if cell.rows > 1 else ""
                drawn = sides_in_row(block, cell, number)
                lines = "".join(
                    f"\\clbrdr{name[0]}\\brdrs\\brdrw10" for side, name in SIDE_NAMES.items() if side & drawn
                )
                filled = f"\\clcbpat{self._tables.color(cell.fill)}" if cell.fill else ""
                head += f"{merged}{lines}{filled}\\cellx{ends[cell.column + cell.columns - 1]}"
            inner = "".join(
                "\\par\n".join(f"\\pard\\plain\\intbl{self._paragraph(text)}" for text in cell.texts) + "\\cell\n"
                if cell.row == number
                else "\\pard\\plain\\intbl\\cell\n"
                for cell in own
            )
            rows.append(f"{head}\n{inner}\\row\n")
        return self._marked(block, "") + "".join(rows)


def _frame(picture: PictureBlock | None) -> str:
    """The codes of the frame in which a picture, and the caption below it, stand that text goes around."""
    if picture is None:
        return ""
    gap = twips(BESIDE_GAP)
    side = "\\posxr" if picture.align is Align.RIGHT else "\\posxl"
    return f"\\absw{twips(picture.width)}\\pvpara\\phcol{side}\\dxfrtext{gap}\\dfrmtxtx{gap}\\dfrmtxty0"


def _lines(sides: Sides) -> str:
    """The lines above and below a paragraph; neighbours that have the same ones are one to readers, with a line between."""
    if not sides:
        return ""
    names = (*(name[0] for side, name in SIDE_NAMES.items() if side & sides), "btw")
    return "".join(f"\\brdr{name}\\brdrs\\brdrw10\\brsp{twips(LINE_SPACE)}" for name in names)


def _tabs(stops: tuple[TabStop, ...]) -> str:
    return "".join(f"{_STOPS[stop.align]}{flag('tldot', stop.leader)}\\tx{twips(stop.at)}" for stop in stops)
