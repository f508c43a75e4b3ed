"""What is to be read: pages of documents, where they are, and how each is to be read."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from pathlib import Path
from typing import NamedTuple

from evenquill.core.evidence import PageEvidence, PageKind
from evenquill.core.model import Remark, RemarkKind
from evenquill.core.reading.preparation import AS_FOUND, Preparation

BLANK = "Page {page} is blank."
NOTHING_READ = "Nothing on page {page} can be read; it is kept as a picture."


class SourcePage(NamedTuple):
    """A page of a document: its number there, the file that it is in, and its number in that file, both from 1."""

    number: int
    source: str
    page: int


class PageJob(NamedTuple):
    """A page to read, the password of its file if any, the folder for its pictures, and how it is to be read."""

    page: SourcePage
    password: str | None
    pictures: str
    preparation: Preparation = AS_FOUND


Preparations = Mapping[int, Preparation]
"""How pages are to be read, by their numbers; under 0 for those that are not named."""


def page_jobs(
    source_pages: Iterable[SourcePage],
    pictures: Path,
    *,
    password: str | None = None,
    preparations: Preparations | None = None,
) -> list[PageJob]:
    """Jobs for pages of one document, whose pictures go into the folder ``pictures``."""
    chosen = preparations or {}
    usual = chosen.get(0, AS_FOUND)
    return [
        PageJob(source_page, password, str(pictures), chosen.get(source_page.number, usual))
        for source_page in source_pages
    ]


def unread_page(number: int, sentence: str = "") -> PageEvidence:
    """What stands for a page that can neither be read nor drawn; as large as A4."""
    sentence = sentence or "Page {page} is damaged and could not be read. The other pages are not affected."
    return PageEvidence(number, 595.28, 841.89, PageKind.SCANNED, remarks=(Remark(RemarkKind.UNREADABLE, sentence),))


def in_order(pages: Iterable[PageEvidence]) -> Sequence[PageEvidence]:
    """Pages by number."""
    return sorted(pages, key=lambda page: page.number)
