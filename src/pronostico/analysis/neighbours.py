"""How the cylinders of an engine stand to each other."""

from itertools import pairwise

from pronostico.record.engine import EngineModel


def neighbours_of(engine: EngineModel) -> list[tuple[int, int]]:
    """Cylinders that stand side by side, bank by bank."""
    layout = engine.layout
    banks = layout.banks if layout is not None and layout.banks else None
    if banks is None:
        banks = [sorted({valve.cylinder for valve in engine.valves})]
    return [pair for bank in banks for pair in pairwise(bank)]
