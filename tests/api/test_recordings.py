"""Sound recordings of a visit: kept, listened to, compared, drawn, heard again, deleted; and in the case."""

import io
import re
import zipfile

import numpy as np
import pytest
import soundfile

from pronostico.settings import recordings_of
from tests.sounds import ORDER, closing_deg, recorded
from tests.waves import RATE, TONE, wav

ENGINE = "/api/engines/resurfacer-1"
VISIT = f"{ENGINE}/visits/v8"
RECORDINGS = f"{VISIT}/recordings"
WAV = {"Content-Type": "audio/wav"}


def ticking_at(client, valve):
    """A tick where a valve closes."""
    return recorded(tick_deg=closing_deg(client.get(ENGINE).json()["engine"], valve))


def put(client, content, id="r1", **how):
    query = "&".join(f"{key}={value}" for key, value in {"rpm": 900, "clip": 2, **how}.items() if value != "")
    return client.put(f"{RECORDINGS}/{id}?{query}", content=content, headers=WAV)


def newest(response):
    assert response.status_code == 200, response.text
    return response.json()["recordings"][0]["recording"]


def test_a_tick_leads_to_its_valve_and_on_into_the_case(client):
    assert client.get(RECORDINGS).json()["recordings"] == []
    one = newest(put(client, ticking_at(client, "3E")))
    assert one["heard"]["answer"] == "valve-train"
    assert one["heard"]["ticks"][0]["valves"][0]["id"] == "3E"
    assert one["how"] | {"rpm": 900.0, "clip": 2} == one["how"]
    case = {"id": "c-sound", "opened": "2026-06-01", "visit": "v8"}
    assert client.post(f"{ENGINE}/cases", json=case).status_code == 201
    diagnosis = client.get(f"{ENGINE}/cases/c-sound/diagnosis").json()
    evidence = {
        (one["finding"], one["where"]): one["presence"]
        for cause in diagnosis["causes"]
        for one in (*cause["for"], *cause["against"])
    }
    assert evidence["sound-half-speed", "3E"] > 0.9
    assert evidence["sound-half-speed", "1I"] < 0.1


def test_before_and_after_setting_are_told_apart(client):
    put(client, ticking_at(client, "3E"))
    gone = newest(put(client, recorded(seed=2), "r2", phase="left"))
    assert (gone["after"]["before"], gone["after"]["verdict"]) == ("r1", "gone")
    there = newest(put(client, ticking_at(client, "3E"), "r3", phase="left"))
    assert there["after"]["verdict"] in ("still-there", "louder", "quieter")
    first, second = client.get(f"{VISIT}/card").json()["sound"]
    assert first.startswith("Valve train") and second.startswith("The tick is still there")
    drawn = client.get(f"{RECORDINGS}/r2/picture").json()
    assert drawn["became"]["verdict"] == "gone" and drawn["before"]["ticks"]
    assert client.get(f"{RECORDINGS}/r1/picture").json()["became"] is None


def test_it_is_drawn_with_the_engines_own_cylinders_and_valves(client):
    put(client, ticking_at(client, "3E"))
    drawn = client.get(f"{RECORDINGS}/r1/picture").json()
    assert [one["cylinder"] for one in drawn["firing"]] == list(ORDER)
    (tick,) = drawn["cycle"]["ticks"][:1]
    at_deg = (720.0 * tick["place"] + drawn["cycle"]["zero_deg"]) % 720.0
    assert at_deg == pytest.approx(drawn["said"]["ticks"][0]["at_deg"], abs=1e-6)
    for band in drawn["cycle"]["bands"]:
        assert len(band["height_db"]) == 240 and min(band["height_db"]) >= 0.0
    # The tick stands out where it is said to be.
    pool = next(band["height_db"] for band in drawn["cycle"]["bands"] if band["pooled"])
    assert abs(pool.index(max(pool)) - 240 * tick["place"]) < 4
    sketch = drawn["spectrogram"]
    assert len(sketch["level_db"]) == len(sketch["edges_hz"]) - 1 and max(map(max, sketch["level_db"])) == 0
    assert all(abs(one["rpm"] - 900) < 60 for one in drawn["speed"])
    span = drawn["one_cycle_s"]
    assert span["end_s"] - span["begin_s"] == pytest.approx(120 / 900, rel=0.05)


