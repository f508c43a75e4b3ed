"""Sources: what a file is, whether it can be read, and what it says of itself."""

from evenquill.core.source.pdf import OutlineEntry, SourceFacts, examine, rights_sentence

__all__ = ["OutlineEntry", "SourceFacts", "examine", "rights_sentence"]
