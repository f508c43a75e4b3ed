"""``python -m evenquill`` is the command ``evenquill``."""

import sys

from evenquill.cli import main

sys.exit(main())
