"""`pronostico sound`: one JSON document, or words; every error in one sentence."""

import json

import numpy as np
import pytest
from typer.testing import CliRunner

from pronostico.cli import app
from pronostico.core.sound.engine import SoundEngine
from pronostico.core.sound.simulated import Blow, Scene, simulate_sound
from tests.waves import TONE, wav

ENGINE = {
    "firing_order": [1, 3, 4, 2],
    "valves": [
        {"id": f"{n}{s}", "cylinder": n, "side": "intake" if s == "I" else "exhaust"}
        for n in (1, 2, 3, 4)
        for s in "IE"
    ],
}
FIELDS = {
    "format",
    "version",
    "input",
    "rpm",
    "answer",
    "findings",
    "all_alike",
    "unrelated_at",
    "ticks",
    "phase",
    "warnings",
}


@pytest.fixture(scope="module")
def folder(tmp_path_factory):
    """Recordings before and after setting, and the engine."""
    place = tmp_path_factory.mktemp("sound")
    engine = SoundEngine((1, 3, 4, 2))
    for name, blows, seed in (("before", (Blow("tick", 587, 9),), 1), ("after", (), 2)):
        scene = Scene(engine, 900, blows=blows, spark_every_deg=720)
        made = simulate_sound(scene, np.random.default_rng(seed))
        (place / f"{name}.wav").write_bytes(wav(made.samples.T, rate=made.rate_hz))
    (place / "engine.json").write_text(json.dumps(ENGINE))
    (place / "record.json").write_text(json.dumps({"format": "pronostico/record", "engine": ENGINE}))
    return place


def run(*arguments):
    return CliRunner().invoke(app, ["sound", *map(str, arguments)])


def known(folder, *arguments):
    answer = run(
        folder / "before.wav", "--rpm", 910, "--engine", folder / "engine.json", *arguments, "--json"
    )
    assert answer.exit_code == 0, answer.output
    return json.loads(answer.stdout)


def test_the_document(folder):
    found = known(folder, "--clip", 2, "--advance", 10, "--mic-distance", 0.5)
    assert set(found) == FIELDS
    assert set(found["findings"]) == {"sound-half-speed", "sound-crank-speed", "sound-unrelated"}
    assert found["answer"] == "valve-train" and found["phase"]["spark_every_deg"] == 720
    tick = found["ticks"][0]
    assert tick["at_deg"] == pytest.approx(587, abs=5) and tick["valves"][0]["id"] == "1I"
    again = known(folder, "--clip", 2, "--advance", 10, "--mic-distance", 0.5)
    assert again == found


def test_without_a_clip_no_angle_and_no_valve_are_said(folder):
    found = known(folder)
    assert found["phase"] is None
    assert all(one["at_deg"] is None and one["valves"] is None for one in found["ticks"])


def test_a_record_will_do_for_the_engine(folder):
    arguments = (folder / "before.wav", "--rpm", 910, "--json", "--engine")
    assert run(*arguments, folder / "record.json").stdout == run(*arguments, folder / "engine.json").stdout


def test_before_and_after(folder):
    found = known(folder, "--clip", 2, "--after", folder / "after.wav")
    assert found["compare"]["verdict"] in ("gone", "cannot-tell")
    assert set(found["compare"]["after"]) == FIELDS
    said = run(folder / "before.wav", "--rpm", 910, "--engine", folder / "engine.json", "--clip", 2)
    assert "valve train" in said.stdout and "no reason to skip the blade" in " ".join(said.stdout.split())


@pytest.mark.parametrize(
    ("arguments", "code"),
    [
        (("--rpm", "100"), "bad-rpm"),
        (("--rpm", "fast"), "bad-rpm"),
        (("--clip", "3"), "no-such-channel"),
        (("--sound-channel", "0"), "no-such-channel"),
        (("--clip", "1", "--sound-channel", "1"), "no-sound-channel"),
        (("--after", "nowhere.wav"), "not-a-wav"),
    ],
)
def test_each_error_has_its_code(folder, arguments, code):
    answer = run(folder / "before.wav", *arguments, "--json")
    assert answer.exit_code == 2
    error = json.loads(answer.stdout)["error"]
    assert error["code"] == code and error["message"]
    plain = run(folder / "before.wav", *arguments)
    assert plain.exit_code == 2 and plain.stdout == "" and plain.stderr.count("\n") == 1


@pytest.mark.parametrize(
    "engine",
    [
        "{",
        "[]",
        '{"firing_order": [1, 1]}',
        '{"firing_order": ["a"]}',
        '{"firing_order": [1, 2], "firing_intervals_deg": [720]}',
        '{"firing_order": [1, 2], "firing_intervals_deg": [360, 300]}',
        '{"valves": [{"id": "1E", "cylinder": 1, "side": "top"}]}',
        '{"firing_order": [1], "events_deg": {"intake": [1, 2]}}',
    ],
)
def test_an_engine_that_cannot_be(folder, tmp_path, engine):
    path = tmp_path / "engine.json"
    path.write_text(engine)
    answer = run(folder / "before.wav", "--engine", path, "--json")
    assert (answer.exit_code, json.loads(answer.stdout)["error"]["code"]) == (2, "bad-engine")


def test_what_is_no_recording(tmp_path):
    for name, content, code in (
        ("text.wav", b"hello", "not-a-wav"),
        ("short.wav", wav(TONE[:22050]), "too-short"),
        ("silent.wav", wav(TONE * 0.0), "silent"),
        ("few.wav", wav(TONE), "too-few-cycles"),
    ):
        path = tmp_path / name
        path.write_bytes(content)
        answer = run(path, "--rpm", 250, "--json")
        assert (answer.exit_code, json.loads(answer.stdout)["error"]["code"]) == (2, code)
