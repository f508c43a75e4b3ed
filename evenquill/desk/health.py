"""What needs a person: looked at by a supervisor, and said on every screen."""

from __future__ import annotations

import shutil

from evenquill.desk.context import LEAST_FREE, AppContext
from evenquill.desk.job_runner import JobRunner

STEP = 100_000_000
"""Bytes in which what is left of the disk is told."""


def problems(context: AppContext, runner: JobRunner) -> tuple[str, ...]:
    """What is amiss with the server, in sentences."""
    found = []
    free = shutil.disk_usage(context.data).free
    if free < LEAST_FREE:
        # In steps, so that it is not another message every second.
        left = (free // STEP + 1) * STEP // 1_000_000
        found.append(f"Less than {left} MB of the disk are left. Delete documents that are done with, or make room.")
    if not runner.is_working:
        found.append("Documents are no longer read; start the server anew.")
    if runner.failing is not None:
        found.append(f"No document is read at the moment. {runner.failing}")
    return tuple(found)
