"""How often Python looks for garbage in cycles while documents are made."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from contextlib import contextmanager

SELDOM = (20_000, 50, 100)
"""Thresholds of the three generations. Evidence, blocks, runs and words are values without cycles: going through all of them after every
few hundred new ones, as by default, takes a third of the time of rebuilding and finds nothing."""

USUAL = gc.get_threshold()


@contextmanager
def fewer_garbage_collections() -> Iterator[None]:
    """While this lasts, garbage in cycles is looked for less often. Also a decorator."""
    gc.set_threshold(*SELDOM)
    try:
        yield
    finally:
        gc.set_threshold(*USUAL)
