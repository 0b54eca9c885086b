"""The OpenAPI document says every status that can be sent, and the shape that every refusal has.

A view's own docstring names what it raises of itself; besides, whatever changes or reads the studio may raise Conflict (409)
and StoreAway (503). For callers these are statuses: errors' names are left out of what the document says of an operation.
"""

import re
from typing import Any

from apiflask import APIFlask

REFUSALS = {
    "400": "Incomplete, garbled, or nested too deep.",
    "401": "Nobody is signed in on this device, or not with that passphrase or code.",
    "403": "Asked under a name that isn't Pondus's own, by a page of another origin, or by a device that may not.",
    "404": "There is no such thing.",
    "405": "That can't be done at this address.",
    "408": "It came in too slowly, or broke off.",
    "409": "The id is taken by something else, or someone else did it at this very moment.",
    "413": "Larger than can be taken.",
    "415": "Neither JSON nor, where files are meant, a form.",
    "421": "Meant for another studio than the one that answers.",
    "422": "A field holds something that can't be right.",
    "429": "Asked for too often in this minute.",
    "500": "Something unforeseen; what was saved is safe.",
    "503": "The database doesn't answer just now.",
}
PROBLEM = {
    "type": "object",
    "title": "Problem",
    "required": ["error"],
    "properties": {
        "error": {
            "type": "object",
            "required": ["message", "field"],
            "properties": {"message": {"type": "string"}, "field": {"type": ["string", "null"]}},
        }
    },
}
RAISES = re.compile(r"\s*Raises [A-Z][^.]*\.")
SENT_AS = {"type": "string", "format": "binary"}


def file_of(*types: str, said: str) -> dict[int, Any]:
    """What a view that answers with a file documents, for its ``doc(responses=...)``."""
    return {200: {"description": said, "content": {kind: {"schema": SENT_AS} for kind in types}}}


def describe_refusals(app: APIFlask) -> None:
    """Add them to every operation."""

    @app.spec_processor
    def add(spec: Any) -> Any:
        spec["components"].setdefault("schemas", {})["Problem"] = PROBLEM
        spec["components"]["responses"] = {
            f"Refused{status}": {
                "description": said,
                "content": {"application/json": {"schema": {"$ref": "#/components/schemas/Problem"}}},
            }
            for status, said in REFUSALS.items()
        }
        for operations in spec["paths"].values():
            for method, operation in operations.items():
                if method in ("get", "post", "put", "patch", "delete"):
                    for said in ("summary", "description"):
                        if said in operation:
                            operation[said] = RAISES.sub("", operation[said])
                    for status in REFUSALS:
                        operation["responses"][status] = {"$ref": f"#/components/responses/Refused{status}"}
        return spec
