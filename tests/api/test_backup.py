"""The whole workshop as one file: out and in again, looked at first, and refused where anything is wrong."""

import hashlib
import io
import json
import os
import zipfile
from datetime import date

import pytest
from PIL import Image
from typer.testing import CliRunner

from pronostico import cli
from pronostico.knowledge.entries import shipped_text
from pronostico.services.staging import StagedFiles, clear_unfinished, temporary_folder
from pronostico.settings import photographs_of
from tests.builders import record_document

TODAY = date.today().isoformat()
PNG = {"Content-Type": "image/png"}


def saved(client):
    answer = client.get("/api/backup")
    assert answer.status_code == 200
    assert answer.headers["content-disposition"].endswith(f'filename="backup-{TODAY}.zip"')
    return answer.content


def files_of(content):
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


def packed(files, *, manifest=True):
    """A workshop's file of these files, its manifest as it should be."""
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in files.items():
            if name != "manifest.json":
                archive.writestr(name, content)
        if manifest:
            entries = [
                {"path": name, "bytes": len(content), "sha256": hashlib.sha256(content).hexdigest()}
                for name, content in files.items()
                if name != "manifest.json"
            ]
            document = {"format": "pronostico/shop", "version": 1, "made": TODAY, "files": entries}
            archive.writestr("manifest.json", json.dumps(document))
    return made.getvalue()


def look(client, content, **query):
    return client.post("/api/backup/preview", content=content, params=query)


def take(client, content, **query):
    return client.post("/api/backup", content=content, params=query)


def records_of(client):
    return {
        one["id"]: client.get(f"/api/engines/{one['id']}/record").json()
        for one in client.get("/api/engines").json()
    }


CASE = "/api/engines/resurfacer-1/cases/c1"
VISIT = "/api/engines/resurfacer-1/visits/v8"


@pytest.fixture
def lived_in(client):
    """The demonstration, with a closed case, a note and a photograph."""
    picture = io.BytesIO()
    Image.new("RGB", (30, 20), "navy").save(picture, "PNG")
    client.put(CASE + "/notebook/n1", json={"text": "seats deep"})
    client.put(CASE + "/notebook/p1/photograph?text=seat", content=picture.getvalue())
    client.put(VISIT + "/photographs/p2?step=inspect&valve=4E", content=picture.getvalue())
    client.put("/api/customers/k1", json={"customer": {"name": "Rink Ltd", "telephone": "555 0101"}})
    client.put("/api/engines/resurfacer-1/customer", json={"customer": "k1"})
    client.put("/api/engines/resurfacer-1/plate-photograph", content=picture.getvalue(), headers=PNG)
    client.put(VISIT + "/photographs/p2/caption", json={"valve": "4E", "text": "lobe", "on_card": True})
    opened = client.get(CASE).json()["opened"]
    confirmed = [{"cause": "seat-recession", "side": "exhaust"}]
    client.put(CASE + "/outcome", json={"closed": opened, "confirmed": confirmed})
    return client


def test_a_workshop_goes_out_and_comes_in_elsewhere_whole(lived_in, empty_client):
    content = saved(lived_in)
    seen = look(empty_client, content).json()
    assert {one["state"] for one in seen["engines"]} == {"new"}
    assert empty_client.get("/api/engines").json() == []
    assert take(empty_client, content).json() == seen
    assert records_of(empty_client) == records_of(lived_in)
    for path in (
        "/api/blade-sets",
        "/api/shim-box",
        "/api/lessons",
        CASE + "/notebook",
        CASE + "/diagnosis",
        VISIT + "/photographs",
        "/api/customers",
    ):
        assert empty_client.get(path).json() == lived_in.get(path).json(), path
    shown = CASE + "/notebook/p1/photograph"
    assert empty_client.get(shown).content == lived_in.get(shown).content
    assert lived_in.get(VISIT + "/photographs").json() != []
    shown = VISIT + "/photographs/p2/picture"
    assert empty_client.get(shown).content == lived_in.get(shown).content
    shown = "/api/engines/resurfacer-1/plate-photograph"
    assert empty_client.get(shown).content == lived_in.get(shown).content
    rink = next(one for one in empty_client.get("/api/customers").json() if one["id"] == "k1")
    assert [one["id"] for one in rink["engines"]] == ["resurfacer-1"]
    # The lesson is still its case's: opening it again takes it back there too.
    empty_client.delete(CASE + "/outcome")
    assert empty_client.get("/api/lessons").json()["cases"] == 0


