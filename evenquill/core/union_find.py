"""Disjoint sets: things that belong together, directly or by way of others (Galler and Fischer 1964)."""

from __future__ import annotations

from collections.abc import Hashable
from typing import Generic, TypeVar

T = TypeVar("T", bound=Hashable)


class UnionFind(Generic[T]):
    """Sets of things that have been joined."""

    def __init__(self) -> None:
        self._parents: dict[T, T] = {}

    def add(self, thing: T) -> None:
        self._parents.setdefault(thing, thing)

    def root(self, thing: T) -> T:
        """The one thing that stands for the set that a thing is in."""
        self.add(thing)
        while self._parents[thing] != thing:
            self._parents[thing] = self._parents[self._parents[thing]]
            thing = self._parents[thing]
        return thing

    def join(self, one: T, other: T) -> None:
        """Makes one set of those that two things are in."""
        self._parents[self.root(one)] = self.root(other)
