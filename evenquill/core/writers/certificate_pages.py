"""The certificate as PDF."""

from __future__ import annotations

import re

from evenquill.core.model import Document, ParagraphStyle, Role, Section, TextBlock
from evenquill.core.model.inline import from_text
from evenquill.core.model.sections import PageSetup
from evenquill.core.writers.pdf import write_pdf


def certificate_pages(text: str) -> bytes:
    """The certificate as PDF pages: its first line the title, underlined lines headings, lists of pages as they are lined up."""
    blocks: list[TextBlock] = []
    lines = text.splitlines()
    for n, line in enumerate(lines):
        if not line.strip() or set(line) == {"-"}:
            continue
        heading = n == 0 or (n + 1 < len(lines) and set(lines[n + 1]) == {"-"})
        role, style = (Role.HEADING, "Title" if n == 0 else "Heading") if heading else (Role.PARAGRAPH, "Text")
        level = (1 if n == 0 else 2) if heading else 0
        set_in = "Set in" if line.startswith("   ") and not heading else style
        blocks.append(TextBlock(f"b{n}", role, from_text(re.sub(r" {2,}", " ", line.strip())), set_in, level))
    styles = (
        ParagraphStyle("Text", size=10.5, after=2, keep_next=False),
        ParagraphStyle("Title", size=17, bold=True, after=10, outline=1),
        ParagraphStyle("Heading", size=13, bold=True, before=14, after=4, outline=2, keep_next=True),
        ParagraphStyle("Set in", size=10.5, left=18, after=2),
    )
    title = lines[0] if lines else ""
    section = Section("s", PageSetup(595.3, 841.9, 71, 71, 71, 71))
    document = Document(title=title, language="en", styles=styles, blocks=tuple(blocks), sections=(section,))
    return write_pdf(document, lambda _: b"")
