"""The Verify step: ticked off, verified complaint by complaint, figures compared, and when to recheck."""

from datetime import date, timedelta

import pytest

from tests.api.workshop import timelines_of

VISIT = "/api/engines/resurfacer-1/visits/v8"


def verification(client, visit=VISIT):
    return client.get(f"{visit}/verification").json()


def put(client, what, visit=VISIT, **body):
    return client.put(f"{visit}/verification/{what}", json=body)


def test_what_is_ticked_off_fits_the_engine_and_has_its_own_torques(client):
    ticks = {one["id"]: one for one in verification(client)["ticks"]}
    # A gas engine with screws: no camshaft caps, no fuel line that drips, no head bolts at check only.
    assert not {"camshafts-in", "fuel-line", "head-bolts", "injection-lines"} & set(ticks)
    assert {"lock-nuts", "gas-line", "gasket", "nothing-inside"} <= set(ticks)
    assert ticks["cover"]["torque"][0]["stages"] == [4, 9] and not ticks["cover"]["see_manual"]
    shims = {one["id"]: one for one in verification(client, "/api/engines/snowmobile/visits/v4")["ticks"]}
    assert shims["camshafts-in"]["torque"][0]["nm"] == 10
    # What the engine's data do not say is not made up.
    assert shims["timing-marks"]["torque"] == [] and shims["timing-marks"]["see_manual"]


def test_an_item_is_ticked_and_unticked_and_one_of_another_engine_refused(client):
    assert put(client, "ticks/gasket", done=True).status_code == 200
    found = put(client, "ticks/gasket", done=True).json()
    assert [one["id"] for one in found["ticks"] if one["done"]] == ["gasket"]
    found = put(client, "ticks/gasket", done=False).json()
    assert not any(one["done"] for one in found["ticks"])
    assert put(client, "ticks/camshafts-in", done=True).status_code == 404


def test_complaints_are_verified_one_by_one_and_what_is_not_gone_has_a_next_check(client):
    listed = verification(client)["complaints"]
    assert [one["finding"] for one in listed] == ["stall-at-idle", "cold-miss"]
    gone = {"outcome": "gone", "note": ""}
    put(client, "complaints/stall-at-idle", verified=gone, was=None)
    same = {"outcome": "same", "note": "as before, cold"}
    found = put(client, "complaints/cold-miss", verified=same, was=None).json()
    assert [one["verified"] for one in found["complaints"]] == [gone, same]
    assert "leak-down" in found["complaints"][1]["next_step"]
    # Somebody else saw it otherwise.
    stale = put(client, "complaints/cold-miss", verified=gone, was=None)
    assert stale.status_code == 409 and "entered as same" in stale.json()["faults"][0]["message"]
    assert put(client, "complaints/tick", verified=gone, was=None).status_code == 404
    # Closed up and every complaint answered, the stop is done.
    assert "verify" not in client.get(VISIT).json()["done"]
    for one in found["ticks"]:
        if one["stage"] == "close":
            put(client, f"ticks/{one['id']}", done=True)
    assert "verify" in client.get(VISIT).json()["done"]


def test_what_became_of_a_complaint_can_be_said_after_its_case_was_closed(client):
    case = "/api/engines/resurfacer-1/cases/c1"
    opened = client.get(case).json()["opened"]
    closed = client.put(f"{case}/outcome", json={"closed": opened, "confirmed": []})
    assert closed.status_code == 200, closed.json()
    gone = {"outcome": "gone", "note": ""}
    found = put(client, "complaints/cold-miss", verified=gone, was=None)
    assert found.status_code == 200
    assert {one["finding"]: one["verified"] for one in found.json()["complaints"]}["cold-miss"] == gone


def test_a_valve_found_without_clearance_asks_for_compression_again(client):
    found = verification(client)
    assert found["held_open"] == ["3E"]
    assert [one["cylinder"] for one in found["figures"] if one["id"] == "compression-dry"] == [3]
    body = {"id": "compression-dry", "cylinder": 3, "phase": "after", "value": 150}
    asked = put(client, "figures", **body)
    # Read in psi, most likely: 150 times 6.895.
    assert asked.json()["faults"][0]["suggestion"] == 1034
    noted = put(client, "figures", **{**body, "value": 1034}).json()
    assert next(one for one in noted["figures"] if one["cylinder"] == 3)["after"] == 1034
    assert put(client, "figures", **body, confirmed=["$.value"]).status_code == 200
    assert put(client, "figures", **{**body, "cylinder": 9}).status_code == 422


