"""``apply`` takes a document and an operation and returns the changed document with the steps that undo it.

Blocks are values: what an operation does not touch is the very same object afterwards, which is how the store knows what to write.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from evenquill.core.edits import (
    caption_edits,
    cell_lists,
    cell_looks,
    copied_rows,
    equations_alike,
    find_edits,
    fit_edits,
    kind_edits,
    order_edits,
    picture_edits,
    plain_edits,
    region_edits,
    sentence_edits,
    settling,
    style_edits,
    tab_edits,
    table_by_edges,
    table_cells,
    table_columns,
    table_edits,
    table_lines,
    table_parts,
    text_edits,
    typeface_edits,
)
from evenquill.core.edits.copy_operations import PutRows
from evenquill.core.edits.fit_operations import FitPages
from evenquill.core.edits.inverse import Edit
from evenquill.core.edits.operations import (
    AddCaption,
    AddRegion,
    AlignBlock,
    ChooseHandwriting,
    DescribePicture,
    EditText,
    Exclude,
    InsertParagraph,
    JoinBlocks,
    JoinNeighbour,
    JoinSentences,
    KeepAsItIs,
    MakeEquations,
    MakePlain,
    MoveBlock,
    MoveHeading,
    OneFlow,
    Operation,
    ReadRowAgain,
    RemoveRegion,
    ReplacePicture,
    ReplaceText,
    ResizePicture,
    RestartNumbering,
    SetAround,
    SetKind,
    SetRegion,
    SetSides,
    SettleWords,
    ShiftLevel,
    SplitBlock,
    SplitSentences,
    Sweep,
    Together,
)
from evenquill.core.edits.style_operations import ApplyStyle, ChangeStyle, MergeStyles, NewStyle, SetStandIn, TakeStyles
from evenquill.core.edits.tab_operations import LineUp, SetTabs
from evenquill.core.edits.table_operations import (
    AlignColumns,
    ArrangeColumns,
    CutAtEdges,
    FillCells,
    InsertLines,
    JoinTables,
    ListCells,
    MergeCells,
    MoveLines,
    RemoveEmptyLines,
    RemoveLines,
    RowsToTable,
    RuleCells,
    RuleTable,
    SetColumnWidths,
    SetHeaderRows,
    ShadeCells,
    SplitCell,
    SplitColumn,
    SplitTable,
    TableToRows,
    TransposeTable,
)
from evenquill.core.errors import EditError
from evenquill.core.model import Document
from evenquill.core.model.ids import Ids


def apply(document: Document, operation: Operation, ids: Ids | None = None) -> Edit:
    """The document after the operation; ids of what is new come from ``ids``, or from above all ids of the document.

    Raises EditError where the operation does not fit.
    """
    return _APPLY[type(operation)](document, operation, ids or Ids.above(document))


def _together(document: Document, operation: Together, ids: Ids) -> Edit:
    if not operation.steps:
        raise EditError("No rows are marked.")
    edit = Edit(document, ())
    for step in operation.steps:
        edit = edit.then(apply(edit.document, step, ids))
    return edit


_APPLY: dict[type, Callable[[Document, Any, Ids], Edit]] = {
    EditText: text_edits.edit_text,
    SplitBlock: text_edits.split,
    JoinBlocks: text_edits.join,
    JoinNeighbour: text_edits.join_neighbour,
    ReadRowAgain: text_edits.read_again,
    MakeEquations: equations_alike.make_equations,
    ChangeStyle: style_edits.change_style,
    ApplyStyle: style_edits.apply_style,
    MergeStyles: style_edits.merge_styles,
    NewStyle: style_edits.new_style,
    TakeStyles: style_edits.take_styles,
    SetStandIn: typeface_edits.set_stand_in,
    ReplaceText: find_edits.replace_text,
    Sweep: find_edits.sweep,
    MakePlain: plain_edits.make_plain,
    SplitSentences: sentence_edits.split_sentences,
    JoinSentences: sentence_edits.join_sentences,
    FitPages: fit_edits.fit_pages,
    SetKind: kind_edits.set_kind,
    ShiftLevel: kind_edits.shift_level,
    AlignBlock: kind_edits.align,
    SetSides: kind_edits.set_sides,
    RestartNumbering: kind_edits.restart,
    OneFlow: kind_edits.one_flow,
    MoveBlock: order_edits.move,
    MoveHeading: order_edits.move_heading,
    Exclude: order_edits.exclude,
    InsertParagraph: order_edits.insert,
    ResizePicture: picture_edits.resize,
    ReplacePicture: picture_edits.replace_picture,
    DescribePicture: picture_edits.describe,
    SetAround: picture_edits.set_around,
    AddCaption: caption_edits.add_caption,
    ChooseHandwriting: picture_edits.handwriting,
    SettleWords: settling.settle_words,
    KeepAsItIs: settling.keep,
    SetRegion: region_edits.set_region,
    AddRegion: region_edits.add_region,
    RemoveRegion: region_edits.remove_region,
    SetHeaderRows: table_edits.set_header_rows,
    TableToRows: table_edits.table_to_rows,
    RowsToTable: table_edits.rows_to_table,
    RuleTable: table_edits.rule_table,
    RuleCells: cell_looks.rule_cells,
    ShadeCells: cell_looks.shade_cells,
    ListCells: cell_lists.list_cells,
    PutRows: copied_rows.put_rows,
    SetTabs: tab_edits.set_tabs,
    LineUp: tab_edits.line_up,
    CutAtEdges: table_by_edges.cut_at_edges,
    InsertLines: table_lines.insert_lines,
    RemoveLines: table_lines.remove_lines,
    MoveLines: table_lines.move_lines,
    RemoveEmptyLines: table_lines.remove_empty_lines,
    MergeCells: table_cells.merge_cells,
    SplitCell: table_cells.split_cell,
    SplitColumn: table_columns.split_column,
    FillCells: table_cells.fill_cells,
    JoinTables: table_parts.join_tables,
    SplitTable: table_parts.split_table,
    TransposeTable: table_parts.transpose,
    AlignColumns: table_columns.align_columns,
    SetColumnWidths: table_columns.set_column_widths,
    ArrangeColumns: table_columns.arrange_columns,
    Together: _together,
}
