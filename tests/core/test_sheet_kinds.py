"""Sheets of several kinds bound together: each kind is measured by itself, and has headings of its own levels."""

from __future__ import annotations

from msgspec.structs import replace

from evenquill.core.evidence import Cleaned, PageKind
from evenquill.core.model import Role
from evenquill.core.rebuild import rebuild
from evenquill.core.rebuild.facts import facts_of
from evenquill.core.rebuild.sheet_kinds import SheetKind
from evenquill.core.source import examine
from tests.conftest import text_blocks, texts
from tests.core.test_line_roles import FIRST, SECOND, pages_of

PRINTED = f"""#set text(font: "Libertinus Serif", size: 12pt)
#text(20pt, weight: "bold")[The five gauges]

{FIRST}

{SECOND}"""

TYPED = """#set text(font: "DejaVu Sans Mono", size: 9.6pt)
SOUNDINGS OF THE WEEK

The float is to be lifted by hand at each change of watch and let down again.

1. Sheets are changed at eight in the morning, not before.

2. Ice in the well is reported by telephone.

3. Ink is kept indoors.

The keepers sign the book when they have read this, and send the old sheets
back with the boat on Friday. Nobody is to write on the back of a sheet."""

CLEANED = Cleaned("picture", "image/jpeg", 0, 0.0, False, False, True, False, 0, 595.0, (1.0,) * 9)


def bound(typeset, tmp_path, sheet):
    """A printed page and a scanned one, and the facts of the first."""
    path = typeset(PRINTED, "printed")
    (printed,) = pages_of(path, tmp_path)
    (other,) = pages_of(typeset(sheet, f"sheet {len(sheet)}"), tmp_path)
    return [printed, replace(other, number=2, cleaned=CLEANED, kind=PageKind.SCANNED)], examine(path)


def test_a_typed_sheet_is_read_as_if_it_were_alone(typeset, tmp_path):
    document = rebuild(*bound(typeset, tmp_path, TYPED))
    assert texts(document, Role.LIST_ITEM) == [
        "Sheets are changed at eight in the morning, not before.",
        "Ice in the well is reported by telephone.",
        "Ink is kept indoors.",
    ]
    headings = [block for block in text_blocks(document) if block.role is Role.HEADING]
    assert [block.level for block in headings] == [1, 1]
    assert texts(document, Role.HEADING) == ["The five gauges", "SOUNDINGS OF THE WEEK"]


def test_a_kind_of_which_there_is_little_goes_with_all_others(typeset, tmp_path):
    pages, _ = bound(typeset, tmp_path, TYPED)
    assert facts_of(pages).kinds == {1: SheetKind(False, False), 2: SheetKind(True, True)}
    pages, _ = bound(typeset, tmp_path, "A few words.")
    assert facts_of(pages).kinds == {1: SheetKind(False, False), 2: None}
