"""Demo documents in the in-tray on first start, one of them corrected halfway."""

from __future__ import annotations

import time
from pathlib import Path

from evenquill.core.edits import EditText, SetAside
from evenquill.core.model import Role, TextBlock
from evenquill.desk.house import House
from evenquill.desk.intake import take_in
from evenquill.desk.reading import ReadingRoom
from evenquill.store import documents
from evenquill.store.documents import State

DEMO_DOCUMENTS = Path(__file__).parent / "demo_documents"
CORRECTED = "Notice to mariners 14.pdf"
PATIENCE = 120.0
"""Seconds to wait for the document that is shown half corrected."""


def place_demo_documents(house: House, room: ReadingRoom) -> None:
    """Takes the demo documents into an empty in-tray; leaves one that is in use alone."""
    if documents.every(house.store):
        return
    taken = {}
    for path in demo_files():
        source, size = house.files.take_in([path.read_bytes()])
        taken[path.name] = take_in(house, path.name, source, size, "demo")
    room.wake()
    if CORRECTED in taken:
        _correct_halfway(house, taken[CORRECTED])


def demo_files() -> list[Path]:
    """The demo documents as they are taken in: what is quickly read comes first, and so stands last in the in-tray."""
    return sorted(DEMO_DOCUMENTS.glob("[!.]*"), key=lambda path: path.name, reverse=True)


def _correct_halfway(house: House, document: str) -> None:
    """What a clerk might have done before lunch: a word corrected, a line set aside."""
    until = time.monotonic() + PATIENCE
    while documents.get(house.store, document).state is not State.TO_CORRECT:
        if time.monotonic() > until:
            return
        time.sleep(0.1)
    revision, proof = house.proofs.read(document)
    paragraphs = [
        block
        for block in proof.blocks
        if isinstance(block, TextBlock) and block.role is Role.PARAGRAPH and "light-house" in block.text
    ]
    for block in paragraphs[:1]:
        runs = tuple(run.like(run.text.replace("light-house", "lighthouse")) for run in block.runs)
        revision = house.proofs.operate(document, revision, EditText(block.id, runs)).revision
    last = proof.blocks[-1]
    if isinstance(last, TextBlock):
        house.proofs.operate(document, revision, SetAside(last.id, True))
