"""What holds of the whole API: it keeps to its own description, and the pages' types keep to it."""

import gzip
import json
import os
import re
import subprocess
import tempfile
from datetime import UTC, date, datetime
from pathlib import Path

import pytest
import schemathesis
from hypothesis import HealthCheck, settings
from schemathesis.specs.openapi.checks import positive_data_acceptance

from pronostico import errors as service_errors
from pronostico.api.app import create_app, detach
from pronostico.api.errors import STATUS
from pronostico.api.openapi import openapi_document
from pronostico.core import errors as core_errors
from pronostico.demo.seed import seed_demo
from pronostico.settings import Settings
from tests.databases import opened

ROOT = Path(__file__).parents[2]


# A zip is bytes like any others, and so is sound.
schemathesis.serializer.alias("audio/*", "application/octet-stream")
schemathesis.serializer.alias("video/*", "application/octet-stream")
schemathesis.serializer.alias("application/zip", "application/octet-stream")
schemathesis.serializer.alias("text/csv", "application/octet-stream")

# Made on import: the routes have to be known when the tests are collected.
_FOLDER = tempfile.TemporaryDirectory(prefix="pronostico-contract-")
_DATABASE = opened(seed_demo(Path(_FOLDER.name), today=date.today(), now=datetime.now(UTC)), for_long=True)
_APP = create_app(_DATABASE, Path(_FOLDER.name))
# As the product's own pages ask.
_OURS = {"Host": "localhost", "Sec-Fetch-Site": "same-origin"}
schema = schemathesis.openapi.from_asgi("/api/openapi.json", _APP, headers={"Host": "localhost"})


@pytest.fixture(autouse=True, scope="module")
def _put_away():
    yield
    detach(_APP)
    _DATABASE.close()
    _FOLDER.cleanup()


# A few examples of each route decide over a change; `make fuzz` tries a thousand, other ones each time.
FUZZ_EXAMPLES = int(os.environ.get("FUZZ_EXAMPLES", "4"))

# What a record may be no schema can say; its own tests try it.
RAW_TEXT = ["/api/records", "/api/records/preview"]
# What comes as it happens has tests of its own.
LIVE = [
    "/api/engines/{engine_id}/live",
    "/api/engines/{engine_id}/visits/{visit_id}/instruments/{kind}/trace",
    "/api/practice/runs/{run_id}/instruments/{kind}/trace",
]
# What makes folders on the machine is tried with folders of the tests' own.
FOLDERS = ["/api/backup/daily-copy"]
# What starts another program is tried by itself.
PROGRAMS = ["/api/demonstration"]
# Whether the parts of these agree with each other no schema can say either: they may refuse what fits theirs.
WEIGHED = {
    ("POST", "/api/engines"),
    ("PUT", "/api/engines/{engine_id}"),
    ("POST", "/api/heads"),
    ("PUT", "/api/blade-sets/{set_id}"),
    # Any bytes fit the description of a zip.
    ("POST", "/api/backup"),
    ("POST", "/api/backup/preview"),
    ("POST", "/api/engines/{engine_id}/readings-sheet"),
    # ... and that of a photograph.
    ("PUT", "/api/engines/{engine_id}/cases/{case_id}/notebook/{entry_id}/photograph"),
    ("PUT", "/api/engines/{engine_id}/visits/{visit_id}/photographs/{photograph_id}"),
    ("PUT", "/api/engines/{engine_id}/plate-photograph"),
    # A run is of a lesson or an engine that there is.
    ("PUT", "/api/practice/runs/{run_id}"),
    ("POST", "/api/engines/{engine_id}/visits/{visit_id}/instruments/{kind}/replay"),
    # How many samples go with a kind no schema says.
    ("PUT", "/api/engines/{engine_id}/visits/{visit_id}/instruments/traces/{trace_id}"),
    ("POST", "/api/engines/{engine_id}/readings-sheet/preview"),
    # That work which waits names its parts, and that days follow each other, no schema says.
    ("PUT", "/api/engines/{engine_id}/visits/{visit_id}/verification/progress"),
    # Whether a password is soon guessed no schema says.
    ("PUT", "/api/people/{person_id}"),
    ("PUT", "/api/people/{person_id}/password"),
}


def _is_text(body):
    """Whether all that a body says can be written as UTF-8; half a surrogate pair cannot, and is refused."""
    try:
        json.dumps(body, ensure_ascii=False, default=str).encode()
    except UnicodeEncodeError:
        return False
    return True


@schema.exclude(path=RAW_TEXT + LIVE + FOLDERS + PROGRAMS).parametrize()
@settings(
    max_examples=FUZZ_EXAMPLES, derandomize=FUZZ_EXAMPLES < 100, suppress_health_check=list(HealthCheck)
)
def test_every_route_keeps_to_its_description(case):
    weighed = (case.method.upper(), case.path) in WEIGHED or not _is_text(case.body)
    case.call_and_validate(headers=_OURS, excluded_checks=[positive_data_acceptance] if weighed else [])


def test_every_error_has_its_status():
    for module, base in ((core_errors, core_errors.CoreError), (service_errors, service_errors.ServiceError)):
        for thing in vars(module).values():
            if isinstance(thing, type) and issubclass(thing, base):
                assert thing in STATUS, f"{thing.__name__} has no entry in api/errors.py"


def test_the_pages_types_are_those_of_the_api(tmp_path):
    document = tmp_path / "openapi.json"
    document.write_text(json.dumps(openapi_document(), indent=2), "utf-8")
    made = tmp_path / "schema.d.ts"
    subprocess.run(
        ["npx", "--no-install", "openapi-typescript", str(document), "-o", str(made)],
        cwd=ROOT / "frontend",
        check=True,
        capture_output=True,
    )
    committed = ROOT / "frontend" / "src" / "api" / "schema.d.ts"
    assert made.read_text("utf-8") == committed.read_text("utf-8"), "run 'make types'"


def test_what_the_first_page_fetches_stays_under_250_kb_gzip():
    static = Settings().static
    first = re.findall(r'(?:src|href)="/(assets/[^"]+\.js)"', (static / "index.html").read_text("utf-8"))
    assert first
    assert sum(len(gzip.compress((static / script).read_bytes())) for script in first) < 250_000


def test_pages_are_served_at_every_address_and_stay_at_home(client):
    for address in ("/", "/engines/resurfacer-1/cases/c1"):
        page = client.get(address)
        assert page.status_code == 200
        assert "text/html" in page.headers["content-type"]
        assert "default-src 'self'" in page.headers["content-security-policy"]
    assert client.get("/assets/nothing.js").status_code == 404
    assert client.post("/engines").status_code in (404, 405)


def test_another_sites_name_for_this_address_is_refused(client):
    assert client.get("/api/engines", headers={"host": "elsewhere.test"}).status_code == 400


def test_no_lock_file_names_a_registry():
    for lock in ("requirements.lock", "requirements-dev.lock", "frontend/package-lock.json"):
        text = (ROOT / lock).read_text("utf-8")
        assert '"resolved"' not in text
        assert "index-url" not in text.replace("--no-emit-index-url", "")
