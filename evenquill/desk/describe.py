"""The API described from its endpoints: OpenAPI 3.1 for the front end's types, Markdown for people.

``python -m evenquill.desk.describe ROOT`` writes ``docs/openapi.json`` and ``docs/api.md`` below ROOT.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any, cast

import msgspec

from evenquill.core.model import Marks, Sides
from evenquill.desk.app import create_api
from evenquill.desk.context import AppContext
from evenquill.desk.endpoints import Api, Endpoint, Problem
from evenquill.desk.job_runner import JobRunner
from evenquill.desk.sign_in import SignIn
from evenquill.desk.tray_routes import Duplicate

INTRODUCTION = """# API

Made from the endpoints by `script/api`; do not edit by hand. Bodies and answers are JSON unless said otherwise. Errors have
the status of their kind and a body with `error`, a short name for programs, and `sentence`, for the clerk.

Coordinates are points from the top left of the page as it is looked at. A document changes only by operations, each sent with
the revision that it was made against; a stale revision gets 409 and `error: "stale"`, and nothing is changed. An answer to
an operation says which rows gave way to which, so that a window need not be read anew. Rows are read by window, so that a
document of a thousand pages opens as fast as one of three.

Requests that change something bear the header `X-Evenquill-Token` with the token that `GET /api/session` gives; without it they
get 403 and `error: "token"`: ask for a new one, and try again. Where people have to sign in, everything else gets 401 and
`error: "sign-in"` until they have.

"""


def described_api() -> Api:
    """The endpoints, without anything behind them: handlers ask for it only when they are called."""
    return create_api(cast(AppContext, None), cast(JobRunner, None), cast(SignIn, None))


def openapi(api: Api) -> dict[str, Any]:
    """The OpenAPI 3.1 document."""
    types = [kind for endpoint in api.endpoints for kind in (endpoint.body, endpoint.returns) if kind is not None]
    _, components = msgspec.json.schema_components(
        [*types, Problem, Duplicate], ref_template="#/components/schemas/{name}"
    )
    for flags in (Marks, Sides):
        components[flags.__name__] = {"type": "integer", "description": (flags.__doc__ or "") + " Flags, added up."}
    paths: dict[str, dict[str, Any]] = {}
    for endpoint in api.endpoints:
        paths.setdefault(endpoint.path, {})[endpoint.method.lower()] = _operation(endpoint)
    return {
        "openapi": "3.1.0",
        "info": {"title": "Even Quill", "version": "1"},
        "paths": paths,
        "components": {"schemas": components},
    }


def _operation(endpoint: Endpoint) -> dict[str, Any]:
    names = [part[1:-1] for part in endpoint.path.split("/") if part.startswith("{")]
    parameters = [{"name": name, "in": "path", "required": True, "schema": {"type": "string"}} for name in names]
    parameters += [
        {"name": name, "in": "query", "description": text, "schema": {"type": "string"}}
        for name, text in endpoint.query.items()
    ]
    answer: dict[str, Any] = {"description": "done"}
    if endpoint.returns is not None:
        answer["content"] = {"application/json": {"schema": _schema(endpoint.returns)}}
    operation: dict[str, Any] = {"summary": endpoint.summary, "parameters": parameters, "responses": {"200": answer}}
    if endpoint.body is not None:
        operation["requestBody"] = {"content": {"application/json": {"schema": _schema(endpoint.body)}}}
    return operation


def _schema(kind: Any) -> dict[str, Any]:
    (schema,), _ = msgspec.json.schema_components([kind], ref_template="#/components/schemas/{name}")
    return schema


def markdown(api: Api) -> str:
    """The same for people: a list of endpoints, then the types."""
    lines = [INTRODUCTION]
    for endpoint in api.endpoints:
        lines.append(f"## {endpoint.method} {endpoint.path}\n\n{endpoint.summary}\n\n")
        lines += [f"- query `{name}`: {text}\n" for name, text in endpoint.query.items()]
        if endpoint.body is not None:
            lines.append(f"- body: {_link(_schema(endpoint.body))}\n")
        if endpoint.returns is not None:
            lines.append(f"- answer: {_link(_schema(endpoint.returns))}\n")
        lines.append("\n")
    lines.append("# Types\n\n")
    for name, schema in sorted(openapi(api)["components"]["schemas"].items()):
        lines.append(f"## {name}\n\n{schema.get('description', '').strip()}\n\n")
        for field, kind in schema.get("properties", {}).items():
            needed = "" if field in schema.get("required", ()) else ", may be left out"
            lines.append(f"- `{field}`: {_link(kind)}{needed}\n")
        lines.append("\n")
    return "".join(lines).rstrip() + "\n"


def _link(schema: dict[str, Any]) -> str:
    if "$ref" in schema:
        name = schema["$ref"].rsplit("/", 1)[-1]
        return f"[{name}](#{name.lower()})"
    if "anyOf" in schema:
        return " or ".join(_link(choice) for choice in schema["anyOf"])
    if "enum" in schema:
        return " or ".join(f"`{value}`" for value in schema["enum"])
    if schema.get("type") == "array":
        return f"list of {_link(schema['items'])}" if isinstance(schema.get("items"), dict) else "list"
    return str(schema.get("type", "anything"))


def main(root: Path) -> None:
    api = described_api()
    (root / "docs" / "openapi.json").write_text(json.dumps(openapi(api), indent=1, ensure_ascii=False) + "\n")
    (root / "docs" / "api.md").write_text(markdown(api))


if __name__ == "__main__":
    main(Path(sys.argv[1]))
