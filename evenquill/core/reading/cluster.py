"""Pages read on a Dask cluster: for whole archives, where one machine is not enough.

The source travels to the workers once; each page comes back with its pictures, so that no shared folder is needed.
"""

from __future__ import annotations

import atexit
import hashlib
import shutil
import tempfile
from collections import OrderedDict
from collections.abc import Generator, Iterable
from pathlib import Path
from typing import Any, Self

import msgspec

from evenquill.core.evidence import PageEvidence
from evenquill.core.pictures import PictureFolder
from evenquill.core.processes import Watch
from evenquill.core.reading.jobs import PageJob, unread_page

CONNECT_SECONDS = 5


class ClusterError(Exception):
    """The cluster cannot be used; the message says why in a sentence."""


class ClusterPages:
    """Reads pages as :class:`PagePool` does, on the cluster at ``address``. Needs the package ``distributed``.

    Raises ClusterError where the package or the cluster is missing.
    """

    def __init__(self, address: str) -> None:
        try:
            from distributed import Client
        except ImportError:
            raise ClusterError("clusters need the package distributed; install evenquill[cluster].") from None
        try:
            self._client: Any = Client(address, timeout=CONNECT_SECONDS)
        except (OSError, ValueError):
            raise ClusterError(f"there is no cluster at {address}.") from None

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *error: object) -> None:
        self.close()

    def close(self) -> None:
        self._client.close()

    def read(self, jobs: Iterable[PageJob], watch: Watch = lambda: None) -> Generator[PageEvidence, None, None]:
        """Evidence of the pages as they are done, in any order; their pictures are kept here. ``watch`` is looked at after each page."""
        from distributed import as_completed

        sent: dict[str, Any] = {}
        futures: dict[Any, PageJob] = {}
        for job in jobs:
            source = job.page.source
            if source not in sent:
                sent[source] = self._client.scatter(Path(source).read_bytes(), broadcast=True)
            futures[self._client.submit(read_remotely, sent[source], job, pure=False)] = job
        try:
            for future in as_completed(futures):
                watch()
                job = futures[future]
                if future.exception() is not None:
                    yield unread_page(job.page.number)
                    continue
                evidence, found = future.result()
                for picture, media in found:
                    PictureFolder(Path(job.pictures)).keep(picture, media)
                yield msgspec.msgpack.decode(evidence, type=PageEvidence)
        finally:
            self._client.cancel(list(futures))


def read_remotely(data: bytes, job: PageJob) -> tuple[bytes, list[tuple[bytes, str]]]:
    """On a worker: the page's evidence, encoded, and its pictures with their media types."""
    found: list[tuple[bytes, str]] = []
    with tempfile.TemporaryDirectory() as name:
        folder = PictureFolder(Path(name))

        def keep(picture: bytes, media: str) -> str:
            found.append((picture, media))
            return folder.keep(picture, media)

        from evenquill.core.reading.page_reader import read_source_page  # the readers are loaded where they are needed

        page = read_source_page(job._replace(page=job.page._replace(source=_on_disk(data))), keep)
    return msgspec.msgpack.encode(page), found


SOURCES_KEPT = 2
"""Sources that a worker keeps on its disk; pages of one follow one another."""

_kept: OrderedDict[bytes, Path] = OrderedDict()
"""On a worker: folders of sources by the digests of their bytes, the last used last."""


def _on_disk(data: bytes) -> str:
    """The source as a file of this worker; earlier ones are taken off its disk, the last ones when it ends."""
    digest = hashlib.sha256(data).digest()
    folder = _kept.pop(digest, None)
    if folder is None:
        folder = Path(tempfile.mkdtemp(prefix="evenquill-"))
        (folder / "source").write_bytes(data)
        atexit.register(shutil.rmtree, folder, ignore_errors=True)
    _kept[digest] = folder
    while len(_kept) > SOURCES_KEPT:
        _, old = _kept.popitem(last=False)
        shutil.rmtree(old, ignore_errors=True)
    return str(folder / "source")
