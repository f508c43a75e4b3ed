"""Which typefaces stand for others, chosen by hand."""

from __future__ import annotations

from msgspec.structs import replace

from evenquill.core.edits.inverse import Edit, RestoreStandIns
from evenquill.core.edits.style_operations import SetStandIn
from evenquill.core.errors import EditError
from evenquill.core.model import Document, StandIn
from evenquill.core.model.ids import Ids

LONGEST_NAME = 80
"""Characters of the name of a typeface."""

MOST = 500
"""Typefaces for which others are chosen in a document."""


def set_stand_in(document: Document, operation: SetStandIn, ids: Ids) -> Edit:
    name, stands = operation.name.strip(), operation.stands.strip()
    if not name or max(len(name), len(stands)) > LONGEST_NAME or name.casefold() == stands.casefold():
        raise EditError("That is no typeface that could stand for it.")
    others = tuple(one for one in document.stand_ins if one.name.casefold() != name.casefold())
    chosen = (*others, StandIn(name, stands)) if stands else others
    if set(chosen) == set(document.stand_ins):
        raise EditError("That is so already.")
    if len(chosen) > MOST:
        raise EditError(f"At most {MOST} typefaces can have others that stand for them.")
    return Edit(replace(document, stand_ins=chosen), (RestoreStandIns(document.stand_ins),))
