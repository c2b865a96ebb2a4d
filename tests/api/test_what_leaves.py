"""What leaves the product: headers on every answer, no formula in a table."""

import csv
import io

import pytest

from pronostico.analysis.tables.table import safe_text, text_of_safe
from pronostico.services.exchange.spreadsheet.sheet import read_sheet
from tests.conftest import OwnPage

FORMULAS = ["=1+1", "+1", "-1", "@SUM(A1)", "\t=1", "\r=1", '=HYPERLINK("http://elsewhere.test")']


def fails():
    raise ArithmeticError("no answer")


@pytest.mark.parametrize(
    ("method", "path", "headers", "status"),
    [
        ("GET", "/api/engines", {}, 200),
        ("GET", "/", {}, 200),
        ("GET", "/api/engines/nobody", {}, 404),
        ("POST", "/api/records", {"content-type": "text/plain"}, 415),
        ("POST", "/api/records", {"sec-fetch-site": "cross-site"}, 403),
        ("GET", "/api/engines", {"host": "elsewhere.test"}, 400),
        ("DELETE", "/api/engines", {}, 405),
        ("GET", "/api/fails", {}, 500),
    ],
)
def test_every_answer_has_the_headers_that_keep_it_at_home(client, method, path, headers, status):
    app = client.app
    if status == 500:
        app.add_api_route("/api/fails", fails)
    try:
        asking = OwnPage(app) if status != 500 else OwnPage(app, raising=False)
        content = b"x" if method == "POST" else None
        answer = asking.request(method, path, headers=headers, content=content)
    finally:
        app.router.routes[:] = [one for one in app.router.routes if getattr(one, "path", "") != "/api/fails"]
    assert answer.status_code == status
    policy = answer.headers["content-security-policy"]
    assert (
        "default-src 'self'" in policy and "frame-ancestors 'none'" in policy and "unsafe-eval" not in policy
    )
    assert answer.headers["x-content-type-options"] == "nosniff"
    assert answer.headers["referrer-policy"] == "no-referrer"
    assert "access-control-allow-origin" not in answer.headers
    if path.startswith("/api"):
        assert answer.headers["cache-control"] == "no-store"


@pytest.mark.parametrize("text", [*FORMULAS, "'quoted'", "plain", "", "'", "''=1", "0.12", "1E"])
def test_a_text_is_never_a_formula_and_reads_back_the_same(text):
    safe = safe_text(text)
    assert not safe.startswith(("=", "+", "-", "@", "\t", "\r"))
    assert text_of_safe(safe) == text


def test_no_cell_of_the_tables_is_a_formula(client):
    for formula in FORMULAS:
        changes = {"notes": formula, "technician": formula.strip()}
        visit = client.get("/api/engines/resurfacer-1/visits/v8").json()
        body = {"changes": changes, "was": {key: visit[key] for key in changes}, "confirmed": []}
        assert client.patch("/api/engines/resurfacer-1/visits/v8", json=body).status_code == 200
        rows = list(csv.reader(io.StringIO(client.get("/api/engines/resurfacer-1/visits.csv").text)))
        cells = [cell for row in rows for cell in row]
        assert f"'{formula.strip()}" in cells
        # A figure may begin with its sign; a text may not.
        assert all(is_number(cell) for cell in cells if cell.startswith(("=", "+", "-", "@", "\t", "\r")))


def is_number(cell):
    try:
        float(cell)
    except ValueError:
        return False
    return True


def test_what_was_made_safe_is_read_as_it_was():
    sheet = read_sheet(b"date,valve,note\n2026-01-01,1I,'=1+1\n2026-01-02,'-1I,''=x\n")
    assert [cells[1:] for _, cells in sheet.rows] == [("1I", "=1+1"), ("-1I", "'=x")]
