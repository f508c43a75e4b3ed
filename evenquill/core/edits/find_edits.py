"""What was found replaced by something else, and small faults swept out, all of it as one step."""

from __future__ import annotations

from msgspec.structs import replace

from evenquill.core.edits.inverse import Edit, Restore, RestoreRunning, RestoreText, splice
from evenquill.core.edits.operations import ReplaceText, Sweep
from evenquill.core.edits.words import with_text
from evenquill.core.errors import EditError
from evenquill.core.find import Hit, hits, running_of
from evenquill.core.model import Block, Document, TableBlock, TextBlock, texts_of, with_changed
from evenquill.core.model.ids import Ids
from evenquill.core.model.sections import Running, RunningPart
from evenquill.core.sweep import SweepKind, faults


def replace_text(document: Document, operation: ReplaceText, ids: Ids) -> Edit:
    if not operation.find.text:
        raise EditError("Say what text is to be replaced.")
    wanted = {(one.place, one.start) for one in operation.places}
    by_row: dict[int, list[Hit]] = {}
    left = len(wanted)
    for hit in hits(document, operation.find, operation.text):
        if wanted and (hit.place, hit.start) not in wanted:
            continue
        left -= 1
        if hit.text != hit.becomes:
            by_row.setdefault(hit.row, []).append(hit)
    if wanted and left:
        raise EditError("Some of it is no longer there. Look for it again.")
    if not by_row:
        raise EditError("There is nothing to replace.")
    return _replaced(document, by_row)


def sweep(document: Document, operation: Sweep, ids: Ids) -> Edit:
    edit = Edit(document, ())
    # One kind after the other: what is put right for one may be in the way of another.
    for kind in operation.kinds:
        by_row: dict[int, list[Hit]] = {}
        for _, hit in faults(edit.document, frozenset({kind})):
            by_row.setdefault(hit.row, []).append(hit)
        if kind is SweepKind.EMPTY_ROWS:
            for row in by_row:
                edit = edit.then(splice(edit.document, row, 1, (replace(edit.document.blocks[row], excluded=True),)))
        else:
            edit = edit.then(_replaced(edit.document, by_row))
    if not edit.inverse:
        raise EditError("There is nothing to sweep.")
    return edit


def _replaced(document: Document, by_row: dict[int, list[Hit]]) -> Edit:
    """The document with hits replaced, by their rows; those of running heads and feet are of row -1."""
    running = by_row.pop(-1, [])
    blocks = list(document.blocks)
    inverse: list[Restore | RestoreText | RestoreRunning] = []
    for row, found in by_row.items():
        before = blocks[row]
        blocks[row], changed = _with_hits(before, found)
        if isinstance(before, TableBlock):
            inverse += [RestoreText(row, text) for text in changed]
        else:
            inverse.append(Restore(row, 1, (before,)))
    after = replace(document, blocks=tuple(blocks))
    if running:
        after = replace(after, running=tuple(_with_running(part, running) for part in document.running))
        inverse.append(RestoreRunning(document.running))
    return Edit(after, tuple(inverse))


def _with_hits(block: Block, found: list[Hit]) -> tuple[Block, list[TextBlock]]:
    """A row with its hits replaced, and its texts as they were before."""
    before = []
    for text in texts_of(block):
        own = [hit for hit in found if hit.place == text.id]
        if own:
            before.append(text)
            changed = text
            for hit in reversed(own):
                changed = with_text(changed, hit.start, hit.end, hit.becomes)
            block = with_changed(block, changed)
    return block, before


def _with_running(part: RunningPart, found: list[Hit]) -> RunningPart:
    for name, running in running_of(part):
        own = [hit for hit in found if hit.place == name]
        if own:
            _, _, sort, end = name.rsplit("/", 3)
            pair = replace(getattr(part, sort), **{end: _running_with(running, own)})
            part = replace(part, **{sort: pair})
    return part


def _running_with(running: Running, found: list[Hit]) -> Running:
    text = TextBlock("", content=running.content)
    for hit in reversed(found):
        text = with_text(text, hit.start, hit.end, hit.becomes)
    return replace(running, content=text.content)
