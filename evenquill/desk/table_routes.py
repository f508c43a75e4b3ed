"""Routes for tables: one, or all of a document, for a spreadsheet."""

from __future__ import annotations

from urllib.parse import quote

from flask import Response, request

from evenquill.core.model import TableBlock
from evenquill.core.writers.spreadsheet import CSV_MEDIA, XLSX_MEDIA, csv_of, xlsx
from evenquill.desk.context import AppContext
from evenquill.desk.endpoints import Api, ApiError, Missing
from evenquill.desk.naming import file_name
from evenquill.store import documents


def add_routes(api: Api, context: AppContext) -> None:
    @api.route(
        "GET",
        "/api/documents/{document}/tables",
        query={"block": "one table; all that are not set aside if it is not given", "format": "xlsx, or csv for one"},
    )
    def tables(document: str) -> Response:
        """Tables of a document as a file for a spreadsheet."""
        name = documents.get(context.store, document).name
        _, proof = context.open_documents.read(document)
        found = [one for one in proof.blocks if isinstance(one, TableBlock)]
        wanted, form = request.args.get("block"), request.args.get("format", "xlsx")
        chosen = [one for one in found if (one.id == wanted if wanted else not one.excluded)]
        if wanted and not chosen:
            raise Missing
        if not chosen:
            raise ApiError(422, "tables", "The document has no tables.")
        addition = f", table {found.index(chosen[0]) + 1}" if wanted else ", tables"
        if form == "xlsx":
            return _file(xlsx(chosen, proof.language), XLSX_MEDIA, file_name(name, "xlsx", addition))
        if form == "csv" and wanted:
            return _file(csv_of(chosen[0], proof.language), CSV_MEDIA, file_name(name, "csv", addition))
        raise ApiError(422, "format", "Tables are saved as XLSX, a single one as CSV too.")


def _file(data: bytes, media: str, name: str) -> Response:
    response = Response(data, mimetype=media)
    response.headers["Content-Disposition"] = (
        f"attachment; filename=\"table.{name.rpartition('.')[2]}\"; filename*=UTF-8''{quote(name)}"
    )
    return response
