"""Opening a PDF: can it be read, is it locked or restricted, what does it say of itself.

``examine_pdf`` takes a path and gives facts about the file. A damaged file is repaired into a copy with pikepdf
(which rebuilds the cross-reference table and what hangs on it); the source itself is never touched.
"""

from __future__ import annotations

import itertools
import re
from pathlib import Path

import msgspec
import pikepdf
import pypdfium2 as pdfium

from evenquill.core.errors import (
    DamagedSource,
    EmptySource,
    PasswordNeeded,
    TooLarge,
    WrongPassword,
)
from evenquill.core.source.facts import OutlineEntry, SourceFacts

LARGEST_PAGE = 14_400.0
"""Points; ISO 32000-1, annex C.2: the largest page side, 200 inches."""

MOST_PAGES = 20_000
MOST_BOOKMARKS = 10_000
LONGEST_TITLE = 1_000


_LANGUAGE = re.compile(r"[A-Za-z]{2,3}(?:-[A-Za-z0-9]{1,8})*")
"""A language tag (RFC 5646), as far as it is made use of."""


def examine_pdf(path: Path, *, password: str | None = None, repair_into: Path | None = None) -> SourceFacts:
    """Facts about the PDF at ``path``.

    ``repair_into`` is where a mended copy may be written; None means that a damaged file is an error.
    Raises EmptySource, DamagedSource, TooLarge, PasswordNeeded or WrongPassword.
    """
    try:
        document = pdfium.PdfDocument(path, password=password)
    except pdfium.PdfiumError:
        if _is_locked(path, password):
            raise _locked(password) from None
        if repair_into is None:
            raise DamagedSource("The file is damaged and cannot be opened.") from None
        mend(path, repair_into, password)
        facts = examine_pdf(repair_into, password=password)
        return msgspec.structs.replace(facts, read_instead=str(repair_into))
    try:
        pages = _page_count(document, path, password)
        _check_pages(pages)
        metadata = document.get_metadata_dict()
        facts = SourceFacts(
            pages=pages,
            title=metadata.get("Title", "").strip()[:LONGEST_TITLE],
            producer=metadata.get("Producer", "").strip()[:LONGEST_TITLE],
            outline=_outline(document),
        )
    finally:
        document.close()
    language, restrictions = _language_and_rights(path, password)
    return msgspec.structs.replace(facts, language=language, restrictions=restrictions)


def _page_count(document: pdfium.PdfDocument, path: Path, password: str | None) -> int:
    """How many pages there are; where the last one is not, a file claims more than it has, and they are counted."""
    claimed = len(document)
    if claimed < 2 or _has_page(document, claimed):
        return claimed
    try:
        with pikepdf.open(path, password=password or "") as pdf:
            return min(len(pdf.pages), claimed)
    except (pikepdf.PdfError, RuntimeError, ValueError):
        return claimed


def _has_page(document: pdfium.PdfDocument, number: int) -> bool:
    try:
        document.get_page_size(number - 1)
    except pdfium.PdfiumError:
        return False
    return True


def _check_pages(pages: int) -> None:
    if pages == 0:
        raise EmptySource("The PDF has no pages.")
    if pages > MOST_PAGES:
        raise TooLarge(f"The PDF has {pages} pages; up to {MOST_PAGES} can be taken. Split it and try again.")


def _is_locked(path: Path, password: str | None) -> bool:
    """Asked of pikepdf: PDFium's last error may be that of another file."""
    try:
        pikepdf.open(path, password=password or "").close()
    except pikepdf.PasswordError:
        return True
    except (pikepdf.PdfError, RuntimeError, ValueError):
        return False
    return False


def _locked(password: str | None) -> PasswordNeeded:
    if password:
        return WrongPassword("The password does not open this file. Check it and try again.")
    return PasswordNeeded("The file is locked with a password. Give the password to read it.")


def mend(path: Path, target: Path, password: str | None) -> None:
    """Writes a copy of a damaged PDF with its tables made anew, protected as it was. Raises DamagedSource, EmptySource, PasswordNeeded."""
    try:
        with pikepdf.open(path, password=password or "") as pdf:
            if len(pdf.pages) == 0:
                raise EmptySource("The file is damaged: no page could be recovered from it.")
            # What was protected stays so.
            pdf.save(target, encryption=pdf.is_encrypted)
    except pikepdf.PasswordError:
        raise _locked(password) from None
    except (pikepdf.PdfError, RuntimeError, ValueError):
        raise DamagedSource("The file is damaged and could not be repaired. Ask for it to be sent again.") from None


def _outline(document: pdfium.PdfDocument) -> tuple[OutlineEntry, ...]:
    entries = []
    for bookmark in itertools.islice(document.get_toc(max_depth=9), MOST_BOOKMARKS):
        target = bookmark.get_dest()
        page = target.get_index() if target else None
        entries.append(
            OutlineEntry(
                bookmark.level + 1, bookmark.get_title().strip()[:LONGEST_TITLE], (page or 0) + 1 if target else 0
            )
        )
    return tuple(entries)


def _language_and_rights(path: Path, password: str | None) -> tuple[str, tuple[str, ...]]:
    """The catalog's language, and what its author does not allow (ISO 32000-1, table 22)."""
    try:
        with pikepdf.open(path, password=password or "", access_mode=pikepdf.AccessMode.stream) as pdf:
            told = str(pdf.Root.get("/Lang", ""))
            language = told if _LANGUAGE.fullmatch(told) else ""
            restrictions: list[str] = []
            if pdf.is_encrypted and not pdf.owner_password_matched:
                allow = pdf.allow
                if not allow.extract:
                    restrictions.append("copying text and pictures out of it")
                if not allow.modify_other:
                    restrictions.append("changing it")
                if not (allow.print_lowres and allow.print_highres):
                    restrictions.append("printing it")
            return language, tuple(restrictions)
    except (pikepdf.PdfError, RuntimeError, ValueError):
        return "", ()
