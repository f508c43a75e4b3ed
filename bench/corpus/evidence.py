"""What the readers find in the documents of the corpus, kept beside them: rebuilding is tried far more often than reading."""

from __future__ import annotations

from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import msgspec

from evenquill.core.convert import source_pages_of
from evenquill.core.evidence import PageEvidence
from evenquill.core.pictures import PictureFolder
from evenquill.core.reading.jobs import page_jobs
from evenquill.core.reading.page_reader import read_source_page
from evenquill.core.source import SourceFacts, examine

PICTURES = "pictures"


class Evidence(msgspec.Struct, frozen=True):
    facts: SourceFacts
    pages: tuple[PageEvidence, ...]


def read_all(cases: Sequence[Path], workers: int) -> list[str]:
    """Reads the documents that were not read yet. Returns failures."""
    todo = [case for case in cases if not (case / "evidence").exists()]
    chunks = [todo[start : start + 10] for start in range(0, len(todo), 10)]
    with ProcessPoolExecutor(workers) as pool:
        return [line for lines in pool.map(_read_some, chunks) for line in lines]


def evidence_of(case: Path) -> Evidence:
    """What was found in a document that was read."""
    return msgspec.msgpack.decode((case / "evidence").read_bytes(), type=Evidence)


def _read_some(cases: list[Path]) -> list[str]:
    failures = []
    for case in cases:
        try:
            (case / "evidence").write_bytes(msgspec.msgpack.encode(read(case)))
        except Exception as error:
            failures.append(f"{case.name}: {type(error).__name__}: {error}")
    return failures


def read(case: Path) -> Evidence:
    """Reads a document; its pictures are kept beside it. Raises the errors of ``examine``."""
    source = next(case.glob("source.*"))
    pictures = case / PICTURES
    pictures.mkdir(exist_ok=True)
    facts = examine(source, repair_into=case / "repaired.pdf")
    jobs = page_jobs(source_pages_of([(source, facts)]), pictures)
    return Evidence(facts, tuple(read_source_page(job, PictureFolder(pictures).keep) for job in jobs))
