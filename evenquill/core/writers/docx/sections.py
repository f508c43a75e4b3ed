"""Sections (ECMA-376 part 1, 17.6): page size, margins, columns, running heads and feet."""

from __future__ import annotations

from evenquill.core.model import NumberFormat
from evenquill.core.resolve.sections import ResolvedSection
from evenquill.core.writers.docx.numbering import FORMATS
from evenquill.core.writers.docx.running import RunningParts
from evenquill.core.writers.docx.xml import Element, attribute, child, element, twips


def section_properties(section: ResolvedSection, running: RunningParts) -> Element:
    """``w:sectPr`` of a section."""
    layout = section.layout
    part, setup = layout.part, layout.setup
    made = element("sectPr")
    for reference in running.references(part):
        if section.begins_part or reference.kind != "first":
            made.append(reference.element())
    if section.continues:
        child(made, "type", val="continuous")
    size = child(made, "pgSz", w=twips(setup.width), h=twips(setup.height))
    if setup.width > setup.height:
        attribute(size, "orient", "landscape")
    child(
        made,
        "pgMar",
        top=twips(setup.top),
        right=twips(setup.right),
        bottom=twips(setup.bottom),
        left=twips(setup.left),
        header=twips(min(36.0, setup.top / 2)),
        footer=twips(min(36.0, setup.bottom / 2)),
        gutter=0,
    )
    form = part.format if part is not None else NumberFormat.DECIMAL
    start = part.start if part is not None and section.begins_part else None
    if start is not None or form is not NumberFormat.DECIMAL:
        numbers = child(made, "pgNumType")
        if form is not NumberFormat.DECIMAL:
            attribute(numbers, "fmt", FORMATS[form])
        if start is not None:
            attribute(numbers, "start", str(start))
    if layout.columns > 1:
        child(made, "cols", num=layout.columns, space=twips(layout.column_gap))
    if section.begins_part and part is not None and part.first is not None:
        child(made, "titlePg")
    return made
