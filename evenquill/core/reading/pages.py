"""Pages read in worker processes, each under a time limit.

A page that crashes or hangs the reader harms nothing but itself: it is drawn as a picture, with a remark, and the others go on.
"""

from __future__ import annotations

import logging
import multiprocessing
import os
from collections.abc import Callable, Generator, Iterable, Mapping, Sequence
from concurrent.futures import FIRST_COMPLETED, Future, wait
from functools import lru_cache
from pathlib import Path
from typing import NamedTuple, ParamSpec, Protocol, Self, TypeVar

import msgspec
import pebble
import pypdfium2 as pdfium
from msgspec.structs import replace

from evenquill.core.errors import SourceError
from evenquill.core.model import Remark, RemarkKind
from evenquill.core.pictures import PictureFolder
from evenquill.core.reading.evidence import KeepPicture, PageEvidence, PageKind
from evenquill.core.reading.native import page_as_picture
from evenquill.core.reading.preparation import AS_FOUND, Preparation
from evenquill.core.reading.scanned.cleaning.straighten import paper_dpi
from evenquill.core.reading.scanned.page import read_scan
from evenquill.core.reading.scanned.prepared import Scan
from evenquill.core.reading.scanned.raster import Raster
from evenquill.core.reading.sizing import read_pdf_page
from evenquill.core.source import PDF, media_of
from evenquill.core.source.images import frame_of_image

PAGE_SECONDS = 120.0
"""Time limit for a page; the fullest newspaper pages take half a minute to recognise."""

AHEAD = 4
"""Pages given out for each worker, so that none waits and cancelling is quick."""

log = logging.getLogger(__name__)

P = ParamSpec("P")
T = TypeVar("T")

_ENCODER = msgspec.msgpack.Encoder()
_DECODER = msgspec.msgpack.Decoder(PageEvidence)


class Leaf(NamedTuple):
    """A page of a document: its number there, the file that it is in, and its number in that file, both from 1."""

    number: int
    source: str
    page: int


class PageJob(NamedTuple):
    """A page to read, the password of its file if any, the folder for its pictures, and how it is to be read."""

    leaf: Leaf
    password: str | None
    pictures: str
    preparation: Preparation = AS_FOUND


Preparations = Mapping[int, Preparation]
"""How pages are to be read, by their numbers; under 0 for those that are not named."""


def page_jobs(
    leaves: Iterable[Leaf], pictures: Path, *, password: str | None = None, preparations: Preparations | None = None
) -> list[PageJob]:
    """Jobs for pages of one document, whose pictures go into the folder ``pictures``."""
    chosen = preparations or {}
    usual = chosen.get(0, AS_FOUND)
    return [PageJob(leaf, password, str(pictures), chosen.get(leaf.number, usual)) for leaf in leaves]


class PageReader(Protocol):
    """What reads pages somewhere: in processes of this machine, or on a cluster."""

    def read(self, jobs: Iterable[PageJob]) -> Generator[PageEvidence, None, None]:
        """Evidence of the pages as they are done, in any order."""
        ...


