"""Customers, whose engines are whose, and the photograph of an engine's plate."""

from io import BytesIO

import pytest
from PIL import Image

PNG = {"Content-Type": "image/png"}
ENGINE = "/api/engines/resurfacer-1"
RINK = {"name": "Rink Ltd", "telephone": "555 0101", "email": "rink@example.org", "address": "1 Ice Street"}


def customer(client):
    return next((one for one in client.get("/api/customers").json() if one["id"] == "k1"), None)


@pytest.fixture
def rink(client):
    assert client.put("/api/customers/k1", json={"customer": RINK}).status_code == 200
    for engine in ("resurfacer-1", "resurfacer-2"):
        assert client.put(f"/api/engines/{engine}/customer", json={"customer": "k1"}).status_code == 200
    return client


def test_a_customer_is_found_with_all_their_engines(rink):
    known = customer(rink)
    assert {name: known[name] for name in RINK} == RINK
    assert [one["id"] for one in known["engines"]] == ["resurfacer-1", "resurfacer-2"]
    assert rink.get(ENGINE).json()["customer"]["name"] == "Rink Ltd"
    names = {one["id"]: one["customer"] for one in rink.get("/api/engines").json()}
    assert names["resurfacer-2"] == "Rink Ltd" and names["thrower"] is None


def test_the_workshop_page_names_the_customer_and_follows_a_new_name(rink):
    def named():
        timelines = rink.get("/api/workshop").json()["timelines"]
        return next(one["customer"] for one in timelines if one["id"] == "resurfacer-1")

    assert named() == "Rink Ltd"
    rink.put("/api/customers/k1", json={"customer": {**RINK, "name": "Rink and Sons"}})
    assert named() == "Rink and Sons"
    rink.put(f"{ENGINE}/customer", json={"customer": None})
    assert named() is None


def test_the_job_card_says_how_to_reach_them_and_the_record_does_not(rink):
    card = rink.get(f"{ENGINE}/visits/v8/card").json()
    assert card["customer"] == "Rink Ltd, 555 0101, rink@example.org, 1 Ice Street"
    assert "Rink Ltd" not in rink.get(f"{ENGINE}/record").text
    assert rink.get(f"{ENGINE}/visits/v8/card.pdf").status_code in (200, 501)


def test_two_who_change_different_lines_both_succeed(rink):
    rink.put("/api/customers/k1", json={"customer": {**RINK, "telephone": "555 0199"}, "was": RINK})
    rink.put("/api/customers/k1", json={"customer": {**RINK, "note": "pays late"}, "was": RINK})
    known = customer(rink)
    assert (known["telephone"], known["note"]) == ("555 0199", "pays late")
    stale = rink.put("/api/customers/k1", json={"customer": {**RINK, "telephone": "1"}, "was": RINK})
    assert stale.status_code == 409 and "555 0199" in stale.text


def test_who_has_engines_is_not_removed_not_even_those_in_the_bin(rink):
    rink.put(f"{ENGINE}/removals/r1", json={"kind": "engine"})
    rink.put("/api/engines/resurfacer-2/customer", json={"customer": None})
    refused = rink.delete("/api/customers/k1")
    assert refused.status_code == 422 and "has engines here or in the bin" in refused.text
    rink.post("/api/bin/r1/restored")
    rink.put(f"{ENGINE}/customer", json={"customer": None})
    assert rink.delete("/api/customers/k1").status_code == 200
    assert rink.delete("/api/customers/k1").status_code == 200 and customer(rink) is None


@pytest.mark.parametrize("name", ["", "   ", "x" * 201])
def test_a_customer_has_a_name(client, name):
    refused = client.put("/api/customers/k1", json={"customer": {"name": name}})
    assert refused.status_code == 422 and "$.customer.name" in refused.text


def test_an_unknown_customer_or_engine_is_said_to_be_unknown(client):
    assert client.put(f"{ENGINE}/customer", json={"customer": "nobody"}).status_code == 404
    assert client.put("/api/engines/nowhere/customer", json={"customer": None}).status_code == 404


def test_the_photograph_of_a_plate_is_kept_replaced_and_removed(client):
    def picture(colour):
        made = BytesIO()
        Image.new("RGB", (30, 20), colour).save(made, "PNG")
        return made.getvalue()

    at = f"{ENGINE}/plate-photograph"
    assert client.get(at).status_code == 404 and client.get(ENGINE).json()["plate_photograph"] is None
    assert client.put(at, content=picture("navy"), headers=PNG).status_code == 204
    first, shown = client.get(ENGINE).json()["plate_photograph"], client.get(at).content
    assert Image.open(BytesIO(shown)).size == (30, 20)
    client.put(at, content=picture("red"), headers=PNG)
    assert client.get(ENGINE).json()["plate_photograph"] != first and client.get(at).content != shown
    assert client.put(at, content=b"no picture", headers=PNG).status_code == 422
    assert client.delete(at).status_code == 204 and client.get(at).status_code == 404
