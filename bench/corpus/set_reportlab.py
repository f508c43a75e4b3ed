"""Documents set by ReportLab: a form-letter program's way, each paragraph placed by itself, without tags and notes."""

from __future__ import annotations

import io
from functools import cache
from pathlib import Path
from xml.sax.saxutils import escape

from reportlab.lib.colors import HexColor, black, grey
from reportlab.lib.styles import ParagraphStyle
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import (
    BaseDocTemplate,
    Flowable,
    Frame,
    FrameBreak,
    NextPageTemplate,
    PageBreak,
    PageTemplate,
    Preformatted,
    Spacer,
    TableStyle,
)
from reportlab.platypus import Paragraph as Setting
from reportlab.platypus import Table as Grid

from .look import Look, item_hang, item_mark
from .parts import (
    Code,
    Contents,
    Heading,
    Item,
    Made,
    Pairs,
    Paragraph,
    Part,
    Picture,
    RunIn,
    Sides,
    Space,
    Span,
    Table,
    Term,
)

IN_MOST_TYPEFACES = {"▪": "•", "■": "•", "◦": "·", "○": "·", "‣": "•", "→": "–"}
"""What stands for bullets that few typefaces have."""

ALIGN = {"left": 0, "": 0, "center": 1, "right": 2}

BUILT_IN = (("Times-Roman", "Times-Bold"), ("Helvetica", "Helvetica-Bold"), ("Courier", "Courier-Bold"))

FAMILIES = {
    "Liberation Serif": ("LiberationSerif", "truetype/liberation2"),
    "Liberation Sans": ("LiberationSans", "truetype/liberation2"),
    "Carlito": ("Carlito", "truetype/crosextra"),
    "Caladea": ("Caladea", "truetype/crosextra"),
    "Open Sans": ("OpenSans", "truetype/open-sans"),
    "Lato": ("Lato", "truetype/lato"),
    "Liberation Mono": ("LiberationMono", "truetype/liberation2"),
}
FALLBACK = tuple(FAMILIES)


@cache
def _family(name: str, root: Path) -> str:
    """Registers a family with its four looks and returns its name; one that ReportLab cannot take is replaced by one that it can."""
    if name not in FAMILIES:
        name = FALLBACK[sum(name.encode()) % (len(FALLBACK) - 1)]
    stem, folder = FAMILIES[name]
    files = root / "usr/share/fonts" / folder
    names = {}
    for look, endings in (
        ("", ("-Regular", "")),
        ("b", ("-Bold",)),
        ("i", ("-Italic",)),
        ("bi", ("-BoldItalic", "-Bold")),
    ):
        file = next(path for ending in endings for path in (files / f"{stem}{ending}.ttf",) if path.exists())
        names[look] = f"{stem}{look}"
        pdfmetrics.registerFont(TTFont(names[look], file))
    pdfmetrics.registerFontFamily(names[""], names[""], names["b"], names["i"], names["bi"])
    return names[""]


