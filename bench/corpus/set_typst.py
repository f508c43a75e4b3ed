"""Documents set by typst."""

from __future__ import annotations

import json

from .look import HeadingLook, Look, item_hang, item_mark
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


def typst_of(made: Made, look: Look) -> str:
    """The document as typst source."""
    body = "\n\n".join(_part(part, look, before) for part, before in zip(made.parts, [None, *made.parts], strict=False))
    title = "\n\n".join(_part(part, look, None) for part in made.title)
    if title and made.columns > 1:
        title = f'#place(top, scope: "parent", float: true, block(width: 100%, below: 1em)[{title}])'
    return f"{_settings(made, look)}\n{title}\n\n{body}\n"


def _quoted(text: str) -> str:
    return json.dumps(text, ensure_ascii=False)


def _text(text: str) -> str:
    """The text as content, breaks kept."""
    return "#linebreak()".join(f"#{_quoted(line)};" if line else "" for line in text.split("\n"))


def _spans(spans: tuple[Span, ...]) -> str:
    out = ""
    for span in spans:
        own = _text(span.text)
        own = f"#strong[{own}]" if span.bold else own
        out += f"#emph[{own}]" if span.italic else own
        if span.note:
            out += f"#footnote[{_text(span.note)}]"
    return out


def _settings(made: Made, look: Look) -> str:
    top, right, bottom, left = look.margins
    fonts = f'({_quoted(look.text_font)}, "Liberation Serif", "DejaVu Serif")'
    numbering = '"*"' if look.note_sign == "symbols" else '"1"'
    columns = f"columns: {made.columns}," if made.columns > 1 else ""
    spacing = look.leading * 1.2 - 0.75
    background = (
        f", background: rotate(-{look.list_after * 60:.0f}deg, text(size: {look.size * 7:.0f}pt, fill: luma(220))[{_text(made.watermark)}])"
        if made.watermark
        else ""
    )
    return f"""
#let section = state("section", "")
#set page(width: {look.width}pt, height: {look.height}pt, margin: (top: {top:.0f}pt, right: {right:.0f}pt, bottom: {bottom:.0f}pt, left: {left:.0f}pt), {columns}
  header: {_of_page(made.head, made, look, True)}, footer: {_of_page(made.foot, made, look, False)}{background})
#set columns(gutter: {look.column_gap:.0f}pt)
#set text(font: {fonts}, size: {look.size}pt, lang: "{made.language}", hyphenate: {str(look.hyphens).lower()})
#set par(leading: {max(spacing, 0.3):.2f}em, spacing: {max(spacing, 0.3) + look.space:.2f}em, justify: {str(look.justify).lower()}, first-line-indent: (amount: {look.indent}em, all: {str(look.indent_first).lower()}))
#set footnote(numbering: {numbering})
#set footnote.entry({"" if look.note_rule else "separator: none, "}indent: {1 if look.indent else 0}em)
#show footnote.entry: set text(size: {look.size * look.note_size:.1f}pt)
#show raw: set text(font: {_quoted(look.mono_font)}, size: {look.size * 0.88:.1f}pt)
{"".join(_heading(level, head, look) for level, head in enumerate(look.headings))}
"""


def _of_page(texts: tuple[str, str, str], made: Made, look: Look, head: bool) -> str:
    """What runs at head or foot, on even pages mirrored and on the first one plain, where the look wants that."""
    usual = _running(texts, look, head)
    mirrored = _running((texts[2], texts[1], texts[0]), look, head) if look.running_mirrored else usual
    first = usual
    if look.first_page_plain:
        numbered = not head and any("{n}" in text for text in (*made.head, *made.foot))
        first = _running(("", "{n}", ""), look, head) if numbered else "none"
    if mirrored == usual and first == usual:
        return usual
    return f"context if here().page() == 1 {{ {first} }} else if calc.even(here().page()) {{ {mirrored} }} else {{ {usual} }}"


def _running(texts: tuple[str, str, str], look: Look, head: bool) -> str:
    if not any(texts):
        return "none"
    cells = []
    for text, place in zip(texts, ("left", "center", "right"), strict=True):
        pieces = text.replace("{n}", "\0n\0").replace("{N}", "\0N\0").replace("{s}", "\0s\0").split("\0")
        shown = "".join(
            "#context counter(page).display();"
            if p == "n"
            else "#context section.get();"
            if p == "s"
            else "#context counter(page).final().first();"
            if p == "N"
            else _text(p)
            if p
            else ""
            for p in pieces
        )
        cells.append(f"align({place})[{shown}]")
    if not texts[1]:
        grid = f"grid(columns: (1fr, auto), {cells[0]}, {cells[2]})"
    elif not (texts[0] or texts[2]):
        grid = cells[1]
    else:
        grid = f"grid(columns: (1fr, auto, 1fr), {', '.join(cells)})"
    style = f'#set text(size: {look.size * look.running_size:.1f}pt, style: "{"italic" if look.running_italic else "normal"}"); #set par(first-line-indent: 0em, justify: false);'
    rule = "#v(-0.6em)#line(length: 100%, stroke: 0.5pt)" if look.running_rule else ""
    return (
        f"[{style} #{grid} {rule}]"
        if head
        else f"[{style} {'#line(length: 100%, stroke: 0.5pt)#v(-0.6em)' if look.running_rule else ''} #{grid}]"
    )


