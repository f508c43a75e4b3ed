"""Contents lists, and lists of figures and tables, as fields (ECMA-376 part 1, 17.16.5.68)."""

from __future__ import annotations

from evenquill.core.resolve.contents import ContentsList
from evenquill.core.writers.docx.paragraphs import field_mark, field_text
from evenquill.core.writers.docx.xml import Element, W


def open_field(paragraph: Element, contents: ContentsList) -> None:
    """Begins the field in front of the text of its first entry."""
    place = 1 if len(paragraph) and paragraph[0].tag == f"{{{W}}}pPr" else 0
    for n, made in enumerate((field_mark("begin"), field_text(_instruction(contents)), field_mark("separate"))):
        paragraph.insert(place + n, made)


def close_field(paragraph: Element) -> None:
    """Ends the field behind the text of its last entry."""
    paragraph.append(field_mark("end"))


def _instruction(contents: ContentsList) -> str:
    """What makes the list anew: from headings, from captions of a sequence, or from all paragraphs in the style of captions."""
    if contents.depth:
        return f' TOC \\o "1-{contents.depth}" \\h \\z '
    return f' TOC \\h \\z \\c "{contents.sequence}" ' if contents.sequence else ' TOC \\h \\z \\t "Caption,1" '