def test_what_comes_back_to_its_own_workshop_changes_nothing(lived_in):
    content, before = saved(lived_in), records_of(lived_in)
    found = take(lived_in, content).json()
    assert found["engines"] == []
    assert found["same"] == len(before)
    assert not any(found[part] for part in ("blade_sets", "shim_sizes", "lessons", "photographs", "faults"))
    assert records_of(lived_in) == before
    assert files_of(saved(lived_in)) == files_of(content)


def engine_file(files, engine_id):
    return next(
        name
        for name, content in files.items()
        if name.startswith("engines/") and json.loads(content)["engine"]["id"] == engine_id
    )


def changed(files, engine_id, change):
    name = engine_file(files, engine_id)
    document = json.loads(files[name])
    change(document)
    return {**files, name: json.dumps(document).encode()}


def test_new_visits_and_data_are_added_in_their_place(client):
    files = files_of(saved(client))
    here = client.get("/api/engines/quad/record").json()
    between = (here["visits"][0]["usage"] + here["visits"][1]["usage"]) / 2

    def add(document):
        document["engine"]["name"] = "Quad of the valley"
        earlier = {**document["visits"][0], "id": "x1", "usage": between, "readings": []}
        document["visits"].append({**earlier, "date": document["visits"][1]["date"]})

    def in_order(document):
        add(document)
        document["visits"].sort(key=lambda visit: visit["usage"])

    found = take(client, packed(changed(files, "quad", in_order))).json()
    assert [(one["id"], one["state"], one["visits"]) for one in found["engines"]] == [("quad", "changed", 1)]
    after = client.get("/api/engines/quad/record").json()
    assert after["engine"]["name"] == "Quad of the valley"
    assert [visit["id"] for visit in after["visits"]][:3] == ["v1", "x1", "v2"]


def test_what_differs_from_the_workshop_is_refused_and_nothing_of_the_file_is_stored(client):
    files = files_of(saved(client))
    files = changed(files, "quad", lambda one: one["visits"][0].update(notes="another hand"))
    files = changed(files, "thrower", lambda one: one["engine"].update(name="Thrower B"))
    seen = look(client, packed(files)).json()
    states = {one["id"]: (one["state"], one["faults"]) for one in seen["engines"]}
    assert states["thrower"] == ("changed", [])
    assert states["quad"] == ("refused", ["visit v1 differs from yours; yours is kept"])
    before = records_of(client)
    answer = take(client, packed(files))
    assert answer.status_code == 422
    assert "visit v1 differs" in answer.json()["detail"]
    assert records_of(client) == before
    # Left out by name, the rest is taken.
    assert take(client, packed(files), leave_out="quad").status_code == 200
    assert client.get("/api/engines/thrower/record").json()["engine"]["name"] == "Thrower B"
    assert client.get("/api/engines/quad/record").json() == before["quad"]


def test_every_fault_of_every_record_is_reported_with_its_file_and_place(empty_client):
    good = record_document()
    bad = {**record_document(), "engine": {**record_document()["engine"], "id": "b", "check_interval": -1}}
    later = {**record_document(), "version": 2}
    files = {
        f"engines/{n}.json": json.dumps(one).encode() for n, one in enumerate((good, bad, later, good), 1)
    }
    seen = look(empty_client, packed(files)).json()
    assert [one["state"] for one in seen["engines"]] == ["new"]
    told = "\n".join(seen["faults"])
    assert "engines/2.json $.engine.check_interval" in told
    assert "engines/3.json $.version" in told
    assert "engines/4.json $.engine.id" in told
    assert take(empty_client, packed(files)).status_code == 422
    assert empty_client.get("/api/engines").json() == []


def with_manifest(files, **changes):
    document = json.loads(files_of(packed(files))["manifest.json"])
    document.update(changes)
    return {**files, "manifest.json": json.dumps(document).encode()}


