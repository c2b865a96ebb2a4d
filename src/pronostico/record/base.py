"""What all parts of the record share: the base of its models, and figures with their bounds.

Lengths in mm, temperatures in deg C, pressures in kPa (gauge), torque in N m, angles in crankshaft
degrees. None and absent both mean 'not known'.
"""

import re
from datetime import date
from typing import Annotated, TypeVar

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, GetJsonSchemaHandler, JsonValue
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema

from pronostico.core.visits import THICKEST_BLADE_MM

# No slash: identifiers stand in addresses. No control characters: they stand on pages.
Identifier = Annotated[str, Field(min_length=1, max_length=80, pattern=r"^[^/\x00-\x1f\x7f]+$")]
# Bounds far beyond any engine: what lies outside is a mistake in the unit or the decimal point, and figures
# without a bound would overflow what is computed from them.
UsageTotal = Annotated[float, Field(ge=0, le=1e9)]
CheckInterval = Annotated[float, Field(ge=0.001, le=1e8)]
ShimMm = Annotated[float, Field(gt=0, le=20)]
StepMm = Annotated[float, Field(ge=0.001, le=5)]
DiameterMm = Annotated[float, Field(gt=0, le=200)]
PitchMm = Annotated[float, Field(gt=0, le=20)]
TargetMm = Annotated[float, Field(ge=0, le=20)]
LiftMm = Annotated[float, Field(ge=0, le=50)]
SpecKpa = Annotated[float, Field(ge=1, le=1e5)]
PressureKpa = Annotated[float, Field(ge=0, le=1e5)]
TorqueNm = Annotated[float, Field(gt=0, le=1e5)]
AngleDeg = Annotated[float, Field(ge=-7200, le=7200)]
FiringDeg = Annotated[float, Field(gt=0, le=720)]
TravelMm = Annotated[float, Field(ge=0, le=2000)]
TurnDeg = Annotated[float, Field(ge=-36_000, le=36_000)]
Turns = Annotated[float, Field(gt=0, le=20)]
Minutes = Annotated[float, Field(ge=0, le=1e5)]
Hours = Annotated[float, Field(ge=0, le=1e6)]
AltitudeM = Annotated[float, Field(ge=-500, le=9000)]
AnyFigure = Annotated[float, Field(ge=-1e9, le=1e9)]
Count = Annotated[int, Field(ge=0, le=1_000_000)]
PartLengthMm = Annotated[float, Field(gt=0, le=2000)]
RockerRatio = Annotated[float, Field(gt=0, le=10)]
ClearanceMm = Annotated[float, Field(gt=0, le=10)]
TemperatureC = Annotated[float, Field(ge=-90, le=250)]
Fraction = Annotated[float, Field(ge=0, le=1)]
BladeMm = Annotated[float, Field(gt=0, le=THICKEST_BLADE_MM)]
CylinderNumber = Annotated[int, Field(ge=1, le=64)]


def _iso_day(value: object) -> object:
    # Left to itself a date would also be taken from a number or from a time of day.
    if isinstance(value, date) or (isinstance(value, str) and re.fullmatch(r"\d{4}-\d\d-\d\d", value)):
        return value
    raise ValueError("must be a date such as 2026-01-31")


Day = Annotated[date, Field(strict=False), BeforeValidator(_iso_day, json_schema_input_type=date)]


class RecordModel(BaseModel):
    """What all parts share: unknown fields are faults, numbers are finite, types are not guessed."""

    model_config = ConfigDict(extra="forbid", strict=True, allow_inf_nan=False)


class Entered(RecordModel):
    """A part with figures, beside which stands what was typed, in its own unit."""

    entered: JsonValue | None = None


Item = TypeVar("Item")


class _NullIsEmpty:
    """Says in the published schema that null is taken too: the type variable cannot stand there itself."""

    def __get_pydantic_json_schema__(
        self, schema: CoreSchema, handler: GetJsonSchemaHandler
    ) -> JsonSchemaValue:
        return {"anyOf": [handler(schema), {"type": "null"}]}


# A list that is null is one of which nothing is known: the same as none at all. A table likewise.
ListOf = Annotated[list[Item], BeforeValidator(lambda value: [] if value is None else value), _NullIsEmpty()]
MapOf = Annotated[
    dict[Identifier, Item], BeforeValidator(lambda value: {} if value is None else value), _NullIsEmpty()
]
