"""Brings documents, histories and readings of the schema before 0006 into the tables that 0006 has made.

Content of paragraphs becomes typed elements, names of doubts become keys, tables get ids for rows and cells, and what was read first is
worked out from the history, as the base for later merges.
"""

from __future__ import annotations

import json
import logging
import re
import sqlite3
import zlib
from collections.abc import Iterable
from typing import Any

import msgspec

from evenquill.core.edits import Undoing, undo
from evenquill.core.model import Block, Document, PageGeometry
from evenquill.core.model.sections import PartStart, in_sections
from evenquill.core.queries import Query
from evenquill.store.snapshots import Snapshot, packed_snapshot

log = logging.getLogger(__name__)

_CONTROL = re.compile(r"([\t\n])")
_OWN_ID = re.compile(r'"b(\d{1,15})[".w]')
_BLOCK = msgspec.json.Decoder(Block)
_INVERSE = msgspec.json.Decoder(tuple[Undoing, ...])


def run(connection: sqlite3.Connection) -> None:
    for row in connection.execute("SELECT id FROM documents").fetchall():
        _bring_over(connection, row[0])
    _bring_over_jobs(connection)


def _bring_over(connection: sqlite3.Connection, document: str) -> None:
    _readings(connection, document)
    operations = connection.execute(
        "SELECT * FROM operations WHERE document = ? ORDER BY number", (document,)
    ).fetchall()
    rows = connection.execute(
        "SELECT id, body FROM blocks WHERE document = ? ORDER BY position", (document,)
    ).fetchall()
    texts = [str(row["body"], "utf-8") for row in rows]
    texts += [str(row["operation"], "utf-8") + str(row["inverse"], "utf-8") for row in operations]
    numbers = [int(match) for text in texts for match in _OWN_ID.findall(text)]
    next_id = max(numbers, default=0) + 1
    properties = _properties(connection, document)
    settled = properties.pop("settled", {}) if properties else {}
    blocks = [json.loads(row["body"]) for row in rows]
    columns = {block["id"]: block.get("columns", 1) for block in blocks}
    blocks = [new_block(block) for block in blocks]
    if properties is not None:
        next_id = _sections(blocks, columns, properties, next_id)
        _write_properties(connection, document, properties)
    connection.executemany(
        "UPDATE blocks SET body = ? WHERE document = ? AND id = ?",
        [(_json(block), document, block["id"]) for block in blocks],
    )
    _settled(connection, document, settled)
    next_id = _history(connection, document, operations, settled, next_id)
    connection.execute("UPDATE documents SET next_id = ? WHERE id = ?", (next_id, document))
    _queries(connection, document)
    if (
        properties is not None
        and not connection.execute("SELECT preview FROM documents WHERE id = ?", (document,)).fetchone()[0]
    ):
        _base(connection, document, properties)


def _readings(connection: sqlite3.Connection, document: str) -> None:
    """Pages become readings; each knows its number in its file."""
    starts = _file_starts(connection, document)
    shapes: dict[int, int] = {}
    for row in connection.execute("SELECT * FROM pages WHERE document = ? ORDER BY number", (document,)).fetchall():
        shapes[row["number"]] = _add_reading(connection, document, row["number"], bytes(row["evidence"]), starts)
        connection.execute(
            "INSERT INTO pages_new (document, number, reading) VALUES (?,?,?)",
            (document, row["number"], shapes[row["number"]]),
        )
        connection.execute(
            "UPDATE word_shapes SET reading = ? WHERE document = ? AND page = ? AND reading = ?",
            (shapes[row["number"]], document, row["number"], row["reading"]),
        )


def _file_starts(connection: sqlite3.Connection, document: str) -> list[int]:
    """Pages before each file of the document."""
    starts, before = [], 0
    for row in connection.execute("SELECT facts FROM parts WHERE document = ? ORDER BY position", (document,)):
        starts.append(before)
        before += int(json.loads(row[0]).get("pages", 0)) if row[0] is not None else 0
    return starts


def _add_reading(connection: sqlite3.Connection, document: str, number: int, packed: bytes, starts: list[int]) -> int:
    evidence = msgspec.msgpack.decode(zlib.decompress(packed))
    evidence["links"] = [[box, _link(address)] for box, address in evidence.get("links", ())]
    evidence["file_page"] = number - max((start for start in starts if start < number), default=0)
    evidence["schema"] = 2
    remark = " ".join(one["sentence"].replace("{page}", str(number)) for one in evidence.get("remarks", ()))
    cleaned = evidence.get("cleaned")
    made = connection.execute(
        """INSERT INTO page_readings (document, kind, remark, seconds, width, height, cleaned, evidence)
           VALUES (?,?,?,?,?,?,?,?) RETURNING id""",
        (
            document,
            evidence.get("kind", "native"),
            remark,
            evidence.get("seconds", 0.0),
            evidence["width"],
            evidence["height"],
            _json(cleaned) if cleaned else None,
            zlib.compress(msgspec.msgpack.encode(evidence), 1),
        ),
    ).fetchone()
    return int(made[0])


