"""Setting the pages of a document as it is now, in a helper process: its pages are kept as a PDF beside the data."""

from __future__ import annotations

import time
from contextlib import closing
from pathlib import Path
from typing import NamedTuple

import msgspec

from evenquill.core.edits import FitPages
from evenquill.core.model import StandIn
from evenquill.core.outcome.misfits import Misfit
from evenquill.core.outcome.setting import Outcome


class OutcomeWork(NamedTuple):
    """What is to be set: a document of a data folder, made to fit in a ``way`` or, where that is "", as it is; and into which folder."""

    data: str
    document: str
    way: str
    folder: str


class OutcomeMade(msgspec.Struct, frozen=True):
    """The outcome of a document at a ``revision``, what of it does not fit, what was done to make it fit, and which typefaces stand for
    others. ``file`` has its pages, ``seconds`` is how long setting took."""

    revision: int
    outcome: Outcome
    misfits: tuple[Misfit, ...]
    fit: FitPages | None
    stand_ins: tuple[StandIn, ...]
    file: str
    seconds: float


def load_setting() -> None:
    """In the helper process: loads what sets pages, by setting a document of nothing."""
    from evenquill.core.model import Document
    from evenquill.core.outcome import fitting, misfits  # noqa: F401
    from evenquill.core.outcome.setting import set_pages
    from evenquill.store import history, proofs  # noqa: F401

    set_pages(Document(title=""), lambda name: b"")


def set_outcome(work: OutcomeWork) -> OutcomeMade | None:
    """In the helper process, which alone loads what sets; None where a document cannot be made to fit in that way. Raises KeyError where
    it has no proof, NotWritten where it cannot be set."""
    from evenquill.core.edits import apply
    from evenquill.core.outcome.fitting import Way, find_fit
    from evenquill.core.outcome.misfits import misfits
    from evenquill.core.outcome.setting import set_pages
    from evenquill.core.pictures import PictureFolder
    from evenquill.core.typefaces import stand_ins
    from evenquill.core.writers.pdf.fonts import installed_fonts
    from evenquill.store import history, proofs
    from evenquill.store.database import connect, reading

    started = time.perf_counter()
    picture = PictureFolder(Path(work.data) / "pictures").get
    with closing(connect(Path(work.data))) as store, reading(store):
        revision, proof = history.revision(store, work.document), proofs.read(store, work.document)
    operation = None
    if work.way:
        operation = find_fit(proof, Way(work.way), lambda document: set_pages(document, picture))
        if operation is None:
            return None
        proof = apply(proof, operation).document
    made = set_pages(proof, picture)
    file = Path(work.folder) / f"{work.document}-{revision}-{work.way}.pdf"
    file.write_bytes(made.pdf)
    return OutcomeMade(
        revision,
        made.outcome,
        misfits(proof, made.outcome),
        operation,
        stand_ins(proof, installed_fonts().families()),
        str(file),
        time.perf_counter() - started,
    )
