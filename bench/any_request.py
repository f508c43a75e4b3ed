"""Requests made by chance from the API's own description: ``python bench/any_request.py [times] [seed] [part of a path]``.

Values are of the kinds that are described, and now and then of others: huge, empty, nested, of another kind, with control characters. Each
answer has to be one of its own: never an error of the server, and a sentence wherever something is refused.
"""

from __future__ import annotations

import json
import random
import re
import sys
from collections import Counter
from pathlib import Path
from typing import Any

from application import application
from long_document import make

from evenquill.desk.describe import described_api
from evenquill.desk.endpoints import Endpoint

TIMES = 5000
ROWS = 200
SPECIFICATION = Path(__file__).parent.parent / "docs" / "openapi.json"

HEALTH = "/api/health"
"""Says truly that nothing is read here."""

ODD = 0.03
"""Share of values that are of another kind than is described."""

ODD_VALUES: tuple[Any, ...] = (
    None, True, -1, 0, 2**63, -(2**65), 1e308, float("nan"), float("inf"), "", "x" * 5000, "\x00", "\ufffc", "１２", "b1",
    "../../etc/passwd", "javascript:alert(1)", [], {}, [[[[[[[[]]]]]]]], "a\nb\tc", "#" * 300,
)  # fmt: skip
STRINGS = ("b1", "b2", "b3", "b7", "long", "eng", "paragraph", "x", "", "0", "https://a.example", "5f" * 32, "a\tb")
INTEGERS = (0, 1, 2, 3, 5, 10, -1, 2**31, 2**63 - 1, 10**30)
NUMBERS = (0.0, 1.0, -1.0, 50.5, 1e9, 1e300)
NAMES = {
    "document": ("long", "long", "long", "nope"),
    "page": ("1", "2", "0", "-1", "x", "１", "9" * 20),
    "block": ("b1", "b2", "zz"),
}
PARAMETERS = ("1", "0", "-1", "x", "1e9", "nan", "9" * 20, "inf", "١", "b1", "came", "")


class Maker:
    """Makes values for schemas."""

    def __init__(self, schemas: dict[str, Any], chance: random.Random) -> None:
        self._schemas = schemas
        self._chance = chance

    def value(self, schema: dict[str, Any], depth: int = 0) -> Any:
        pick = self._chance.choice
        if self._chance.random() < ODD or depth > 9:
            return pick(ODD_VALUES)
        if "$ref" in schema:
            return self.value(self._schemas[schema["$ref"].rpartition("/")[2]], depth + 1)
        if either := schema.get("anyOf") or schema.get("oneOf"):
            return self.value(pick(either), depth + 1)
        if "enum" in schema:
            return pick(schema["enum"])
        match schema.get("type"):
            case "object":
                wanted = [
                    (name, one)
                    for name, one in schema.get("properties", {}).items()
                    if name in schema.get("required", ()) or self._chance.random() < 0.5
                ]
                return {name: self.value(one, depth + 1) for name, one in wanted}
            case "array":
                if "prefixItems" in schema:
                    return [self.value(one, depth + 1) for one in schema["prefixItems"]]
                return [self.value(schema["items"], depth + 1) for _ in range(pick((0, 1, 1, 2)))]
            case "string":
                return pick(STRINGS)
            case "integer":
                return pick(INTEGERS)
            case "number":
                return pick(NUMBERS)
            case "boolean":
                return self._chance.random() < 0.5
        return pick(ODD_VALUES)


def main(times: int, seed: int, part: str) -> int:
    chance = random.Random(seed)
    specification = json.loads(SPECIFICATION.read_text(encoding="utf-8"))
    maker = Maker(specification["components"]["schemas"], chance)
    answers: Counter[int] = Counter()
    faults: dict[str, str] = {}
    with application() as (context, _, client):
        make(context, "long", ROWS)
        endpoints = [
            one
            for one in described_api().endpoints
            if part in one.path and one.method != "DELETE" and one.path != HEALTH
        ]
        for _ in range(times):
            endpoint = chance.choice(endpoints)
            path = re.sub(
                r"\{(\w+)\}", lambda name: chance.choice(NAMES.get(name[1], STRINGS[5:])) or "x", endpoint.path
            )
            query = {name: chance.choice(PARAMETERS) for name in endpoint.query}
            body = _body(endpoint, specification, maker, chance)
            if isinstance(body, dict) and "revision" in body and chance.random() < 0.8:
                body["revision"] = client.get("/api/documents/long").json["document"]["revision"]
            data = body if isinstance(body, bytes) else json.dumps(body)
            media = None if isinstance(body, bytes) else "application/json"
            answer = client.open(path, method=endpoint.method, query_string=query, data=data, content_type=media)
            answers[answer.status_code] += 1
            said = answer.status_code < 400 or (answer.is_json and answer.json.get("sentence", "").endswith("."))
            if answer.status_code >= 500 or not said:
                faults.setdefault(f"{answer.status_code} {endpoint.method} {endpoint.path}", f"{path} {data!r}"[:400])
    print(f"{times} requests; answers: {dict(sorted(answers.items()))}")
    for where, what in faults.items():
        print(f"   {where}: {what}")
    print(f"faults: {len(faults)}  (wanted: 0)")
    return 1 if faults else 0


def _body(endpoint: Endpoint, specification: dict[str, Any], maker: Maker, chance: random.Random) -> Any:
    if endpoint.body is None:
        return chance.choice((b"", b"x", b"%PDF-1.4 x", b"\x00" * 50))
    described = specification["paths"][endpoint.path][endpoint.method.lower()]["requestBody"]
    return maker.value(described["content"]["application/json"]["schema"])


if __name__ == "__main__":
    given = [*sys.argv[1:], "", "", ""]
    sys.exit(main(int(given[0] or TIMES), int(given[1] or 1), given[2]))
