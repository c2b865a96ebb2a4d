"""Instruments at a visit: traces that come live, are kept however they ended, and feed the record."""

import json

import pytest

VISIT = "/api/engines/resurfacer-1/visits/v8"
AT = "2026-05-01T10:00:00Z"


def streamed(client, kind, **query):
    answer = client.get(f"{VISIT}/instruments/{kind}/trace", params={"speed": 1000, **query})
    assert answer.status_code == 200, answer.text
    assert answer.headers["content-type"].startswith("text/event-stream")
    events = []
    for block in answer.text.split("\n\n"):
        fields = dict(line.split(": ", 1) for line in block.splitlines() if ": " in line)
        if "event" in fields:
            events.append((fields["event"], json.loads(fields.get("data", "null") or "null")))
    return events


def kept(client, kind, events, *, id="t1", ended="whole", taken=True, **held):
    begin = events[0][1]
    body = {
        "kind": kind,
        "at": AT,
        "instrument": begin["instrument"],
        "channels": begin["channels"],
        "heard": begin["heard"],
        "samples": [data for event, data in events if event == "sample"],
        "ended": ended,
        "taken": taken,
        **held,
    }
    answer = client.put(f"{VISIT}/instruments/traces/{id}", json=body)
    assert answer.status_code == 200, answer.text
    return next(one for one in answer.json()["traces"] if one["id"] == id)


def visit_of(client):
    record = client.get("/api/engines/resurfacer-1/record").json()
    return next(one for one in record["visits"] if one["id"] == "v8")


FROM = {"instrument": "simulated compression gauge", "at": "2026-05-01T10:00:00+00:00"}


def test_compression_comes_live_and_goes_into_the_record_with_name_and_time(client):
    events = streamed(client, "compression", cylinder=2)
    assert [event for event, _ in events[:2]] == ["begin", "sample"] and events[-1][0] == "end"
    trace = kept(client, "compression", events, cylinder=2)
    assert trace["incomplete"] is None and trace["figures"][0].endswith(" kPa")
    wet = streamed(client, "compression", cylinder=2, oiled=True)
    kept(client, "compression", wet, id="t2", cylinder=2, oiled=True)
    one = next(one for one in visit_of(client)["compression"] if one["cylinder"] == 2)
    assert one["entered"] == {"dry": FROM, "wet": FROM}
    assert f"{one['dry_kpa']:.0f} kPa" == trace["figures"][0] and one["wet_kpa"] > 0
    # The tests' page and the causes see it like any figure.
    shown = client.get(f"{VISIT}/tests").json()["cylinders"][1]
    assert shown["dry_kpa"] == one["dry_kpa"]


def test_the_simulated_engine_is_the_demonstrations_truth(client):
    truth = client.get("/api/engines/resurfacer-1/simulated-truth").json()["clearances"]
    true_mm = {one["valve"]: one["left_mm"] for one in truth if one["visit"] == "v8"}
    for valve in ("1I", "3E", "4E"):
        events = streamed(client, "dial-clearance", valve=valve)
        trace = kept(client, "dial-clearance", events, id=f"d{valve}", taken=False, valve=valve)
        reads = float(trace["figures"][0].split()[1])
        found = next(one["found_mm"] for one in truth if one["visit"] == "v8" and one["valve"] == valve)
        assert min(abs(reads - max(0.0, mm)) for mm in (true_mm[valve], found)) < 0.02


def test_a_dials_clearance_is_assessed_like_the_blades_that_would_bracket_it(client):
    begun = {
        "id": "new",
        "date": AT[:10],
        "usage": 9000,
        "temperature_c": 20,
        "confirmed": ["$.usage", "$.date"],
    }
    record = client.get("/api/engines/resurfacer-2/record").json()
    last = record["visits"][-1]
    begun.update(date=last["date"], usage=last["usage"])
    started = client.post("/api/engines/resurfacer-2/visits", json=begun)
    assert started.status_code == 201, started.text
    where = "/api/engines/resurfacer-2/visits/new"
    samples = [[n / 10, 0.275] for n in range(31)]
    body = {
        "kind": "dial-clearance",
        "at": AT,
        "instrument": "own dial",
        "valve": "1E",
        "channels": ["clearance_mm"],
        "samples": samples,
        "ended": "whole",
        "taken": True,
    }
    assert client.put(f"{where}/instruments/traces/d", json=body).status_code == 200
    after = client.get("/api/engines/resurfacer-2/record").json()["visits"][-1]
    (reading,) = after["readings"]
    assert reading["instrument"] == "own dial" and reading["entered"]["reads_mm"] == 0.275
    analysis = client.get("/api/engines/resurfacer-2/analysis").json()
    found = next(one["found"] for one in analysis["valves"] if one["valve"] == "1E")
    assert found["verdict"] == "in" and found["mean_mm"] == pytest.approx(0.275, abs=0.006)
    assert found["sd_mm"] < 0.012
    assert client.put(f"{where}/instruments/traces/d", json=body).status_code == 200
    assert len(client.get("/api/engines/resurfacer-2/record").json()["visits"][-1]["readings"]) == 1


def test_a_lost_instrument_leaves_what_came_and_takes_nothing_by_itself(client):
    before = visit_of(client).get("compression")
    events = streamed(client, "compression", cylinder=1, trouble="lost")
    assert events[-1][0] == "lost" and "since 1.5 s" in events[-1][1]
    trace = kept(client, "compression", events, ended="lost", taken=False, cylinder=1)
    assert len(trace["samples"]) == len(events) - 2 and "only 3 strokes" in trace["incomplete"]
    assert visit_of(client).get("compression") == before
    italian = streamed(client, "compression", cylinder=1, trouble="lost", language="it")
    assert italian[-1][1].startswith("nessun segnale da 1,5 s")
    silent = streamed(client, "leakdown", cylinder=1, trouble="lead-off")
    told = kept(client, "leakdown", silent, id="t3", cylinder=1)
    assert "is the lead connected" in told["incomplete"] and told["figures"] == []
    assert visit_of(client).get("leakdown", []) == []


