"""What every request passes and every answer bears: nobody gets in by way of another page, and nothing is fetched from elsewhere.

A page that a browser has open may send requests to any address, this server's too. It cannot hide where it comes from (``Origin``,
``Sec-Fetch-Site``), nor, where its own name was made to lead here (DNS rebinding), under which name it asks (``Host``).
"""

from __future__ import annotations

import ipaddress
import re
from collections.abc import Collection
from urllib.parse import urlsplit

from flask import Flask, Response, request

from evenquill.desk.endpoints import ApiError

_HOST = re.compile(r"(\[[^\]]*\]|[^:\[\]]*)(?::\d*)?")

READING_METHODS = frozenset({"GET", "HEAD", "OPTIONS"})
"""Methods that change nothing."""

OWN = frozenset({"same-origin", "none"})
"""Where a request comes from, as browsers say, that is made by our own page or by hand."""

# Nothing is fetched from elsewhere, and nothing of a source is ever run.
CONTENT_SECURITY = (
    "default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; "
    "object-src 'none'; base-uri 'none'; frame-ancestors 'none'"
)


def guard(app: Flask, names: Collection[str]) -> None:
    """Lets requests to addresses (numbers), to ``localhost`` and to the ``names`` pass, and changes that our own page asks for."""
    known = {name.casefold() for name in (*names, "localhost")}

    @app.before_request
    def check() -> None:
        host = host_of(request.headers.get("Host", ""))
        if host not in known and not _is_ip_address(host):
            raise ApiError(
                403, "host", f"This server does not answer to the name “{host}”. Start it with --name if it is to."
            )
        if request.method in READING_METHODS:
            return
        origin = request.headers.get("Origin")
        foreign = origin is not None and urlsplit(origin).netloc != request.headers.get("Host")
        if foreign or request.headers.get("Sec-Fetch-Site", "none") not in OWN:
            raise ApiError(403, "origin", "Changes are only taken from Even Quill's own pages.")

    @app.after_request
    def protect(response: Response) -> Response:
        response.headers.setdefault("Content-Security-Policy", CONTENT_SECURITY)
        response.headers.setdefault("X-Content-Type-Options", "nosniff")
        response.headers.setdefault("Referrer-Policy", "no-referrer")
        response.headers.setdefault("Cross-Origin-Resource-Policy", "same-origin")
        if response.mimetype == "application/json":
            response.headers.setdefault("Cache-Control", "no-store")
        return response


def host_of(header: str) -> str:
    """The name or the number in a Host header, without its port."""
    match = _HOST.fullmatch(header)
    return (match[1] if match else header).casefold().rstrip(".")


def _is_ip_address(host: str) -> bool:
    """Whether a host is an address, which no other page's name can be."""
    try:
        ipaddress.ip_address(host.strip("[]"))
    except ValueError:
        return False
    return True