def test_it_is_heard_again_as_it_was(client):
    content = recorded(tick_deg=300.0)
    put(client, content)
    answer = client.get(f"{RECORDINGS}/r1/sound")
    assert answer.headers["content-type"] == "audio/flac"
    kept, rate = soundfile.read(io.BytesIO(answer.content), dtype="int16")
    sent, _ = soundfile.read(io.BytesIO(content), dtype="int16")
    assert rate == RATE and np.array_equal(kept, sent)


def test_sent_twice_it_is_kept_once_and_another_never_replaces_it(client):
    content = recorded()
    put(client, content)
    assert len(put(client, content).json()["recordings"]) == 1
    assert put(client, recorded(seed=9)).status_code == 409


def test_what_was_known_beside_it_is_corrected_and_it_is_listened_to_again(client):
    put(client, ticking_at(client, "3E"), clip="")
    put(client, ticking_at(client, "3E"), "r2", rpm=900)
    body = {"phase": "found", "how": {"rpm": 900.0, "clip": None, "sound_channel": 1}, "note": " by hand "}
    known = client.put(f"{RECORDINGS}/r2/how", json=body).json()["recordings"]
    one = next(each["recording"] for each in known if each["recording"]["id"] == "r2")
    assert one["note"] == "by hand" and one["heard"]["ticks"][0]["at_deg"] is None
    refused = client.put(f"{RECORDINGS}/r2/how", json={**body, "how": {"clip": 3}})
    assert refused.status_code == 422 and "no channel 3" in refused.text


FLAT = np.zeros(5 * RATE)
RNG = np.random.default_rng(7)


@pytest.mark.parametrize(
    ("content", "how", "says"),
    [
        (b"this is no sound", {}, "ffmpeg"),
        (b"", {}, "ffmpeg"),
        (b"RIFF\x10\x00\x00\x00WAVEfmt ", {}, "WAV"),
        (b"\xff\xd8\xff\xe0 a picture renamed to .wav", {}, "ffmpeg"),
        (wav(TONE)[:40], {}, "WAV"),
        (wav(TONE[: 2 * RATE]), {}, "2.0 s long"),
        (wav(FLAT), {}, "silent"),
        (wav(FLAT + 0.4), {}, "silent"),
        (wav(TONE, rate=4000), {}, "4000 samples"),
        (wav(np.where(np.arange(5 * RATE) == 9, np.nan, TONE), bits=32, tag=3), {}, "no numbers"),
        (wav(TONE), {"clip": 2}, "no channel 2"),
        (wav(TONE), {"clip": 1}, "only channel"),
        (recorded(clip=False), {"clip": 2}, "no channel 2"),
        (wav(np.array([TONE, RNG.normal(0, 0.1, 5 * RATE)]).T), {"clip": 2}, "no regular sparks"),
    ],
    ids=lambda value: value if isinstance(value, str) else "",
)
def test_what_cannot_be_used_is_refused_with_the_reason_and_nothing_is_kept(client, content, how, says):
    answer = put(client, content, **({"clip": ""} | how))
    assert answer.status_code == 422 and says in answer.json()["detail"]
    assert client.get(RECORDINGS).json()["recordings"] == []
    folder = recordings_of(client.app.state.database.path)
    assert not folder.exists() or not list(folder.iterdir())


@pytest.mark.parametrize(
    ("made", "rate"),
    [
        (lambda: wav(np.sign(TONE) * 0.999), RATE),
        (lambda: wav(TONE, promised=0xFFFFFFF0), RATE),
        (lambda: wav(RNG.normal(0, 0.1, (5 * 96_000, 4)), bits=24, rate=96_000), 96_000),
        (lambda: wav(3.0 * np.array([TONE, TONE]).T, bits=32, tag=3), RATE),
    ],
    ids=["square", "4 GB promised", "four channels", "beyond full scale"],
)
def test_strange_recordings_are_listened_to_all_the_same(client, made, rate):
    one = newest(put(client, made(), clip=""))
    assert one["rate_hz"] == rate and one["heard"]["answer"]
    assert client.get(f"{RECORDINGS}/r1/picture").status_code == 200


