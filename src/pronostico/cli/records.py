"""Commands over one record file: checked, assessed, predicted, planned, written as tables."""

import json
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path
from typing import Annotated, Literal

import typer
from pydantic import BaseModel

from pronostico.analysis.adjustment_plan import plan_adjustment
from pronostico.analysis.crank_plan import crank_stations
from pronostico.analysis.diagnosis import diagnose_record
from pronostico.analysis.engine_report import analyse_with_drift
from pronostico.analysis.sisters import Pooled, pooled, with_sisters
from pronostico.cli.command import app, fail, today
from pronostico.core.adjust.targets import Policy, Which
from pronostico.core.constants import DEFAULT
from pronostico.core.crank.stations import School
from pronostico.core.errors import CoreError
from pronostico.errors import ServiceError
from pronostico.printing import print_adjustment, print_analysis, print_diagnosis, print_stations
from pronostico.record.models import Record
from pronostico.record.reading_in import NotARecord, read_record

RecordFile = Annotated[Path, typer.Argument(help="A record file (JSON).", metavar="RECORD")]
AsJson = Annotated[bool, typer.Option("--json", help="Print one JSON document and nothing else.")]
OnOff = Literal["on", "off"]


def _read(path: Path) -> Record:
    try:
        text = path.read_bytes()
    except OSError as error:
        fail(f"{path}: {error.strerror}; expected a record file")
    try:
        return read_record(text, today=today())
    except NotARecord as error:
        count = len(error.faults)
        lines = "\n".join(f"  {fault}" for fault in error.faults)
        fail(f"{path}: {count} fault{'' if count == 1 else 's'}\n{lines}")


def _read_folder(folder: Path) -> tuple[Record, ...]:
    """All records of a folder, by file name."""
    if not folder.is_dir():
        fail(f"{folder}: no such folder; expected one with records (*.json)")
    files = sorted(folder.glob("*.json"))
    if not files:
        fail(f"{folder}: no record in it; expected files named *.json")
    return tuple(_read(one) for one in files)


@contextmanager
def _input_faults(path: Path) -> Iterator[None]:
    try:
        yield
    except (CoreError, ServiceError) as error:
        fail(f"{path}: {error}")


def _print_json(report: BaseModel) -> None:
    typer.echo(json.dumps(report.model_dump(mode="json", by_alias=True), ensure_ascii=False))


@app.command()
def check(record: RecordFile) -> None:
    """Say whether a file is a valid record: every fault at once, with its place."""
    read = _read(record)
    typer.echo(
        f"{record}: a valid record of {read.engine.name or read.engine.id}: "
        f"{len(read.engine.valves)} valves, {len(read.visits)} visits, {len(read.cases)} cases"
    )


@app.command()
def analyse(
    record: RecordFile,
    at: Annotated[list[float] | None, typer.Option(help="Usage to forecast; may be repeated.")] = None,
    risk: Annotated[
        float,
        typer.Option(help="Risk of a valve out of spec at which the next check is due.", min=0.0, max=1.0),
    ] = 0.1,
    margin: Annotated[
        float, typer.Option(help="Out-of-spec margin for that, mm beyond the limit.", min=0.0)
    ] = 0.03,
    regimes: Annotated[
        OnOff, typer.Option(help="Whether the drift may bed in or speed up; off: it is taken as steady.")
    ] = "on",
    sisters: Annotated[
        Path | None,
        typer.Option(help="A folder with records (*.json) of engines of the same kind.", metavar="DIR"),
    ] = None,
    as_json: AsJson = False,
) -> None:
    """Readings and verdicts of the last visit, and what is ahead."""
    read = _read(record)
    others = () if sisters is None else _read_folder(sisters)
    constants = replace(DEFAULT, drift_regimes=regimes == "on")
    with _input_faults(record):
        of_kind = pooled(read, others, constants) if others else Pooled((), [])
        report = analyse_with_drift(
            with_sisters(read, of_kind.priors),
            at=tuple(at) if at else None,
            risk=risk,
            margin_mm=margin,
            expected=of_kind.expected,
            constants=constants,
        )
    if as_json:
        _print_json(report)
    else:
        print_analysis(report)


@app.command()
def diagnose(
    record: RecordFile,
    case: Annotated[str | None, typer.Option(help="The case; by default the latest one.")] = None,
    as_json: AsJson = False,
) -> None:
    """The causes of a case, ranked, with the evidence for and against each."""
    read = _read(record)
    with _input_faults(record):
        report = diagnose_record(read, case_id=case)
    if as_json:
        _print_json(report)
    else:
        print_diagnosis(report)


@app.command()
def crank(
    record: RecordFile,
    school: Annotated[School, typer.Option(help="The turning method.")] = "two-turn",
    as_json: AsJson = False,
) -> None:
    """Where to turn the crank, and which valves to measure there."""
    read = _read(record)
    with _input_faults(record):
        plan = crank_stations(read.engine, school)
    if as_json:
        _print_json(plan)
    else:
        print_stations(plan)


@app.command("set")
def set_(
    record: RecordFile,
    visit: Annotated[str, typer.Option(help="The visit whose readings to adjust from.")],
    policy: Annotated[Policy, typer.Option(help="Target within the spec.")] = "middle",
    which: Annotated[Which, typer.Option(help="Which valves to adjust.")] = "only-out",
    as_json: AsJson = False,
) -> None:
    """What to set: screw turns, shims to fit, swap and order."""
    read = _read(record)
    with _input_faults(record):
        plan = plan_adjustment(read, visit, policy=policy, which=which)
    if as_json:
        _print_json(plan)
    else:
        print_adjustment(plan)


@app.command()
def tables(
    record: RecordFile,
    file: Annotated[Path, typer.Argument(help="The file to write (zip).", metavar="FILE")],
) -> None:
    """Write visits, readings, drift and cases as CSV, with their data package descriptor, into a zip."""
    from pronostico.analysis.tables.data_package import package

    read = _read(record)
    with _input_faults(record):
        content = package(read, analyse_with_drift(read), now=datetime.now(UTC))
    try:
        file.write_bytes(content)
    except OSError as error:
        fail(f"{file}: {error.strerror}")
    typer.echo(f"{file}: four tables and datapackage.json")
