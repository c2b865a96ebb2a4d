"""What the shop sets for itself: its rate, its currency, how long its hands take."""

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy.orm import Session

from pronostico.core.constants import DEFAULT
from pronostico.core.engine import Adjustment
from pronostico.core.price import LabourTimes
from pronostico.store.shop import put_shop_data, shop_data

Minutes = Annotated[float, Field(ge=0, le=2000)]


class ShopSettings(BaseModel):
    """The shop's own figures; minutes by kind of work, the rate an hour in the shop's currency."""

    model_config = ConfigDict(extra="forbid", strict=True, allow_inf_nan=False)

    rate_per_hour: Annotated[float, Field(ge=0, le=100_000)] | None = None
    currency: Annotated[str, Field(max_length=8)] = ""
    check_minutes_per_valve: Minutes = LabourTimes().check_per_valve
    set_minutes_per_valve: dict[Adjustment, Minutes] = LabourTimes().set_per_valve
    camshafts_out_minutes: Minutes = LabourTimes().camshafts_out
    # The chance that a valve is out at which to look again, and how far beyond its limit counts as out.
    next_check_risk: Annotated[float, Field(ge=0.01, le=0.5)] = DEFAULT.next_check_risk
    next_check_margin_mm: Annotated[float, Field(ge=0, le=0.2)] = DEFAULT.next_check_margin_mm
    # The units in which pages show and take pressures; stored is always kPa.
    pressure_unit: Literal["kPa", "psi", "bar"] = "kPa"
    vacuum_unit: Literal["kPa", "inHg", "mmHg"] = "kPa"

    @property
    def times(self) -> LabourTimes:
        """The shop's times; where one kind of adjustment is not set, the default."""
        per_valve = {**LabourTimes().set_per_valve, **self.set_minutes_per_valve}
        return LabourTimes(self.check_minutes_per_valve, per_valve, self.camshafts_out_minutes)


def shop_settings(session: Session) -> ShopSettings:
    """The settings as they stand; the defaults where nothing was set."""
    return ShopSettings.model_validate(shop_data(session))


def put_shop_settings(session: Session, settings: ShopSettings) -> None:
    """Set them anew."""
    put_shop_data(session, settings.model_dump(mode="json", exclude_defaults=True))
    session.commit()
