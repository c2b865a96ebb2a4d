"""The command line: `pronostico`, for a record on its own or for the application."""

import json
import os
import signal
import tempfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from dataclasses import replace
from datetime import UTC, date, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Literal, NoReturn

import typer
from pydantic import BaseModel

from pronostico.analysis.adjustment_plan import plan_adjustment
from pronostico.analysis.crank_plan import crank_stations
from pronostico.analysis.diagnosis import diagnose_record
from pronostico.analysis.engine_report import analyse_with_drift
from pronostico.analysis.sisters import Pooled, pooled, with_sisters
from pronostico.core.adjust.targets import Policy, Which
from pronostico.core.constants import DEFAULT
from pronostico.core.crank.stations import School
from pronostico.core.errors import CoreError
from pronostico.errors import ServiceError, UnusableDatabase
from pronostico.printing import print_adjustment, print_analysis, print_diagnosis, print_stations
from pronostico.record.models import Record
from pronostico.record.reading_in import NotARecord, read_record
from pronostico.settings import DEFAULT_PORT, Settings, photographs_of

if TYPE_CHECKING:
    from pronostico.store.database import Database

app = typer.Typer(
    help="Pronostico: valve clearances recorded, assessed and predicted.",
    no_args_is_help=True,
    add_completion=False,
    pretty_exceptions_enable=False,
)
RecordFile = Annotated[Path, typer.Argument(help="A record file (JSON).", metavar="RECORD")]
AsJson = Annotated[bool, typer.Option("--json", help="Print one JSON document and nothing else.")]
OnOff = Literal["on", "off"]
DatabaseFile = Annotated[Path | None, typer.Option(help="The database file.")]
Port = Annotated[int, typer.Option(help="The port to serve on, if it is free.", min=1, max=65535)]


def _fail(message: str) -> NoReturn:
    typer.echo(message, err=True)
    raise typer.Exit(1)


def _today() -> date:
    return datetime.now().astimezone().date()


def _read(path: Path) -> Record:
    try:
        text = path.read_bytes()
    except OSError as error:
        _fail(f"{path}: {error.strerror}; expected a record file")
    try:
        return read_record(text, today=_today())
    except NotARecord as error:
        count = len(error.faults)
        lines = "\n".join(f"  {fault}" for fault in error.faults)
        _fail(f"{path}: {count} fault{'' if count == 1 else 's'}\n{lines}")


def _read_folder(folder: Path) -> tuple[Record, ...]:
    """All records of a folder, by file name."""
    if not folder.is_dir():
        _fail(f"{folder}: no such folder; expected one with records (*.json)")
    files = sorted(folder.glob("*.json"))
    if not files:
        _fail(f"{folder}: no record in it; expected files named *.json")
    return tuple(_read(one) for one in files)


@contextmanager
def _input_faults(path: Path) -> Iterator[None]:
    try:
        yield
    except (CoreError, ServiceError) as error:
        _fail(f"{path}: {error}")


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
        _fail(f"{file}: {error.strerror}")
    typer.echo(f"{file}: four tables and datapackage.json")


@app.command()
def serve(
    port: Port = DEFAULT_PORT,
    database: Annotated[Path | None, typer.Option(help="The database file; made if it is not there.")] = None,
) -> None:
    """Serve the application over your own data."""
    from pronostico.serving import serve_application

    settings = Settings()
    with suppress(KeyboardInterrupt):
        serve_application(database or settings.database, settings.static, port)


@app.command()
def demo(port: Port = DEFAULT_PORT) -> None:
    """Serve the application over a throw-away copy of the demonstration."""
    from pronostico.demo.seed import seed_demo
    from pronostico.serving import serve_application

    with suppress(KeyboardInterrupt), tempfile.TemporaryDirectory(prefix="pronostico-demo-") as folder:
        # Nor does it touch the workshop's own knowledge.
        os.environ["PRONOSTICO_KNOWLEDGE"] = str(Path(folder) / "knowledge")
        path = seed_demo(Path(folder), today=_today(), now=datetime.now(UTC))
        typer.echo(f"The demonstration's records and their simulated truth are in {folder}")
        serve_application(path, Settings().static, port)


@contextmanager
def _engines_bar() -> Iterator[Callable[[int, int], None]]:
    """A progress bar over engines; its callback takes how many are done, of how many."""
    from rich.progress import BarColumn, MofNCompleteColumn, Progress, TimeRemainingColumn

    with Progress("engines", BarColumn(), MofNCompleteColumn(), TimeRemainingColumn()) as bar:
        shown = bar.add_task("engines", total=None)
        yield lambda done, total: bar.update(shown, total=total, completed=done)


