"""Input that no technician sends: refused with its place and its limits, never a fault of the server."""

import json

import pytest

ENGINE = "/api/engines/resurfacer-2"
VISIT = f"{ENGINE}/visits/v4"
JSON = {"content-type": "application/json"}
SURROGATE = '"half \\ud800"'
DIGITS = "9" * 400

TRY = '{{"valve": "1I", "phase": "found", "blades_mm": [{}], "felt": "drag"}}'
COUNT = '{{"shim_mm": 2.4, "count": {}, "was": null}}'


@pytest.mark.parametrize(
    ("method", "address", "body"),
    [
        ("PUT", f"{VISIT}/tries/h1", TRY.format("1e999")),
        ("PUT", f"{VISIT}/tries/h1", TRY.format(DIGITS)),
        ("PUT", f"{VISIT}/tries/h1", TRY.format("NaN")),
        ("PUT", f"{VISIT}/valves/1I/skip", f'{{"phase": "found", "reason": {SURROGATE}}}'),
        ("PUT", "/api/shim-box", COUNT.format(2**70)),
        ("PUT", "/api/shim-box", COUNT.format(DIGITS)),
        ("PUT", "/api/workshop-settings", f'{{"currency": {SURROGATE}}}'),
        ("PUT", "/api/workshop-settings", '{"rate_per_hour": 1e400}'),
        ("PUT", f"{VISIT}/tests/cylinders/1", '{"dry_kpa": 1e300}'),
        ("PUT", f"{VISIT}/tests/altitude", '{"altitude_m": 1e12}'),
        ("PATCH", VISIT, f'{{"changes": {{"notes": {SURROGATE}}}, "was": {{}}, "confirmed": []}}'),
        ("PATCH", VISIT, f'{{"changes": {{"usage": {DIGITS}}}, "was": {{}}, "confirmed": []}}'),
        (
            "PUT",
            f"{VISIT}/verification/recheck",
            '{"recheck": {"usage": 1e14, "reason": ""}, "confirmed": []}',
        ),
        ("POST", f"{ENGINE}/cases", f'{{"id": "h", "opened": {SURROGATE}}}'),
        ("POST", "/api/records", json.dumps({"format": "x" * 200_000})),
        ("POST", "/api/records", f'{{"version": {DIGITS}}}'),
        ("POST", "/api/records", f'{{"format": {SURROGATE}}}'),
    ],
)
def test_it_is_refused_with_its_place(client, method, address, body):
    answer = client.request(method, address, content=body.encode(), headers=JSON)
    assert answer.status_code in (400, 422), answer.text
    problem = answer.json()
    assert problem["detail"] and "Traceback" not in answer.text
    if answer.status_code == 422:
        assert problem["faults"] and all(one["path"].startswith(("$", "path")) for one in problem["faults"])
        # A person is told the label; the path is for programs.
        assert "$" not in problem["detail"]


def test_a_body_that_never_ends_is_refused(client):
    answer = client.post("/api/records", content=b'["' + b"x" * 65_000_000 + b'"]', headers=JSON)
    assert answer.status_code == 413


def test_a_cell_of_two_hundred_thousand_characters_is_refused_with_its_line(client):
    sheet = "date,usage,valve,went\n2026-01-05,100,1I," + "0.1" * 70_000 + "\n"
    answer = client.post(
        f"{ENGINE}/readings-sheet/preview", content=sheet.encode(), headers={"content-type": "text/csv"}
    )
    assert answer.status_code in (200, 422)
    told = json.dumps(answer.json())
    assert "characters" in told and len(told) < 20_000


def test_compressions_all_at_zero_are_data(client):
    for cylinder in (1, 2, 3, 4):
        body = {"dry_kpa": 0, "confirmed": ["$.dry_kpa"]}
        answer = client.put(f"{VISIT}/tests/cylinders/{cylinder}", json=body)
        assert answer.status_code == 200, answer.text
    tested = client.get(f"{VISIT}/tests").json()
    assert tested["spread"] == 0.0
    assert client.get(f"{VISIT}/card.pdf").status_code == 200
    opened = {"id": "z", "opened": client.get(VISIT).json()["date"], "visit": "v4"}
    client.post(f"{ENGINE}/cases", json=opened)
    diagnosis = client.get(f"{ENGINE}/cases/z/diagnosis")
    assert diagnosis.status_code == 200
    for page in ("assessment", "setting", "verification", "card"):
        assert client.get(f"{VISIT}/{page}").status_code in (200, 404)
