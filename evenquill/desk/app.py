"""The application factory: API routes and the built front end."""

from __future__ import annotations

from collections.abc import Collection
from pathlib import Path

from flask import Flask, Response, send_from_directory
from werkzeug.exceptions import NotFound

from evenquill.desk import (
    delivery_routes,
    document_routes,
    doubt_routes,
    equation_routes,
    file_routes,
    find_routes,
    health_routes,
    look_routes,
    outcome_routes,
    people_routes,
    reading_routes,
    returned_routes,
    table_routes,
    tray_routes,
    typeface_routes,
)
from evenquill.desk.context import AppContext
from evenquill.desk.endpoints import Api
from evenquill.desk.guard import guard
from evenquill.desk.job_runner import JobRunner
from evenquill.desk.sign_in import SignIn

STATIC = Path(__file__).parent / "static"
MOST_BYTES = 1_100_000_000


def create_api(context: AppContext, runner: JobRunner, sign_in: SignIn) -> Api:
    """All endpoints, subject by subject."""
    api = Api()
    tray_routes.add_routes(api, context, runner)
    reading_routes.add_routes(api, context, runner)
    file_routes.add_routes(api, context, runner)
    document_routes.add_routes(api, context)
    doubt_routes.add_routes(api, context)
    delivery_routes.add_routes(api, context)
    health_routes.add_routes(api, context, runner)
    people_routes.add_routes(api, context, sign_in)
    equation_routes.add_routes(api, context)
    table_routes.add_routes(api, context)
    find_routes.add_routes(api, context)
    outcome_routes.add_routes(api, context)
    returned_routes.add_routes(api, context)
    typeface_routes.add_routes(api, context)
    look_routes.add_routes(api, context)
    return api


def create_app(
    context: AppContext, runner: JobRunner, names: Collection[str] = (), *, must_sign_in: bool = False
) -> Flask:
    """The Flask application for a data folder and the runner of its jobs; ``names`` are those that the server answers to."""
    app = Flask("evenquill", static_folder=None)
    app.config["MAX_CONTENT_LENGTH"] = MOST_BYTES
    sign_in = SignIn(lambda: context.store, required=must_sign_in)
    create_api(context, runner, sign_in).install(app)
    guard(app, names)
    sign_in.install(app)

    @app.get("/", defaults={"path": "index.html"})
    @app.get("/<path:path>")
    def front_end(path: str) -> Response:
        if path.startswith("api/"):
            raise NotFound
        # Addresses of views are the front end's own business.
        found = path if (STATIC / path).is_file() else "index.html"
        response = send_from_directory(STATIC, found)
        response.headers["Cache-Control"] = (
            "no-cache" if found == "index.html" else "public, max-age=31536000, immutable"
        )
        return response

    return app
