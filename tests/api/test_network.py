"""Served on the network: nothing without signing in, roles, devices, and who changed what."""

import json
from datetime import UTC, datetime, timedelta

import pytest
from argon2 import PasswordHasher
from fastapi.testclient import TestClient
from sqlalchemy import text, update
from starlette.testclient import WebSocketDenialResponse
from starlette.websockets import WebSocketDisconnect

from pronostico.api.app import attach, build_app, detach
from pronostico.api.deps import _now
from pronostico.api.who_asks import COOKIE, Network
from pronostico.network.addresses import Addresses, IpAddress, Reachable
from pronostico.services.people import passwords
from pronostico.services.people.change_words import CHANGES
from pronostico.services.people.people import add_person
from pronostico.services.people.slowing import Slowing
from pronostico.store.people_tables import SignInRow
from tests.conftest import NO_PAGES
from tests.databases import opened

HERE = "https://192.168.1.20:8341"
CODE = "ABCD-EFGH-JKLM"
PASSWORDS = {
    "Mira Sand": "gasket blue winter",
    "Ole Brand": "seven loose tappets",
    "Ida Read": "paper that remembers",
}
ENGINE = "/api/engines/resurfacer-1"
TRY = f"{ENGINE}/visits/v8/tries/t1"
ANSWER = {"valve": "4E", "phase": "found", "blades_mm": [0.1], "felt": "free"}


@pytest.fixture(autouse=True)
def _quick_hashes(monkeypatch):
    """What slows guessing down need not slow the tests down."""
    hasher = PasswordHasher(time_cost=1, memory_cost=64, parallelism=1)
    monkeypatch.setattr(passwords, "_hasher", lambda: hasher)


@pytest.fixture(scope="module")
def network():
    return Network(Reachable(8341, Addresses(("workshop",), (IpAddress("192.168.1.20"),))), CODE)


@pytest.fixture(scope="module")
def app(network):
    return build_app(NO_PAGES, network)


@pytest.fixture
def database(app, network, demo_path):
    database = opened(demo_path)
    attach(app, database)
    # What earlier tests tried wrongly slows nobody down here.
    network.slowing.__init__()
    yield database
    app.dependency_overrides.clear()
    detach(app)
    database.close()


@pytest.fixture
def device(app, database):
    """A new device on the network."""
    return lambda: TestClient(app, base_url=HERE, headers={"Origin": HERE})


@pytest.fixture
def people(database):
    roles = ("owner", "technician", "reader")
    with database.writing() as session:
        return {
            name: add_person(session, name=name, role=role, password=password, now=datetime.now(UTC)).id
            for (name, password), role in zip(PASSWORDS.items(), roles, strict=True)
        }


@pytest.fixture
def signed_in(device, people):
    def sign_in(name):
        client = device()
        body = {"name": name, "password": PASSWORDS[name], "device": f"phone of {name}"}
        assert client.post("/api/session", json=body).status_code == 204
        return client

    return sign_in


def test_nothing_but_signing_in_is_answered_before_signing_in(app, device):
    stranger = device()
    open_to_all = ("/api/session", "/api/calendar/")
    asked = 0
    for path, routes in app.openapi()["paths"].items():
        if path.startswith(open_to_all):
            continue
        for method in routes:
            answer = stranger.request(method, path)
            assert (answer.status_code, answer.json()["type"]) == (
                401,
                "urn:pronostico:problem:not-signed-in",
            ), path
            asked += 1
    assert asked > 100
    assert stranger.get("/api/openapi.json").status_code == 401


def test_the_first_owner_has_the_code_of_the_console_and_there_is_one_first(device):
    stranger = device()
    assert stranger.get("/api/session").json()["needs"] == "first-owner"
    body = {"name": "Mira Sand", "password": PASSWORDS["Mira Sand"], "device": "laptop"}
    assert stranger.post("/api/session/first-owner", json={**body, "code": "AAAA"}).status_code == 401
    answer = stranger.post("/api/session/first-owner", json={**body, "code": "abcd efgh jklm"})
    assert answer.status_code == 204
    cookie = answer.headers["set-cookie"]
    assert all(one in cookie for one in (f"{COOKIE}=", "HttpOnly", "Secure", "SameSite=lax", "Path=/"))
    who = stranger.get("/api/session").json()
    assert (who["person"]["name"], who["person"]["role"], who["device"]) == ("Mira Sand", "owner", "laptop")
    second = device().post("/api/session/first-owner", json={**body, "name": "Eve", "code": CODE})
    assert second.status_code == 401


