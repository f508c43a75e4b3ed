"""Demo documents in the in-tray on first start, one of them delivered, edited elsewhere, and corrected halfway here."""

from __future__ import annotations

import time
from collections.abc import Iterator
from pathlib import Path

from evenquill.core.document_state import DocumentState
from evenquill.core.edits import EditText, Exclude, apply
from evenquill.core.model import Document, Role, TextBlock
from evenquill.core.model.inline import joined
from evenquill.core.pictures import PictureFolder
from evenquill.core.writers.docx import write_docx
from evenquill.desk.context import AppContext
from evenquill.desk.job_runner import JobRunner
from evenquill.desk.kept_deliveries import keep_delivery
from evenquill.desk.tray_routes import take_in
from evenquill.store import documents
from evenquill.store.history import CLERK

DEMO_DOCUMENTS = Path(__file__).parent / "demo_documents"
CORRECTED = "Notice to mariners 14.pdf"
DELIVERED = "Notice to mariners 14.docx"
EDITED = "Notice to mariners 14, edited elsewhere.docx"
"""In the data folder: a file to bring back on Deliver."""

HERE, ELSEWHERE = {"light-house": "lighthouse"}, {"four metres": "five metres", "western side": "eastern side"}
"""What is put right here, and what somebody else changed in the file that was delivered."""

PATIENCE = 120.0
"""Seconds to wait for the document that is shown half corrected."""


def place_demo_documents(context: AppContext, runner: JobRunner) -> None:
    """Takes the demo documents into an empty in-tray; leaves one that is in use alone."""
    if documents.every(context.store):
        return
    taken = {}
    for path in demo_files():
        source, size = context.files.take_in([path.read_bytes()])
        taken[path.name] = take_in(context, path.name, source, size, "demo")
    runner.wake()
    if CORRECTED in taken and _wait_until_read(context, taken[CORRECTED]):
        _deliver(context, taken[CORRECTED])
        _correct_halfway(context, taken[CORRECTED])


def demo_files() -> list[Path]:
    """The demo documents as they are taken in: what is quickly read comes first, and so stands last in the in-tray."""
    return sorted(DEMO_DOCUMENTS.glob("[!.]*"), key=lambda path: path.name, reverse=True)


def _wait_until_read(context: AppContext, document: str) -> bool:
    """Waits until a document can be corrected; returns whether it can."""
    until = time.monotonic() + PATIENCE
    while documents.get(context.store, document).state is not DocumentState.TO_CORRECT:
        if time.monotonic() > until:
            return False
        time.sleep(0.1)
    return True


def _deliver(context: AppContext, document: str) -> None:
    """Delivers a document as DOCX, and puts the same file, edited by somebody else, into the data folder."""
    revision, proof = context.open_documents.read(document)
    picture = PictureFolder(context.data / "pictures").get
    data = write_docx(proof, picture)
    keep_delivery(context, document, "docx", DELIVERED, revision, data, by=CLERK, whole=True)
    for edit in _replacing(proof, ELSEWHERE):
        proof = apply(proof, edit).document
    (context.data / EDITED).write_bytes(write_docx(proof, picture))


def _correct_halfway(context: AppContext, document: str) -> None:
    """What a clerk might have done before lunch: a word corrected, a line set aside."""
    revision, proof = context.open_documents.read(document)
    for edit in _replacing(proof, HERE):
        revision = context.editor.operate(document, revision, edit).revision
    last = proof.blocks[-1]
    if isinstance(last, TextBlock):
        context.editor.operate(document, revision, Exclude(last.id, True))


def _replacing(proof: Document, words: dict[str, str]) -> Iterator[EditText]:
    """Edits of rows of text that put other words in the place of some, each in the first row that has them."""
    for old, new in words.items():
        for block in proof.blocks:
            if isinstance(block, TextBlock) and block.role in (Role.PARAGRAPH, Role.LIST_ITEM) and old in block.text:
                yield EditText(block.id, joined(item.like(item.text.replace(old, new)) for item in block.content))
                break
