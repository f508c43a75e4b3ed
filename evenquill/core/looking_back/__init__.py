"""The result looked back at: its pages are set, and what is seen of each row is compared with what its source shows."""

from evenquill.core.looking_back.looks import LookDoubt, LookedBack, LookKind

__all__ = ["LookDoubt", "LookKind", "LookedBack"]
