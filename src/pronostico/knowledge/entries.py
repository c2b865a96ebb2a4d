"""Reading a knowledge file: TOML of entries of one shape; a fault names the file and the entry."""

import tomllib
from importlib.resources import files
from typing import TypeVar

from pydantic import BaseModel, ConfigDict, ValidationError

from pronostico.core.errors import KnowledgeFault

Model = TypeVar("Model", bound=BaseModel)


class Entry(BaseModel):
    """Base of what a file holds: no field that is not expected, nothing changed after reading."""

    model_config = ConfigDict(extra="forbid", frozen=True)


def parse_file(name: str, text: str, model: type[Model]) -> Model:
    """The text of a file as its model.

    Raises:
        KnowledgeFault: it is not TOML, or an entry is not of the expected shape.
    """
    try:
        return model.model_validate(tomllib.loads(text))
    except tomllib.TOMLDecodeError as error:
        raise KnowledgeFault(f"{name}: {error}") from error
    except ValidationError as error:
        faults = "; ".join(
            f"{'.'.join(str(step) for step in fault['loc'])}: {fault['msg']}" for fault in error.errors()
        )
        raise KnowledgeFault(f"{name}: {faults}") from error


def file_text(name: str) -> str:
    """The text of a file that ships with the application."""
    return (files("pronostico.knowledge") / name).read_text("utf-8")
