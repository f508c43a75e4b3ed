"""Pages read on a Dask cluster: for whole archives, where one machine is not enough.

The source travels to the workers once; each page comes back with its pictures, so that no shared folder is needed.
"""

from __future__ import annotations

import tempfile
from collections.abc import Generator, Iterable
from functools import lru_cache
from pathlib import Path
from typing import Any, Self

import msgspec
import pypdfium2 as pdfium

from evenquill.core.pictures import PictureFolder
from evenquill.core.reading.evidence import PageEvidence
from evenquill.core.reading.native import read_page
from evenquill.core.reading.pages import unread_page

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

    def read(
        self, source: Path, numbers: Iterable[int], pictures: Path, *, password: str | None = None
    ) -> Generator[PageEvidence, None, None]:
        """Evidence of the pages as they are done, in any order; pictures are kept in the folder ``pictures``."""
        from distributed import as_completed

        folder = PictureFolder(pictures)
        data = self._client.scatter(source.read_bytes(), broadcast=True)
        futures = {self._client.submit(read_remotely, data, n, password, pure=False): n for n in numbers}
        try:
            for future in as_completed(futures):
                if future.exception() is not None:
                    yield unread_page(futures[future])
                    continue
                evidence, found = future.result()
                for picture, media in found:
                    folder.keep(picture, media)
                yield msgspec.msgpack.decode(evidence, type=PageEvidence)
        finally:
            self._client.cancel(list(futures))


def read_remotely(data: bytes, number: int, password: str | None) -> tuple[bytes, list[tuple[bytes, str]]]:
    """On a worker: the page's evidence, encoded, and its pictures with their media types."""
    found: list[tuple[bytes, str]] = []
    with tempfile.TemporaryDirectory() as name:
        folder = PictureFolder(Path(name))

        def keep(picture: bytes, media: str) -> str:
            found.append((picture, media))
            return folder.keep(picture, media)

        page = read_page(_opened(data, password), number, keep)
    return msgspec.msgpack.encode(page), found


@lru_cache(maxsize=2)
def _opened(data: bytes, password: str | None) -> pdfium.PdfDocument:
    return pdfium.PdfDocument(data, password=password)
