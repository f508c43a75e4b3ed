"""Documents set by browsers' rules: HTML with CSS, for WeasyPrint (which has notes and leaders) and for headless Chromium."""

from __future__ import annotations

from dataclasses import replace
from html import escape

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

SYMBOLS = ("*", "†", "‡", "§", "¶")

GREY = "data:image/svg+xml;utf8,<svg xmlns='http://www.w3.org/2000/svg' width='{w}' height='{h}'><rect width='{w}' height='{h}' fill='%23{fill}'/><circle cx='{x}' cy='{y}' r='{r}' fill='%23{ink}'/></svg>"


def html_of(made: Made, look: Look, *, notes: bool) -> str:
    """The document as one HTML page; ``notes`` if the engine can set footnotes, else they are left out (see ``without_notes``)."""
    body = "\n".join(
        _html(part, look, notes, before) for part, before in zip(made.parts, [None, *made.parts], strict=False)
    )
    title = "\n".join(_html(part, look, notes, None) for part in made.title)
    columns = f"<div class=columns>{body}</div>" if made.columns > 1 else body
    title = f"<div class=watermark>{escape(made.watermark)}</div>{title}" if made.watermark else title
    return f"<!doctype html><html lang={made.language}><head><meta charset=utf-8><title>x</title><style>{_css(made, look)}</style></head><body>{title}{columns}</body></html>"


def without_notes(made: Made) -> Made:
    """The document with no notes, for engines that have none."""

    def bare(part: Part) -> Part:
        if isinstance(part, Paragraph | Item | Term):
            return replace(part, spans=tuple(replace(span, note="") for span in part.spans))
        if isinstance(part, RunIn):
            return replace(part, paragraph=bare(part.paragraph))
        return part

    return replace(made, parts=[bare(part) for part in made.parts], title=[bare(part) for part in made.title])


def without_sections(made: Made) -> Made:
    """The document with the first section's title wherever that of the section runs, for engines that know none."""
    first = made.section_titles()[0]

    def constant(texts: tuple[str, str, str]) -> tuple[str, str, str]:
        left, middle, right = (text.replace("{s}", first) for text in texts)
        return left, middle, right

    return replace(made, head=constant(made.head), foot=constant(made.foot))