def test_nothing_tells_whether_somebody_of_a_name_exists(device, people):
    answers = [
        device().post("/api/session", json={"name": name, "password": "something wrong"})
        for name in ("Mira Sand", "Nobody Known")
    ]
    assert [answer.status_code for answer in answers] == [401, 401]
    assert answers[0].json() == answers[1].json()


def test_wrong_passwords_slow_down_even_the_right_one(app, device, people):
    stranger = device()
    wrong = {"name": "Mira Sand", "password": "something wrong"}
    assert [stranger.post("/api/session", json=wrong).status_code for _ in range(5)] == [401] * 5
    right = {"name": "mira  SAND", "password": PASSWORDS["Mira Sand"]}
    answer = stranger.post("/api/session", json=right)
    assert answer.status_code == 429
    assert int(answer.headers["retry-after"]) >= 1
    later = datetime.now(UTC) + timedelta(seconds=5)
    app.dependency_overrides[_now] = lambda: later
    assert stranger.post("/api/session", json=right).status_code == 204


def test_each_wrong_try_doubles_the_wait_up_to_a_quarter_of_an_hour():
    slowing, now = Slowing(), datetime(2026, 1, 1, tzinfo=UTC)
    waits = []
    for _ in range(20):
        slowing.wrong(["name x"], now)
        until = slowing._until("name x")
        waits.append(0 if until is None else (until - now).total_seconds())
    assert waits[:8] == [0, 0, 0, 0, 1, 2, 4, 8]
    assert max(waits) == 900
    slowing.right(["name x"])
    slowing.check(["name x"], now)


def test_wrong_tries_of_long_ago_slow_nobody_down():
    slowing, now = Slowing(), datetime(2026, 1, 1, tzinfo=UTC)
    for _ in range(20):
        slowing.wrong(["address a"], now)
    later = now + timedelta(days=2)
    slowing.wrong(["address a"], later)
    slowing.check(["address a"], later)


@pytest.mark.parametrize("password", ["short", "1234567890", "qwertyuiop", "Eva Sand 1", "x" * 129])
def test_a_password_that_is_soon_guessed_is_refused(signed_in, people, password):
    owner = signed_in("Mira Sand")
    answer = owner.put("/api/people/new-one", json={"name": "Eva Sand", "password": password})
    assert answer.status_code == 422
    assert answer.json()["faults"][0]["path"] == "$.password"


OWNERS_ALONE = [
    ("put", "/api/people/new-one"),
    ("put", "/api/people/new-one/role"),
    ("delete", "/api/people/new-one"),
    ("get", "/api/backup"),
    ("get", "/api/backup/copies"),
    ("put", "/api/backup/daily-copy"),
    ("post", "/api/backup"),
    ("put", "/api/workshop-settings"),
    ("post", "/api/lessons/file?name=x"),
    ("get", "/api/changes"),
    ("get", "/api/changes.csv"),
]


@pytest.mark.parametrize(("method", "path"), OWNERS_ALONE)
def test_what_only_owners_may(signed_in, method, path):
    sent = {"json": {}} if method in ("put", "post") else {}
    if (method, path) == ("post", "/api/backup"):
        sent = {"content": b"no archive", "headers": {"content-type": "application/zip"}}
    for name in ("Ole Brand", "Ida Read"):
        assert signed_in(name).request(method, path, **sent).status_code == 403
    assert signed_in("Mira Sand").request(method, path, **sent).status_code != 403


def test_a_reader_sees_everything_at_an_engine_and_changes_nothing(signed_in):
    reader = signed_in("Ida Read")
    assert reader.get(ENGINE).status_code == 200
    refused = reader.put(TRY, json=ANSWER)
    assert (refused.status_code, refused.json()["type"]) == (403, "urn:pronostico:problem:not-allowed")
    assert signed_in("Ole Brand").put(TRY, json=ANSWER).status_code == 200


