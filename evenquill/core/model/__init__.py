"""The nouns of the product: documents, blocks, runs, styles, and where on the source they came from."""

from evenquill.core.model.blocks import (
    EQUATION,
    HANDWRITING,
    HANDWRITING_STYLE,
    NOTES,
    Block,
    NumberFormat,
    Numbering,
    PictureBlock,
    Role,
    TabStop,
    TextBlock,
)
from evenquill.core.model.document import (
    Document,
    PageGeometry,
    Remark,
    RemarkKind,
    Running,
    RunningPair,
    RunningPart,
    Settled,
)
from evenquill.core.model.geometry import Box, OtherReading, Spot, WordSpot, union
from evenquill.core.model.styles import Align, Family, ParagraphStyle
from evenquill.core.model.text import Marks, Run

__all__ = [
    "EQUATION",
    "HANDWRITING",
    "HANDWRITING_STYLE",
    "NOTES",
    "Align",
    "Block",
    "Box",
    "Document",
    "Family",
    "Marks",
    "NumberFormat",
    "Numbering",
    "OtherReading",
    "PageGeometry",
    "ParagraphStyle",
    "PictureBlock",
    "Remark",
    "RemarkKind",
    "Role",
    "Run",
    "Running",
    "RunningPair",
    "RunningPart",
    "Settled",
    "Spot",
    "TabStop",
    "TextBlock",
    "WordSpot",
    "union",
]