def _css(made: Made, look: Look) -> str:
    top, right, bottom, left = look.margins
    align = "justify" if look.justify else "left"
    running = f"font-size:{look.size * look.running_size:.1f}pt;font-style:{'italic' if look.running_italic else 'normal'};font-family:'{look.head_font}';"
    boxes = _boxes(made.head, made.foot, running, look)
    mirrored = (
        f"@page:left{{{_boxes(made.head[::-1], made.foot[::-1], running, look)}}}" if look.running_mirrored else ""
    )
    plain = ""
    if look.first_page_plain:
        gone = "".join(
            f"@{side}-{place}{{content:none;border:none}}"
            for side in ("top", "bottom")
            for place in ("left", "center", "right")
        )
        numbered = any("{n}" in text for text in (*made.head, *made.foot))
        plain = f"@page:first{{{gone}{_boxes(('', '', ''), ('', '{n}', ''), running, look) if numbered else ''}}}"
    heads = "".join(_heading_css(level, head, look) for level, head in enumerate(look.headings))
    per_table = {
        "all": f"td,th{{border:0.6pt {'dashed' if look.dashed else 'solid'} #222}}",
        "rows": f"tr{{border-bottom:0.5pt {'dashed' if look.dashed else 'solid'} #666}}",
        "three": "table{border-top:1pt solid;border-bottom:1pt solid}tr.h{border-bottom:0.6pt solid}",
        "outer": "table{border:0.8pt solid}",
        "head": "tr.h{border-bottom:0.8pt solid}",
        "none": "",
    }[look.table_rules]
    shade = "tr.h td,tr.h th{background:#e4e4e4}" if look.table_shade else ""
    caption = {
        "small": f"font-size:{look.size * 0.85:.1f}pt",
        "italic": "font-style:italic",
        "bold-label": "",
        "plain": "",
        "centered": "text-align:center",
    }[look.caption_style]
    return f"""
@page{{size:{look.width}pt {look.height}pt;margin:{top:.0f}pt {right:.0f}pt {bottom:.0f}pt {left:.0f}pt;{boxes}}}
{mirrored}{plain}
.h0,.h1{{string-set:section content(text)}}
html{{font-family:'{look.text_font}','Liberation Serif','DejaVu Serif';font-size:{look.size}pt;line-height:{look.leading}}}
body{{margin:0;text-align:{align};hyphens:{"auto" if look.hyphens else "manual"}}}
p{{margin:0 0 {look.space}em 0;text-indent:{look.indent}em;orphans:2;widows:2}}
p.first{{text-indent:{look.indent if look.indent_first else 0}em}}
p.lead{{font-weight:{"bold" if look.pairs_bold else "normal"};margin-bottom:0.8em;text-indent:0}}
p.lines,p.verse{{text-indent:0;margin:{look.lines_space}em 0;text-align:left;hyphens:none}} p.verse{{margin-top:{look.verse_space}em;margin-bottom:{look.verse_space}em;margin-left:{look.quotation_indent}em}}
p.center{{text-align:center;text-indent:0}} p.right{{text-align:right;text-indent:0}}
p.quotation{{margin:0.8em {look.quotation_indent}em;text-indent:0;font-style:{"italic" if look.quotation_italic else "normal"};font-size:{look.quotation_size}em}}
p.hanging{{padding-left:{look.hang}em;text-indent:-{look.hang}em}}
.beside{{width:{look.pairs_share * 100 - 2:.0f}% !important;text-align:{"right" if look.labels_right else "left"} !important}}
.watermark{{position:fixed;top:40%;left:0;width:100%;text-align:center;font-size:{look.size * 7:.0f}pt;color:#ddd;transform:rotate(-{look.list_after * 60:.0f}deg);z-index:-1}}
.page{{break-after:page}}
p.box{{border:0.8pt solid #444;padding:0.6em;margin:0.8em 0;text-indent:0}}
.columns{{columns:{made.columns};column-gap:{look.column_gap:.0f}pt;{"column-rule:0.5pt solid #888" if look.column_rule else ""}}}
{heads}
div.item{{margin-bottom:{look.list_space}em}} div.item span.mark{{display:inline-block;text-indent:0;text-align:left;hyphens:none}}
div.last{{margin-bottom:{look.list_after}em}}
table{{border-collapse:collapse;margin:0.5em 0 0.9em 0;font-size:{look.table_size}em;text-align:left;hyphens:none}} td,th{{padding:{look.table_padding}pt {look.table_padding + 2}pt;vertical-align:{look.cell_place};font-weight:normal;text-align:{look.cell_align}}} {f"th{{text-align:{look.header_align} !important}}" if look.header_align else ""}
{per_table}{shade} tr.h th{{font-weight:{"bold" if look.header_bold else "normal"}}} .r{{text-align:right}} .b{{font-weight:bold}} tr{{break-inside:avoid}}
p.caption{{{caption};text-indent:0;margin:0.4em 0 0.8em 0;text-align:{"center" if look.caption_style == "centered" else "left"}}}
table.pairs{{font-size:1em;width:100%;margin:0.5em 0}} table.pairs td{{border:none;padding:2pt 4pt 2pt 0;text-align:left;vertical-align:{"bottom" if look.cell_place == "bottom" else "top"}}} {"table.pairs td.label{text-align:right;padding-right:9pt}" if look.labels_right else ""} td.label{{font-weight:{"bold" if look.pairs_bold else "normal"}}} td.line{{border-bottom:0.6pt solid #333 !important}}
table.upright td.label{{text-align:right;border-right:0.7pt solid #333;padding-right:8pt}} table.upright td.value{{padding-left:8pt}} table.boxed{{border:0.8pt solid #444}} table.boxed td{{padding-left:5pt}}
pre{{font-family:'{look.mono_font}';font-size:{look.size * 0.88:.1f}pt;margin:0.6em 0 0.8em {look.list_indent}em;line-height:1.2;text-align:left;hyphens:none;white-space:pre-wrap}}
p.term{{text-indent:0;margin:0.3em 0 0 0;font-weight:{"bold" if look.term_bold else "normal"};font-style:{"normal" if look.term_bold else "italic"}}} p.meaning{{text-indent:0;margin:0 0 0.5em {max(look.list_indent, 1)}em}}
p.contents{{text-indent:0;margin:0.1em 0;text-align:left;hyphens:none;display:flex;gap:3pt}} p.contents i{{flex:1;overflow:hidden;white-space:nowrap;font-style:normal;height:1.1em;text-align:right;direction:rtl}}
figure{{margin:0.8em 0;text-align:{"center" if look.caption_style == "centered" else "left"};break-inside:avoid}} figure img{{max-width:100%}}
{"" if look.note_rule else "@page{@footnote{border-top:none}}"}
p.leader{{display:flex;gap:3pt;text-indent:0;margin:0.15em 0;hyphens:none}} p.leader i{{flex:1;overflow:hidden;white-space:nowrap;height:1.1em;font-style:normal;text-align:right;direction:rtl}}
span.note{{float:footnote;font-size:{look.size * look.note_size:.1f}pt;line-height:1.2;text-indent:0;font-style:normal;font-weight:normal;text-align:left}}
"""


