"""What a simulation really had, where that lies beside the database: the demonstration's, to compare."""

from pathlib import Path

from pronostico.analysis.report_model import ReportModel


class TrueClearanceOut(ReportModel):
    """A true clearance at a visit, mm, before and after the work there."""

    visit: str
    valve: str
    found_mm: float
    left_mm: float


class SimulatedTruthOut(ReportModel):
    """The true clearances of an engine."""

    clearances: list[TrueClearanceOut]


def truth_path(database: Path, engine_id: str) -> Path:
    """Where the truth of an engine lies, beside its database."""
    return database.parent / f"{engine_id}.truth.json"


def simulated_truth_of(database: Path, engine_id: str) -> SimulatedTruthOut | None:
    """The truth of an engine; None where there is none, as for every real one."""
    path = truth_path(database, engine_id)
    # An identifier may hold anything: only a file right beside the database is read.
    if path.parent != database.parent or path.name != f"{engine_id}.truth.json":
        return None
    try:
        return SimulatedTruthOut.model_validate_json(path.read_bytes())
    except (OSError, ValueError):
        return None
