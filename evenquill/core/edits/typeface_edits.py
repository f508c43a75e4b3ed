"""Which typefaces stand for others, chosen by hand."""

from __future__ import annotations

from msgspec.structs import replace

from evenquill.core.edits.inverse import Edit, RestoreStandIns
from evenquill.core.edits.style_edits import LONGEST_NAME
from evenquill.core.edits.style_operations import SetStandIn
from evenquill.core.errors import EditError
from evenquill.core.model import Document, StandIn
from evenquill.core.model.ids import Ids

MOST = 500
"""Typefaces for which others are chosen in a document."""


def checked_stand_in(name: str, stands: str) -> StandIn:
    """A typeface and what stands for it, "" for none. Raises EditError for what cannot be."""
    one = StandIn(name.strip(), stands.strip())
    too_long = max(len(one.name), len(one.stands)) > LONGEST_NAME
    if not one.name or too_long or one.name.casefold() == one.stands.casefold():
        raise EditError("That is no typeface that could stand for it.")
    return one


def set_stand_in(document: Document, operation: SetStandIn, ids: Ids) -> Edit:
    new = checked_stand_in(operation.name, operation.stands)
    others = tuple(one for one in document.stand_ins if one.name.casefold() != new.name.casefold())
    chosen = (*others, new) if new.stands else others
    if set(chosen) == set(document.stand_ins):
        raise EditError("That is so already.")
    if len(chosen) > MOST:
        raise EditError(f"At most {MOST} typefaces can have others that stand for them.")
    return Edit(replace(document, stand_ins=chosen), (RestoreStandIns(document.stand_ins),))
