"""The kinds of instruments with their channels, as pages show them."""

from pronostico.analysis.report_model import ReportModel
from pronostico.core.visits import InstrumentKind
from pronostico.instruments.kinds import KINDS, HeldTo, channels_of
from pronostico.language import Text


class ChannelOut(ReportModel):
    """One thing that an instrument shows."""

    id: str
    label: Text
    unit: str


class AxisOut(ReportModel):
    """How a trace is drawn: sample columns (0 is the time) and the least extent of each axis."""

    along: int
    up: list[int]
    along_to: float
    up_to: float


class InstrumentOut(ReportModel):
    """A kind of instrument: how it is held, what it is held to, its caution, and how its trace is drawn."""

    id: InstrumentKind
    label: Text
    how: Text
    held_to: HeldTo
    caution: Text
    channels: list[ChannelOut]
    axis: AxisOut


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
            axis=AxisOut.model_validate(kind.axis),
        )
        for kind in KINDS.values()
    ]


def kinds_alone() -> list[InstrumentOut]:
    """Every kind by itself, on no engine in particular: with the channels of a single cylinder."""
    return kinds_out((1,))