class _Figure(Flowable):
    def __init__(self, width: int, height: int) -> None:
        super().__init__()
        self.width, self.height = width, height

    def wrap(self, width: float, height: float) -> tuple[float, float]:
        return min(self.width, width), self.height

    def draw(self) -> None:
        from PIL import Image
        from reportlab.lib.utils import ImageReader

        picture = Image.effect_noise((self.width // 2, self.height // 2), 60).convert("RGB")
        self.canv.drawImage(ImageReader(picture), 0, 0, self.width, self.height)


def reportlab_pdf(made: Made, look: Look, root: Path) -> bytes:
    """The document as a PDF; its notes are left out (see ``without_notes``)."""
    setter = _Setter(made, look, root)
    out = io.BytesIO()
    top, right, bottom, left = look.margins
    total = 0
    for _ in range(2):  # the second time the number of pages is known
        out = io.BytesIO()
        document = _Template(setter, out, pagesize=(look.width, look.height))
        width, height = look.width - left - right, look.height - top - bottom

        def running(canvas: Canvas, document: BaseDocTemplate, total: int = total) -> None:
            setter.run(canvas, document.page, total)

        gap = look.column_gap
        own = (width - gap * (made.columns - 1)) / made.columns
        title_height = setter.height_of(made.title, width) if made.columns > 1 else 0
        bare = {"leftPadding": 0, "rightPadding": 0, "topPadding": 0, "bottomPadding": 0}
        columns = [Frame(left + n * (own + gap), bottom, own, height, **bare) for n in range(made.columns)]
        firsts = [
            Frame(left, bottom + height - title_height, width, title_height, **bare),
            *(
                Frame(left + n * (own + gap), bottom, own, height - title_height - 6, **bare)
                for n in range(made.columns)
            ),
        ]
        first = PageTemplate("first", firsts if title_height else columns, onPageEnd=running)
        document.addPageTemplates([first, PageTemplate("later", columns, onPageEnd=running)])
        story: list[Flowable] = [NextPageTemplate("later")]
        story += setter.flow(made.title, width)
        if title_height:
            story.append(FrameBreak())
        story += setter.flow(made.parts, own)
        document.build(story)
        total = document.page
    return out.getvalue()


class _Template(BaseDocTemplate):
    """Tells its setter which section it has come to."""

    def __init__(self, setter: _Setter, *arguments: object, **named: object) -> None:
        super().__init__(*arguments, **named)
        self.setter = setter

    def afterFlowable(self, flowable: Flowable) -> None:  # noqa: N802
        self.setter.section = getattr(flowable, "section", self.setter.section)


class _Setter:
    section = ""

    def __init__(self, made: Made, look: Look, root: Path) -> None:
        self.made, self.look = made, look
        self.font, self.head_font = _family(look.text_font, root), _family(look.head_font, root)
        align = 4 if look.justify else 0
        self.base = ParagraphStyle(
            "text", fontName=self.font, fontSize=look.size, leading=look.size * look.leading * 1.18, alignment=align
        )

    def style(self, **changes: object) -> ParagraphStyle:
        return ParagraphStyle("own", parent=self.base, **changes)

    def run(self, canvas: Canvas, page: int, total: int) -> None:
        """Draws head and foot."""
        look = self.look
        top, right, bottom, left = look.margins
        size = look.size * look.running_size
        head, foot = self.made.head, self.made.foot
        if look.running_mirrored and page % 2 == 0:
            head, foot = head[::-1], foot[::-1]
        if look.first_page_plain and page == 1:
            numbered = any("{n}" in text for text in (*head, *foot))
            head, foot = ("", "", ""), ("", "{n}" if numbered else "", "")
        if self.made.watermark:
            canvas.saveState()
            canvas.translate(look.width / 2, look.height / 2)
            canvas.rotate(look.list_after * 60)
            canvas.setFillColor(HexColor("#dddddd"))
            canvas.setFont(self.font, look.size * 7)
            canvas.drawCentredString(0, 0, self.made.watermark)
            canvas.restoreState()
        for texts, y, rule in ((head, look.height - top * 0.6, -4), (foot, bottom * 0.5, size + 3)):
            canvas.setFont(self.font, size)
            for text, place in zip(texts, ("left", "center", "right"), strict=True):
                text = text.replace("{n}", str(page)).replace("{N}", str(total or 1)).replace("{s}", self.section)
                for row, line in enumerate(text.split("\n")):
                    at = y - row * 1.2 * size
                    if place == "left":
                        canvas.drawString(left, at, line)
                    elif place == "center":
                        canvas.drawCentredString((left + look.width - right) / 2, at, line)
                    else:
                        canvas.drawRightString(look.width - right, at, line)
            if any(texts) and look.running_rule:
                canvas.setLineWidth(0.5)
                canvas.line(left, y + rule, look.width - right, y + rule)

    def height_of(self, parts: list[Part], width: float) -> float:
        return (
            sum(f.getSpaceBefore() + f.wrap(width, 2000)[1] + f.getSpaceAfter() for f in self.flow(parts, width)) + 10
        )

    def flow(self, parts: list[Part], width: float) -> list[Flowable]:
        out: list[Flowable] = []
        before: Part | None = None
        for part in parts:
            out += self._set(part, width, before)
            before = part
        return out

    def _spans(self, spans: tuple[Span, ...]) -> str:
        out = ""
        for span in spans:
            text = escape(span.text).replace("\n", "<br/>")
            text = f"<b>{text}</b>" if span.bold else text
            out += f"<i>{text}</i>" if span.italic else text
        return out

    def _set(self, part: Part, width: float, before: Part | None) -> list[Flowable]:
        look, size = self.look, self.look.size
        match part:
            case Heading():
                return self._heading(part, width)
            case Space():
                return [Spacer(1, part.ems * size) if part.ems else PageBreak()]
            case Paragraph():
                return self._paragraph(part, before)
            case RunIn():
                return [
                    Setting(
                        f"<b>{escape(part.heading)}</b> {self._spans(part.paragraph.spans)}",
                        self.style(spaceAfter=look.space * size),
                    )
                ]
            case Item():
                mark = item_mark(part, look)
                mark = mark if part.ordinal else IN_MOST_TYPEFACES.get(mark, mark)
                hang = item_hang(part, look) * size
                left = look.list_indent * size + part.depth * hang
                style = self.style(
                    leftIndent=left + hang,
                    bulletIndent=left,
                    bulletFontName=self.font,
                    bulletFontSize=size,
                    spaceAfter=look.list_space * size,
                )
                return [Setting(self._spans(part.spans), style, bulletText=mark)]
            case Term():
                tag = "b" if look.term_bold else "i"
                return [
                    Setting(f"<{tag}>{escape(part.term)}</{tag}>", self.style(spaceBefore=4)),
                    Setting(
                        self._spans(part.spans), self.style(leftIndent=max(look.list_indent, 1) * size, spaceAfter=5)
                    ),
                ]
            case Code():
                style = ParagraphStyle(
                    "code",
                    fontName="Courier",
                    fontSize=size * 0.9,
                    leading=size * 1.1,
                    leftIndent=look.list_indent * size,
                    spaceBefore=5,
                    spaceAfter=6,
                )
                return [Preformatted("\n".join(part.lines), style)]
            case Contents():
                return [self._entry(entry, width) for entry in part.entries]
            case Picture():
                caption = [Setting(self._caption(part.caption), self._caption_style())] if part.caption else []
                return [Spacer(1, 8), _Figure(part.width, part.height), *caption, Spacer(1, 6)]
            case Pairs():
                return (
                    [self._entry((1, *pair), width) for row in part.rows for pair in row]
                    if part.leader
                    else [self._pairs(part, width)]
                )
            case Table():
                caption = [Setting(self._caption(part.caption), self._caption_style())] if part.caption else []
                table = [Spacer(1, 5), self._table(part, width), Spacer(1, 7)]
                return [*caption, *table] if look.caption_above else [*table, *caption]
            case Sides():
                widths = [part.share * width, (1 - part.share) * width]
                sides = [self.flow(list(side), own) for side, own in zip((part.left, part.right), widths, strict=True)]
                grid = Grid([sides], colWidths=widths)
                grid.setStyle(TableStyle([("VALIGN", (0, 0), (-1, -1), "TOP"), ("LEFTPADDING", (0, 0), (-1, -1), 0)]))
                return [grid]
        raise TypeError(part)

    def _heading(self, part: Heading, width: float) -> list[Flowable]:
        look, head = self.look, self.look.headings[min(part.level, 3)]
        text = f"{part.number} {part.text}".strip()
        text = escape(text.upper() if head.capitals else text)
        text = f"<u>{text}</u>" if head.underline else text
        text = f"<i>{text}</i>" if head.italic else text
        text = f"<b>{text}</b>" if head.bold else text
        if part.label:
            text = f"{escape(part.label)}<br/>{text}"
        font = self.head_font if head.sans or part.level == 0 else self.font
        size = look.size * head.size
        style = self.style(
            fontName=font,
            fontSize=size,
            leading=size * 1.2,
            alignment=ALIGN["right" if look.labels_right else "left"] if part.beside else ALIGN[head.align],
            rightIndent=width * (1 - look.pairs_share) + 6 if part.beside else 0,
            textColor=HexColor(head.color),
            keepWithNext=1,
            spaceBefore=head.above * look.size,
            spaceAfter=head.below * look.size,
        )
        setting = Setting(text, style)
        if part.level <= 1:
            setting.section = part.text
        return [setting]

    def _paragraph(self, part: Paragraph, before: Part | None) -> list[Flowable]:
        look, size = self.look, self.look.size
        text = self._spans(part.spans)
        align = {"alignment": ALIGN[part.align]} if part.align else {}
        match part.kind:
            case "lines" | "verse":
                left = look.quotation_indent * size if part.kind == "verse" else 0
                return [
                    Setting(
                        text,
                        self.style(
                            alignment=ALIGN[part.align],
                            fontSize=size * part.size,
                            leading=size * part.size * look.leading * 1.18,
                            leftIndent=left,
                            spaceBefore=size * (look.verse_space if left else look.lines_space),
                            spaceAfter=size * (look.verse_space if left else look.lines_space),
                        ),
                    )
                ]
            case "quotation":
                text = f"<i>{text}</i>" if look.quotation_italic else text
                inset = look.quotation_indent * size
                return [
                    Setting(
                        text,
                        self.style(leftIndent=inset, rightIndent=inset, spaceBefore=size * 0.7, spaceAfter=size * 0.8),
                    )
                ]
            case "hanging":
                hang = look.hang * size
                return [Setting(text, self.style(leftIndent=hang, firstLineIndent=-hang, spaceAfter=look.space * size))]
            case "box":
                return [
                    Setting(
                        text,
                        self.style(borderWidth=0.8, borderColor=black, borderPadding=5, spaceBefore=14, spaceAfter=14),
                    )
                ]
            case "lead":
                text = f"<b>{text}</b>" if look.pairs_bold else text
                return [Setting(text, self.style(spaceAfter=size * 0.8))]
        first = not (isinstance(before, Paragraph) and before.kind == "text")
        indent = 0 if first and not look.indent_first else look.indent * size
        return [Setting(text, self.style(firstLineIndent=indent, spaceAfter=look.space * size, **align))]

    def _entry(self, entry: tuple[int, str, str], width: float) -> Flowable:
        level, text, page = entry
        left = max(level - 1, 0) * 14
        room = width - left - pdfmetrics.stringWidth(text + page, self.font, self.look.size) - 8
        dots = (
            "." * int(room / pdfmetrics.stringWidth(".", self.font, self.look.size))
            if self.look.list_space < 0.3
            else ""
        )
        grid = Grid([[f"{text} {dots}", page]], colWidths=[width - 24 - left, 24], hAlign="RIGHT")
        grid.setStyle(
            TableStyle(
                [
                    ("FONT", (0, 0), (-1, -1), self.font, self.look.size),
                    ("ALIGN", (1, 0), (1, 0), "RIGHT"),
                    ("LEFTPADDING", (0, 0), (-1, -1), 0),
                    ("RIGHTPADDING", (0, 0), (-1, -1), 0),
                    ("TOPPADDING", (0, 0), (-1, -1), 1),
                    ("BOTTOMPADDING", (0, 0), (-1, -1), 1),
                ]
            )
        )
        return grid

    def _caption_style(self) -> ParagraphStyle:
        small = self.look.size * (0.85 if self.look.caption_style == "small" else 1)
        align = 1 if self.look.caption_style == "centered" else 0
        return self.style(fontSize=small, leading=small * 1.2, alignment=align, spaceBefore=4, spaceAfter=6)

    def _caption(self, text: str) -> str:
        if self.look.caption_style == "italic":
            return f"<i>{escape(text)}</i>"
        if self.look.caption_style == "bold-label":
            words = text.split(" ", 2)
            return f"<b>{escape(' '.join(words[:2]))}</b> {escape(words[2] if len(words) > 2 else '')}"
        return escape(text)

    def _pairs(self, part: Pairs, width: float) -> Flowable:
        look, beside = self.look, len(part.rows[0])
        plain, right = self.style(alignment=0), self.style(alignment=2, rightIndent=6)
        rows, lines = [], []
        for r, row in enumerate(part.rows):
            cells = []
            for n, (label, value) in enumerate(row):
                text = f"<b>{escape(label)}</b>" if look.pairs_bold else escape(label)
                cells += [
                    Setting(text, right if part.upright or look.labels_right else plain),
                    Setting(escape(value), plain),
                ]
                if part.line and not value:
                    lines.append(("LINEBELOW", (2 * n + 1, r), (2 * n + 1, r), 0.5, black))
            rows.append(cells)
        shares = [share * width / beside for _ in range(beside) for share in (look.pairs_share, 1 - look.pairs_share)]
        grid = Grid(rows, colWidths=shares, spaceBefore=6, spaceAfter=8)
        if part.upright:
            lines += [("LINEAFTER", (0, 0), (0, -1), 0.7, black), ("LEFTPADDING", (1, 0), (1, -1), 8)]
        box = [("BOX", (0, 0), (-1, -1), 0.8, black)] if part.boxed else []
        grid.setStyle(
            TableStyle(
                [
                    ("LEFTPADDING", (0, 0), (-1, -1), 4 if part.boxed else 0),
                    ("TOPPADDING", (0, 0), (-1, -1), 1),
                    ("BOTTOMPADDING", (0, 0), (-1, -1), 2),
                    ("VALIGN", (0, 0), (-1, -1), "TOP"),
                    *lines,
                    *box,
                ]
            )
        )
        return grid

    def _table(self, part: Table, width: float) -> Flowable:
        look, count = self.look, len(part.shares)
        rows: list[list[object]] = [["" for _ in range(count)] for _ in part.rows]
        commands: list[tuple] = [
            ("VALIGN", (0, 0), (-1, -1), look.cell_place.upper()),
            *(
                (f"{side}PADDING", (0, 0), (-1, -1), look.table_padding + (2 if side in ("LEFT", "RIGHT") else 0))
                for side in ("LEFT", "RIGHT", "TOP", "BOTTOM")
            ),
        ]
        taken: set[tuple[int, int]] = set()
        sides = ("LEFT", "CENTER", "RIGHT")
        for r, row in enumerate(part.rows):
            at = 0
            for cell in row:
                while (r, at) in taken:
                    at += 1
                side = ALIGN[(look.header_align if cell.header else "") or ("right" if cell.right else look.cell_align)]
                bold = cell.bold or (cell.header and look.header_bold)
                text = f"<b>{escape(cell.text)}</b>" if bold else escape(cell.text)
                rows[r][at] = (
                    Setting(text, self.style(alignment=side, leading=look.size * 1.2)) if part.full else cell.text
                )
                if not part.full:
                    commands += [
                        ("FONT", (at, r), (at, r), self.font + ("b" if bold else ""), look.size),
                        ("ALIGN", (at, r), (at, r), sides[side]),
                    ]
                if cell.columns > 1 or cell.rows > 1:
                    commands.append(("SPAN", (at, r), (at + cell.columns - 1, r + cell.rows - 1)))
                taken |= {(r + y, at + x) for y in range(cell.rows) for x in range(cell.columns)}
                at += cell.columns
        last = part.header_rows - 1
        rules = {
            "all": [("GRID", (0, 0), (-1, -1), 0.6, black, None, (3, 2) if look.dashed else None)],
            "rows": [("LINEBELOW", (0, 0), (-1, -1), 0.5, grey, None, (1, 2) if look.dashed else None)],
            "three": [
                ("LINEABOVE", (0, 0), (-1, 0), 1, black),
                ("LINEBELOW", (0, -1), (-1, -1), 1, black),
                *([("LINEBELOW", (0, last), (-1, last), 0.6, black)] if last >= 0 else []),
            ],
            "outer": [("BOX", (0, 0), (-1, -1), 0.8, black)],
            "head": [("LINEBELOW", (0, last), (-1, last), 0.8, black)] if last >= 0 else [],
            "none": [],
        }
        commands += rules[look.table_rules]
        if look.table_shade and last >= 0:
            commands.append(("BACKGROUND", (0, 0), (-1, last), HexColor("#e4e4e4")))
        widths = [share * part.width * width for share in part.shares] if part.full else None
        grid = Grid(rows, colWidths=widths, repeatRows=0, hAlign="LEFT")
        grid.setStyle(TableStyle(commands))
        return grid