def _properties(connection: sqlite3.Connection, document: str) -> dict[str, Any] | None:
    row = connection.execute("SELECT properties FROM documents WHERE id = ?", (document,)).fetchone()
    if row is None or row[0] is None:
        return None
    properties: dict[str, Any] = json.loads(row[0])
    _name_styles(properties.get("styles", ()))
    for part in properties.get("running", ()):
        for pair in (part.get("usual"), part.get("even"), part.get("first")):
            for side in (pair or {}).values():
                if side:
                    side["content"] = [new for run in side.pop("runs", ()) for new in new_inline(run, field=True)]
    return properties


def _name_styles(styles: Iterable[dict[str, Any]]) -> None:
    """Blocks held on to the names of styles: these become their ids."""
    for style in styles:
        style["id"] = style["name"]


def _sections(blocks: list[dict[str, Any]], columns: dict[str, int], properties: dict[str, Any], next_id: int) -> int:
    """Gives a document the sections that were worked out of the pages of its source before; returns the next number for ids."""
    starts = []
    for part in properties.get("running", ()):
        part["id"] = f"b{next_id}"
        next_id += 1
        starts.append(PartStart(part.pop("page"), part["id"]))
    pages = msgspec.convert(properties.get("pages", []), list[PageGeometry])
    placed, sections = in_sections(msgspec.convert(blocks, list[Block]), pages, starts, columns)
    names = {section.id: f"b{next_id + n}" for n, section in enumerate(sections)}
    for block, one in zip(blocks, placed, strict=True):
        block["section"] = names[one.section]
    properties["sections"] = [{**msgspec.to_builtins(section), "id": names[section.id]} for section in sections]
    return next_id + len(sections)


def _write_properties(connection: sqlite3.Connection, document: str, properties: dict[str, Any]) -> None:
    rest = {key: value for key, value in properties.items() if key != "pages"}
    connection.execute("UPDATE documents SET properties = ? WHERE id = ?", (_json(rest), document))
    connection.executemany(
        "INSERT INTO page_geometry (document, number, label, body) VALUES (?,?,?,?)",
        [(document, n, page.get("label", ""), _json(page)) for n, page in enumerate(properties.get("pages", ()), 1)],
    )


def _settled(connection: sqlite3.Connection, document: str, settled: dict[str, Any]) -> None:
    connection.executemany(
        "INSERT INTO kept_doubts (document, position, doubt) VALUES (?,?,?)",
        [(document, n, _json(new_key(name))) for n, name in enumerate(settled.get("kept", ()))],
    )
    connection.executemany(
        "INSERT INTO document_words (document, position, word) VALUES (?,?,?)",
        [(document, n, word) for n, word in enumerate(settled.get("words", ()))],
    )


def _history(
    connection: sqlite3.Connection,
    document: str,
    operations: list[sqlite3.Row],
    settled: dict[str, Any],
    next_id: int,
) -> int:
    """Operations become changes; returns the next number for ids."""
    revision = connection.execute("SELECT revision FROM documents WHERE id = ?", (document,)).fetchone()[0]
    if not revision:
        return next_id
    first = max(revision - len(operations), 1)
    insert = """INSERT INTO changes (document, number, parent, kind, actor, made_at, status, operation, first_id, inverse, settled,
                kept, typed) VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?)"""
    moment = connection.execute("SELECT changed_at FROM documents WHERE id = ?", (document,)).fetchone()[0]
    connection.execute(insert, (document, first, first - 1, "read", "reading", moment, None, None, None, None, 0, 0, 0))
    inverses = _inverses(operations, settled)
    names: dict[str, str] = {}
    redoable = True
    for n, row in enumerate(operations):
        operation = json.loads(row["operation"])
        status, first_id = "done", next_id
        if row["undone"]:
            made = _new_names(operation)
            redoable = redoable and made is not None
            status = "undone" if redoable else "superseded"
            for name in made or ():
                names[name] = f"b{next_id}"
                next_id += 1
        new = _renamed(new_operation(operation), names)
        number = first + 1 + n
        connection.execute(
            insert,
            (
                document,
                number,
                number - 1,
                "edit",
                "clerk",
                row["made_at"],
                status,
                _json(new),
                first_id,
                _json(inverses.get(row["number"], [])),
                row["settled"],
                row["kept"],
                row["typed"],
            ),
        )
    connection.execute(
        "UPDATE documents SET revision = ? WHERE id = ?", (max(revision, first + len(operations)), document)
    )
    return next_id


