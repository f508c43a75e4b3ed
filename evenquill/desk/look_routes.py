"""Routes for the looks of whole documents: those of DOCX files, and those that the office keeps."""

from __future__ import annotations

import msgspec
from flask import request

from evenquill.core.docx_styles import TemplateStyles, template_styles
from evenquill.core.edits.style_edits import LONGEST_NAME, MOST_TAKEN, check_taken
from evenquill.core.model import ResolvedStyle
from evenquill.desk.context import AppContext
from evenquill.desk.endpoints import Api, ApiError, Missing
from evenquill.desk.sign_in import require_lead
from evenquill.store import office
from evenquill.store.database import transaction

MOST_BYTES = 60_000_000
"""Of a DOCX file that looks are taken from."""

MOST_LOOKS = 200
"""Looks that an office keeps."""


class OfficeLook(msgspec.Struct, frozen=True):
    """The styles of a document under the name by which the office keeps them."""

    name: str
    styles: tuple[ResolvedStyle, ...]


class LookName(msgspec.Struct, frozen=True):
    name: str


def add_routes(api: Api, context: AppContext) -> None:
    @api.route("POST", "/api/templates/styles", returns=TemplateStyles)
    def styles_of_template() -> TemplateStyles:
        """The styles of a DOCX file or template, whose bytes are the body of the request. Nothing in it is run, and it is not kept."""
        if (request.content_length or 0) > MOST_BYTES:
            raise ApiError(413, "size", f"The file is larger than {MOST_BYTES // 1_000_000} MB.")
        return template_styles(request.get_data())

    @api.route("GET", "/api/looks", returns=list[str])
    def list_looks() -> list[str]:
        """The names of the looks that the office keeps."""
        return office.looks(context.store)

    @api.route("GET", "/api/looks/{name}", returns=OfficeLook)
    def get_look(name: str) -> OfficeLook:
        """The styles of a look that the office keeps."""
        styles = office.look(context.store, name)
        if styles is None:
            raise Missing
        return OfficeLook(name, styles)

    @api.route("POST", "/api/looks", body=OfficeLook, returns=list[str])
    def keep_look(body: OfficeLook) -> list[str]:
        """Keeps styles as a look of the office, in the place of what was kept under its name."""
        name = body.name.strip()
        if not name or len(name) > LONGEST_NAME or "/" in name:
            raise ApiError(422, "name", f"A look has a name of at most {LONGEST_NAME} characters, without a stroke.")
        if not body.styles or len(body.styles) > MOST_TAKEN:
            raise ApiError(422, "styles", "There are no styles to keep.")
        for style in body.styles:
            check_taken(style)
        if len(office.looks(context.store)) >= MOST_LOOKS and office.look(context.store, name) is None:
            raise ApiError(422, "looks", f"The office keeps at most {MOST_LOOKS} looks.")
        with transaction(context.store):
            office.keep_look(context.store, name, body.styles)
        return office.looks(context.store)

    @api.route("POST", "/api/looks/remove", body=LookName, returns=list[str])
    def drop_look(body: LookName) -> list[str]:
        """Takes a look off the office's list; for leads, where people sign in."""
        require_lead()
        with transaction(context.store):
            office.drop_look(context.store, body.name)
        return office.looks(context.store)
