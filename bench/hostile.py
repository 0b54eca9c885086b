"""Generated requests, as many as asked for: no answer of 500 or more, none that the OpenAPI document doesn't tell of.

Every operation of the served document is asked with bodies, paths and queries made from its own schemas, most of them
bent: fields left out or unknown, other types, NaN, huge figures, NULs, nested lists, wrong content types, foreign
origins and hosts. Ids of records that exist are handed on, so that not all ends at "there is no such thing". Prints
how many of each status there were, and every answer that may not be.

Run: ``bin/pondus bench hostile [--requests 10000] [--seed 1]``.
"""

import argparse
import io
import json
import random
import string
from collections import Counter
from dataclasses import dataclass, field
from typing import Any
from unittest.mock import patch
from urllib.parse import quote
from uuid import uuid4

from flask.testing import FlaskClient

from pondus.demo.studio import fill
from pondus.running.scratch_studio import scratch_cluster
from pondus.store.database import migrate
from pondus.web import doors
from pondus.web.app import WebConfig, create_app

ODD: tuple[Any, ...] = (
    None, True, -1, 0, 1e308, -1e308, 10**30, "", " ", "\x00", "A\x00", "x" * 5_000, "🎻", "\ud800", [], {}, [[]], {"a":
    {"b": []}},
    "9999-12-31", "0001-01-01", "2026-02-30", "0001-01-01T00:30:00+02:00", "9999-12-31T23:59:59-12:00", "nan",
    "'; drop table x",
)  # fmt: skip
WRONG = '{"a": ', "[" * 3_000, "NaN", '{"id": NaN}', "null", "[]", '"x"', "\x00"


