"""``python -m evenquill`` is the command ``evenquill``."""

import sys


def main() -> int:
    """The command; loaded only when it is run, since worker processes look into the module that was started."""
    from evenquill.cli import main as run

    return run()


if __name__ == "__main__":
    sys.exit(main())
