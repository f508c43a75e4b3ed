"""What a converter should make of a document: the scorer's ``expected.json``."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import replace

from .look import Look
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
    Space,
    Span,
    Table,
    Term,
    in_order,
)


def expected(made: Made, look: Look, pages: int, name: str) -> dict:
    """The truth of a document that came out with so many pages."""
    blocks: list[dict] = []
    parts = list(in_order((*made.title, *made.parts)))
    lowest = min((p.level for p in parts if isinstance(p, Heading)), default=0)
    for part in parts:
        blocks += [{**block, "part": _part(part, block)} for block in _blocks(part, look, lowest)]
    side = {side: [] for side in ("header", "footer")}
    if pages > 0:
        for key, texts in (("header", made.head), ("footer", made.foot)):
            for text in "\n".join(texts).split("\n"):
                if text:
                    text = text.replace("{N}", str(pages))
                    side[key] += [
                        text.replace("{s}", own) for own in (made.section_titles() if "{s}" in text else ("",))
                    ]
        if look.first_page_plain and any("{n}" in text for text in (*made.head, *made.foot)):
            side["footer"].append("{n}")
    return {
        "case": name,
        "kind": "native",
        "language": made.language,
        "pages": pages,
        "blocks": blocks,
        "furniture": side,
        "marks": [{"text": made.watermark}] if made.watermark else [],
        "broken_words": [],
    }


def _part(part: Part, block: dict) -> str:
    """What a block's lines are called when line roles are learnt: finer than what the scorer knows."""
    if block["type"] in ("footnote", "caption"):
        return block["type"]
    match part:
        case Paragraph():
            return part.kind
        case Term():
            return "term" if block["text"] == part.term else "meaning"
    return type(part).__name__.lower()


def _phrases(spans: Iterable[Span], kind: str) -> list[str]:
    return [span.text.strip() for span in spans if getattr(span, kind)]


def _as_set(part: Paragraph, look: Look) -> tuple[Span, ...]:
    """The spans of a paragraph with the look that all of its kind have."""
    if part.kind == "quotation" and look.quotation_italic:
        return tuple(replace(span, italic=True) for span in part.spans)
    if part.kind == "lead" and look.pairs_bold:
        return tuple(replace(span, bold=True) for span in part.spans)
    return part.spans


def _text(kind: str, spans: tuple[Span, ...], **more: object) -> list[dict]:
    """A block of spans, and its notes behind it."""
    block: dict = {"type": kind, "text": "".join(span.text for span in spans), **more}
    for look in ("bold", "italic"):
        every = all(getattr(span, look) for span in spans)
        phrases = ["".join(span.text for span in spans)] if every else _phrases(spans, look)
        if phrases:
            block[look] = phrases
    return [block, *({"type": "footnote", "text": span.note} for span in spans if span.note)]


def _blocks(part: Part, look: Look, lowest: int) -> list[dict]:
    match part:
        case Heading():
            text = f"{part.number} {part.text}".strip()
            if look.headings[min(part.level, 3)].capitals:
                text, part = text.upper(), replace(part, text=part.text.upper(), label=part.label.upper())
            block = {"type": "heading", "level": part.level - lowest + 1, "text": text}
            if part.label:
                block |= {"text": f"{part.label}\n{part.text}", "label": part.label}
            return [block]
        case Paragraph():
            more: dict = {}
            if part.align in ("center", "right"):
                more["align"] = part.align
            elif part.kind == "text" and look.justify and len(part.text) > 200:
                more["align"] = "justify"
            elif part.kind == "text" and len(part.text) > 200:
                more["align"] = "left"
            return _text("paragraph", _as_set(part, look), **more)
        case RunIn():
            spans = (Span(part.heading + " ", bold=True), *part.paragraph.spans)
            return _text("paragraph", spans)
        case Item():
            return _text("list_item", part.spans, ordered=part.ordinal > 0, depth=part.depth)
        case Term():
            return [
                *_text("paragraph", (Span(part.term, bold=look.term_bold, italic=not look.term_bold),)),
                *_text("paragraph", part.spans),
            ]
        case Space():
            return []
        case Code():
            return [{"type": "code", "text": "\n".join(part.lines)}]
        case Contents():
            return [{"type": "paragraph", "text": f"{text}\t{page}"} for _, text, page in part.entries]
        case Picture():
            caption = [{"type": "caption", "text": part.caption}] if part.caption else []
            return [{"type": "figure"}, *caption]
        case Pairs():
            rows = ["\t".join(text for pair in row for text in pair if text) for row in part.rows]
            labels = [[label for label, _ in row] if look.pairs_bold else [] for row in part.rows]
            return [
                {"type": "paragraph", "text": re.sub("\t+", "\t", row), **({"bold": own} if own else {})}
                for row, own in zip(rows, labels, strict=True)
            ]
        case Table():
            rows = [
                [
                    {
                        "text": cell.text,
                        "colspan": cell.columns,
                        "rowspan": cell.rows,
                        **({"header": True} if cell.header else {}),
                    }
                    for cell in row
                ]
                for row in part.rows
            ]
            caption = [{"type": "caption", "text": part.caption}] if part.caption else []
            table = [{"type": "table", "rows": rows}]
            return [*caption, *table] if look.caption_above else [*table, *caption]
    raise TypeError(part)
