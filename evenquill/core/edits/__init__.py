"""Edits: the only way in which a document changes. Each operation is small, pure, and comes with its inverse."""

from evenquill.core.edits.operations import (
    AlignBlock,
    DescribePicture,
    Edit,
    EditText,
    InsertParagraph,
    JoinBlocks,
    MoveBlock,
    Operation,
    ReplacePicture,
    ResizePicture,
    Restore,
    SetAside,
    SetKind,
    SplitBlock,
    apply,
    undo,
)

__all__ = [
    "AlignBlock",
    "DescribePicture",
    "Edit",
    "EditText",
    "InsertParagraph",
    "JoinBlocks",
    "MoveBlock",
    "Operation",
    "ReplacePicture",
    "ResizePicture",
    "Restore",
    "SetAside",
    "SetKind",
    "SplitBlock",
    "apply",
    "undo",
]
