"""What a workshop sets for itself: its rate, its currency, its labour times, the risk of its next check."""

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from pronostico.core.adjust.price import LabourTimes
from pronostico.core.constants import DEFAULT
from pronostico.core.engine import Adjustment

Minutes = Annotated[float, Field(ge=0, le=2000)]


class WorkshopSettings(BaseModel):
    """The workshop's own figures; minutes by kind of work, the rate an hour in the workshop's currency."""

    model_config = ConfigDict(extra="forbid", strict=True, allow_inf_nan=False)

    rate_per_hour: Annotated[float, Field(ge=0, le=100_000)] | None = None
    currency: Annotated[str, Field(max_length=8)] = ""
    tax_percent: Annotated[float, Field(ge=0, le=100)] | None = None
    shim_price: Annotated[float, Field(ge=0, le=100_000)] | None = None
    check_minutes_per_valve: Minutes = LabourTimes().check_per_valve
    set_minutes_per_valve: dict[Adjustment, Minutes] = LabourTimes().set_per_valve
    camshafts_out_minutes: Minutes = LabourTimes().camshafts_out
    # The chance that a valve is out at which to check next, and how far beyond its limit counts as out.
    next_check_risk: Annotated[float, Field(ge=0.01, le=0.5)] = DEFAULT.next_check_risk
    next_check_margin_mm: Annotated[float, Field(ge=0, le=0.2)] = DEFAULT.next_check_margin_mm
    # The units in which pages show and take lengths, where a device has chosen none, and pressures; stored is
    # always mm and kPa.
    length_unit: Literal["mm", "thou"] = "mm"
    pressure_unit: Literal["kPa", "psi", "bar"] = "kPa"
    vacuum_unit: Literal["kPa", "inHg", "mmHg"] = "kPa"

    @property
    def times(self) -> LabourTimes:
        """The workshop's times; where one kind of adjustment is not set, the default."""
        per_valve = {**LabourTimes().set_per_valve, **self.set_minutes_per_valve}
        return LabourTimes(self.check_minutes_per_valve, per_valve, self.camshafts_out_minutes)
