"""Outcomes of documents, set in processes of their own and kept for as long as they are looked at."""

from __future__ import annotations

import shutil
import threading
from collections import OrderedDict
from pathlib import Path
from typing import NamedTuple, Self

from evenquill.desk.interactive import HelperFailed, InteractivePool
from evenquill.desk.jobs.set_outcome import OutcomeMade, OutcomeWork, load_setting, set_outcome

SET_SECONDS, PAGE_SET_SECONDS = 30.0, 0.5
"""Time limit for setting a document, and what each page adds to it."""

TRIES = 8
"""How often a document is set at most until it fits."""

KEPT = 24
"""Outcomes of which the pages can be drawn."""


class OutcomeFailed(Exception):
    """The pages could not be set in time."""


class SettingPools:
    """A helper process that sets pages, and another one that tries how they fit: what was set before is known to it, so that a change
    takes little. Use as a context manager."""

    def __init__(self) -> None:
        self.setting = InteractivePool(1)
        self.fitting = InteractivePool(1)

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *error: object) -> None:
        self.setting.close()
        self.fitting.close()


class _Key(NamedTuple):
    document: str
    revision: int
    way: str


class Outcomes:
    """The outcomes that were last set."""

    def __init__(self, pools: SettingPools, data: Path) -> None:
        self._pools = pools
        self._data = data
        self._folder = data / "outcomes"
        shutil.rmtree(self._folder, ignore_errors=True)  # those of the last server
        self._folder.mkdir(parents=True)
        self._lock = threading.Lock()
        self._prepared = False
        self._known: OrderedDict[_Key, OutcomeMade | None] = OrderedDict()

    def prepare(self) -> None:
        """Has what sets pages ready by the time that somebody who opened a document wants to see its outcome."""
        if not self._prepared:
            self._prepared = True
            self._pools.setting.prepare(load_setting)

    def get(self, document: str, revision: int, pages: int, way: str) -> OutcomeMade | None:
        """The outcome of a document at this revision, or at a newer one, made to fit in a way where one is named; None where that cannot
        be. ``pages`` of the source decide how long it may take. Raises OutcomeFailed, KeyError where there is no proof, and NotWritten."""
        key = _Key(document, revision, way)
        with self._lock:
            if key in self._known:
                self._known.move_to_end(key)
                return self._known[key]
        pool = self._pools.fitting if way else self._pools.setting
        seconds = (SET_SECONDS + PAGE_SET_SECONDS * pages) * (TRIES if way else 1)
        try:
            made = pool.run(set_outcome, OutcomeWork(str(self._data), document, way, str(self._folder)), seconds)
        except HelperFailed as error:
            raise OutcomeFailed from error
        self._keep(key if made is None else key._replace(revision=made.revision), made)
        return made

    def file(self, document: str, revision: int, way: str) -> Path | None:
        """The PDF of an outcome that was set, None where it is kept no more."""
        with self._lock:
            made = self._known.get(_Key(document, revision, way))
        return Path(made.file) if made is not None else None

    def _keep(self, key: _Key, made: OutcomeMade | None) -> None:
        with self._lock:
            self._known[key] = made
            self._known.move_to_end(key)
            while len(self._known) > KEPT:
                _, dropped = self._known.popitem(last=False)
                if dropped is not None:
                    Path(dropped.file).unlink(missing_ok=True)