def test_the_same_valve_measured_by_two_is_two_readings(signed_in):
    mira, ole = signed_in("Mira Sand"), signed_in("Ole Brand")

    def answer(who, number, thickness_mm, felt):
        body = {"valve": "4E", "phase": "found", "blades_mm": [thickness_mm], "felt": felt}
        answered = who.put(f"{ENGINE}/visits/v8/tries/t{number}", json=body)
        assert answered.status_code == 200
        return answered.json()["found"]

    def felt(reading):
        return reading["technician"], [one["id"] for one in reading["tries"]]

    answer(mira, 1, 0.20, "free")
    alone = answer(mira, 2, 0.23, "no-go")
    assert felt(alone) == ("Mira Sand", ["t1", "t2"]) and alone["earlier"] == []
    both = answer(ole, 3, 0.30, "drag")
    assert felt(both) == ("Ole Brand", ["t3"])
    assert [felt(one) for one in both["earlier"]] == [("Mira Sand", ["t1", "t2"])]
    # They differ by far more than a bent pushrod would do, but by two hands.
    visit = mira.get(f"{ENGINE}/visits/v8").json()
    assert next(one for one in visit["valves"] if one["valve"] == "4E")["swing"] is None
    # Sent twice, an answer is where it was; whoever goes on has the last word again.
    assert felt(answer(ole, 3, 0.30, "drag")) == ("Ole Brand", ["t3"])
    again = answer(mira, 4, 0.21, "drag")
    assert felt(again) == ("Mira Sand", ["t1", "t2", "t4"])
    assert [felt(one) for one in again["earlier"]] == [("Ole Brand", ["t3"])]
    record = mira.get(f"/api/engines/{ENGINE.rsplit('/', 1)[1]}/record").json()
    readings = [one for one in record["visits"][-1]["readings"] if one["valve"] == "4E"]
    assert [one.get("technician") for one in readings] == ["Ole Brand", "Mira Sand"]


def test_only_who_may_answer_is_listened_to(device, signed_in, monkeypatch):
    monkeypatch.setattr("pronostico.voice.hearing.missing_package", lambda: "none of them")
    address = f"{HERE.replace('https', 'wss')}{ENGINE}/visits/v8/listening"
    for asks in (device(), signed_in("Ida Read")):
        with pytest.raises((WebSocketDenialResponse, WebSocketDisconnect)), asks.websocket_connect(address):
            pass
    with signed_in("Ole Brand").websocket_connect(address) as socket:
        assert "none of them" in socket.receive_json()["detail"]


def test_a_link_pairs_one_device_within_ten_minutes(app, device, signed_in, people):
    technician = signed_in("Ole Brand")
    made = technician.post(f"/api/people/{people['Ole Brand']}/pairing").json()
    assert made["link"].startswith(f"{HERE}/pair#")
    assert made["qr"].startswith("<svg")
    body = {"code": made["link"].split("#")[1], "device": "phone"}
    phone = device()
    assert phone.post("/api/session/link", json=body).status_code == 204
    assert phone.get("/api/session").json()["person"]["name"] == "Ole Brand"
    again = device().post("/api/session/link", json=body)
    assert (again.status_code, again.json()["faults"][0]["message"][:23]) == (422, "this link has been used")

    made = technician.post(f"/api/people/{people['Ole Brand']}/pairing").json()
    later = datetime.now(UTC) + timedelta(minutes=11)
    app.dependency_overrides[_now] = lambda: later
    old = device().post("/api/session/link", json={"code": made["link"].split("#")[1]})
    assert old.status_code == 422
    assert "older than 10 minutes" in old.json()["detail"]
    unknown = device().post("/api/session/link", json={"code": "never-made"})
    assert unknown.status_code == 401


def test_nobody_pairs_a_device_for_somebody_else_but_an_owner(signed_in, people):
    other = f"/api/people/{people['Mira Sand']}/pairing"
    assert signed_in("Ole Brand").post(other).status_code == 403
    own = f"/api/people/{people['Ole Brand']}/pairing"
    assert signed_in("Mira Sand").post(own).status_code == 200


def test_a_device_that_was_signed_out_is_out_at_once(signed_in):
    owner, technician = signed_in("Mira Sand"), signed_in("Ole Brand")
    (phone,) = [one for one in owner.get("/api/devices").json() if one["person"] == "Ole Brand"]
    assert phone["device"] == "phone of Ole Brand"
    assert [one["this"] for one in technician.get("/api/devices").json()] == [True]
    assert owner.delete(f"/api/devices/{phone['id']}").status_code == 204
    assert technician.get(ENGINE).status_code == 401


