"""What of a word-processor file was not taken, or not as it stands there, in sentences for the clerk."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from evenquill.core.model import Remark, RemarkKind

LONGEST = 300
"""Characters of comments that are shown."""


class NotTaken(NamedTuple):
    """How many changes are tracked, the comments, how many pictures cannot be shown; whether there are macros, and things to be fetched."""

    tracked: int
    comments: Sequence[str]
    unshown: int
    macros: bool
    outside: bool = False

    def remarks(self) -> tuple[Remark, ...]:
        out = []
        if self.tracked:
            out.append(f"Changes are tracked in the file ({self.tracked}): they are taken as if all were accepted.")
        if self.comments:
            said = " ".join(" ".join(self.comments).split())[:LONGEST]
            out.append(f"The file has comments ({len(self.comments)}), which are not taken over: {said}")
        if self.unshown:
            out.append(
                f"Pictures of a kind that cannot be shown here, or that are not in the file ({self.unshown}), are left out."
            )
        if self.macros:
            out.append("The file has macros. Nothing of them was run or taken over.")
        if self.outside:
            out.append("The file wants to fetch something from elsewhere. Nothing was fetched.")
        return tuple(Remark(RemarkKind.NOT_CARRIED_OVER, sentence) for sentence in out)