def _boxes(head: tuple[str, ...], foot: tuple[str, ...], running: str, look: Look) -> str:
    boxes = ""
    for side, texts in (("top", head), ("bottom", foot)):
        for place, text in zip(("left", "center", "right"), texts, strict=True):
            if text:
                boxes += f"@{side}-{place}{{content:{_content(text)};white-space:pre-wrap;line-height:1.2;{running}{_rule(look, side)}}}"
            elif look.running_mirrored:
                boxes += f"@{side}-{place}{{content:none}}"
    return boxes


def _content(text: str) -> str:
    pieces = []
    for piece in text.replace("{n}", "\0n\0").replace("{N}", "\0N\0").replace("{s}", "\0s\0").split("\0"):
        if piece == "s":
            pieces.append("string(section)")
        elif piece in ("n", "N"):
            pieces.append("counter(page)" if piece == "n" else "counter(pages)")
        elif piece:
            pieces.append('"' + piece.replace("\\", "").replace('"', "'").replace("\n", "\\A ") + '"')
    return " ".join(pieces)


def _rule(look: Look, side: str) -> str:
    if not look.running_rule:
        return ""
    return (
        "border-bottom:0.5pt solid;vertical-align:bottom;"
        if side == "top"
        else "border-top:0.5pt solid;vertical-align:top;"
    )


def _heading_css(level: int, head: HeadingLook, look: Look) -> str:
    family = look.head_font if head.sans or level == 0 else look.text_font
    return (
        f".h{level}{{font-family:'{family}','Liberation Serif';font-size:{head.size * look.size:.1f}pt;font-weight:{'bold' if head.bold else 'normal'};"
        f"font-style:{'italic' if head.italic else 'normal'};font-variant:{'small-caps' if head.small_capitals else 'normal'};"
        f"text-transform:{'uppercase' if head.capitals else 'none'};text-decoration:{'underline' if head.underline else 'none'};color:{head.color};"
        f"text-align:{head.align};margin:{head.above * look.size:.1f}pt 0 {head.below * look.size:.1f}pt 0;line-height:1.2;text-indent:0;hyphens:none;break-after:avoid}}"
    )


def _spans(spans: tuple[Span, ...], notes: bool) -> str:
    out = ""
    for span in spans:
        text = escape(span.text).replace("\n", "<br>")
        text = f"<b>{text}</b>" if span.bold else text
        out += f"<i>{text}</i>" if span.italic else text
        if span.note and notes:
            out += f"<span class=note>{escape(span.note)}</span>"
    return out


