"""Demo documents in the in-tray on first start, one of them corrected halfway."""

from __future__ import annotations

import time
from pathlib import Path

from evenquill.core.document_state import DocumentState
from evenquill.core.edits import EditText, Exclude
from evenquill.core.model import Role, TextBlock
from evenquill.core.model.inline import joined
from evenquill.desk.context import AppContext
from evenquill.desk.job_runner import JobRunner
from evenquill.desk.tray_routes import take_in
from evenquill.store import documents

DEMO_DOCUMENTS = Path(__file__).parent / "demo_documents"
CORRECTED = "Notice to mariners 14.pdf"
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
    if CORRECTED in taken:
        _correct_halfway(context, taken[CORRECTED])


def demo_files() -> list[Path]:
    """The demo documents as they are taken in: what is quickly read comes first, and so stands last in the in-tray."""
    return sorted(DEMO_DOCUMENTS.glob("[!.]*"), key=lambda path: path.name, reverse=True)


def _correct_halfway(context: AppContext, document: str) -> None:
    """What a clerk might have done before lunch: a word corrected, a line set aside."""
    until = time.monotonic() + PATIENCE
    while documents.get(context.store, document).state is not DocumentState.TO_CORRECT:
        if time.monotonic() > until:
            return
        time.sleep(0.1)
    revision, proof = context.open_documents.read(document)
    paragraphs = [
        block
        for block in proof.blocks
        if isinstance(block, TextBlock) and block.role is Role.PARAGRAPH and "light-house" in block.text
    ]
    for block in paragraphs[:1]:
        content = joined(item.like(item.text.replace("light-house", "lighthouse")) for item in block.content)
        revision = context.editor.operate(document, revision, EditText(block.id, content)).revision
    last = proof.blocks[-1]
    if isinstance(last, TextBlock):
        context.editor.operate(document, revision, Exclude(last.id, True))
