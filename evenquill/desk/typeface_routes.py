"""Routes for the typefaces of documents, and those that stand for others in all documents of the office."""

from __future__ import annotations

import msgspec

from evenquill.core.edits.typeface_edits import checked_stand_in
from evenquill.core.errors import EditError
from evenquill.core.model import StandIn
from evenquill.core.typefaces import SHIPPED, TypefaceUse, typeface_uses
from evenquill.desk.context import AppContext
from evenquill.desk.endpoints import Api, ApiError
from evenquill.store import office
from evenquill.store.database import transaction


class TypefacesView(msgspec.Struct, frozen=True):
    """The typefaces of a document at a ``revision``, those that stand for others in the whole office, and those that are always at hand."""

    revision: int
    uses: tuple[TypefaceUse, ...]
    office: tuple[StandIn, ...]
    shipped: tuple[str, ...]


def add_routes(api: Api, context: AppContext) -> None:
    @api.route("GET", "/api/documents/{document}/typefaces", returns=TypefacesView)
    def typefaces(document: str) -> TypefacesView:
        """The typefaces of a document, and what stands for each where it is not at hand."""
        revision, proof = context.open_documents.read(document)
        return TypefacesView(revision, typeface_uses(proof), office.stand_ins(context.store), SHIPPED)

    @api.route("POST", "/api/typefaces", body=StandIn, returns=list[StandIn])
    def set_stand_in(body: StandIn) -> list[StandIn]:
        """Says which typeface stands for another in documents that are read from now on; an empty one takes that back."""
        try:
            chosen = checked_stand_in(body.name, body.stands)
        except EditError as error:
            raise ApiError(422, "typeface", str(error)) from None
        with transaction(context.store):
            office.set_stand_in(context.store, chosen)
        return list(office.stand_ins(context.store))
