"""The chain from evidence to document; each step is one module of this folder."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from evenquill.core.evidence import PageEvidence, PictureKind
from evenquill.core.garbage_collection import fewer_garbage_collections
from evenquill.core.languages import short_code
from evenquill.core.layout import find_furniture, lay_out
from evenquill.core.layout.flow import tab_stops
from evenquill.core.model import (
    HANDWRITING,
    HANDWRITING_STYLE,
    Align,
    Block,
    Cell,
    Document,
    Equation,
    Family,
    Inline,
    Marks,
    PageGeometry,
    ParagraphStyle,
    PictureBlock,
    Remark,
    ResolvedStyle,
    Role,
    Spot,
    TableBlock,
    TabStop,
    Text,
    TextBlock,
    union,
)
from evenquill.core.model.cell_lines import with_usual_sides
from evenquill.core.model.ids import Ids, numbered
from evenquill.core.model.inline import AS_STYLED, from_text, joined
from evenquill.core.model.sections import in_sections
from evenquill.core.model.styles import style_of
from evenquill.core.rebuild.captions import find_captions
from evenquill.core.rebuild.cuts import join_cut
from evenquill.core.rebuild.definitions import find_definitions
from evenquill.core.rebuild.doubts import doubts_of, with_doubts_that_are_asked
from evenquill.core.rebuild.drafts import AnyDraft, Draft, PictureDraft, TableDraft, all_texts, description_of, set_text
from evenquill.core.rebuild.endnotes import find_endnotes
from evenquill.core.rebuild.facts import facts_of
from evenquill.core.rebuild.first_lines import align_first_lines
from evenquill.core.rebuild.headings import carry_on_headings, find_headings, join_labels
from evenquill.core.rebuild.lists import find_items_that_carry_on, find_lists
from evenquill.core.rebuild.note_marks import with_note_marks
from evenquill.core.rebuild.notes import find_notes_in_text
from evenquill.core.rebuild.page_ends import pages_ended
from evenquill.core.rebuild.paragraphs import drafts_of
from evenquill.core.rebuild.prepared import prepared
from evenquill.core.rebuild.quotes import find_quotes
from evenquill.core.rebuild.readable_colors import with_readable_colors
from evenquill.core.rebuild.references import with_reference_links
from evenquill.core.rebuild.ruled_paragraphs import find_ruled_paragraphs
from evenquill.core.rebuild.run_in import find_run_in_headings
from evenquill.core.rebuild.running import running_parts
from evenquill.core.rebuild.steady_headings import with_steady_headings
from evenquill.core.rebuild.structure.decide import decide
from evenquill.core.rebuild.styles import make_styles
from evenquill.core.rebuild.tables import cut_widths, join_tables, with_steady_weight
from evenquill.core.rebuild.tags import tagged_depths, tagged_language, tagged_levels
from evenquill.core.source import SourceFacts

PICTURE_NOTES = {
    PictureKind.PAGE: "page",
    PictureKind.STAMP: "stamp",
    PictureKind.WATERMARK: "watermark",
    PictureKind.SIGNATURE: "signature",
    PictureKind.HANDWRITING: HANDWRITING,
}

LEGIBLE = 0.8
"""Confidence from which handwriting is taken as its text; else as its picture. The other is set aside."""

CENTRED = 12.0
"""Points that a table leaves free at both sides, and by which the two may differ, if it is centred."""

SET_ASIDE = frozenset((PictureKind.STAMP, PictureKind.WATERMARK))

EMPTY_TITLES = frozenset({"untitled", "anonymous", "unspecified", "title"})


@fewer_garbage_collections()
def rebuild(pages: Sequence[PageEvidence], source: SourceFacts) -> Document:
    """One document from the evidence of all pages, which must be in order."""
    pages, of_tags = prepared(pages)
    facts = facts_of(pages, source.language)
    furniture = find_furniture(pages)
    layouts = lay_out(pages, furniture, facts.text_type)
    drafts, starts = drafts_of(layouts, decide(layouts, pages, facts, source.outline), facts)
    drafts = join_cut(drafts, starts, facts)
    drafts = find_notes_in_text(join_labels(drafts), facts.text_type.size)
    with_steady_headings(drafts)
    carry_on_headings(drafts, facts.text_type)
    find_items_that_carry_on(drafts)
    find_lists(drafts, tagged_depths(drafts, pages))
    with_readable_colors(drafts)
    for draft in all_texts(drafts):
        set_text(draft, facts)
    drafts = join_tables(drafts, facts)
    with_steady_weight(drafts)
    align_first_lines(drafts)
    find_captions(drafts)
    tagged = tagged_levels(drafts, pages)
    find_headings(drafts, facts.text_type.size, source.outline, tagged, facts.kinds)
    find_definitions(drafts, facts.text_type.size)
    find_quotes(drafts)
    find_endnotes(drafts)
    find_run_in_headings(drafts)
    tags = {page.number: page.tags for page in pages}
    for draft in all_texts(drafts):
        draft.language = tagged_language(draft, tags, facts.language)
    styles = make_styles(drafts, facts)
    ruled = find_ruled_paragraphs(drafts, pages, furniture, facts.text_type.size)
    blocks, columns = _blocks(drafts, {style.id: style for style in styles}, pages_ended(layouts, facts.text_type.size))
    blocks = with_reference_links(with_note_marks(blocks, drafts, _block_id))
    blocks = with_doubts_that_are_asked(_with_hidden_text(blocks, pages, styles[0].id), len(pages))
    numbers = {page.page: page.number.label for page in furniture.pages if page.number}
    geometry = tuple(
        PageGeometry(
            layout.width,
            layout.height,
            layout.text_box.rounded(),
            tuple(short_code(code) for code in page.languages),
            numbers.get(page.number, ""),
        )
        for page, layout in zip(pages, layouts, strict=True)
    )
    running = running_parts(furniture.pages, geometry, ruled)
    blocks, sections = in_sections(blocks, geometry, running.starts, columns)
    document = Document(
        title=_title(source, blocks),
        language=facts.language,
        styles=_based_on_first(*styles, *running.styles, *_handwriting_style(blocks, styles[0])),
        blocks=tuple(blocks),
        sections=sections,
        running=running.parts,
        pages=geometry,
        remarks=(*of_tags, *_remarks(pages)),
    )
    return numbered(document, Ids(1))


def _blocks(
    drafts: list[AnyDraft], styles: dict[str, ResolvedStyle], ended: set[int]
) -> tuple[list[Block], dict[str, int]]:
    """The blocks of drafts, and by their ids in how many columns they stand."""
    blocks: list[Block] = []
    columns: dict[str, int] = {}
    for n, draft in enumerate(drafts):
        own = _block_id(n)
        block = _block(own, draft, styles)
        if draft.page_top and draft.page - 1 in ended:
            block = replace(block, page_break=True)
        made = [block]
        if isinstance(draft, PictureDraft) and draft.picture.kind is PictureKind.HANDWRITING:
            made = _handwriting(block, draft)
        blocks += made
        columns |= dict.fromkeys((one.id for one in made), draft.columns)
    return blocks, columns


def _block(own: str, draft: AnyDraft, styles: dict[str, ResolvedStyle]) -> Block:
    if isinstance(draft, Draft):
        return _text_block(own, draft, styles)
    return _picture_block(own, draft) if isinstance(draft, PictureDraft) else _table_block(own, draft, styles)


def _block_id(place: int) -> str:
    """What the block that the draft at a place becomes is called until all are there and ids are given."""
    return f"draft{place}"


def _with_hidden_text(blocks: list[Block], pages: Sequence[PageEvidence], style: str) -> list[Block]:
    """The blocks with what nobody can see on a page, or is printed across it, set aside behind its last one."""
    out = list(blocks)
    for page in pages:
        if page.hidden:
            lines = sorted(page.hidden, key=lambda line: (line.baseline, line.box.x0))
            spot = Spot(page.number, union(line.box for line in lines).rounded())
            text = "\n".join(line.text for line in lines)
            last = max((n for n, block in enumerate(out) if _begins_by(block, page.number)), default=-1)
            out.insert(
                last + 1,
                TextBlock(f"hidden{page.number}", content=from_text(text), style=style, spots=(spot,), excluded=True),
            )
    return out


def _begins_by(block: Block, page: int) -> bool:
    """Whether a block begins on a page or before."""
    return bool(block.spots) and block.spots[0].page <= page


def _handwriting(picture: Block, draft: PictureDraft) -> list[Block]:
    """The picture of handwriting and the text that was read from it; one of them is set aside."""
    if not draft.picture.words.strip():
        return [picture]
    legible = draft.picture.confidence >= LEGIBLE
    text = TextBlock(
        f"{picture.id}.text",
        content=from_text(draft.picture.words),
        style=HANDWRITING_STYLE,
        spots=picture.spots,
        excluded=not legible,
    )
    return [replace(picture, excluded=legible), text]


def _text_block(block_id: str, draft: Draft, styles: dict[str, ResolvedStyle]) -> TextBlock:
    style = styles[draft.style]
    return TextBlock(
        id=block_id,
        role=draft.role,
        content=_within_style(draft.content, style),
        style=draft.style,
        level=draft.level,
        numbering=draft.numbering,
        align=None if _same_edge(draft.align, style.align, draft) else draft.align,
        tabs=_number_tabs(draft) if draft.role is Role.EQUATION else tab_stops(draft.lines, draft.left, draft.right),
        spots=draft.spots,
        words=draft.words,
        language=draft.language,
        doubts=doubts_of(draft),
        sides=draft.sides,
    )


def _number_tabs(draft: Draft) -> tuple[TabStop, ...]:
    """The tab stops of an equation that has a number: one for each."""
    width = round(draft.right - draft.left, 1)
    numbered = any(isinstance(item, Equation) and item.number for item in draft.content)
    return (TabStop(round(width / 2, 1), Align.CENTER), TabStop(width, Align.RIGHT)) if numbered else ()


def _same_edge(align: Align, usual: Align, draft: Draft) -> bool:
    """Whether the style's alignment says enough: one line alone cannot tell left from justified."""
    if align is usual:
        return True
    return len(draft.lines) == 1 and {align, usual} == {Align.LEFT, Align.JUSTIFY}