def _heading(level: int, head: HeadingLook, look: Look) -> str:
    family = look.head_font if head.sans or level == 0 else look.text_font
    body = "it.body"
    if head.capitals:
        body = f"upper({body})"
    if head.small_capitals:
        body = f"smallcaps({body})"
    if head.underline:
        body = f"underline({body})"
    return f"""
#let h{level}(it) = block(above: {head.above * look.size + 4:.1f}pt, below: {head.below * look.size + 4:.1f}pt, width: 100%, sticky: true, {{
  set text(font: ({_quoted(family)}, "Liberation Serif"), size: {head.size * look.size:.1f}pt, weight: "{"bold" if head.bold else "regular"}", style: "{"italic" if head.italic else "normal"}", fill: rgb("{head.color}"), hyphenate: false)
  set par(first-line-indent: 0em, justify: false, leading: 0.5em)
  set align({head.align})
  {body}
}})
#show heading.where(level: {level + 1}): it => h{level}(it)
"""


def _part(part: Part, look: Look, before: Part | None) -> str:
    match part:
        case Heading():
            number = f"#{_quoted(part.number)};{'#h(1em)' if look.list_hang > 1.9 else ' '}" if part.number else ""
            label = f"{_text(part.label)}#linebreak()" if part.label else ""
            if part.beside:
                place = "right" if look.labels_right else "left"
                return f"#block(width: {look.pairs_share * 100 - 3:.0f}%, sticky: true)[#set align({place}); #heading(level: {part.level + 1})[{number}{_text(part.text)}]]#section.update({_quoted(part.text)})"
            section = f"#section.update({_quoted(part.text)})" if part.level <= 1 else ""
            return f"#heading(level: {part.level + 1})[{label}{number}{_text(part.text)}]{section}"
        case Paragraph():
            return _paragraph(part, look)
        case Space():
            return f"#v({part.ems:.1f}em)" if part.ems else "#pagebreak(weak: true)"
        case RunIn():
            return f"#strong[{_text(part.heading)}] {_spans(part.paragraph.spans)}"
        case Item():
            mark, hang = item_mark(part, look), item_hang(part, look)
            left = look.list_indent + part.depth * hang
            return (
                f"#block(spacing: {look.list_space + look.leading * 1.2 - 0.75:.2f}em, inset: (left: {left:.2f}em), grid(columns: ({hang:.2f}em, 1fr), "
                f"[#set par(first-line-indent: 0em); #{_quoted(mark)};], [#set par(first-line-indent: 0em); {_spans(part.spans)}]))"
            )
        case Term():
            term = f"#strong[{_text(part.term)}]" if look.term_bold else f"#emph[{_text(part.term)}]"
            return (
                f"#block(below: 0.5em)[#set par(first-line-indent: 0em); {term}]\n#block(above: 0.4em, inset: (left: {max(look.list_indent, 1)}em))"
                f"[#set par(first-line-indent: 0em); {_spans(part.spans)}]"
            )
        case Code():
            return (
                f"#block(inset: (left: {look.list_indent}em))[#raw(block: true, {_quoted(chr(10).join(part.lines))})]"
            )
        case Contents():
            fill = "#box(width: 1fr, repeat[.])" if look.list_space < 0.3 else "#h(1fr)"
            return "\n".join(
                f"#block(spacing: 0.7em, width: 100%, inset: (left: {max(level - 1, 0) * 1.5}em))[#set par(first-line-indent: 0em); {_text(text)} {fill} {page}]"
                for level, text, page in part.entries
            )
        case Picture():
            place = "center" if look.caption_style == "centered" else "left"
            caption = f"#block({_caption(part.caption, look)})" if part.caption else ""
            around = "#place(auto, float: true)" if look.floats else f"#align({place})"
            return (
                f'{around}[#block(breakable: false)[#box(width: {min(part.width, 220)}pt, height: {part.height}pt, fill: rgb("#c8d4dc"), '
                f'align(center + horizon, circle(radius: {part.height // 4}pt, fill: rgb("#6b7f8c"))))\n\n{caption}]]'
            )
        case Pairs():
            return _pairs(part, look)
        case Table():
            return _table(part, look)
        case Sides():
            left, right = ("\n\n".join(_part(one, look, None) for one in side) for side in (part.left, part.right))
            return (
                f"#block(width: 100%, grid(columns: ({part.share:.2f}fr, {1 - part.share:.2f}fr), [{left}], [{right}]))"
            )
    raise TypeError(part)


