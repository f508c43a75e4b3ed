"""Corrections kept through a new reading: a three-way merge of what was read first, what the clerk made of it, and what is read now."""

from evenquill.core.rebase.identity import keep_ids, with_new_ids
from evenquill.core.rebase.rebase import Rebased, rebase_corrections

__all__ = ["Rebased", "keep_ids", "rebase_corrections", "with_new_ids"]