def _within_style(content: tuple[Inline, ...], style: ResolvedStyle) -> tuple[Inline, ...]:
    """Content as differences from its style, in weight, slant, colour and typeface."""
    common = (Marks.BOLD if style.bold else Marks.NONE) | (Marks.ITALIC if style.italic else Marks.NONE)
    runs = (
        replace(item, marks=item.marks ^ common, color=None if item.color == style.color else item.color or "000000")
        for item in content
    )
    if style.family is Family.MONO:
        runs = (replace(run, lettering=AS_STYLED) if isinstance(run, Text) else run for run in runs)
    return joined(runs)


def _table_block(block_id: str, draft: TableDraft, styles: dict[str, ResolvedStyle]) -> TableBlock:
    style = next(text.style for text in all_texts([draft]))
    cells = []
    for cell in draft.cells:
        own = f"{block_id}.{cell.row}.{cell.column}"
        texts = [_text_block(f"{own}.{n}", text, styles) for n, text in enumerate(cell.drafts)]
        empty = TextBlock(f"{own}.0", Role.CELL, style=style, spots=cell.spots)
        cells.append(
            Cell(own, cell.row, cell.column, tuple(texts) or (empty,), cell.rows, cell.columns, cell.sides, cell.fill)
        )
    room_left, room_right = draft.edges[0] - draft.left, draft.right - draft.edges[-1]
    centred = min(room_left, room_right) > CENTRED and abs(room_left - room_right) < CENTRED
    made = TableBlock(
        id=block_id,
        widths=cut_widths(draft),
        row_ids=tuple(f"{block_id}.row{n}" for n in range(draft.row_count)),
        cells=tuple(cells),
        header_rows=draft.header_rows,
        ruled=False,
        align=Align.CENTER if centred else Align.LEFT,
        spots=draft.spots,
    )
    return with_usual_sides(made)