def _paragraph(part: Paragraph, look: Look) -> str:
    spans = _spans(part.spans)
    bare = "#set par(first-line-indent: 0em)"
    spans = f"#set text(size: {part.size}em); {spans}" if part.size != 1 else spans
    align = part.align or "left"
    match part.kind:
        case "lines":
            return f"#block(width: 100%, spacing: {0.5 + look.lines_space:.1f}em)[{bare}; #set align({align}); #set par(justify: false); {spans}]"
        case "verse":
            return f"#block(inset: (left: {look.quotation_indent}em), spacing: {0.5 + look.verse_space:.1f}em)[{bare}; #set par(justify: false); {spans}]"
        case "quotation":
            text = f"#emph[{spans}]" if look.quotation_italic else spans
            text = f"#set text(size: {look.quotation_size}em); {text}"
            return f"#block(inset: (x: {look.quotation_indent}em), spacing: 1.2em)[{bare}; {text}]"
        case "hanging":
            return f"#par(first-line-indent: 0em, hanging-indent: {look.hang}em)[{spans}]"
        case "box":
            return f"#block(stroke: 0.8pt, inset: 0.7em, width: 100%, spacing: 1.2em)[{bare}; {spans}]"
        case "lead":
            return f'#block(below: 1.2em)[{bare}; #set text(weight: "{"bold" if look.pairs_bold else "regular"}"); {spans}]'
    return f"#align({part.align})[{spans}]" if part.align else spans


def _caption(text: str, look: Look) -> str:
    body = _text(text)
    if look.caption_style == "bold-label":
        words = text.split(" ", 2)
        body = f"#strong[{_text(' '.join(words[:2]))}] {_text(words[2] if len(words) > 2 else '')}"
    size = look.size * 0.85 if look.caption_style == "small" else look.size
    style = "italic" if look.caption_style == "italic" else "normal"
    return (
        f'[#set par(first-line-indent: 0em, justify: false); #set text(size: {size:.1f}pt, style: "{style}"); {body}]'
    )


def _pairs(part: Pairs, look: Look) -> str:
    if part.leader:
        return "\n".join(
            f"#block(spacing: 0.7em, width: 100%)[#set par(first-line-indent: 0em); {_text(label)} #box(width: 1fr, repeat[.]) {_text(value)}]"
            for row in part.rows
            for label, value in row
        )
    beside = len(part.rows[0])
    cells = ""
    for row in part.rows:
        for label, value in row:
            weight = "bold" if look.pairs_bold else "regular"
            place = "align(right)" if part.upright or look.labels_right else "align(left)"
            cells += f'{place}[#set text(weight: "{weight}"); {_text(label)}], '
            cells += "[#line(length: 90%, stroke: 0.5pt)], " if part.line and not value else f"[{_text(value)}], "
    widths = ", ".join(f"{look.pairs_share}fr, {1 - look.pairs_share}fr" for _ in range(beside))
    stroke = "stroke: 0.8pt, inset: 5pt, " if part.boxed else ""
    upright = "grid.vline(x: 1, stroke: 0.7pt, position: start), " if part.upright else ""
    return f"#block({stroke}width: 100%)[#set par(first-line-indent: 0em, justify: false); #grid(columns: ({widths}), row-gutter: 0.7em, column-gutter: 1.2em, {upright}{cells})]"


def _table(part: Table, look: Look) -> str:
    cells = ""
    for n, row in enumerate(part.rows):
        for cell in row:
            weight = "bold" if cell.bold or (cell.header and look.header_bold) else "regular"
            fill = ", fill: luma(228)" if look.table_shade and n < part.header_rows else ""
            side = (look.header_align if cell.header else "") or ("right" if cell.right else look.cell_align)
            place = {"top": "top", "middle": "horizon", "bottom": "bottom"}[look.cell_place]
            cells += f'table.cell(colspan: {cell.columns}, rowspan: {cell.rows}, align: {side} + {place}{fill})[#set text(weight: "{weight}"); {_text(cell.text)}], '
        if n == part.header_rows - 1 and look.table_rules in ("three", "head"):
            cells += "table.hline(stroke: 0.6pt), "
    stroke = {
        "all": '(thickness: 0.6pt, dash: "dashed")' if look.dashed else "0.6pt",
        "rows": '(x, y) => (bottom: (thickness: 0.5pt, dash: "dotted"))'
        if look.dashed
        else "(x, y) => (bottom: 0.5pt)",
        "three": "none",
        "outer": "none",
        "head": "none",
        "none": "none",
    }[look.table_rules]
    ends = "table.hline(stroke: 1pt), " if look.table_rules in ("three",) else ""
    wide = [f"{share}fr" if part.width == 1 else f"{share * part.width:.1%}" for share in part.shares]
    columns = ", ".join(wide) if part.full else ", ".join("auto" for _ in part.shares)
    table = f"#table(columns: ({columns}), stroke: {stroke}, inset: (x: {look.table_padding + 2}pt, y: {look.table_padding + 1}pt), {ends}{cells}{ends})"
    table = f"#block(stroke: 0.8pt)[{table}]" if look.table_rules == "outer" else table
    table = f"#[#set par(first-line-indent: 0em, justify: false); #set text(hyphenate: false, size: {look.table_size}em); {table}]"
    caption = f"#block(width: 100%, {_caption(part.caption, look)})" if part.caption else ""
    return f"{caption}\n\n{table}" if look.caption_above else f"{table}\n\n{caption}"