@pytest.mark.parametrize("kind", ["FLAC", "OGG", "MP3"])
def test_other_kinds_of_file_are_read(client, kind):
    samples, rate = soundfile.read(io.BytesIO(recorded(tick_deg=300.0, clip=False)))
    content = io.BytesIO()
    soundfile.write(content, samples, rate, format=kind)
    one = newest(put(client, content.getvalue(), clip=""))
    assert one["seconds"] == pytest.approx(8.0, abs=0.2)


def test_its_sound_can_be_deleted_and_what_it_said_stays(client):
    put(client, ticking_at(client, "3E"))
    path = recordings_of(client.app.state.database.path)
    assert len(list(path.iterdir())) == 1
    (left,) = client.delete(f"{RECORDINGS}/r1?sound_only=true").json()["recordings"]
    assert not left["kept"] and left["recording"]["heard"]["answer"] == "valve-train"
    assert list(path.iterdir()) == []
    assert client.get(f"{RECORDINGS}/r1/sound").status_code == 404
    assert client.get(f"{RECORDINGS}/r1/picture").status_code == 404
    assert client.delete(f"{RECORDINGS}/r1").json()["recordings"] == []
    assert client.delete(f"{RECORDINGS}/r1").status_code == 404


def test_a_file_that_another_visit_has_as_well_stays(client):
    content = recorded()
    put(client, content)
    client.put(f"{ENGINE}/visits/v7/recordings/x?rpm=900&clip=2", content=content, headers=WAV)
    client.delete(f"{RECORDINGS}/r1")
    assert client.get(f"{ENGINE}/visits/v7/recordings/x/sound").status_code == 200


def test_with_its_visit_it_goes_into_the_bin_and_at_last_from_the_disk(client):
    put(client, recorded())
    folder = recordings_of(client.app.state.database.path)
    client.put(f"{ENGINE}/removals/b1", json={"kind": "visit", "part": "v8"})
    assert len(list(folder.iterdir())) == 1
    client.delete("/api/bin/b1")
    assert list(folder.iterdir()) == []


def test_a_backup_brings_the_sound_along(client):
    put(client, ticking_at(client, "3E"))
    sound = client.get(f"{RECORDINGS}/r1/sound").content
    backup = client.get("/api/backup").content
    with zipfile.ZipFile(io.BytesIO(backup)) as archive:
        assert sum(name.startswith("recordings/") for name in archive.namelist()) == 1
    (file,) = recordings_of(client.app.state.database.path).iterdir()
    file.unlink()
    assert client.get(f"{RECORDINGS}/r1/sound").status_code == 404
    assert client.post("/api/backup", content=backup).json()["recordings"] == 1
    assert client.get(f"{RECORDINGS}/r1/sound").content == sound
    assert client.post("/api/backup", content=backup).json()["recordings"] == 0


def test_the_simulated_microphone_hears_the_engine_as_it_was_measured(client):
    heard = client.get(f"{RECORDINGS}/simulated")
    assert heard.headers["content-type"] == "audio/wav" and heard.content[:4] == b"RIFF"
    how = {"rpm": heard.headers["simulated-rpm"], "clip": heard.headers["simulated-clip"]}
    one = newest(put(client, heard.content, **how, simulated="true"))
    assert one["simulated"] and one["channels"] == 2
    visits = client.get(f"{ENGINE}/analysis").json()["visits"]
    assert next(each for each in visits if each["visit"] == "v8")["simulated"] == ["sound recording"]


