"""Layout: the evidence of a page -> its text and pictures in reading order, running heads and notes told apart."""

from evenquill.core.layout.furniture import Furniture, find_furniture
from evenquill.core.layout.page import Column, PageLayout, lay_out

__all__ = ["Column", "Furniture", "PageLayout", "find_furniture", "lay_out"]
