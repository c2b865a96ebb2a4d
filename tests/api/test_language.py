"""Answers in the language that a request asks for; what people wrote, and what is kept, stays as it is."""

IT = {"Accept-Language": "it-IT,it;q=0.9,en;q=0.5"}
VISIT = "/api/engines/resurfacer-1/visits/v8"


def test_what_is_known_is_said_in_italian_and_keys_stay(client):
    english = {one["id"]: one for one in client.get("/api/findings").json()}
    italian = {one["id"]: one for one in client.get("/api/findings", headers=IT).json()}
    assert italian.keys() == english.keys()
    assert italian["tick"]["label"] == "ticchettio"
    assert english["tick"]["label"] == "ticking"
    assert italian["tick"]["group"] == english["tick"]["group"]


def test_what_is_kept_is_kept_in_one_language(client):
    # Asked for in Italian first: what is computed then must not be kept so.
    first = client.get("/api/engines/resurfacer-1/drift", headers=IT).json()
    second = client.get("/api/engines/resurfacer-1/drift").json()
    labels = [[one["label"] for one in answer["regimes"]] for answer in (first, second)]
    assert labels[0] != labels[1] and "steady" in labels[1]
    workshop_it = client.get("/api/workshop", headers=IT)
    workshop = client.get("/api/workshop")
    of = {one["id"]: one for one in workshop_it.json()["timelines"]}
    assert [one["id"] for one in workshop.json()["timelines"]] == list(of)
    assert "fuori tolleranza" in of["resurfacer-1"]["result"]["check_due"]["why"]
    assert "out of spec" in workshop.text and "fuori tolleranza" not in workshop.text
    assert workshop_it.headers["Cache-Control"] == "no-store"


def test_what_people_wrote_is_never_changed(client):
    name = {"changes": {"notes": "ticking, out of spec. 0.25"}, "was": {"notes": None}}
    assert client.patch(VISIT, json=name, headers=IT).json()["notes"] == "ticking, out of spec. 0.25"
    client.put(f"{VISIT}/findings/tick", json={"state": "present", "words": "valve held open"})
    seen = client.get(VISIT, headers=IT).json()["findings"]
    assert [one["words"] for one in seen if one["id"] == "tick"] == ["valve held open"]


def test_a_refusal_is_said_in_italian(client):
    refused = client.get("/api/engines/none", headers=IT)
    assert refused.status_code == 404 and refused.json()["title"] == "Non trovato"
    wrong = client.put(f"{VISIT}/school", json={"school": 3}, headers=IT).json()
    assert wrong["title"] == "Correggere gli errori"
    assert client.get("/api/engines/none", headers={"Accept-Language": "xx"}).json()["title"] == "Not found"


def test_a_reason_that_a_person_gave_goes_back_as_it_is(client):
    advised = client.get(f"{VISIT}/verification", headers=IT).json()["recheck"]
    assert not advised["kept"] and "fuori tolleranza" in advised["reason"]
    mine = {"usage": 2300.0, "reason": "out of spec, 0.25 mm"}
    body = {"recheck": mine, "was": None, "confirmed": []}
    assert client.put(f"{VISIT}/verification/recheck", json=body, headers=IT).status_code == 200
    kept = client.get(f"{VISIT}/verification", headers=IT).json()["recheck"]
    assert kept["kept"] and kept["reason"] == mine["reason"]