def _picture_block(block_id: str, draft: PictureDraft) -> PictureBlock:
    picture = draft.picture
    box = picture.box
    room_left, room_right = box.x0 - draft.left, draft.right - box.x1
    if draft.side is not None:
        align = draft.side
    elif min(room_left, room_right) > 6 and abs(room_left - room_right) < 0.12 * max(draft.right - draft.left, 1):
        align = Align.CENTER
    elif room_left > 36 and room_right < 6:
        align = Align.RIGHT
    else:
        align = Align.LEFT
    return PictureBlock(
        id=block_id,
        picture=picture.picture,
        media=picture.media,
        width=round(box.width, 1),
        height=round(box.height, 1),
        align=align,
        alt=description_of(picture),
        note=PICTURE_NOTES.get(picture.kind, ""),
        excluded=picture.kind in SET_ASIDE,
        spots=(Spot(draft.page, box),),
        drawing=picture.drawing,
        around=draft.side is not None,
    )


def _handwriting_style(blocks: list[Block], body: ResolvedStyle) -> tuple[ResolvedStyle, ...]:
    if not any(isinstance(block, TextBlock) and block.style == HANDWRITING_STYLE for block in blocks):
        return ()
    return (ResolvedStyle(HANDWRITING_STYLE, HANDWRITING_STYLE, body.font, body.family, body.size, italic=True),)


def _title(source: SourceFacts, blocks: list[Block]) -> str:
    """What the file calls itself, unless that says nothing; else the first heading of the highest level."""
    if source.title and source.title.strip("()").casefold() not in EMPTY_TITLES:
        return source.title
    headings = [block for block in blocks if isinstance(block, TextBlock) and block.role is Role.HEADING]
    return min(headings, key=lambda block: block.level).readable if headings else ""


def _remarks(pages: Sequence[PageEvidence]) -> tuple[Remark, ...]:
    return tuple(remark for page in pages for remark in page.page_remarks())


def _based_on_first(body: ResolvedStyle, *others: ResolvedStyle) -> tuple[ParagraphStyle, ...]:
    """The styles as they are kept: all others take over what they can from that of the text."""
    return (style_of(body), *(style_of(style, body) for style in others))
