"""What every writer and every view needs to know of a document, worked out once: numbering, notes, captions, contents, links, sections."""

from evenquill.core.resolve.resolved import Resolved, resolve

__all__ = ["Resolved", "resolve"]
