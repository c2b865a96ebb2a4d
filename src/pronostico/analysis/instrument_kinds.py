"""The kinds of instruments with their channels, as pages show them."""

from pronostico.analysis.report_model import ReportModel
from pronostico.instruments.kinds import KINDS, HeldTo, Kind, channels_of


class ChannelOut(ReportModel):
    """One thing that an instrument shows."""

    id: str
    label: str
    unit: str


class InstrumentOut(ReportModel):
    """A kind of instrument: how it is held, what it is held to, and its caution."""

    id: Kind
    label: str
    how: str
    held_to: HeldTo
    caution: str
    channels: list[ChannelOut]


def kinds_out(cylinders: tuple[int, ...], fuel: str | None = None) -> list[InstrumentOut]:
    """Every kind as it is held to an engine of that fuel, with the channels that its cylinders give it."""
    diesel = fuel is not None and fuel.strip().lower() == "diesel"
    return [
        InstrumentOut(
            id=kind.id,
            label=kind.label,
            held_to=kind.held_to,
            how=(diesel and kind.how_diesel) or kind.how,
            caution=(diesel and kind.caution_diesel) or kind.caution,
            channels=[ChannelOut.model_validate(one) for one in channels_of(kind.id, cylinders)],
        )
        for kind in KINDS.values()
    ]


def kinds_alone() -> list[InstrumentOut]:
    """Every kind by itself, on no engine in particular: with the channels of a single cylinder."""
    return kinds_out((1,))
