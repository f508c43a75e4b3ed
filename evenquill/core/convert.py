"""The whole way in one call: a source file -> a document, page-parallel.

with PagePool() as pool:
    conversion = convert(Path("report.pdf"), pool, Path("pictures"))
Path("report.docx").write_bytes(write_docx(conversion.document, conversion.pictures.get))
"""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from pathlib import Path

import msgspec
from msgspec.structs import replace

from evenquill.core.evidence import PageEvidence, PageKind
from evenquill.core.garbage_collection import fewer_garbage_collections
from evenquill.core.languages import short_code
from evenquill.core.model import Document, RemarkKind
from evenquill.core.pictures import PictureFolder
from evenquill.core.reading.jobs import SourcePage, in_order, page_jobs
from evenquill.core.reading.pages import PageReader
from evenquill.core.reading.preparation import AS_FOUND, Preparation
from evenquill.core.rebuild_files import SourceFile, rebuild_files
from evenquill.core.source import SourceFacts, joined_facts
from evenquill.core.word_files import examine_file

Progress = Callable[[int, int], None]
"""Told how many pages are read, of how many."""


class PageReport(msgspec.Struct, frozen=True):
    page: int
    kind: PageKind
    seconds: float
    languages: tuple[str, ...]


class Conversion(msgspec.Struct, frozen=True):
    """A document, where its pictures are, and what the way took: seconds by stage."""

    document: Document
    pictures: PictureFolder
    facts: SourceFacts
    pages: tuple[PageReport, ...]
    stages: dict[str, float]

    @property
    def unread_pages(self) -> int:
        return sum(
            remark.kind in (RemarkKind.PAGE_AS_PICTURE, RemarkKind.UNREADABLE) for remark in self.document.remarks
        )


@fewer_garbage_collections()
def convert(
    source: Path | Sequence[Path],
    pages: PageReader,
    pictures: Path,
    *,
    password: str | None = None,
    preparation: Preparation = AS_FOUND,
    progress: Progress = lambda done, pages: None,
) -> Conversion:
    """Converts the file at ``source``, or several files as one document; pictures go into the folder ``pictures``.

    Languages named in ``preparation`` override what the file says. Raises the errors of ``examine_file``, and LanguageMissing.
    """
    started = time.perf_counter()
    pictures.mkdir(parents=True, exist_ok=True)
    paths = [source] if isinstance(source, Path) else list(source)
    files = [
        SourceFile(path, examine_file(path, password=password, copy=pictures / f"copy-{n}.pdf", pictures=pictures))
        for n, path in enumerate(paths)
    ]
    facts = joined_facts([file.facts for file in files])
    if preparation.languages:
        facts = replace(facts, language=short_code(preparation.languages[0]))
    opened = time.perf_counter()
    found: list[PageEvidence] = []
    source_pages = source_pages_of(files)
    for page in pages.read(page_jobs(source_pages, pictures, password=password, preparations={0: preparation})):
        found.append(page)
        progress(len(found), facts.pages)
    ordered = in_order(found)
    read = time.perf_counter()
    document = rebuild_files(ordered, files, facts, PictureFolder(pictures))
    rebuilt = time.perf_counter()
    return Conversion(
        document,
        PictureFolder(pictures),
        facts,
        tuple(PageReport(page.number, page.kind, page.seconds, page.languages) for page in ordered),
        {
            "open": round(opened - started, 4),
            "read": round(read - opened, 4),
            "rebuild": round(rebuilt - read, 4),
        },
    )


def source_pages_of(files: Sequence[SourceFile]) -> list[SourcePage]:
    """The pages of several files one after the other; a copy is read in the place of its file where there is one."""
    source_pages: list[SourcePage] = []
    for path, facts in files:
        readable = facts.read_instead or str(path)
        source_pages += [SourcePage(len(source_pages) + n, readable, n) for n in range(1, facts.pages + 1)]
    return source_pages