def test_who_signs_out_is_out_and_takes_nobody_along(signed_in):
    owner, technician = signed_in("Mira Sand"), signed_in("Ole Brand")
    assert technician.delete("/api/session").status_code == 204
    assert technician.get(ENGINE).status_code == 401
    assert owner.get(ENGINE).status_code == 200
    (own,) = owner.get("/api/devices").json()
    assert signed_in("Ole Brand").delete(f"/api/devices/{own['id']}").status_code == 404


def test_a_device_that_was_not_used_for_thirty_days_is_signed_out(database, signed_in):
    technician = signed_in("Ole Brand")

    def used(days):
        with database.writing() as session:
            session.execute(update(SignInRow).values(used_at=datetime.now(UTC) - timedelta(days=days)))
            session.commit()

    used(29)
    assert technician.get(ENGINE).status_code == 200
    # Which was a use.
    (device,) = technician.get("/api/devices").json()
    assert datetime.now(UTC) - datetime.fromisoformat(device["used_at"]) < timedelta(hours=1)
    used(31)
    assert technician.get(ENGINE).status_code == 401


def test_a_new_password_signs_every_other_device_out(signed_in, people):
    one, other = signed_in("Ole Brand"), signed_in("Ole Brand")
    own = f"/api/people/{people['Ole Brand']}/password"
    new = "another good password"
    assert one.put(own, json={"password": new, "old": "wrong"}).status_code == 422
    assert one.put(own, json={"password": new, "old": PASSWORDS["Ole Brand"]}).status_code == 200
    assert (one.get(ENGINE).status_code, other.get(ENGINE).status_code) == (200, 401)
    foreign = f"/api/people/{people['Mira Sand']}/password"
    assert one.put(foreign, json={"password": new}).status_code == 403


def test_the_last_owner_stays(signed_in, people):
    owner = signed_in("Mira Sand")
    own = f"/api/people/{people['Mira Sand']}"
    for answer in (owner.put(f"{own}/role", json={"role": "reader"}), owner.delete(own)):
        assert answer.status_code == 422
        assert "only owner" in answer.json()["detail"]


def test_who_was_removed_is_out_and_still_named(signed_in, people):
    owner, technician = signed_in("Mira Sand"), signed_in("Ole Brand")
    technician.put(TRY, json=ANSWER)
    assert owner.delete(f"/api/people/{people['Ole Brand']}").status_code == 204
    assert technician.get(ENGINE).status_code == 401
    assert owner.get(f"{ENGINE}/changes").json()["changes"][0]["person"] == "Ole Brand"
    assert "Ole Brand" not in [one["name"] for one in owner.get("/api/people").json()]


def test_every_change_says_who_when_and_on_which_device(signed_in, people):
    technician = signed_in("Ole Brand")
    technician.put(TRY, json=ANSWER)
    technician.put(TRY, json=ANSWER)
    technician.delete(TRY, headers={"X-Technician": people["Ida Read"]})
    back, there = technician.get(f"{ENGINE}/changes").json()["changes"]
    assert (there["person"], there["device"], there["change"]) == (
        "Ole Brand",
        "phone of Ole Brand",
        "feeler answer",
    )
    assert '"felt":"free"' in there["sent"].replace(" ", "")
    assert datetime.now(UTC) - datetime.fromisoformat(there["at"]) < timedelta(minutes=5)
    # At a shared tablet somebody else was chosen; the device stays the same.
    assert (back["person"], back["device"], back["change"]) == (
        "Ida Read",
        "phone of Ole Brand",
        "feeler answer undone",
    )
    lines = technician.get(f"{ENGINE}/changes.csv").text.splitlines()
    assert lines[0].startswith("at,person,device,engine,change")
    assert len(lines) == 3


def test_no_password_is_in_the_trail_and_nobody_changes_it(database, signed_in, people):
    owner = signed_in("Mira Sand")
    owner.put(f"/api/people/{people['Ole Brand']}/password", json={"password": "another good password"})
    whole = owner.get("/api/changes.csv").text
    assert "password changed" in whole
    assert not any(password in whole for password in [*PASSWORDS.values(), "another good password"])
    for statement in ("UPDATE audit SET person = 'Eve'", "DELETE FROM audit"):
        with database.writing() as session, pytest.raises(Exception, match="never changed"):
            session.execute(text(statement))