@app.command()
def recompute(
    database: DatabaseFile = None,
    processes: Annotated[int, typer.Option(help="How many engines at once.", min=1, max=64)] = 2,
) -> None:
    """Compute every engine whose result is not current, with a progress bar."""
    from pronostico.services.engines.background import Progress as Computed
    from pronostico.services.engines.background import compute_stale

    opened = _opened(_database_at(database))
    try:
        with _engines_bar() as on_progress:

            def tell(known: Computed) -> None:
                on_progress(known.done, known.total)

            done = compute_stale(opened, processes=processes, on_progress=tell)
    finally:
        opened.close()
    typer.echo(f"{done.done} of {done.total} engines calculated, the others were current")
    if done.failed:
        _fail("could not be calculated: " + ", ".join(sorted(engine for engine, _ in done.failed)))


def _opened(path: Path) -> "Database":
    from pronostico.store.database import Database

    try:
        return Database(path)
    except UnusableDatabase as error:
        _fail(str(error))


def _database_at(database: Path | None) -> Path:
    path = database or Settings().database
    if not path.is_file():
        _fail(f"{path}: there is no such file; expected a database of Pronostico")
    return path


@app.command("backup")
def make_full_copy(
    folder: Annotated[Path, typer.Argument(help="The folder for the copies.", metavar="DIR")],
    database: DatabaseFile = None,
) -> None:
    """Copy the whole workshop, also while it is served: checked, and old copies removed by a rule."""
    from pronostico.services.exchange.full_copy import checked_copy, make_copy

    path = _database_at(database)
    _opened(path).close()
    try:
        copy = make_copy(path, folder, now=datetime.now(UTC))
        manifest = checked_copy(copy)
    except ServiceError as error:
        _fail(str(error))
    rows = ", ".join(f"{count} {name}" for name, count in manifest.rows.items())
    typer.echo(f"{copy}: {rows}, {len(manifest.photographs)} photographs; checked")


@app.command("restore")
def restore_full_copy(
    copy: Annotated[Path, typer.Argument(help="One copy: a folder in DIR of 'backup'.", metavar="COPY")],
    database: DatabaseFile = None,
) -> None:
    """Put a full copy in place of a workshop; what it replaces is kept beside it."""
    from pronostico.services.exchange.full_copy import restore_copy

    path = database or Settings().database
    try:
        replaced = restore_copy(copy, path, now=datetime.now(UTC))
    except ServiceError as error:
        _fail(str(error))
    typer.echo(f"{path}: restored from {copy}")
    if replaced is not None:
        typer.echo(f"What was there is kept in {replaced}")


@app.command("export")
def export_backup(
    file: Annotated[Path, typer.Argument(help="The file to write (zip).", metavar="FILE")],
    database: DatabaseFile = None,
) -> None:
    """Write the whole workshop into one file, with a progress bar."""
    from pronostico.services.exchange.backup import write_backup

    path = _database_at(database)
    opened = _opened(path)
    half = file.with_name(file.name + ".part")
    try:
        with _engines_bar() as on_progress, opened.reading() as session:
            engines = write_backup(
                session,
                half,
                today=_today(),
                photographs=photographs_of(path),
                knowledge=Settings().knowledge,
                on_progress=on_progress,
            )
        # Whole or not at all: what is half written would look like a backup.
        half.replace(file)
    except OSError as error:
        _fail(f"{file}: {error.strerror}")
    finally:
        half.unlink(missing_ok=True)
        opened.close()
    typer.echo(f"{file}: {engines} engines")


@app.command("import")
def import_backup(
    file: Annotated[Path, typer.Argument(help="A backup file (zip).", metavar="FILE")],
    database: DatabaseFile = None,
    look: Annotated[bool, typer.Option("--look", help="Only show what would change.")] = False,
    leave_out: Annotated[
        list[str] | None, typer.Option(help="An engine to leave out; may be repeated.")
    ] = None,
) -> None:
    """Take a backup file in, all of it or nothing, with a progress bar."""
    from pronostico.services.exchange.restore import import_backup

    path = database or Settings().database
    opened = _opened(path)
    try:
        with _engines_bar() as on_progress, opened.reading() if look else opened.writing() as session:
            found = import_backup(
                session,
                file,
                photographs=photographs_of(path),
                knowledge=Settings().knowledge,
                today=_today(),
                now=datetime.now(UTC),
                store=not look,
                leave_out=frozenset(leave_out or ()),
                on_progress=on_progress,
            )
    except ServiceError as error:
        _fail(f"{file}: " + "\n  ".join(str(error).split("; ")))
    finally:
        opened.close()
    for one in found.engines:
        typer.echo(f"{one.state}: {one.name}, {one.visits} visits, {one.cases} cases")
        for fault in one.faults:
            typer.echo(f"  {fault}")
    for fault in found.faults:
        typer.echo(f"refused: {fault}")
    typer.echo(f"{found.same} engines unchanged")


def main() -> None:
    """Entry of the command `pronostico`."""
    # A request to end is like Ctrl-C: a temporary demonstration is removed as well.
    # Ctrl-C counts even where the parent process ignored it, as a shell does for background jobs.
    for ending in (signal.SIGTERM, signal.SIGINT):
        signal.signal(ending, signal.default_int_handler)
    app(prog_name="pronostico")


if __name__ == "__main__":
    main()
