"""Sources: what a file is, whether it can be read, and what it says of itself."""

from evenquill.core.source.facts import (
    DOCX,
    ODT,
    PDF,
    WORD_FILES,
    OutlineEntry,
    SourceFacts,
    joined_facts,
    rights_sentence,
)
from evenquill.core.source.sniffing import examine, media_of

__all__ = [
    "DOCX",
    "ODT",
    "PDF",
    "WORD_FILES",
    "OutlineEntry",
    "SourceFacts",
    "examine",
    "joined_facts",
    "media_of",
    "rights_sentence",
]
