"""What every contract shares: strict types, no unknown fields, no NaN; and one way to say what is wrong."""

from typing import Annotated, Any, Self
from uuid import UUID

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from pondus.core.errors import BadInput

ClientId = Annotated[UUID, Field(strict=False)]
"""An id made by the client, so that a request sent twice is stored once."""


class Contract(BaseModel):
    """A request: unknown fields, wrong types and NaN are refused."""

    model_config = ConfigDict(extra="forbid", strict=True, allow_inf_nan=False)

    @classmethod
    def model_validate(cls, obj: Any, **options: Any) -> Self:
        """As pydantic's, but raises BadInput with a sentence for people."""
        try:
            return super().model_validate(obj, **options)
        except ValidationError as error:
            raise refused(error) from None

    @classmethod
    def model_validate_json(cls, json_data: str | bytes | bytearray, **options: Any) -> Self:
        """As pydantic's, but raises BadInput with a sentence for people."""
        try:
            return super().model_validate_json(json_data, **options)
        except ValidationError as error:
            raise refused(error) from None


class Result(BaseModel):
    """A result, built from the core's dataclasses."""

    model_config = ConfigDict(from_attributes=True)


_SENTENCES = {
    "extra_forbidden": "{field} is not a field Pondus knows; leave it out or check its spelling.",
    "missing": "{field} is missing; give it.",
    "finite_number": "{field} = {value} is not a number that can be meant; give a plain figure.",
    "model_type": "{field} must be a JSON object, fields in braces.",
    "json_invalid": "This is not JSON: {message}. Send one JSON object.",
}


def refused(error: ValidationError) -> BadInput:
    """Turn the first thing pydantic found into a sentence that names the field, the value and the way out."""
    first = error.errors(include_url=False)[0]
    field = _field_name(first["loc"])
    value = _shown(first.get("input"))
    message = first["msg"]
    default = "{field} = {value} can't be used: {message}."
    sentence = _SENTENCES.get(first["type"], default if field else "{message}.")
    if first["type"] == "literal_error":
        sentence = "{field} = {value} is not one of the choices: {message}."
        message = message.removeprefix("Input should be ")
    return BadInput(field or "request", sentence.format(field=field or "The request", value=value, message=message))


def _field_name(location: tuple[int | str, ...]) -> str:
    """A dotted path without the names pydantic gives to the arms of a union."""
    return ".".join(
        str(part) for part in location if not (str(part).endswith(("Contract", "FifthWidth")) or "[" in str(part))
    )


def _shown(value: Any) -> str:
    text = repr(value) if not isinstance(value, str) else f"“{value}”"
    return text if len(text) <= 60 else text[:57] + "..."
