"""The document that the files of a source make: pages that were read are rebuilt, word-processor files are what they hold."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import NamedTuple

from msgspec.structs import replace

from evenquill.core.evidence import PageEvidence
from evenquill.core.measured_typefaces import measured_stand_ins
from evenquill.core.model import Document, Remark, RemarkKind
from evenquill.core.model.appending import appended, with_styles_apart
from evenquill.core.model.moving import with_pages_moved
from evenquill.core.pictures import PictureFolder
from evenquill.core.rebuild import rebuild
from evenquill.core.source import PDF, WORD_FILES, SourceFacts, joined_facts, rights_sentence
from evenquill.core.word_files import placed_document


class SourceFile(NamedTuple):
    """A file of a source, and what is known of it."""

    path: Path
    facts: SourceFacts


def rebuild_files(
    pages: Sequence[PageEvidence], files: Sequence[SourceFile], facts: SourceFacts, pictures: PictureFolder
) -> Document:
    """One document from the evidence of the pages of ``files``, in order; ``facts`` are those of all. Pages at the end may be missing.

    Raises SourceError where a word-processor file is not what it was.
    """
    if not any(file.facts.media in WORD_FILES for file in files):
        return with_source_remarks(_rebuilt(pages, facts), facts)
    whole = Document()
    for n, (run, own) in enumerate(_runs(pages, files)):
        if run[0].facts.media in WORD_FILES:
            part = placed_document(run[0].path, Path(run[0].facts.read_instead or ""), own, pictures)
        else:
            # In the language that was chosen for all of it.
            part = _rebuilt(own, replace(joined_facts([file.facts for file in run]), language=facts.language))
        moved = {page.number: page.number + len(whole.pages) for page in own}
        whole = appended(whole, with_styles_apart(with_pages_moved(part, moved), whole, f"{n + 1}"), f"file{n}.")
    return with_source_remarks(whole, facts)


def _rebuilt(pages: Sequence[PageEvidence], facts: SourceFacts) -> Document:
    """The document of some pages, with what stands for its typefaces by the widths of its letters."""
    document = rebuild(pages, facts)
    return replace(document, stand_ins=measured_stand_ins(document))


def _runs(
    pages: Sequence[PageEvidence], files: Sequence[SourceFile]
) -> Iterator[tuple[list[SourceFile], list[PageEvidence]]]:
    """Each word-processor file by itself, and others as long as none of these comes between; with their pages, counted from 1."""
    at = 0
    for _, group in itertools.groupby(enumerate(files), key=lambda one: _apart(*one)):
        run = [file for _, file in group]
        own = pages[at : at + sum(file.facts.pages for file in run)]
        at += len(own)
        if own:
            yield run, [replace(page, number=n) for n, page in enumerate(own, start=1)]


def _apart(place: int, file: SourceFile) -> int:
    """The same for neighbours that are rebuilt together."""
    return place if file.facts.media in WORD_FILES else -1


def with_source_remarks(document: Document, facts: SourceFacts) -> Document:
    """The document with what is to be said of its file put before what is to be said of its pages."""
    remarks = []
    if facts.read_instead and facts.media == PDF:
        remarks.append(
            Remark(
                RemarkKind.REPAIRED,
                "The file was damaged and has been repaired; compare its pages with care.",
            )
        )
    if facts.restrictions:
        remarks.append(Remark(RemarkKind.RIGHTS, rights_sentence(facts.restrictions)))
    return replace(document, remarks=(*remarks, *document.remarks))
