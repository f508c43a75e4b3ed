"""Routes for queries: the list, leaving for later, look-alikes, the office's word list, the proof of work."""

from __future__ import annotations

import msgspec
from flask import Response, request

from evenquill.core.queries import Kind, kinds
from evenquill.core.queries.look_alikes import WordPlace
from evenquill.core.queries.office import LONGEST, ListEntry, read_list, written_list
from evenquill.core.writers.certificate import WorkDone
from evenquill.desk.certificates import work_done
from evenquill.desk.context import AppContext
from evenquill.desk.doubts import PlacedQuery, every_query, get_ready
from evenquill.desk.endpoints import Api, ApiError
from evenquill.desk.request_values import whole_parameter
from evenquill.desk.sign_in import require_lead
from evenquill.store import documents, queries
from evenquill.store.database import transaction
from evenquill.store.queries import QueryCounts


class QueryList(msgspec.Struct, frozen=True):
    """All queries of a document in the order of its text, as of ``revision``, and the kinds that there are."""

    revision: int
    queries: list[PlacedQuery]
    kinds: tuple[Kind, ...]
    counts: QueryCounts


class Leaving(msgspec.Struct, frozen=True):
    """Queries to leave for later, or to take up again."""

    queries: tuple[str, ...]
    left: bool = True


class OfficeEntry(msgspec.Struct, frozen=True):
    """A word that is right, or one that always stands for another."""

    word: str
    instead: str = ""


class OfficeList(msgspec.Struct, frozen=True):
    """The office's word list; ``problems`` say what was left out of it, in sentences."""

    entries: list[OfficeEntry]
    problems: tuple[str, ...] = ()


class Words(msgspec.Struct, frozen=True):
    words: tuple[str, ...]


def add_routes(api: Api, context: AppContext) -> None:
    @api.route("GET", "/api/documents/{document}/queries", returns=QueryList)
    def list_queries(document: str) -> QueryList:
        """All queries of a document."""
        with context.open_documents.hold(document) as opened:
            get_ready(opened, context.office_words)
            found = every_query(context.store, opened)
            return QueryList(opened.revision, found, kinds(), queries.counts(context.store, document))

    @api.route("POST", "/api/documents/{document}/queries/leave", body=Leaving, returns=QueryCounts)
    def leave(document: str, body: Leaving) -> QueryCounts:
        """Leaves queries for later, or takes them up again."""
        documents.get(context.store, document)
        with transaction(context.store):
            queries.leave(context.store, document, body.queries, left=body.left)
        context.events.publish(document)
        return queries.counts(context.store, document)

    @api.route(
        "GET",
        "/api/documents/{document}/alike",
        query={"block": "the row", "start": "where the word begins in it"},
        returns=list[WordPlace],
    )
    def alike(document: str) -> list[WordPlace]:
        """The words of a document that look like one of them, the most alike first."""
        return context.look_alikes.of(document, request.args.get("block", ""), whole_parameter("start", 0))

    @api.route("GET", "/api/documents/{document}/work", returns=WorkDone)
    def work(document: str) -> WorkDone:
        """What was read and what the clerk has done so far."""
        _, proof = context.open_documents.read(document)
        return work_done(context, document, proof)

    @api.route("GET", "/api/words", returns=OfficeList)
    def list_words() -> OfficeList:
        """The office's word list."""
        return OfficeList(_entries(context))

    @api.route("POST", "/api/words", body=OfficeEntry, returns=OfficeList)
    def add_word(body: OfficeEntry) -> OfficeList:
        """Adds a word to the office's list, or changes what it stands for."""
        word, instead = body.word.strip(), body.instead.strip()
        if not word or max(len(word), len(instead)) > LONGEST or word == instead:
            raise ApiError(422, "word", "That is no word.")
        others = [entry for entry in context.office_words.entries() if entry.word != word]
        read = read_list(f"{word} = {instead}" if instead else word, others)
        if read.problems:
            return OfficeList(_entries(context), read.problems)
        context.office_words.add([ListEntry(word, instead)])
        return OfficeList(_entries(context))

    @api.route("POST", "/api/words/remove", body=Words, returns=OfficeList)
    def remove_words(body: Words) -> OfficeList:
        """Takes words off the office's list; for leads, where people sign in."""
        require_lead()
        context.office_words.remove(body.words)
        return OfficeList(_entries(context))

    @api.route("POST", "/api/words/import", returns=OfficeList)
    def import_words() -> OfficeList:
        """Adds the entries of a text file, one a line: a word, or a wrong word = the right one. Its text is the body of the request."""
        try:
            text = request.get_data().decode("utf-8-sig")
        except UnicodeDecodeError:
            raise ApiError(422, "encoding", "This is not a text file in UTF-8.") from None
        read = read_list(text, context.office_words.entries())
        context.office_words.add(read.entries)
        return OfficeList(_entries(context), read.problems)

    @api.route("GET", "/api/words/export")
    def export_words() -> Response:
        """The office's word list as a text file."""
        headers = {"Content-Disposition": 'attachment; filename="words.txt"'}
        return Response(written_list(context.office_words.entries()), mimetype="text/plain", headers=headers)


def _entries(context: AppContext) -> list[OfficeEntry]:
    return [OfficeEntry(*entry) for entry in context.office_words.entries()]
