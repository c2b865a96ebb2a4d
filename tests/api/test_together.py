"""Several people at one workshop: everybody's answers are stored, each once, and nobody is turned away."""

from concurrent.futures import ThreadPoolExecutor

VISIT = "/api/engines/resurfacer-1/visits/v8"


def test_answers_given_at_the_same_time_are_all_stored(client):
    def answer(number):
        blade = 0.10 + 0.01 * (number % 10)
        body = {"valve": "4E", "phase": "found", "blades_mm": [blade], "felt": "free"}
        return client.put(f"{VISIT}/tries/t{number}", json=body).status_code

    with ThreadPoolExecutor(8) as people:
        assert set(people.map(answer, range(40))) == {200}
    valve = next(v for v in client.get(VISIT).json()["valves"] if v["valve"] == "4E")
    assert sorted(one["id"] for one in valve["found"]["tries"]) == sorted(f"t{n}" for n in range(40))


def test_one_answer_sent_by_two_at_the_same_time_is_stored_once(client):
    body = {"valve": "4E", "phase": "found", "blades_mm": [0.20], "felt": "drag"}
    with ThreadPoolExecutor(8) as people:
        codes = list(
            people.map(lambda _: client.put(f"{VISIT}/tries/same", json=body).status_code, range(16))
        )
    assert set(codes) == {200}
    valve = next(v for v in client.get(VISIT).json()["valves"] if v["valve"] == "4E")
    assert [one["id"] for one in valve["found"]["tries"]] == ["same"]
