"""Files of word processors as sources: what they hold is read as it is, and their pages are set, so that each row has its place on one."""

from evenquill.core.word_files.opening import read_word_file
from evenquill.core.word_files.placing import placed_document
from evenquill.core.word_files.set_copy import examine_file

__all__ = ["examine_file", "placed_document", "read_word_file"]
