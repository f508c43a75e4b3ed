"""Whether the server does its work: for a supervisor that asks now and then."""

from __future__ import annotations

import shutil

import msgspec
from flask import Response

from evenquill.desk.context import AppContext
from evenquill.desk.endpoints import Api
from evenquill.desk.health import problems
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
        found = problems(context, runner)
        waiting, running = jobs.counts(context.store)
        answer = Health(found, waiting, running, shutil.disk_usage(context.data).free)
        return Response(msgspec.json.encode(answer), 503 if found else 200, mimetype="application/json")
