"""What numbers of equations look like."""

from __future__ import annotations

import re

NUMBER = re.compile(r"[(\[](?:[A-Z]\.?)?\d+(?:[.\-–]\d+)*[a-z′']?[)\]]")
"""A number in brackets, maybe with a letter or the numbers of chapters before it, and a letter or a prime behind it."""