def _inverses(operations: list[sqlite3.Row], settled: dict[str, Any]) -> dict[int, list[Any]]:
    """The inverses of what is done, by the numbers of the operations; whole lists of decisions become what was added to them."""
    kept, words = list(settled.get("kept", ())), list(settled.get("words", ()))
    out: dict[int, list[Any]] = {}
    for row in reversed([row for row in operations if not row["undone"]]):
        steps: list[Any] = []
        for step in json.loads(row["inverse"]):
            if step["op"] == "restore_text":
                steps.append({**step, "text": new_block(step["text"])})
                continue
            before = step.pop("settled", None)
            if before is not None:
                was_kept, was_words = set(before.get("kept", ())), set(before.get("words", ()))
                steps.append({
                    "op": "unsettle",
                    "kept": [new_key(name) for name in kept if name not in was_kept],
                    "words": [word for word in words if word not in was_words],
                })  # fmt: skip
                kept, words = list(before.get("kept", ())), list(before.get("words", ()))
            _name_styles(step.get("styles") or ())
            steps.append({**step, "blocks": [new_block(block) for block in step["blocks"]]})
        out[row["number"]] = steps
    return out


def _new_names(operation: dict[str, Any]) -> list[str] | None:
    """The ids that an operation gave to what it made, None where they cannot be told from it alone."""
    kind = operation["op"]
    if kind == "together":
        parts = [_new_names(step) for step in operation["steps"]]
        return None if None in parts else [name for part in parts for name in part or ()]
    if kind in ("split", "insert"):
        return [operation["new_id"]]
    if kind == "add_region":
        return None if (operation.get("read") or {}).get("tabs") else [operation["new_id"]]
    if kind == "table_to_rows":
        return list(operation["new_ids"])
    return None if kind == "rows_to_table" or (operation.get("read") or {}).get("tabs") else []


def _renamed(value: Any, names: dict[str, str]) -> Any:
    """A value with ids renamed wherever they stand in it."""
    if isinstance(value, str):
        return names.get(value, value)
    if isinstance(value, list):
        return [_renamed(one, names) for one in value]
    return {key: _renamed(one, names) for key, one in value.items()} if isinstance(value, dict) else value


def _queries(connection: sqlite3.Connection, document: str) -> None:
    rows = connection.execute("SELECT * FROM queries WHERE document = ?", (document,)).fetchall()
    connection.execute("DELETE FROM queries WHERE document = ?", (document,))
    for row in rows:
        body = json.loads(row["body"])
        body["fixes"] = [{**fix, "operation": new_operation(fix["operation"])} for fix in body.get("fixes", ())]
        if not body.get("end"):
            body["text"] = body["text"].removesuffix(f" {row['block']}")
        query = msgspec.convert(body, Query)
        connection.execute(
            "INSERT OR REPLACE INTO queries (document, id, block, kind, counted, left, body) VALUES (?,?,?,?,?,?,?)",
            (document, query.id, row["block"], row["kind"], row["counted"], row["left"], _json(body)),
        )


def _base(connection: sqlite3.Connection, document: str, properties: dict[str, Any]) -> None:
    """What was read, from the proof as it is and the steps that undo what was done."""
    rows = connection.execute("SELECT body FROM blocks WHERE document = ? ORDER BY position", (document,)).fetchall()
    done = connection.execute(
        "SELECT inverse FROM changes WHERE document = ? AND status = 'done' ORDER BY number DESC", (document,)
    ).fetchall()
    first = connection.execute("SELECT min(number) FROM changes WHERE document = ?", (document,)).fetchone()[0]
    if first is None:
        return
    try:
        base = msgspec.convert({**properties, "blocks": [msgspec.json.decode(row[0]) for row in rows]}, Document)
        for row in done:
            base = undo(base, _INVERSE.decode(row[0]))
    except (msgspec.ValidationError, IndexError, StopIteration):
        log.warning(
            "what was read first in document %s cannot be told; it is rebuilt when a page is read again", document
        )
        return
    connection.execute(
        "INSERT INTO snapshots (document, number, role, body) VALUES (?,?,'read',?)",
        (document, first, packed_snapshot(Snapshot(base))),
    )


def _bring_over_jobs(connection: sqlite3.Connection) -> None:
    """Jobs that are not ended; a document that was being read once more can be corrected meanwhile."""
    for row in connection.execute("SELECT * FROM jobs WHERE state IN ('waiting', 'running')").fetchall():
        again = connection.execute("SELECT * FROM readings_again WHERE document = ?", (row["document"],)).fetchall()
        payload = _json({"pages": [page["number"] for page in again]}) if again else None
        job = connection.execute(
            """INSERT INTO jobs_new (kind, document, payload, priority, state, queued_at)
               VALUES (?,?,?,?,'waiting',?) RETURNING number""",
            ("read again" if again else "read", row["document"], payload, 10, row["queued_at"]),
        ).fetchone()[0]
        starts = _file_starts(connection, row["document"])
        for page in again:
            if page["evidence"] is not None:
                reading = _add_reading(connection, row["document"], page["number"], bytes(page["evidence"]), starts)
                connection.execute(
                    "INSERT INTO job_pages (job, number, reading) VALUES (?,?,?)", (job, page["number"], reading)
                )
        if again:
            connection.execute("UPDATE documents SET state = 'to correct' WHERE id = ?", (row["document"],))


