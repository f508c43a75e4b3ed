"""Notes that the layout has left in the text: paragraphs that are said to be ones, at the end of a column."""

from __future__ import annotations

import re
from collections.abc import Sequence

from evenquill.core.model import Role
from evenquill.core.model.text import NOTE_SIGNS
from evenquill.core.rebuild.drafts import AnyDraft, Draft

SURE, SMALL = 0.7, 0.96
"""Probability from which a paragraph as large as the text is taken for a note, and size over that of the text of what is smaller."""

_MARK = re.compile(rf"^\s*[(\[]?(\d{{1,3}}|[{NOTE_SIGNS}#]{{1,3}}|[a-z](?=[.)\]]))[.)\]]?")


def find_notes_in_text(drafts: Sequence[AnyDraft], text_size: float) -> list[AnyDraft]:
    """Makes notes of paragraphs that are said to be ones and begin with a mark; those without carry on the note above."""
    out: list[AnyDraft] = []
    for draft in drafts:
        if (
            isinstance(draft, Draft)
            and draft.role is Role.PARAGRAPH
            and draft.likely_role == "note"
            and (draft.role_likelihood >= SURE or draft.lines[0].size <= SMALL * text_size)
        ):
            mark = _MARK.match(draft.lines[0].text)
            before = out[-1] if out else None
            if mark is not None:
                draft.role, draft.note_mark, draft.marker = Role.NOTE, mark.group(1), ""
            elif isinstance(before, Draft) and before.role is Role.NOTE:
                before.extend(draft)
                continue
        out.append(draft)
    return out