def test_every_change_has_a_name(app):
    changing = {
        route["operationId"]
        for routes in app.openapi()["paths"].values()
        for method, route in routes.items()
        if method != "get"
    }
    # These compute something and store nothing.
    asking = {name for name in changing if name.endswith(("preview", "_head", "_what_if", "_replay"))}
    assert changing - asking == set(CHANGES)


def test_the_trail_is_read_page_by_page(signed_in):
    technician = signed_in("Ole Brand")
    for n in range(103):
        technician.put(f"{ENGINE}/visits/v8/tries/many{n}", json={**ANSWER, "blades_mm": [0.1 + n / 10_000]})
    first = technician.get(f"{ENGINE}/changes").json()
    rest = technician.get(f"{ENGINE}/changes?before={first['before']}").json()
    assert (len(first["changes"]), len(rest["changes"]), rest["before"]) == (100, 3, None)


def test_other_names_of_this_machine_and_other_pages_are_refused(device, people):
    stranger = device()
    assert stranger.get("/api/session", headers={"Host": "elsewhere.example"}).status_code == 400
    body = {"name": "Mira Sand", "password": PASSWORDS["Mira Sand"]}
    foreign = stranger.post("/api/session", json=body, headers={"Origin": "https://elsewhere.example"})
    assert foreign.status_code == 403


def test_on_this_machine_alone_nobody_signs_in_and_changes_are_noted_all_the_same(client):
    who = client.get("/api/session").json()
    assert (who["on_network"], who["needs"], who["person"]) == (False, "nothing", None)
    client.put(TRY, json=ANSWER)
    (change,) = client.get(f"{ENGINE}/changes").json()["changes"]
    assert (change["person"], change["device"]) == (None, "this machine")
    assert client.post("/api/session", json={"name": "x", "password": "y"}).status_code == 409


def test_passwords_are_kept_as_argon2id_with_a_salt_of_their_own(monkeypatch):
    monkeypatch.undo()
    one, other = (passwords.hash_password("gasket blue winter") for _ in range(2))
    assert one != other
    assert one.startswith("$argon2id$")
    assert passwords.is_password("gasket blue winter", one)
    assert not passwords.is_password("gasket blue summer", one)
    assert not passwords.is_password("gasket blue winter", None)


class TestACorrectionKeepsTheEarlierValue:
    def last(self, client):
        return client.get(f"{ENGINE}/changes").json()["changes"][0]

    def test_of_a_visit(self, client):
        visit = f"{ENGINE}/visits/v8"
        client.patch(visit, json={"changes": {"temperature_c": 15.5}, "was": {}, "confirmed": []})
        assert json.loads(self.last(client)["earlier"]) == {"temperature_c": 14.0}
        # What was not known before has no earlier value.
        client.patch(visit, json={"changes": {"notes": "cold start first"}, "was": {}, "confirmed": []})
        assert self.last(client)["earlier"] is None
        assert '"{""temperature_c"": 14.0}"' in client.get(f"{ENGINE}/changes.csv").text

    def test_of_an_engine(self, client):
        detail = client.get(ENGINE).json()
        engine = {**detail["engine"], "name": "Rink machine", "check_interval": 300}
        client.put(ENGINE, json={"engine": engine, "revision": detail["revision"], "confirmed": []})
        earlier = json.loads(self.last(client)["earlier"])
        assert earlier == {"name": "Ice resurfacer 1", "check_interval": 250.0}

    def test_of_a_finding(self, client):
        finding = f"{ENGINE}/visits/v8/findings/waggle-dead"
        client.put(finding, json={"state": "present", "cylinder": 3, "side": "exhaust"})
        assert self.last(client)["earlier"] is None
        client.put(finding, json={"state": "absent", "cylinder": 3, "side": "exhaust"})
        assert json.loads(self.last(client)["earlier"])["state"] == "present"


def test_a_machine_that_got_another_address_is_reached_there_and_no_longer_where_it_was(
    app, device, network, monkeypatch
):
    before = network.reachable.addresses
    stranger = device()
    assert stranger.get("/api/session", headers={"Host": "10.0.0.7"}).status_code == 400
    monkeypatch.setattr(network.reachable, "addresses", Addresses(before.names, (IpAddress("10.0.0.7"),)))
    assert stranger.get("/api/session", headers={"Host": "10.0.0.7"}).status_code == 200
    assert stranger.get("/api/session").status_code == 400