ONE = {"engines/1.json": json.dumps(record_document()).encode()}


def raw(files):
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in files.items():
            archive.writestr(name, content)
    return made.getvalue()


def damaged():
    content = bytearray(packed(ONE))
    at = content.index(b"engines/1.json") + 60
    content[at : at + 20] = b"\x00" * 20
    return bytes(content)


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"no zip at all", "not a zip file"),
        (packed(ONE)[:200], "not a zip file"),
        (packed({**ONE, "../../evil.json": b"{}"}), "not part of a backup"),
        (packed({**ONE, "/etc/passwd": b"x"}), "not part of a backup"),
        (packed({**ONE, "photographs/../x.jpg": b"x"}), "not part of a backup"),
        (packed({**ONE, "engines/run.sh": b"x"}), "not part of a backup"),
        (packed(ONE, manifest=False), "has no manifest.json"),
        (raw(with_manifest(ONE, version=2)), "manifest.json $.version"),
        (raw(with_manifest(ONE, format="other")), "manifest.json $.format"),
        (raw({**with_manifest(ONE), "engines/2.json": b"{}"}), "'engines/2.json' is not in manifest.json"),
        (raw({"manifest.json": with_manifest(ONE)["manifest.json"]}), "which is not there"),
        (raw({**with_manifest(ONE), "engines/1.json": b"{}"}), "was changed or damaged"),
        (damaged(), "damaged"),
        (
            packed({**ONE, "shim-box.json": b'{"shims": [{"shim_mm": -1, "count": 2}]}'}),
            "shim-box.json $.shims",
        ),
        (packed({**ONE, "photographs/a.jpg": b"<svg/>"}), "JPEG, PNG or WebP"),
        (packed({**ONE, "settings.json": b'{"rate_per_hour": "much"}'}), "settings.json $.rate_per_hour"),
        (
            packed(
                {
                    **ONE,
                    "notebooks.json": json.dumps(
                        {
                            "entries": [
                                {
                                    "engine": "e",
                                    "case": "c",
                                    "id": "n",
                                    "noted_at": "2026-01-01T00:00:00Z",
                                    "text": "",
                                    "photograph": "../../secret.jpg",
                                    "media_type": "image/jpeg",
                                }
                            ]
                        }
                    ).encode(),
                }
            ),
            "notebooks.json $.entries[0].photograph",
        ),
    ],
)
def test_a_file_that_is_no_workshop_is_refused_and_the_server_stays_up(empty_client, content, says):
    for send in (look, take):
        answer = send(empty_client, content)
        assert answer.status_code == 422
        problem = answer.json()
        assert says in problem["detail"] or any(says in one["path"] for one in problem["faults"])
        # What a person is told names the file and the field, and no path.
        assert "$" not in problem["detail"]
    assert empty_client.get("/api/engines").json() == []


def test_a_bomb_is_refused_without_being_unpacked(empty_client):
    bomb = packed({"engines/1.json": b" " * 60_000_000})
    assert len(bomb) < 100_000
    answer = take(empty_client, bomb)
    assert (answer.status_code, "times its size" in answer.json()["detail"]) == (422, True)


def test_the_command_writes_and_reads_with_a_progress_bar(demo_path, tmp_path):
    run, file, other = CliRunner(), tmp_path / "shop.zip", tmp_path / "other.sqlite"
    made = run.invoke(cli.app, ["export", str(file), "--database", str(demo_path)])
    assert made.exit_code == 0, made.output
    assert "8 engines" in made.output
    looked = run.invoke(cli.app, ["import", str(file), "--database", str(other), "--look"])
    assert looked.output.count("new: ") == 8
    taken = run.invoke(cli.app, ["import", str(file), "--database", str(other)])
    assert (taken.exit_code, taken.output.count("new: ")) == (0, 8)
    again = run.invoke(cli.app, ["import", str(file), "--database", str(other)])
    assert "8 engines unchanged" in again.output
    broken = run.invoke(cli.app, ["import", str(demo_path), "--database", str(other)])
    assert (broken.exit_code, "not a zip file" in broken.output) == (1, True)