def _html(part: Part, look: Look, notes: bool, before: Part | None) -> str:
    match part:
        case Heading():
            label = (
                f"<div class=h{part.level} style='margin-bottom:2pt'>{escape(part.label)}</div>" if part.label else ""
            )
            top = "margin-top:2pt" if part.label else ""
            number = f"{escape(part.number)}{'&emsp;' if look.list_hang > 1.9 else ' '}" if part.number else ""
            tag = f"h{min(part.level + 1, 6)}"
            beside = " beside" if part.beside else ""
            return f"{label}<{tag} class='h{part.level}{beside}' style='{top}'>{number}{escape(part.text)}</{tag}>"
        case Paragraph():
            first = " first" if not isinstance(before, Paragraph) or before.kind != "text" else ""
            size = f" style='font-size:{part.size}em'" if part.size != 1 else ""
            return f"<p class='{part.kind} {part.align}{first if part.kind == 'text' else ''}'{size}>{_spans(part.spans, notes)}</p>"
        case Space():
            return f"<div style='height:{part.ems:.1f}em'></div>" if part.ems else "<div class=page></div>"
        case RunIn():
            return f"<p class=first><b>{escape(part.heading)}</b> {_spans(part.paragraph.spans, notes)}</p>"
        case Item():
            mark, hang = item_mark(part, look), item_hang(part, look)
            left = look.list_indent + (part.depth + 1) * hang
            return (
                f"<div class=item style='padding-left:{left:.2f}em;text-indent:-{hang:.2f}em'><span class=mark style='width:{hang:.2f}em'>"
                f"{escape(mark)}</span>{_spans(part.spans, notes)}</div>"
            )
        case Term():
            return f"<p class=term>{escape(part.term)}</p><p class=meaning>{_spans(part.spans, notes)}</p>"
        case Code():
            return f"<pre>{escape(chr(10).join(part.lines))}</pre>"
        case Contents():
            return "".join(
                f"<p class=contents style='padding-left:{max(level - 1, 0) * 1.5}em'><span>{escape(text)}</span><i>{'. ' * 150 if look.list_space < 0.3 else ''}</i><span>{page}</span></p>"
                for level, text, page in part.entries
            )
        case Picture():
            return _picture(part, look)
        case Pairs():
            return _pairs(part, look)
        case Table():
            return _table(part, look)
        case Sides():
            sides = "".join(
                f"<div style='width:{share * 100:.0f}%'>{''.join(_html(one, look, notes, None) for one in side)}</div>"
                for side, share in ((part.left, part.share), (part.right, 1 - part.share))
            )
            return f"<div style='display:flex'>{sides}</div>"
    raise TypeError(part)


def _picture(part: Picture, look: Look) -> str:
    source = GREY.format(
        w=part.width,
        h=part.height,
        fill="c8d4dc",
        ink="6b7f8c",
        x=part.width // 3,
        y=part.height // 2,
        r=part.height // 4,
    )
    caption = f"<p class=caption>{_caption(part.caption, look)}</p>" if part.caption else ""
    return f'<figure><img src="{source}" width={part.width} height={part.height}>{caption}</figure>'


def _caption(text: str, look: Look) -> str:
    if look.caption_style != "bold-label":
        return escape(text)
    words = text.split(" ", 2)
    return f"<b>{escape(' '.join(words[:2]))}</b> {escape(words[2] if len(words) > 2 else '')}"


def _pairs(part: Pairs, look: Look) -> str:
    if part.leader:
        return "".join(
            f"<p class=leader><span>{escape(label)}</span><i>{'. ' * 150}</i><span>{escape(value)}</span></p>"
            for row in part.rows
            for label, value in row
        )
    rows = ""
    beside = len(part.rows[0])
    for row in part.rows:
        cells = ""
        for label, value in row:
            line = " line" if part.line and not value else ""
            cells += f"<td class=label style='width:{look.pairs_share / beside * 100:.0f}%'>{escape(label)}</td><td class='value{line}' style='width:{(1 - look.pairs_share) / beside * 100:.0f}%'>{escape(value)}</td>"
        rows += f"<tr>{cells}</tr>"
    return f"<table class='pairs{' boxed' if part.boxed else ''}{' upright' if part.upright else ''}'>{rows}</table>"


def _table(part: Table, look: Look) -> str:
    rows = ""
    for n, row in enumerate(part.rows):
        cells = ""
        for cell in row:
            tag = "th" if cell.header else "td"
            looks = f"{'r ' if cell.right else ''}{'b' if cell.bold else ''}"
            cells += f"<{tag} class='{looks}' colspan={cell.columns} rowspan={cell.rows}>{escape(cell.text)}</{tag}>"
        rows += f"<tr class='{'h' if n < part.header_rows else 'g' if n in part.groups else ''}'>{cells}</tr>"
    columns = "".join(f"<col style='width:{share * 100:.1f}%'>" for share in part.shares) if part.full else ""
    caption = f"<p class=caption>{_caption(part.caption, look)}</p>" if part.caption else ""
    table = f"<table style='{f'width:{part.width * 100:.0f}%' if part.full else ''}'>{columns}{rows}</table>"
    return caption + table if look.caption_above else table + caption
