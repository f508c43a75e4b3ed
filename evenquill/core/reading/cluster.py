"""Pages read on a Dask cluster: for whole archives, where one machine is not enough.

The source travels to the workers once; each page comes back with its pictures, so that no shared folder is needed.
"""

from __future__ import annotations

import shutil
import tempfile
import weakref
from collections.abc import Generator, Iterable
from functools import lru_cache
from pathlib import Path
from types import MappingProxyType
from typing import Any, Self

import msgspec

from evenquill.core.pictures import PictureFolder
from evenquill.core.reading.evidence import PageEvidence
from evenquill.core.reading.pages import Leaf, Preparations, preparation_of, read_leaf, unread_page
from evenquill.core.reading.preparation import Preparation

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
        self,
        leaves: Iterable[Leaf],
        pictures: Path,
        *,
        password: str | None = None,
        preparations: Preparations = MappingProxyType({}),
    ) -> Generator[PageEvidence, None, None]:
        """Evidence of the pages as they are done, in any order; pictures are kept in the folder ``pictures``."""
        from distributed import as_completed

        folder = PictureFolder(pictures)
        sent: dict[str, Any] = {}
        futures = {}
        for leaf in leaves:
            if leaf.source not in sent:
                sent[leaf.source] = self._client.scatter(Path(leaf.source).read_bytes(), broadcast=True)
            preparation = preparation_of(preparations, leaf.number)
            future = self._client.submit(read_remotely, sent[leaf.source], leaf, password, preparation, pure=False)
            futures[future] = leaf.number
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


def read_remotely(
    data: bytes, leaf: Leaf, password: str | None, preparation: Preparation
) -> tuple[bytes, list[tuple[bytes, str]]]:
    """On a worker: the page's evidence, encoded, and its pictures with their media types."""
    found: list[tuple[bytes, str]] = []
    with tempfile.TemporaryDirectory() as name:
        folder = PictureFolder(Path(name))

        def keep(picture: bytes, media: str) -> str:
            found.append((picture, media))
            return folder.keep(picture, media)

        page = read_leaf(leaf._replace(source=_on_disk(data)), password, keep, preparation)
    return msgspec.msgpack.encode(page), found


@lru_cache(maxsize=2)
def _on_disk(data: bytes) -> str:
    """The source as a file of this worker; it goes with the worker."""
    folder = tempfile.mkdtemp(prefix="evenquill-")
    weakref.finalize(_on_disk, shutil.rmtree, folder, ignore_errors=True)
    path = Path(folder) / "source"
    path.write_bytes(data)
    return str(path)