def test_leak_down_reader_and_thermometer_feed_the_record(client):
    kept(client, "leakdown", streamed(client, "leakdown", cylinder=1), id="a", cylinder=1)
    kept(client, "reader", streamed(client, "reader"), id="b")
    kept(client, "thermometer", streamed(client, "thermometer"), id="c")
    visit = visit_of(client)
    assert visit["leakdown"][0]["entered"]["instrument"] == "simulated leak-down tester"
    numbers = {(one["id"], one.get("cylinder")): one for one in visit["numbers"]}
    assert numbers["misfires", 4]["entered"]["instrument"] == "simulated code reader"
    assert {"trims-long", "vacuum", "idle-speed"} <= {id for id, _ in numbers}
    kinds = {one["kind"]: one["at"] for one in client.get(f"{VISIT}/instruments").json()["traces"]}
    assert set(kinds) == {"leakdown", "reader", "thermometer"}


def test_a_lobe_that_lifts_less_than_the_others_is_a_finding(client):
    def lifts(valve, peak):
        samples = [[n / 20, n * 6.0, peak if n == 60 else 0.0] for n in range(121)]
        events = [("begin", {"instrument": "dial", "channels": ["crank_deg", "lift_mm"], "heard": []})]
        events += [("sample", one) for one in samples]
        kept(client, "dial-lift", events, id=f"l{valve}", valve=valve)

    for valve, peak in (("1E", 7.7), ("2E", 7.8), ("4E", 7.7)):
        lifts(valve, peak)
    assert not [one for one in visit_of(client)["findings"] if one["id"] == "low-lift"]
    lifts("3E", 6.1)
    low = [one for one in visit_of(client)["findings"] if one["id"] == "low-lift"]
    assert [(one["cylinder"], one["side"]) for one in low] == [(3, "exhaust")]


def test_a_file_is_replayed_and_a_wrong_one_refused(client):
    text = "at_s,stroke,pressure_kpa\n0,1,400\n0.5,2,900\n1.0,3"
    answer = client.post(f"{VISIT}/instruments/compression/replay", content=text.encode())
    assert answer.json() == {
        "samples": [[0.0, 1.0, 400.0], [0.5, 2.0, 900.0]],
        "stopped": "the file stops in the middle of line 4",
    }
    wrong = client.post(f"{VISIT}/instruments/leakdown/replay", content=text.encode())
    assert wrong.status_code == 422 and "no column lost_percent" in wrong.text


@pytest.mark.parametrize(
    ("kind", "query", "said"),
    [
        ("compression", {"cylinder": 9}, "must be one of 1, 2, 3, 4"),
        ("compression", {}, "must be one of 1, 2, 3, 4"),
        ("dial-lift", {"valve": "9X"}, "must be one of 1I"),
    ],
)
def test_an_instrument_is_held_to_what_the_engine_has(client, kind, query, said):
    answer = client.get(f"{VISIT}/instruments/{kind}/trace", params=query)
    assert answer.status_code == 422 and said in answer.text


def test_samples_that_have_not_the_channels_are_refused(client):
    body = {"kind": "compression", "at": AT, "instrument": "x", "cylinder": 1, "ended": "whole"}
    odd = client.put(
        f"{VISIT}/instruments/traces/t", json={**body, "channels": ["a"], "samples": [[0.0, 1.0]]}
    )
    assert odd.status_code == 422 and "must be seconds and 2 values" in odd.text


def test_simulated_figures_are_marked_and_can_be_taken_back_where_they_were_taken(client):
    visit = "/api/engines/resurfacer-2/visits/v4"
    before = client.get("/api/engines/resurfacer-2/record").json()["visits"][-1]
    trace = {
        "kind": "compression",
        "instrument": "simulated compression gauge",
        "at": "2026-01-05T10:00:00Z",
        "valve": None,
        "cylinder": 1,
        "oiled": False,
        "phase": "found",
        "heard": [],
        "channels": ["stroke", "pressure_kpa"],
        "samples": [[0.5 * n, n, 300.0 * n if n < 4 else 1100.0] for n in range(9)],
        "ended": "whole",
        "taken": True,
    }
    kept = client.put(f"{visit}/instruments/traces/t1", json=trace)
    assert kept.status_code == 200, kept.text
    assert kept.json()["traces"][-1]["simulated"] is True
    told = ["compression of cylinder 1"]
    assert client.get(visit).json()["simulated"] == told
    assert client.get(f"{visit}/card").json()["simulated"] == told
    assert client.get("/api/engines/resurfacer-2/drift").json()["visits"][-1]["simulated"] == told
    table = client.get("/api/engines/resurfacer-2/visits.csv").text
    assert "compression of cylinder 1" in table
    record = client.get("/api/engines/resurfacer-2/record").json()["visits"][-1]
    assert record["compression"][0]["entered"]["dry"]["instrument"] == "simulated compression gauge"
    # Taken back the record is as it was, and the trace stays.
    back = client.delete(f"{visit}/instruments/traces/t1/taken")
    assert back.status_code == 200 and back.json()["traces"][-1]["taken"] is False
    after = client.get("/api/engines/resurfacer-2/record").json()["visits"][-1]
    assert after["compression"] == before.get("compression", [])
    assert client.get(visit).json()["simulated"] == []
    assert client.delete(f"{visit}/instruments/traces/t1/taken").status_code == 404
