"""The application on a data folder of its own, asked without a network."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import NamedTuple

from flask.testing import FlaskClient

from evenquill.core.reading.pages import PagePool
from evenquill.desk.app import create_app
from evenquill.desk.context import AppContext
from evenquill.desk.interactive import InteractivePool
from evenquill.desk.job_runner import JobRunner
from evenquill.desk.outcomes import SettingPools


class Application(NamedTuple):
    """``runner`` has not been started: nothing goes on beside what is asked."""

    context: AppContext
    runner: JobRunner
    client: FlaskClient


@contextmanager
def application() -> Iterator[Application]:
    with (
        tempfile.TemporaryDirectory() as folder,
        PagePool(1) as pool,
        InteractivePool() as drawing,
        InteractivePool() as region_reading,
        SettingPools() as setting,
    ):
        context = AppContext(Path(folder), pages=pool, drawing=drawing, region_reading=region_reading, setting=setting)
        runner = JobRunner(context)
        client = create_app(context, runner).test_client()
        client.environ_base["HTTP_X_EVENQUILL_TOKEN"] = client.get("/api/session").json["token"]
        yield Application(context, runner, client)
