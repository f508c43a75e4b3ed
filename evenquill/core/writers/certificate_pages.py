"""The certificate as PDF."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.model import Document, ParagraphStyle, Role, Section, TextBlock
from evenquill.core.model.inline import from_text
from evenquill.core.model.sections import PageSetup
from evenquill.core.writers.certificate import Entry, EntryKind
from evenquill.core.writers.pdf import write_pdf

STYLES = {
    EntryKind.TITLE: ParagraphStyle("Title", size=17, bold=True, after=10, outline=1),
    EntryKind.HEADING: ParagraphStyle("Heading", size=13, bold=True, before=14, after=4, outline=2, keep_next=True),
    EntryKind.LINE: ParagraphStyle("Text", size=10.5, after=2),
    EntryKind.DETAIL: ParagraphStyle("Detail", size=10.5, left=18, after=2),
}


def certificate_pages(entries: Sequence[Entry]) -> bytes:
    """A certificate as PDF pages."""
    blocks = []
    for n, entry in enumerate(entries):
        style = STYLES[entry.kind]
        text = f"{entry.text} {entry.value}".strip()
        if text:
            role = Role.HEADING if style.outline else Role.PARAGRAPH
            blocks.append(TextBlock(f"b{n}", role, from_text(text), style.id, style.outline or 0))
    section = Section("s", PageSetup(595.3, 841.9, 71, 71, 71, 71))
    document = Document(
        title=entries[0].text,
        language="en",
        styles=tuple(STYLES.values()),
        blocks=tuple(blocks),
        sections=(section,),
    )
    return write_pdf(document, lambda _: b"")
