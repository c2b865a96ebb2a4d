"""The price as the page gets it: the workshop's figures, the engine's own, and how likely setting is."""

import pytest

from pronostico.core.adjust.price import LabourTimes
from pronostico.core.constants import DEFAULT

ENGINE = "/api/engines/resurfacer-1"
SETTINGS = "/api/workshop-settings"


def priced(client, usage=None):
    return client.get(f"{ENGINE}/price", params={} if usage is None else {"usage": usage}).json()


def test_minutes_are_reported_without_a_rate_and_cost_with_one(client):
    bare = priced(client)
    assert bare["check_minutes"] == 35 + 8 * LabourTimes().check_per_valve
    assert bare["check_cost"] is bare["set_cost"] is None
    settings = {**client.get(SETTINGS).json(), "rate_per_hour": 90, "currency": "CHF"}
    assert client.put(SETTINGS, json=settings).json() == settings
    paid = priced(client)
    assert paid["currency"] == "CHF"
    assert paid["check_cost"] == pytest.approx(paid["check_minutes"] * 1.5)
    assert paid["set_cost"] == pytest.approx(paid["set_minutes"] * 1.5)


def test_the_workshops_own_times_count(client):
    settings = client.get(SETTINGS).json()
    before = priced(client)
    slower = {kind: 2 * minutes for kind, minutes in settings["set_minutes_per_valve"].items()}
    client.put(SETTINGS, json={**settings, "check_minutes_per_valve": 5, "set_minutes_per_valve": slower})
    after = priced(client)
    assert after["check_minutes"] - before["check_minutes"] == pytest.approx(8 * 2.5)
    setting = [one["set_minutes"] - one["check_minutes"] for one in (before, after)]
    assert setting[1] == pytest.approx(2 * setting[0])


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"rate_per_hour": -1}, "$.rate_per_hour"),
        ({"check_minutes_per_valve": "two"}, "$.check_minutes_per_valve"),
        ({"currency": "far too long a name"}, "$.currency"),
        ({"set_minutes_per_valve": {"by-magic": 1}}, "$.set_minutes_per_valve"),
        ({"rates": 1}, "$.rates"),
    ],
)
def test_figures_that_cannot_be_are_refused_by_their_field(client, change, path):
    before = client.get(SETTINGS).json()
    answer = client.put(SETTINGS, json={**before, **change})
    assert answer.status_code == 422
    assert any(fault["path"].startswith(path) for fault in answer.json()["faults"])
    assert client.get(SETTINGS).json() == before


def test_valves_that_drift_tight_are_likelier_to_need_setting_later(client):
    record = client.get(f"{ENGINE}/record").json()
    record["engine"]["id"] = "younger"
    # The visit before last left all in spec: soon after nothing needs setting, long after much does.
    record["visits"] = record["visits"][:-1]
    record["cases"] = []
    assert client.post("/api/records", json=record).status_code == 201
    last = record["visits"][-1]["usage"]

    def chance(usage):
        return client.get("/api/engines/younger/price", params={"usage": usage}).json()

    soon, later = chance(last + 10), chance(last + 1000)
    assert soon["p_set"] < later["p_set"] <= 1.0
    assert soon["valves_to_set"] < later["valves_to_set"] <= 8
    assert soon["predicted"] == later["predicted"] > 0


def test_an_engine_that_was_never_read_has_no_chance_of_setting(client):
    pattern = client.get("/api/engine-form").json()["patterns"][0]["engine"]
    del pattern["access_minutes"]
    made = client.post("/api/engines", json={"engine": {**pattern, "id": "fresh", "name": "Fresh"}})
    assert made.status_code == 201
    fresh = client.get("/api/engines/fresh/price").json()
    assert fresh["p_set"] is fresh["set_minutes"] is None
    assert (fresh["access_minutes"], fresh["access_is_known"]) == (DEFAULT.access_minutes, False)
    assert client.get("/api/engines/none/price").status_code == 404


