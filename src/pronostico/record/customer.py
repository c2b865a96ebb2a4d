"""A customer of the workshop. No part of an engine's record: who owns an engine is not passed on with it."""

from typing import Annotated

from pydantic import Field

from pronostico.record.base import RecordModel

Line = Annotated[str, Field(max_length=200)]


class Customer(RecordModel):
    """Who brings engines; empty where it is not known."""

    name: Annotated[str, Field(min_length=1, max_length=200, pattern=r"\S")]
    telephone: Line = ""
    email: Line = ""
    address: Annotated[str, Field(max_length=1000)] = ""
    note: Annotated[str, Field(max_length=5000)] = ""
