"""The application factory: API routes and the built front end."""

from __future__ import annotations

from pathlib import Path

from flask import Flask, Response, send_from_directory

from evenquill.desk import delivery, doubt_routes, intake, joining, rereading, rows
from evenquill.desk.endpoints import Api
from evenquill.desk.house import House
from evenquill.desk.reading import ReadingRoom

STATIC = Path(__file__).parent / "static"
MOST_BYTES = 1_100_000_000

# Nothing is fetched from elsewhere, and nothing of a source is ever run.
CONTENT_SECURITY = (
    "default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; "
    "object-src 'none'; base-uri 'none'; frame-ancestors 'none'"
)


def create_api(house: House, room: ReadingRoom) -> Api:
    """All endpoints, subject by subject."""
    api = Api()
    intake.add_routes(api, house, room)
    rereading.add_routes(api, house, room)
    joining.add_routes(api, house, room)
    rows.add_routes(api, house)
    doubt_routes.add_routes(api, house)
    delivery.add_routes(api, house)
    return api


def create_app(house: House, room: ReadingRoom) -> Flask:
    """The Flask application on top of a house and its reading room."""
    app = Flask("evenquill", static_folder=None)
    app.config["MAX_CONTENT_LENGTH"] = MOST_BYTES
    create_api(house, room).install(app)

    @app.get("/", defaults={"path": "index.html"})
    @app.get("/<path:path>")
    def front_end(path: str) -> Response:
        if path.startswith("api/"):
            return Response(
                '{"error":"missing","sentence":"There is no such address."}', 404, mimetype="application/json"
            )
        # Addresses of views are the front end's own business.
        found = path if (STATIC / path).is_file() else "index.html"
        response = send_from_directory(STATIC, found)
        response.headers["Cache-Control"] = (
            "no-cache" if found == "index.html" else "public, max-age=31536000, immutable"
        )
        return response

    @app.after_request
    def guard(response: Response) -> Response:
        response.headers.setdefault("Content-Security-Policy", CONTENT_SECURITY)
        response.headers.setdefault("X-Content-Type-Options", "nosniff")
        response.headers.setdefault("Referrer-Policy", "no-referrer")
        return response

    return app
