"""Where the styles of a document are used."""

from __future__ import annotations

from collections.abc import Iterator

import msgspec

from evenquill.core.find import running_of
from evenquill.core.model import Document, ResolvedStyle, texts_of
from evenquill.core.model.inline import readable


class StyleUse(msgspec.Struct, frozen=True):
    """A style with what has it: how many rows, texts in cells, running heads and feet, the places of the rows, and the first text of it."""

    style: ResolvedStyle
    count: int
    places: tuple[int, ...]
    sample: str


def uses_of(document: Document) -> Iterator[StyleUse]:
    """The styles of a document in their order, with where they are used; what is set aside does not count."""
    places: dict[str, list[int]] = {name: [] for name in document.resolved_styles}
    samples: dict[str, str] = {}
    counts = dict.fromkeys(places, 0)
    body = document.body_style.id
    for at, block in enumerate(document.blocks):
        if block.excluded:
            continue
        for text in texts_of(block):
            name = text.style if text.style in places else body
            counts[name] += 1
            if not places[name] or places[name][-1] != at:
                places[name].append(at)
            if name not in samples and (said := text.readable.strip()):
                samples[name] = said[:60]
    for part in document.running:
        for _, running in running_of(part):
            if running.style in counts:
                counts[running.style] += 1
                samples.setdefault(running.style, readable(running.content).strip()[:60])
    for name, style in document.resolved_styles.items():
        yield StyleUse(style, counts[name], tuple(places[name]), samples.get(name, ""))