@pytest.mark.parametrize(
    ("body", "told"),
    [
        ({"id": "trims-long", "value": 400}, "from -60 to 60"),
        ({"id": "horsepower", "value": 4}, "there is no figure"),
        ({"id": "idle-speed", "value": "fast"}, "number"),
    ],
)
def test_a_figure_that_cannot_be_is_refused(client, body, told):
    refused = put(client, "figures", phase="before", **body)
    assert refused.status_code == 422 and told in refused.json()["faults"][0]["message"]


def test_a_figure_is_struck_out_again(client):
    put(client, "figures", id="trims-long", phase="before", value=-16)
    found = put(client, "figures", id="trims-long", phase="after", value=-3).json()
    trims = next(one for one in found["figures"] if one["id"] == "trims-long")
    assert (trims["before"], trims["after"]) == (-16, -3)
    found = put(client, "figures", id="trims-long", phase="after", value=None).json()
    assert next(one for one in found["figures"] if one["id"] == "trims-long")["after"] is None


def test_after_head_work_a_recheck_is_due_soon_and_stands_in_the_workshop(client):
    # Some valves are out and nothing is set: the job card says so, as the workshop page does.
    now = verification(client)["recheck"]
    assert (now["now"], now["usage"], now["kept"]) == (True, 2163, False)
    assert timelines_of(client)[0]["result"]["check_due"]["why"] == now["reason"]
    for valve in ("1I", "1E", "2I", "2E", "3I", "3E", "4I", "4E"):
        blade = 0.16 if valve.endswith("I") else 0.27
        for number, (thick, felt) in enumerate([(blade, "free"), (blade + 0.02, "no-go")]):
            body = {"valve": valve, "phase": "left", "blades_mm": [round(thick, 2)], "felt": felt}
            client.put(f"{VISIT}/tries/{valve}-{number}", json=body)
    later = verification(client)["recheck"]
    assert not later["now"] and later["usage"] > 2163
    client.patch(VISIT, json={"changes": {"work": "head-work"}, "was": {"work": "check"}})
    soon = verification(client)["recheck"]
    assert soon["usage"] == 2173 and "settles" in soon["reason"]
    # 1913 h in 1112 days: ten hours take six days more.
    assert date.fromisoformat(soon["day"]) == date.today() - timedelta(days=1) + timedelta(days=6)
    look = timelines_of(client)[0]["result"]["check_due"]
    assert (look["usage"], look["because"], look["day"]) == (2173, "head-work", soon["day"])


def test_another_recheck_may_be_chosen_but_not_in_the_past(client):
    def keep(usage, *confirmed):
        recheck = {"usage": usage, "reason": "owner away"}
        return put(client, "recheck", recheck=recheck, confirmed=list(confirmed))

    assert keep(2300).json()["recheck"]["kept"] is True
    assert "lies before this visit" in keep(2100).json()["faults"][0]["message"]
    assert keep(23000).json()["type"].endswith(":asked")
    assert keep(23000, "$.recheck.usage").status_code == 200
    assert timelines_of(client)[0]["result"]["check_due"]["because"] == "chosen"
    assert put(client, "recheck", recheck=None).json()["recheck"]["kept"] is False


def test_the_work_is_priced_by_the_clock_where_somebody_previewed_it(client):
    client.put("/api/workshop-settings", json={"rate_per_hour": 90, "currency": "EUR"})
    card = client.get(f"{VISIT}/card").json()
    # 35 minutes of access and 7 valves of 2.5 minutes; nothing is set yet.
    assert card["price"] == {"minutes": 52.5, "noted": False, "cost": 78.75, "currency": "EUR"}
    put(client, "minutes", minutes=120)
    assert client.get(f"{VISIT}/card").json()["price"]["cost"] == 180
    assert put(client, "minutes", minutes=-5).status_code == 422