def test_closed_cases_are_counted_said_against_found_and_leave_without_a_name(client):
    assert client.get("/api/lessons/recordings").json()["cases"] == 0
    put(client, ticking_at(client, "3E"))
    client.post(f"{ENGINE}/cases", json={"id": "s1", "opened": "2026-06-01", "visit": "v8"})
    # An open case says nothing yet.
    assert client.get("/api/lessons/recordings").json()["cases"] == 0
    found = [{"cause": "lobe-worn", "cylinder": 3, "side": "exhaust"}]
    closed = client.put(f"{ENGINE}/cases/s1/outcome", json={"closed": "2026-06-02", "confirmed": found})
    assert closed.status_code == 200
    counted = client.get("/api/lessons/recordings").json()
    assert (counted["cases"], counted["valves_named"], counted["valves_right"]) == (1, 1, 1)
    (said,) = counted["said"]
    assert said["answer"] == "valve-train" and said["found"]["valve-train"] == 1
    client.post(f"{ENGINE}/cases", json={"id": "s2", "opened": "2026-06-01", "visit": "v8"})
    found = [{"cause": "bottom-end", "cylinder": None, "side": None}]
    client.put(f"{ENGINE}/cases/s2/outcome", json={"closed": "2026-06-02", "confirmed": found})
    (said,) = client.get("/api/lessons/recordings").json()["said"]
    assert said["found"]["bottom-end"] == 1
    table = client.get("/api/lessons/recordings.csv")
    head, first, second = table.text.strip().splitlines()
    assert head.startswith("number,answer,sound-half-speed-p,sound-half-speed-log10_lr")
    assert first.startswith("1,valve-train,") and ",lobe-worn,true" in first
    assert second.endswith(",bottom-end,bottom-end,")
    assert "resurfacer" not in table.text


def stand_in(folder, does):
    """A program that is called ffmpeg, and does what a test needs."""
    program = folder / "ffmpeg"
    program.write_text(f"#!/bin/sh\nfor last; do :; done\n{does}\n")
    program.chmod(0o755)


def test_what_only_ffmpeg_reads_is_decoded_by_it(client, tmp_path, monkeypatch):
    (tmp_path / "decoded.wav").write_bytes(recorded(tick_deg=300.0, clip=False))
    stand_in(tmp_path, f'cp {tmp_path}/decoded.wav "$last"')
    monkeypatch.setenv("PATH", f"{tmp_path}:/usr/bin:/bin")
    one = newest(put(client, b"\x00\x00\x00\x20ftypM4A some sound", clip=""))
    assert one["seconds"] == 8.0


@pytest.mark.parametrize("does", ["exit 1", "exit 0", 'echo no sound > "$last"'])
def test_a_damaged_file_is_said_to_be_one_where_ffmpeg_is_there(client, tmp_path, monkeypatch, does):
    stand_in(tmp_path, does)
    monkeypatch.setenv("PATH", f"{tmp_path}:/usr/bin:/bin")
    answer = put(client, b"\x00\x00\x00\x20ftypM4A no sound", clip="")
    assert answer.status_code == 422
    assert re.search("no sound that can be read|not a WAV file", answer.json()["detail"])


def test_a_large_one_is_listened_to_in_a_process_of_its_own(client, monkeypatch):
    monkeypatch.setattr("pronostico.services.visits.recordings.SOUND_HERE_BYTES", 1000)
    assert newest(put(client, ticking_at(client, "3E")))["heard"]["answer"] == "valve-train"
    refused = put(client, wav(FLAT), "r2", clip="")
    assert refused.status_code == 422 and "silent" in refused.json()["detail"]


def test_one_that_is_too_large_is_not_read_to_its_end(client, monkeypatch):
    monkeypatch.setattr("pronostico.api.recordings.SOUND_BYTES", 1000)
    answer = put(client, recorded())
    assert answer.status_code == 422 and "is larger than" in answer.json()["detail"]


def test_what_an_ear_said_does_not_count_beside_a_recording(client):
    client.post(f"{ENGINE}/cases", json={"id": "e", "opened": "2026-06-01", "visit": "v8"})
    client.put(f"{ENGINE}/cases/e/findings/sound-crank-speed", json={"state": "present"})

    def presence(finding):
        causes = client.get(f"{ENGINE}/cases/e/diagnosis").json()["causes"]
        return {
            one["presence"]
            for cause in causes
            for one in (*cause["for"], *cause["against"])
            if one["finding"] == finding
        }

    assert presence("sound-crank-speed") == {1.0}
    put(client, ticking_at(client, "3E"))
    (heard,) = presence("sound-crank-speed")
    assert heard < 0.5


def test_after_setting_it_is_compared_with_the_last_that_held_a_tick(client):
    put(client, ticking_at(client, "3E"), "ticks")
    put(client, recorded(seed=4), "mute")
    gone = newest(put(client, recorded(seed=2), "after", phase="left"))
    assert (gone["after"]["before"], gone["after"]["verdict"]) == ("ticks", "gone")
