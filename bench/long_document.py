"""Editing a document of 100,000 rows after 20,000 changes, against one of 100 rows: ``python bench/long_document.py``.

Both are made in the database, and changed through the API like any other. Times are those of the server process, from the request to the
answer; the median and the slowest of twenty, and the best of five for opening.
"""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable

import msgspec
from application import application
from flask.testing import FlaskClient

from evenquill.core.evidence import PageEvidence, PageKind
from evenquill.core.model import Box, Document, PageGeometry, ParagraphStyle, Spot, Text, TextBlock, WordSpot
from evenquill.core.source import PDF, SourceFacts
from evenquill.desk.context import AppContext
from evenquill.store import documents, history, pages, parts, proofs
from evenquill.store.database import transaction
from evenquill.store.documents import DocumentState
from evenquill.store.history import READING, Change, ChangeKind
from evenquill.store.snapshots import Part

ROWS, SHORT_ROWS = 100_000, 100
CHANGES = 20_000
ROWS_OF_PAGE = 40
STYLE = "Body text"


def main() -> None:
    with application() as (context, _, client):
        for document, rows in (("long", ROWS), ("short", SHORT_ROWS)):
            make(context, document, rows)
        started = time.perf_counter()
        _change(client, "long", CHANGES)
        print(f"{CHANGES} changes of {ROWS} rows: {(time.perf_counter() - started) / CHANGES * 1000:.1f} ms each")
        _change(client, "short", 20)
        times = {document: _edits(client, document) for document in ("short", "long")}
        for document, taken in times.items():
            print(
                f"   an edit, {document}: {statistics.median(taken):.1f} ms in the middle, {max(taken):.1f} ms at most"
            )
        more = statistics.median(times["long"]) - statistics.median(times["short"])
        print(f"an edit of {ROWS} rows and {CHANGES} changes takes {more:.1f} ms more  (wanted: under 50)")
        opened = {document: min(_opening(client, document) for _ in range(5)) for document in ("short", "long")}
        print(f"opening: {opened['long'] / opened['short']:.2f}  (wanted: at most 1.5)")
        print(f"   {opened['long']:.1f} ms against {opened['short']:.1f} ms")


def make(context: AppContext, name: str, rows: int) -> None:
    """A document as if it had been read."""
    count = -(-rows // ROWS_OF_PAGE)
    blocks = tuple(_row(n) for n in range(rows))
    geometry = PageGeometry(width=595.0, height=842.0, text_box=Box(70, 70, 525, 780))
    proof = Document(
        title=name,
        language="en",
        blocks=blocks,
        pages=(geometry,) * count,
        styles=(ParagraphStyle(STYLE, size=10.5),),
    )
    facts = SourceFacts(media=PDF, pages=count, language="en")
    store = context.store
    kept, size = context.files.take_in([name.encode()])
    with transaction(store):
        documents.add(store, id=name, name=f"{name}.pdf", source=kept, size=size, route="browser")
        parts.set_all(store, name, [Part(kept, f"{name}.pdf", facts)])
        documents.set_facts(store, name, facts)
        for number in range(1, count + 1):
            pages.add(store, name, PageEvidence(number, 595.0, 842.0, PageKind.NATIVE))
        change = Change(ChangeKind.READ, READING)
        history.commit(store, name, 0, change, lambda: proofs.write(store, name, proof), next_id=rows + 1)
        store.execute("UPDATE documents SET state = ? WHERE id = ?", (DocumentState.TO_CORRECT.value, name))


def _row(n: int) -> TextBlock:
    text = "The gauge at the pier was read at noon and at six, and the pen was filled."
    top = 70.0 + 17.0 * (n % ROWS_OF_PAGE)
    page = n // ROWS_OF_PAGE + 1
    words, at = [], 0
    for word in text.split():
        words.append(
            WordSpot(at, at + len(word), page, Box(70 + 5.0 * at, top, 70 + 5.0 * (at + len(word)), top + 12), 0.95)
        )
        at += len(word) + 1
    spots = (Spot(page, Box(70, top, 525, top + 12)),)
    return TextBlock(f"b{n + 1}", content=(Text(text),), style=STYLE, spots=spots, words=tuple(words))


def _change(client: FlaskClient, document: str, count: int) -> None:
    """Changes all over the document."""
    revision = client.get(f"/api/documents/{document}").json["document"]["revision"]
    total = ROWS if document == "long" else SHORT_ROWS
    for n in range(count):
        block = f"b{(n * 7919) % total + 1}"
        revision = _operate(client, document, revision, {"op": "edit_text", "block": block, "content": _content(n)})


def _content(n: int) -> list[dict[str, str]]:
    return [{"type": "text", "text": f"The gauge at the pier was read {n} times, and the pen was filled."}]


def _operate(client: FlaskClient, document: str, revision: int, operation: dict[str, object]) -> int:
    body = {"revision": revision, "operation": operation}
    answer = client.post(f"/api/documents/{document}/operations", json=body)
    if answer.status_code != 200:
        raise ValueError(answer.text)
    return int(msgspec.json.decode(answer.data)["revision"])


def _edits(client: FlaskClient, document: str) -> list[float]:
    """Milliseconds of typing, splitting, joining, and undo, five of each."""
    revision = client.get(f"/api/documents/{document}").json["document"]["revision"]
    times: list[float] = []

    def timed(act: Callable[[], int]) -> None:
        nonlocal revision
        started = time.perf_counter()
        revision = act()
        times.append((time.perf_counter() - started) * 1000)

    for n in range(5):
        block = f"b{10 + n}"
        content = {"op": "edit_text", "block": block, "content": _content(n)}
        timed(lambda: _operate(client, document, revision, content))  # noqa: B023
        timed(lambda: _operate(client, document, revision, {"op": "split", "block": block, "offset": 10}))  # noqa: B023
        for _ in range(2):
            timed(
                lambda: int(
                    msgspec.json.decode(
                        client.post(f"/api/documents/{document}/undo", json={"revision": revision}).data
                    )["revision"]
                )
            )
    return times


def _opening(client: FlaskClient, document: str) -> float:
    """Milliseconds of what the desk asks for before its first rows can be drawn."""
    started = time.perf_counter()
    client.get(f"/api/documents/{document}")
    client.get(f"/api/documents/{document}/rows?count=80")
    return (time.perf_counter() - started) * 1000


if __name__ == "__main__":
    main()
