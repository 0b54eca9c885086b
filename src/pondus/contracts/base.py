"""What every contract shares: strict types, no unknown fields, no NaN; and one way to say what is wrong."""

import json
from dataclasses import is_dataclass
from typing import Annotated, Any, Generic, Self, TypeVar
from uuid import UUID

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, RootModel, ValidationError, WithJsonSchema, model_validator
from pydantic.json_schema import GenerateJsonSchema

from pondus.core.errors import BadInput
from pondus.core.judgement.approaches import APPROACHES, check_approach

ClientId = Annotated[UUID, Field(strict=False)]
"""An id made by the client, so that a request sent twice is stored once."""
ApproachName = Annotated[str, AfterValidator(check_approach), WithJsonSchema({"type": "string", "enum": list(APPROACHES)})]
"""One of the core's approaches, whichever there are."""


class Contract(BaseModel):
    """A request: unknown fields, wrong types and NaN are refused."""

    model_config = ConfigDict(extra="forbid", strict=True, allow_inf_nan=False)

    @model_validator(mode="after")
    def _no_nul(self) -> Self:
        """A character that no database keeps is refused wherever it stands."""
        for field in self.model_fields_set:
            if _holds_nul(getattr(self, field)):
                raise BadInput(field, f"{field} holds a character that can't be kept; type it anew.")
        return self

    @classmethod
    def model_validate(cls, obj: Any, **options: Any) -> Self:
        """As pydantic's, but raises BadInput with a sentence for people. What came as JSON is read as JSON: strictly, and
        into the core's own records.
        """
        try:
            text = _as_json(obj)
            return super().model_validate(obj, **options) if text is None else super().model_validate_json(text, **options)
        except ValidationError as error:
            raise refused(error) from None

    @classmethod
    def model_validate_json(cls, json_data: str | bytes | bytearray, **options: Any) -> Self:
        """As pydantic's, but raises BadInput with a sentence for people."""
        try:
            return super().model_validate_json(json_data, **options)
        except ValidationError as error:
            raise refused(error) from None


def _as_json(told: Any) -> str | None:
    """What came as JSON, as text again; None: it holds what JSON doesn't."""
    try:
        return json.dumps(told)
    except TypeError:
        return None


def _holds_nul(value: Any) -> bool:
    """Whether a text, or one within a list or an object, holds a NUL. Objects of contracts look themselves."""
    if isinstance(value, str):
        return "\x00" in value
    if is_dataclass(value):
        return any(map(_holds_nul, vars(value).values()))
    if isinstance(value, dict):
        return any(_holds_nul(key) or _holds_nul(item) for key, item in value.items())
    return isinstance(value, list | tuple) and any(_holds_nul(item) for item in value)


class AllThere(GenerateJsonSchema):
    """The schema of what is sent: every field of it is there."""

    def field_is_required(self, *_: Any, **__: Any) -> bool:
        """Whatever has a default in the core is sent all the same."""
        return True


class Sent(BaseModel):
    """What is sent, not taken."""

    @classmethod
    def model_json_schema(cls, *args: Any, **options: Any) -> dict[str, Any]:
        """As pydantic's, of what is sent."""
        return super().model_json_schema(*args, **{**options, "mode": "serialization", "schema_generator": AllThere})


class Result(Sent):
    """A result, made of the core's dataclasses: where one is told as it is, it stands here as the type."""

    model_config = ConfigDict(from_attributes=True)

    @classmethod
    def filled(cls, *sources: object, **own: Any) -> Self:
        """One with what is told by name (``own``), and for the rest what the first of the sources has under that name."""
        for name in cls.model_fields.keys() - own.keys():
            there = (getattr(source, name, _NOWHERE) for source in sources)
            value = next((value for value in there if value is not _NOWHERE), _NOWHERE)
            if value is not _NOWHERE:
                own[name] = value
        return cls.model_validate(own)


_NOWHERE = object()
Of = TypeVar("Of")


class ResultOf(Sent, RootModel[Of], Generic[Of]):
    """A result that is one of the core's dataclasses, whole; it is named as that is."""

    @classmethod
    def model_parametrized_name(cls, params: tuple[Any, ...]) -> str:
        """Its name in the schema."""
        return str(params[0].__name__)


_SENTENCES = {
    "extra_forbidden": "{field} is not a field Pondus knows; leave it out or check its spelling.",
    "missing": "{field} is missing; give it.",
    "finite_number": "{field} = {value} is not a usable number; give a plain figure.",
    "dataclass_type": "{field} must be a JSON object, fields in braces.",
    "unexpected_keyword_argument": "{field} is not a field Pondus knows; leave it out or check its spelling.",
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
    return ".".join(str(part) for part in location if not (str(part).endswith(("Contract", "FifthWidth")) or "[" in str(part)))


def _shown(value: Any) -> str:
    text = repr(value) if not isinstance(value, str) else f"“{value}”"
    return text if len(text) <= 60 else text[:57] + "..."