class PagePool:
    """Worker processes that read pages. Use as a context manager, or call ``close``."""

    def __init__(self, workers: int = 0, page_seconds: float = PAGE_SECONDS) -> None:
        self.workers = workers or usable_cores()
        self.page_seconds = page_seconds
        # Spawned, not forked: a worker then holds nothing of the server's locks and files.
        context = multiprocessing.get_context("spawn")
        self._pool = pebble.ProcessPool(self.workers, context=context)
        # Other work has a process of its own, started when first needed, so that it need not wait for pages.
        self._beside = pebble.ProcessPool(1, context=context)

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *error: object) -> None:
        self.close()

    def close(self) -> None:
        """Stops at once; pages under way are lost."""
        for pool in (self._pool, self._beside):
            pool.stop()
            pool.join()

    def run(self, function: Callable[P, T], *arguments: P.args, **named: P.kwargs) -> T:
        """What a function gives that is run beside the pages, in a process: for work that may crash or is heavy. Raises what it
        raises."""
        future: Future[T] = self._beside.schedule(function, arguments, named)
        return future.result()

    def read(self, jobs: Iterable[PageJob]) -> Generator[PageEvidence, None, None]:
        """Evidence of the pages as they are done, in any order. Closing the iterator cancels what is under way."""
        waiting = iter(jobs)
        running: dict[Future[bytes], tuple[PageJob, bool]] = {}
        try:
            while True:
                for job in waiting:
                    running[self._pool.schedule(read_job, (job,), timeout=self.page_seconds)] = (job, True)
                    if len(running) >= AHEAD * self.workers:
                        break
                if not running:
                    return
                done, _ = wait(running, return_when=FIRST_COMPLETED)
                for future in done:
                    job, first = running.pop(future)
                    error = future.exception()
                    if error is None:
                        yield _DECODER.decode(future.result())
                    elif first:
                        log.warning("page %s of %s could not be read: %r", job.leaf.page, job.leaf.source, error)
                        again = self._pool.schedule(draw_job, (job, _why(error)), timeout=self.page_seconds)
                        running[again] = (job, False)
                    else:
                        yield unread_page(job.leaf.number)
        finally:
            for future in running:
                future.cancel()


def usable_cores() -> int:
    """Cores that this process may use."""
    return len(os.sched_getaffinity(0)) if hasattr(os, "sched_getaffinity") else (os.cpu_count() or 1)


def read_job(job: PageJob) -> bytes:
    """In a worker: the page's evidence, encoded. One that is damaged says so in its evidence."""
    try:
        return _ENCODER.encode(read_leaf(job, PictureFolder(Path(job.pictures)).keep))
    except pdfium.PdfiumError:
        return _ENCODER.encode(unread_page(job.leaf.number))
    except SourceError as error:
        return _ENCODER.encode(unread_page(job.leaf.number, sentence=str(error)))


def read_leaf(job: PageJob, keep: KeepPicture) -> PageEvidence:
    """Evidence of a page of a PDF or of a picture file. Raises SourceError or pdfium.PdfiumError."""
    leaf, preparation = job.leaf, job.preparation
    path = Path(leaf.source)
    if media_of(path) == PDF:
        evidence = read_pdf_page(open_source(leaf.source, job.password), leaf.page, keep, preparation)
    else:
        pixels, dpi, cut_short = frame_of_image(path, leaf.page)
        guess = paper_dpi(pixels.shape[1], pixels.shape[0])
        evidence = read_scan(Scan(Raster(pixels, dpi or guess), dpi is None), leaf.number, keep, preparation)
        if cut_short:
            evidence = evidence.remarked(
                RemarkKind.CUT_SHORT, "Page {page} is cut short in its file; what is there was read."
            )
    return replace(evidence, number=leaf.number)


def draw_job(job: PageJob, sentence: str) -> bytes:
    """In a worker: the page as a picture."""
    keep = PictureFolder(Path(job.pictures)).keep
    path = Path(job.leaf.source)
    if media_of(path) != PDF:
        return _ENCODER.encode(unread_page(job.leaf.number, sentence=sentence))
    page = page_as_picture(open_source(job.leaf.source, job.password), job.leaf.page, sentence, keep)
    return _ENCODER.encode(replace(page, number=job.leaf.number))


@lru_cache(maxsize=2)
def open_source(source: str, password: str | None) -> pdfium.PdfDocument:
    """The open PDF; a worker keeps the last two."""
    return pdfium.PdfDocument(source, password=password)


def unread_page(number: int, sentence: str = "") -> PageEvidence:
    """What stands for a page that can neither be read nor drawn; as large as A4."""
    sentence = sentence or "Page {page} is damaged and could not be read. The other pages are not affected."
    return PageEvidence(number, 595.28, 841.89, PageKind.SCANNED, remarks=(Remark(RemarkKind.UNREADABLE, sentence),))


def _why(error: BaseException) -> str:
    what = "took too long to read" if isinstance(error, TimeoutError) else "could not be read"
    return f"Page {{page}} {what}; it is kept as a picture."


def in_order(pages: Iterable[PageEvidence]) -> Sequence[PageEvidence]:
    """Pages by number."""
    return sorted(pages, key=lambda page: page.number)
