"""Styles of a document as CSS."""

from __future__ import annotations

from collections.abc import Iterable

from evenquill.core.model import Align, Document, Family, ResolvedStyle, StandIn
from evenquill.core.typefaces import faces_for
from evenquill.core.writers.html.content import quoted

FAMILIES = {Family.SERIF: "serif", Family.SANS: "sans-serif", Family.MONO: "monospace"}

PAGE = """body { max-width: 46rem; margin: 2rem auto; padding: 0 1rem; overflow-wrap: break-word; }
h1, h2, h3, h4, h5, h6, p, figure, blockquote, pre, dl, dt, dd, ul, ol, table { margin: 0; padding: 0; font: inherit; }
ul, ol { padding-left: 2em; }
dd { margin-left: 2em; }
img { max-width: 100%; height: auto; }
figure { margin: 1em 0; }
pre { white-space: pre-wrap; }
table { border-collapse: collapse; margin: 0.8em 0; max-width: 100%; }
td, th { padding: 0.15em 0.4em; vertical-align: top; text-align: inherit; font-weight: inherit; }
.ruled td, .ruled th { border: 0.5pt solid; }
.tabbed { white-space: pre-wrap; tab-size: 8; }
.entry { display: flex; gap: 0.4em; align-items: baseline; }
.entry .leader { flex: 1; border-bottom: 1pt dotted; }
.equation { display: flex; justify-content: center; align-items: center; margin: 0.6em 0; }
.equation .number { margin-left: auto; }
.notes { margin-top: 2em; border-top: 0.5pt solid; padding-top: 0.6em; }
"""
"""What all documents have in common."""


def sheet_of(document: Document) -> str:
    """The style sheet of a document."""
    styles = document.resolved_styles.values()
    return PAGE + "".join(f".{class_of(style)} {{ {_look(style, document.stand_ins)} }}\n" for style in styles)


def class_of(style: ResolvedStyle) -> str:
    """The class of paragraphs of a style: its id with nothing in it that CSS would take for its own."""
    return "style-" + "".join(c if c.isalnum() else "-" for c in style.id)


def _look(style: ResolvedStyle, stand_ins: Iterable[StandIn]) -> str:
    faces = ", ".join((*map(quoted, faces_for(style.font, style.family, stand_ins)), FAMILIES[style.family]))
    said = [
        f"font-family: {faces}",
        f"font-size: {style.size:g}pt",
        f"line-height: {style.leading / style.size:.2f}" if style.leading and style.size else "line-height: normal",
        f"margin: {style.before:g}pt {style.right:g}pt {style.after:g}pt {style.left:g}pt",
    ]
    if style.first:
        said.append(f"text-indent: {style.first:g}pt")
    if style.bold:
        said.append("font-weight: bold")
    if style.italic:
        said.append("font-style: italic")
    if style.color:
        said.append(f"color: #{style.color}")
    if style.align is not Align.LEFT:
        said.append(f"text-align: {style.align}")
    return "; ".join(said)
