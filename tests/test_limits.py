"""What is too large or too deep is refused before it is parsed, in time that grows with its size alone."""

import json
import zipfile
from io import BytesIO

import pytest

from pronostico.core.errors import KnowledgeFault
from pronostico.knowledge.entries import shipped_text
from pronostico.knowledge.in_use import knowledge_from
from pronostico.knowledge.loader import parse_knowledge
from pronostico.limits import (
    CELL_CHARACTERS,
    JSON_DEPTH,
    SHEET_BYTES,
    TOML_DOTS,
    json_depth,
    toml_fault,
)
from pronostico.record.plain_json import NotPlain, plain_json
from pronostico.services.exchange.spreadsheet.columns import plain_head

JSON = {"content-type": "application/json"}
SHEET = "/api/engines/resurfacer-2/readings-sheet/preview"


def nested(depth, opening="[", closing="]"):
    return opening * depth + closing * depth


def test_json_may_be_as_deep_as_said_and_no_deeper():
    assert plain_json(nested(JSON_DEPTH)) is not None
    for text in (
        nested(JSON_DEPTH + 1),
        nested(100_000),
        '{"a":' * 100_000 + "1" + "}" * 100_000,
        "[" * 1_000_000,
    ):
        with pytest.raises(NotPlain, match="nested too deeply"):
            plain_json(text)
    # The parser is as able afterwards as before.
    assert plain_json('{"a": [1]}') == {"a": [1]}


@pytest.mark.parametrize(
    ("text", "depth"),
    [
        ("1", 0),
        ("[[1], [2]]", 2),
        ('{"a": "[[[[", "b": [{}]}', 3),
        (r'["a \" [[[ \\"]', 1),
        ("[" * 3_000_000, 3_000_000),
        ("]]]]", 0),
    ],
)
def test_brackets_within_texts_do_not_count(text, depth):
    assert json_depth(text) == depth


def test_deep_json_is_refused_at_the_door_again_and_again(client):
    for _ in range(3):
        answer = client.post("/api/records", content=nested(50_000).encode(), headers=JSON)
        assert answer.status_code in (400, 422) and "nested too deeply" in answer.text
    assert client.get("/api/engines").status_code == 200


HOSTILE_TOML = {
    "dotted keys": ".".join(["a"] * 100_000) + " = 1",
    "dotted table": "[" + ".".join(["a"] * 100_000) + "]",
    "brackets": "a = " + nested(100_000),
    "tables in tables": "a = " + "{b = " * 5_000 + "1" + "}" * 5_000,
    "digits": "a = " + "9" * 100_000,
    "large": "# " + "x" * 2_100_000,
    "not closed": 'a = "' + "x" * 100_000,
    "backslashes": 'a = "' + "\\" * 99_999,
}


@pytest.mark.parametrize("name", HOSTILE_TOML)
def test_a_hostile_knowledge_file_is_a_fault_with_its_name(name):
    with pytest.raises(KnowledgeFault, match=r"findings\.toml"):
        parse_knowledge(HOSTILE_TOML[name], shipped_text("causes.toml"))


def test_what_ships_is_within_the_limits():
    for name in ("findings.toml", "causes.toml", "tests.toml", "closing.toml", "first_looks.toml"):
        assert toml_fault(shipped_text(name)) is None
    assert toml_fault("a = 1\nb = '" + "." * (TOML_DOTS + 1) + "'").startswith("line 2")


@pytest.mark.parametrize("name", HOSTILE_TOML)
def test_a_faulty_folder_of_knowledge_is_told_and_what_ships_is_used(tmp_path, name):
    (tmp_path / "causes.toml").write_text(HOSTILE_TOML[name], "utf-8")
    known = knowledge_from(tmp_path)
    assert known.knowledge.causes and "causes.toml" in known.source.fault


def test_a_head_of_brackets_takes_no_time(client):
    # Were it tried from each bracket to the end this would take hours, and the run's limit would end it.
    assert plain_head("(" * 2_000_000 + "[" * 2_000_000) == ""
    assert plain_head("Gap [mm] (cold)") == "gap"
    head = "(" * (CELL_CHARACTERS - 10)
    sheet = f"date,{head},valve,went\n2026-01-05,100,1I,0.1\n"
    answer = client.post(SHEET, content=sheet.encode())
    assert answer.status_code in (200, 422)


def test_a_cell_beyond_any_is_refused_with_its_line(client):
    for cell in ("[" * 100_000, " " * 3_000 + "h", "1" * 3_000):
        sheet = f"date,usage,valve,went\n2026-01-05,{cell},1I,0.1\n"
        answer = client.post(SHEET, content=sheet.encode())
        assert answer.status_code == 422
        assert "line 2" in answer.text and f"{CELL_CHARACTERS} characters" in answer.text


def test_a_body_larger_than_any_sheet_is_refused_before_it_is_read(client):
    read = 0

    def parts():
        nonlocal read
        for _ in range(300):
            read += 1
            yield b"x" * 1_000_000

    answer = client.post(SHEET, content=parts(), headers={"content-type": "text/csv"})
    assert answer.status_code == 413
    assert "MB" in answer.json()["title"] and read * 1_000_000 >= SHEET_BYTES


def archive(name, content):
    made = BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as file:
        file.writestr("manifest.json", json.dumps({"format": "x"}))
        file.writestr(name, content)
    return made.getvalue()


def test_a_small_archive_that_unpacks_to_a_large_file_is_refused(client):
    content = archive("engines/1.json", b" " * 30_000_000)
    assert len(content) < 100_000
    answer = client.post("/api/backup/preview", content=content)
    assert answer.status_code == 422 and "times its size" in answer.text


def test_a_file_of_knowledge_says_only_so_many_of_its_faults():
    text = "\n".join(f"[[finding]]\nid = {n}" for n in range(2_000))
    with pytest.raises(KnowledgeFault) as told:
        parse_knowledge(text, shipped_text("causes.toml"))
    assert len(str(told.value)) < 5_000
