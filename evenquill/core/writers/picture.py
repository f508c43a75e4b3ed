"""Where writers get pictures from."""

from collections.abc import Callable

GetPicture = Callable[[str], bytes]
"""Gives the bytes of a picture by its SHA-256; raises KeyError where there is none."""