@dataclass
class Asking:
    """Makes requests from an OpenAPI document, remembers ids it was told of, and what came back."""

    document: dict[str, Any]
    rng: random.Random
    ids: list[str] = field(default_factory=list)
    statuses: Counter[int] = field(default_factory=Counter)
    wrong: list[str] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.operations = [
            (path, method, operation)
            for path, methods in self.document["paths"].items()
            for method, operation in methods.items()
            if method in ("get", "post", "put", "patch", "delete")
        ]

    def ask(self, client: FlaskClient) -> None:
        """One request."""
        path, method, operation = self.rng.choice(self.operations)
        for name in {each["name"] for each in operation.get("parameters", []) if each["in"] == "path"}:
            path = path.replace("{" + name + "}", quote(self._segment(name), safe=""))
        query = {each["name"]: self._odd_text() for each in operation.get("parameters", []) if each["in"] == "query"}
        if self.rng.random() < 0.5:
            query = {name: value for name, value in query.items() if self.rng.random() < 0.7}
        headers = self._headers()
        more = self._body(operation)
        answer = client.open(path, method=method.upper(), query_string=query, headers=headers, **more)
        self._look_at(path, method, operation, answer, more)

    def _look_at(self, path: str, method: str, operation: Any, answer: Any, sent: dict[str, Any]) -> None:
        self.statuses[answer.status_code] += 1
        told = operation["responses"].get(str(answer.status_code))
        body = answer.get_data()
        said = f"{method.upper()} {path[:80]} {str(sent)[:200]} -> {answer.status_code} {body[:160]!r}"
        if answer.status_code >= 500:
            self.wrong.append(said)
        elif told is None:
            self.wrong.append(f"undocumented: {said}")
        elif answer.status_code >= 400:
            error = (answer.get_json(silent=True) or {}).get("error", {})
            if not error.get("message") or "Traceback" in str(error):
                self.wrong.append(f"without a sentence: {said}")
        elif answer.mimetype not in told["content"]:
            self.wrong.append(f"undocumented type {answer.mimetype}: {said}")
        elif answer.mimetype == "application/json":
            self._remember(answer.get_json())

    def _remember(self, found: Any) -> None:
        if isinstance(found, dict):
            if isinstance(found.get("id"), str) and len(self.ids) < 500:
                self.ids.append(found["id"])
            for each in list(found.values())[:8]:
                self._remember(each)
        elif isinstance(found, list):
            for each in found[:8]:
                self._remember(each)

    def _segment(self, name: str) -> str:
        if name.endswith("_id"):
            return self.rng.choice(self.ids) if self.ids and self.rng.random() < 0.8 else str(uuid4())
        return self.rng.choice(["A", "G", "C", "E", "roll", "care", "svg", "pdf", "x", "%00", "..", "\x00", "🎻"])

    def _odd_text(self) -> str:
        known = ["violin", "cello", "A", "D,A", "true", "440", "bow", "a4", "seated", "1", "-1", "nan", "1e400"]
        return self.rng.choice([*known, "\x00", "x" * 300, "", "🎻"])

    def _headers(self) -> dict[str, str]:
        chance = self.rng.random()
        if chance < 0.03:
            return {"Host": "evil.example"}
        if chance < 0.06:
            return {"Origin": "http://evil.example"}
        return {"Origin": "http://localhost"} if chance < 0.4 else {}

    def _body(self, operation: Any) -> dict[str, Any]:
        content = operation.get("requestBody", {}).get("content", {})
        if not content:
            return {}
        if self.rng.random() < 0.05:
            kind = self.rng.choice(["application/json", "text/plain", "application/x-www-form-urlencoded"])
            return {"data": self.rng.choice(WRONG), "content_type": kind}
        if "application/json" in content:
            made = self._made(content["application/json"]["schema"], 0)
            return {"data": json.dumps(made), "content_type": "application/json"}
        form = {name: self._odd_text() for name in ("instrument", "string", "strings", "id", "a4", "target", "kind")}
        if self.rng.random() < 0.5:
            form["id"] = str(uuid4())
        junk = self.rng.choice(
            [b"", b"RIFF", b"name\nIda\n", b"label,kind\nKnot,violin\n=1,cello\n", bytes(range(256)), b"a," * 900]
        )
        return {
            "data": {**form, "file": (io.BytesIO(junk), self.rng.choice(["a.wav", "l.csv", "\x00", "x" * 300]))},
            "content_type": "multipart/form-data",
        }

    def _made(self, schema: Any, depth: int) -> Any:
        """A value of a schema, bent now and then."""
        if self.rng.random() < 0.06:
            return self.rng.choice(ODD)
        if "$ref" in schema:
            return self._made(self.document["components"]["schemas"][schema["$ref"].rsplit("/", 1)[1]], depth)
        for several in ("anyOf", "oneOf", "allOf"):
            if several in schema:
                return self._made(self.rng.choice(schema[several]), depth)
        if "const" in schema or "enum" in schema:
            return self.rng.choice([schema["const"]] if "const" in schema else schema["enum"])
        return self._plain(schema, depth)

    def _plain(self, schema: Any, depth: int) -> Any:
        kind = schema.get("type")
        if kind == "object":
            needed = schema.get("required", [])
            made = {
                name: self._made(of, depth + 1)
                for name, of in schema.get("properties", {}).items()
                if self.rng.random() < (0.95 if name in needed else 0.4)
            }
            if "additionalProperties" in schema and isinstance(schema["additionalProperties"], dict):
                made["A"] = self._made(schema["additionalProperties"], depth + 1)
            if self.rng.random() < 0.03:
                made[self.rng.choice(["extra", "\x00", ""])] = 1
            return made
        if kind == "array":
            return [self._made(schema.get("items", {}), depth + 1) for _ in range(self.rng.choice([0, 1, 2, 9]))]
        if kind in ("integer", "number"):
            return self.rng.choice([0, 1, 3, -12, 50, 440, 0.5, -0.25, 700, 701.5, 1e9, 2**63])
        if kind == "boolean":
            return self.rng.random() < 0.5
        if kind == "null":
            return None
        return self._text(schema)

    def _text(self, schema: Any) -> str:
        if schema.get("format") == "uuid":
            return self.rng.choice(self.ids) if self.ids and self.rng.random() < 0.5 else str(uuid4())
        if schema.get("format") in ("date", "date-time"):
            return self.rng.choice(
                ["2026-05-01", "2026-05-01T08:00:00Z", "2025-12-31T23:59:59+13:00", "1989-01-01", "3000-01-01"]
            )
        letters = "".join(self.rng.choices(string.printable, k=self.rng.choice([0, 1, 4, 90])))
        return self.rng.choice(["A", "G", "D", "C", "E", "A4", "A4 +5", "-12", "-12 3 0 -5", "Ida", "Europe/Berlin", letters])


def ask_all(url: str, *, requests: int, seed: int) -> Asking:
    """So many requests to an application on that database."""
    app = create_app(WebConfig(database_url=url))
    app.testing = False
    client = app.test_client()
    asking = Asking(client.get("/api/openapi.json").get_json(), random.Random(seed))
    # How often something may be asked for is not what is tried here.
    with patch.dict(doors.A_MINUTE, dict.fromkeys(doors.A_MINUTE, 10**9)):
        for _ in range(requests):
            asking.ask(client)
    app.extensions["pondus_engine"].dispose()
    return asking


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--requests", type=int, default=10_000)
    options.add_argument("--seed", type=int, default=1)
    given = options.parse_args()
    with scratch_cluster() as cluster:
        url = cluster.ensure_database("pondus")
        migrate(url)
        fill(url)
        asking = ask_all(url, requests=given.requests, seed=given.seed)
    print(f"{given.requests} requests: " + ", ".join(f"{count} of {code}" for code, count in sorted(asking.statuses.items())))
    print(f"{len(asking.wrong)} that may not be")
    for each in asking.wrong[:40]:
        print("  " + each)


if __name__ == "__main__":
    main()