def with_knowledge(client, name, content):
    return packed({**files_of(saved(client)), f"knowledge/{name}": content})


def test_knowledge_comes_with_the_workshop_unless_there_is_some_already(client, tmp_path, monkeypatch):
    folder = tmp_path / "knowledge"
    monkeypatch.setenv("PRONOSTICO_KNOWLEDGE", str(folder))
    corrected = shipped_text("tests.toml").replace("minutes = 15", "minutes = 16", 1).encode()
    content = with_knowledge(client, "tests.toml", corrected)
    assert look(client, content).json()["knowledge"] == ["tests.toml"]
    assert not folder.exists()
    assert take(client, content).json()["knowledge"] == ["tests.toml"]
    assert (folder / "tests.toml").read_bytes() == corrected
    (folder / "tests.toml").write_text("# mine")
    again = take(client, content).json()
    assert (again["knowledge"], again["knowledge_not_taken"]) == ([], ["tests.toml"])
    assert (folder / "tests.toml").read_text() == "# mine"


def test_knowledge_that_could_not_be_used_refuses_the_file_with_its_line(client, tmp_path, monkeypatch):
    folder = tmp_path / "knowledge"
    monkeypatch.setenv("PRONOSTICO_KNOWLEDGE", str(folder))
    broken = shipped_text("tests.toml").replace("minutes = 15", "minutes = fast", 1).encode()
    refused = take(client, with_knowledge(client, "tests.toml", broken))
    assert refused.status_code == 422 and "tests.toml" in refused.text and "line" in refused.text
    assert not folder.exists()


def test_how_far_it_has_come_is_reported(client):
    assert client.get("/api/backup/progress").json() == {"done": 0, "total": 0}
    told = []
    progress = client.app.state.backup_progress
    tell = type(progress).tell

    def watched(self, done, total):
        tell(self, done, total)
        told.append(client.get("/api/backup/progress").json())

    type(progress).tell = watched
    try:
        assert look(client, saved(client)).status_code == 200
    finally:
        type(progress).tell = tell
    assert [one["done"] for one in told] == [1, 2, 3, 4, 5, 6, 7, 8, 0]
    assert {one["total"] for one in told[:-1]} == {8}


def test_photographs_are_put_in_place_after_the_commit_and_repaired_by_their_hash(tmp_path):
    """As the service does it: nothing is left behind where it is not stored, and a second import mends."""
    content = b"\xff\xd8 a picture"
    digest = hashlib.sha256(content).hexdigest()
    folder = tmp_path / "shop-photographs"
    with temporary_folder(tmp_path) as within:
        staged = StagedFiles(within)
        staged.add(folder, "a.jpg", content)
        assert not folder.exists()
        staged.put_in_place()
    assert hashlib.sha256((folder / "a.jpg").read_bytes()).hexdigest() == digest
    assert not list(tmp_path.glob(".incoming-*"))


@pytest.mark.parametrize("damage", ["missing", "cut off"])
def test_a_repeated_import_repairs_a_photograph(lived_in, damage):
    content = saved(lived_in)
    folder = photographs_of(lived_in.app.state.database.path)
    (kept,) = folder.glob("*.jpg")
    whole = kept.read_bytes()
    if damage == "missing":
        kept.unlink()
    else:
        kept.write_bytes(whole[: len(whole) // 2])
    assert take(lived_in, content).json()["photographs"] == 1
    assert kept.read_bytes() == whole
    assert take(lived_in, content).json()["photographs"] == 0


def test_what_a_killed_import_left_is_cleared_at_the_next_start(tmp_path):
    gone, mine = tmp_path / ".incoming-999999999-x", tmp_path / f".incoming-{os.getpid()}-y"
    for folder in (gone, mine):
        folder.mkdir()
        (folder / "a.jpg").write_bytes(b"half")
    (tmp_path / "b.jpg.part").write_bytes(b"half")
    (tmp_path / "c.jpg").write_bytes(b"whole")
    clear_unfinished(tmp_path)
    # What a running process has on its way stays; so does what is whole.
    assert sorted(path.name for path in tmp_path.iterdir()) == [mine.name, "c.jpg"]
