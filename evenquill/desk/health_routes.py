"""Whether the server does its work: for a supervisor that asks now and then."""

from __future__ import annotations

import shutil

import msgspec
from flask import Response

from evenquill.desk.context import LEAST_FREE, AppContext
from evenquill.desk.endpoints import Api
from evenquill.desk.job_runner import JobRunner
from evenquill.store import jobs


class Health(msgspec.Struct, frozen=True):
    """``problems`` are what needs a person, in sentences; ``waiting`` and ``running`` are jobs, ``free`` bytes of the disk."""

    problems: tuple[str, ...]
    waiting: int
    running: int
    free: int


def add_routes(api: Api, context: AppContext, runner: JobRunner) -> None:
    @api.route("GET", "/api/health", returns=Health)
    def health() -> Response:
        """Whether all is well: 200, or 503 where something needs a person."""
        free = shutil.disk_usage(context.data).free
        problems = []
        if free < LEAST_FREE:
            problems.append(f"Only {free // 1_000_000} MB of the disk are left.")
        if not runner.is_working:
            problems.append("Documents are no longer read; start the server anew.")
        if runner.failing is not None:
            problems.append(f"No document is read at the moment. {runner.failing}")
        waiting, running = jobs.counts(context.store)
        answer = Health(tuple(problems), waiting, running, free)
        return Response(msgspec.json.encode(answer), 503 if problems else 200, mimetype="application/json")
