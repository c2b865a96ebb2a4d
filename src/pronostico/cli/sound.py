"""The command over recordings: whose noise is it, and is it gone after setting?"""

import json
from pathlib import Path
from typing import Annotated, Any, Literal, NoReturn

import typer

from pronostico.analysis.sound_report import engine_of_json, folded_of, sound_out
from pronostico.cli.command import app
from pronostico.core.sound.engine import SoundEngine
from pronostico.core.sound.faults import SoundFault
from pronostico.core.sound.ignition import SparkEvery
from pronostico.core.sound.listen import Heard, Said, compare, listen
from pronostico.core.sound.wav import read_wav

_SPARKS: dict[str, SparkEvery | None] = {"720": 720, "360": 360, "unknown": None}


def _listen(path: Path, said: Said) -> Heard:
    try:
        with path.open("rb") as stream:
            return listen(read_wav(stream), said)
    except OSError as error:
        raise SoundFault("not-a-wav", f"{path}: {error.strerror}") from error


def _engine(path: Path | None) -> SoundEngine | None:
    if path is None:
        return None
    try:
        return engine_of_json(path.read_bytes())
    except OSError as error:
        raise SoundFault("bad-engine", f"{path}: {error.strerror}") from error


def _rpm(text: str | None) -> float | None:
    try:
        return None if text is None else float(text)
    except ValueError as error:
        raise SoundFault("bad-rpm", f"'{text}' is not a speed in rpm such as 900") from error


def _refuse(fault: SoundFault, *, as_json: bool) -> NoReturn:
    if as_json:
        typer.echo(json.dumps({"error": {"code": fault.code, "message": str(fault)}}))
    else:
        typer.echo(str(fault), err=True)
    raise typer.Exit(2)


@app.command()
def sound(
    wav: Annotated[Path, typer.Argument(help="A recording (WAV).", metavar="WAV")],
    rpm: Annotated[str | None, typer.Option(help="The speed as read, right within 10 %.")] = None,
    engine: Annotated[Path | None, typer.Option(help="The engine (JSON), or a record with it.")] = None,
    clip: Annotated[int | None, typer.Option(help="The channel of an ignition clip, from 1.")] = None,
    sound_channel: Annotated[int | None, typer.Option(help="The channel of the sound, from 1.")] = None,
    spark: Annotated[
        Literal["720", "360", "unknown"],
        typer.Option(help="Degrees of the crank between sparks on the clip."),
    ] = "unknown",
    advance: Annotated[float | None, typer.Option(help="Ignition advance, degrees before top.")] = None,
    mic_distance: Annotated[float | None, typer.Option(help="From the engine to the microphone, m.")] = None,
    revs_raised: Annotated[
        bool, typer.Option("--revs-raised", help="The speed is that at the start, and was raised.")
    ] = False,
    after: Annotated[Path | None, typer.Option(help="A recording after setting, to compare.")] = None,
    as_json: Annotated[
        bool, typer.Option("--json", help="Print one JSON document and nothing else.")
    ] = False,
) -> None:
    """Say what a regular engine noise belongs to: valve train, bottom end, neither, or cannot tell."""
    try:
        said = Said(
            rpm=_rpm(rpm),
            engine=_engine(engine),
            clip=clip,
            sound=sound_channel,
            spark_every_deg=_SPARKS[spark],
            advance_deg=advance,
            mic_distance_m=mic_distance,
            revs_raised=revs_raised,
        )
        heard = _listen(wav, said)
        compared = None if after is None else compare(heard, _listen(after, said))
    except SoundFault as fault:
        _refuse(fault, as_json=as_json)
    known = sound_out(heard, compared)
    if as_json:
        typer.echo(json.dumps(_without_empty(known.model_dump(mode="json")), allow_nan=False))
    else:
        from pronostico.printing import print_sound

        print_sound(known, folded_of(heard))


def _without_empty(document: dict[str, Any]) -> dict[str, Any]:
    """The document; a comparison stands in it only where there was one."""
    compared = document.pop("compare")
    if compared is not None:
        document["compare"] = {**compared, "after": _without_empty(compared["after"])}
    return document