def new_block(block: dict[str, Any]) -> dict[str, Any]:
    """A block of the old form in the new one."""
    block = dict(block)
    block.pop("columns", None)
    if "aside" in block:
        block["excluded"] = block.pop("aside")
    if block["type"] == "text":
        block["content"] = [new for run in block.pop("runs", ()) for new in new_inline(run)]
        _shift_words(block)
    if block["type"] == "table":
        cells = []
        for cell in block["cells"]:
            name = f"{block['id']}.cell{cell['row']}.{cell['column']}"
            cells.append({**cell, "id": name, "texts": [new_block(text) for text in cell["texts"]]})
        block["cells"] = cells
        count = max((cell["row"] + cell.get("rows", 1) for cell in cells), default=0)
        block["row_ids"] = [f"{block['id']}.row{n}" for n in range(count)]
    return block


def _shift_words(block: dict[str, Any]) -> None:
    """Marks of notes take one character now, whatever is printed."""
    places, at = [], 0
    for item in block["content"]:
        if item["type"] == "note":
            places.append((at, len(item.get("mark", ""))))
            at += len(item.get("mark", ""))
        else:
            at += len(item["text"]) if item["type"] == "text" else 1
    if not places or not block.get("words"):
        return

    def moved(place: int) -> int:
        return place - sum(min(length - 1, max(place - at - 1, 0)) for at, length in places if length > 1)

    words = [[moved(word[0]), moved(word[1]), *word[2:]] for word in block["words"]]
    block["words"] = [word for word in words if word[0] < word[1]]


def new_inline(run: dict[str, Any], *, field: bool = False) -> list[dict[str, Any]]:
    """The elements that a run of the old form becomes; ``{page}`` is the number of the page in running heads (``field``) alone."""
    look = {key: run[key] for key in ("marks", "color") if run.get(key)}
    if run.get("link"):
        look["link"] = _link(run["link"])
    if run.get("note"):
        return [{"type": "note", "note": run["note"], "mark": run["text"], "marks": run.get("marks", 0), **look}]
    out: list[dict[str, Any]] = []
    for n, stretch in enumerate(run["text"].split("{page}") if field else [run["text"]]):
        if n:
            out.append({"type": "field", "kind": "page", **look})
        for piece in _CONTROL.split(stretch):
            if piece in ("\t", "\n"):
                out.append({"type": "tab" if piece == "\t" else "break", **look})
            elif piece:
                out.append({"type": "text", "text": piece, **look})
    return out


def _link(address: str) -> dict[str, Any]:
    if address.startswith("#page=") and address.removeprefix("#page=").isdigit():
        return {"to": "page", "page": int(address.removeprefix("#page="))}
    if address.startswith("#block="):
        return {"to": "block", "block": address.removeprefix("#block=")}
    return {"to": "url", "url": address}


def new_key(name: str) -> dict[str, Any]:
    """The key of a doubt from its old name, which tells kind, page and text."""
    kind, _, rest = name.partition("|")
    page, _, text = rest.partition("|")
    return {"kind": kind, "page": int(page) if page.isdecimal() else 0, "text": text}


def new_operation(operation: dict[str, Any]) -> dict[str, Any]:
    """An operation of the old form in the new one."""
    out = {key: value for key, value in operation.items() if key not in ("new_id", "new_ids")}
    match operation["op"]:
        case "set_aside":
            out = {"op": "exclude", "block": operation["block"], "excluded": operation["aside"]}
        case "edit_text":
            out["content"] = [new for run in out.pop("runs") for new in new_inline(run)]
        case "keep":
            out["doubts"] = [new_key(name) for name in out.pop("queries")]
        case "settle":
            out["answers"] = [_new_answer(answer) for answer in operation["answers"]]
        case "add_region":
            out.pop("before", None)
        case "move_section":
            out["op"] = "move_heading"
        case "together":
            out["steps"] = [new_operation(step) for step in operation["steps"]]
    return out


def _new_answer(answer: dict[str, Any]) -> dict[str, Any]:
    new = {key: value for key, value in answer.items() if key not in ("end", "query")}
    return {**new, "key": new_key(answer["query"])} if answer.get("query") else new


def _json(value: Any) -> bytes:
    return json.dumps(value, ensure_ascii=False, separators=(",", ":")).encode()