KIT = [
    {"kind": "part", "what": "cover gasket", "count": 1, "price": 18.5},
    {"kind": "part", "what": "plug-well seal", "count": 4},
    {"kind": "tool", "what": "socket 12 mm", "count": 1},
]


class TestWhatTheCustomerIsTold:
    @pytest.fixture
    def charging(self, client):
        settings = client.get(SETTINGS).json()
        settings |= {"rate_per_hour": 60, "currency": "EUR", "tax_percent": 20, "shim_price": 7}
        assert client.put(SETTINGS, json=settings).status_code == 200
        assert client.put(f"{ENGINE}/kit", json={"kit": KIT, "was": []}).status_code == 200
        return client

    def test_two_prices_before_the_work_with_what_has_none(self, charging):
        told = charging.get(f"{ENGINE}/cost-estimate").json()
        check, adjusted = told["check"], told["check_and_adjust"]
        hours = round(priced(charging)["check_minutes"] / 60, 2)
        assert check["lines"][0] == {
            "what": "labour", "quantity": hours, "unit": "h", "each": 60.0, "amount": hours * 60,
        }  # fmt: skip
        assert check["net"] == pytest.approx(hours * 60 + 18.5)
        assert check["total"] == pytest.approx(round(check["net"] * 1.2, 2))
        assert check["missing"] == ["plug-well seal"]
        assert "socket 12 mm" not in [one["what"] for one in check["lines"]]
        assert adjusted["total"] > check["total"] and told["p_set"] == priced(charging)["p_set"]

    def test_shims_are_charged_where_there_are_any(self, charging):
        told = charging.get("/api/engines/snowmobile/cost-estimate").json()
        shims = [one for one in told["check_and_adjust"]["lines"] if "shim" in one["what"]]
        assert len(shims) == 1 and shims[0]["amount"] == shims[0]["quantity"] * 7
        assert all("shim" not in one["what"] for one in told["check"]["lines"])

    def test_the_account_has_what_was_used_and_nothing_else(self, charging):
        visit = f"{ENGINE}/visits/v8"
        used = [{"what": "cover gasket", "count": 1, "price": 18.5}]
        charging.put(f"{visit}/verification/minutes", json={"minutes": 90})
        assert (
            charging.put(f"{visit}/verification/parts-used", json={"parts": used, "was": []}).status_code
            == 200
        )
        account = charging.get(f"{visit}/card").json()["account"]
        assert [(one["what"], one["amount"]) for one in account["lines"]] == [
            ("labour", 90.0),
            ("cover gasket", 18.5),
        ]
        assert (account["net"], account["tax"], account["total"]) == (108.5, 21.7, 130.2)
        page = charging.get(f"{visit}/card.pdf")
        assert page.content.startswith(b"%PDF") or page.status_code == 501

    def test_somebody_elses_list_is_not_overwritten_and_an_edit_keeps_it(self, charging):
        stale = charging.put(f"{ENGINE}/kit", json={"kit": KIT[:1], "was": []})
        assert stale.status_code == 409
        detail = charging.get(ENGINE).json()
        assert [one["what"] for one in detail["engine"]["kit"]] == [one["what"] for one in KIT]
        engine = {**detail["engine"], "kit": [], "duty": "spare"}
        body = {"engine": engine, "revision": detail["revision"], "confirmed": []}
        assert len(charging.put(ENGINE, json=body).json()["engine"]["kit"]) == 3

    @pytest.mark.parametrize(
        "wrong", [{"what": " "}, {"what": "seal", "count": 0}, {"what": "seal", "price": -1}]
    )
    def test_what_cannot_be_is_refused_with_its_place(self, client, wrong):
        refused = client.put(f"{ENGINE}/kit", json={"kit": [wrong]})
        assert refused.status_code == 422 and "$.kit[0]." in refused.text
