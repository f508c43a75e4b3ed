"""Pictures that want a word from the clerk: without alternative text, lifted off the page, handwriting, pages kept as pictures."""

from __future__ import annotations

from collections.abc import Iterator

from evenquill.core.edits import ChooseHandwriting, Exclude, HandwritingAs
from evenquill.core.edits.picture_edits import is_handwriting
from evenquill.core.model import HANDWRITING, PictureBlock, TextBlock
from evenquill.core.queries.query import Fix, Kind, Query, Typing
from evenquill.core.queries.view import View

HANDWRITTEN = Kind("handwriting", "handwriting", "pieces of handwriting", 40)
LIFTED = Kind("lifted", "stamp or watermark set aside", "stamps and watermarks set aside", 45)
WHOLE_PAGE = Kind("page picture", "page left as a picture", "pages left as pictures", 50)
UNDESCRIBED = Kind("picture", "picture without alternative text", "pictures without alternative text", 55)
KINDS = (HANDWRITTEN, LIFTED, WHOLE_PAGE, UNDESCRIBED)

CERTAIN, PROBABLY, RARELY = 0.9, 0.5, 0.1
NAMES = {"stamp": "Stamp", "watermark": "Watermark"}


def find(view: View) -> Iterator[Query]:
    for block in view.blocks:
        if not isinstance(block, PictureBlock):
            continue
        if block.note == HANDWRITING:
            yield _handwriting(block, view)
        elif block.note in NAMES:
            if block.excluded:
                yield _lifted(block)
        elif block.excluded:
            continue
        elif block.note == "page":
            yield _query(
                WHOLE_PAGE,
                block,
                "page",
                CERTAIN,
                "nothing on it could be read",
                "leave it a picture",
            )
        elif not block.alt:
            why = "readers who cannot see it are told nothing; type what it shows"
            yield _query(
                UNDESCRIBED, block, block.note or "picture", PROBABLY, why, "it needs none", typing=Typing.DESCRIPTION
            )


def _handwriting(block: PictureBlock, view: View) -> Query:
    read = next(
        (
            one.readable
            for one in view.document.blocks
            if isinstance(one, TextBlock) and is_handwriting(one) and one.spots == block.spots
        ),
        "",
    )
    fixes = tuple(
        Fix(label, ChooseHandwriting(choice, block.id))
        for label, choice in (
            ("as text", HandwritingAs.TEXT),
            ("as picture", HandwritingAs.PICTURE),
            ("as both", HandwritingAs.BOTH),
        )
    )
    why = f"read as “{read}”" if read else "nothing could be read of it"
    return _query(HANDWRITTEN, block, read or "handwriting", PROBABLY, why, "leave it so", fixes=fixes if read else ())


def _lifted(block: PictureBlock) -> Query:
    fixes = (Fix("bring it back", Exclude(block.id, False)),)
    return _query(
        LIFTED,
        block,
        block.note,
        RARELY,
        "lifted off the page; the text beneath it was read",
        "leave it aside",
        fixes=fixes,
    )


def _query(
    kind: Kind,
    block: PictureBlock,
    text: str,
    likelihood: float,
    reason: str,
    keep: str,
    fixes: tuple[Fix, ...] = (),
    typing: Typing = Typing.NOTHING,
) -> Query:
    page = block.spots[0].page if block.spots else 0
    return Query(
        kind=kind.name,
        page=page,
        text=text,
        likelihood=likelihood,
        reason=reason,
        block=block.id,
        spots=block.spots,
        context=block.alt,
        fixes=fixes,
        typing=typing,
        keep=keep,
    )
