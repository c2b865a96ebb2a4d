"""A fault in an input: where it is, what is wrong, what would be right."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from difflib import get_close_matches
from typing import Any

from pydantic import BaseModel

from pronostico.record.labels import label_of, unit_of

Step = str | int


@dataclass(frozen=True, slots=True, order=True)
class Fault:
    """One fault, with its JSON path ('$.visits[2].usage')."""

    path: str
    message: str

    def __str__(self) -> str:
        return f"{self.path}: {self.message}"

    @property
    def sentence(self) -> str:
        """The fault as a sentence, with the field's name on screen."""
        label = label_of(self.path)
        return f"{label}: {self.message}" if label else self.message


def json_path(steps: Iterable[Step]) -> str:
    """A JSON path from its steps.

    >>> json_path(["visits", 2, "usage"])
    '$.visits[2].usage'
    """
    return "$" + "".join(f"[{step}]" if isinstance(step, int) else f".{step}" for step in steps)


def _shown(value: object) -> str:
    text = repr(value) if not isinstance(value, str) else f"'{value}'"
    return text if len(text) <= 60 else text[:57] + "..."


def _field_names(model: type[BaseModel], steps: tuple[Step, ...]) -> list[str]:
    """Names of the fields that a model has at a place, as far as the place can be followed."""
    current: type[BaseModel] | None = model
    for step in steps:
        if current is None or isinstance(step, int):
            continue
        info = current.model_fields.get(step)
        current = _model_within(info.annotation) if info is not None else None
    return list(current.model_fields) if current is not None else []


def _model_within(annotation: object) -> type[BaseModel] | None:
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        return annotation
    for argument in getattr(annotation, "__args__", ()):
        inner = _model_within(argument)
        if inner is not None:
            return inner
    return None


def _unknown_field(model: type[BaseModel], steps: tuple[Step, ...]) -> str:
    known = _field_names(model, steps[:-1])
    near = get_close_matches(str(steps[-1]), known, n=1)
    hint = f"; did you mean '{near[0]}'?" if near else f"; known here: {', '.join(known)}" if known else ""
    return f"unknown field{hint}"


_NUMBER = "is {got}, must be a number"
_NAME = "is {got}, must be a name of 1 to 80 characters, without slashes"
_OBJECT = "is {got}, must be an object"
_DATE = "is {got}, must be a date such as 2026-01-31"
_MESSAGES = {
    "missing": "is missing",
    "extra_forbidden": "unknown field",
    "literal_error": "is {got}, must be {expected}",
    "greater_than": "is {got}, must be over {gt:g}{unit}",
    "greater_than_equal": "is {got}, must be {ge:g}{unit} or more",
    "less_than_equal": "is {got}, must be at most {le:g}{unit}",
    "too_short": "must have at least {min_length} entry",
    "string_pattern_mismatch": _NAME,
    "string_too_short": _NAME,
    "string_too_long": "is {got}, must have at most {max_length} characters",
    "finite_number": "is {got}, must be a finite number",
    "float_type": _NUMBER,
    "float_parsing": _NUMBER,
    "int_type": _NUMBER,
    "int_parsing": _NUMBER,
    "string_type": "is {got}, must be text",
    "model_type": _OBJECT,
    "model_attributes_type": _OBJECT,
    "dict_type": _OBJECT,
    "list_type": "is {got}, must be a list",
    "date_type": _DATE,
    "date_parsing": _DATE,
    "date_from_datetime_parsing": _DATE,
    "value_error": "is {got}, {error}",
}


def plain_message(error: Mapping[str, Any]) -> str:
    """A validation error in plain words: what stands there, and what would be right."""
    template = _MESSAGES.get(error["type"])
    got = _shown(error.get("input"))
    if template is None:
        return f"is {got}: {str(error['msg']).lower()}"
    field = next((step for step in reversed(error.get("loc", ())) if isinstance(step, str)), "")
    unit = unit_of(field)
    return template.format(got=got, unit=f" {unit}" if unit else "", **error.get("ctx", {}))


def fault_from_pydantic(model: type[BaseModel], error: Mapping[str, Any]) -> Fault:
    """A validation error of a model as a fault with its path."""
    steps: tuple[Step, ...] = error["loc"]
    if error["type"] == "extra_forbidden":
        return Fault(json_path(steps), _unknown_field(model, steps))
    return Fault(json_path(steps), plain_message(error))
