"""Every request can be sent twice: with repeats and crashes all ends as it does without."""

import itertools
import os
from datetime import date

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlalchemy import event
from sqlalchemy.orm import Session

from pronostico.api.app import attach, detach
from tests.api.test_closing_cases import picture
from tests.conftest import NO_PAGES, OwnPage, own_copy, the_app
from tests.databases import opened

ENGINE = "/api/engines/resurfacer-1"
VISIT = f"{ENGINE}/visits/v8"
SHIMMED = "/api/engines/snowmobile/visits/v4"
CASE = f"{ENGINE}/cases/repeated"
TODAY = date.today().isoformat()
EXAMPLES = int(os.environ.get("FUZZ_EXAMPLES", "40")) // 8


class Hands:
    """What a technician does at a page: each step sends one request, built from what the page shows."""

    def __init__(self, page, send):
        self.page, self._send, self.count = page, send, itertools.count()

    def _shown(self, path):
        return self.page.get(path).json()

    def send(self, method, path, **body):
        self._send(method, path, **body)

    def answer(self):
        number = next(self.count)
        body = {"valve": f"{1 + number % 4}E", "phase": "found", "blades_mm": [0.2], "felt": "drag"}
        self.send("PUT", f"{VISIT}/tries/t{number % 5}-{number % 4}", json=body)

    def take_back_answer(self):
        tries = [
            one["id"]
            for valve in self._shown(VISIT)["valves"]
            for one in valve["found"]["tries"]
            if one["id"]
        ]
        self.send("DELETE", f"{VISIT}/tries/{max(tries)}")

    def sheet(self):
        number = next(self.count)
        blade = {"blades_mm": [0.2], "entered": "0.2"}
        line = {
            "id": f"l{number}",
            "valve": "1I",
            "phase": "left",
            "went": blade,
            "felt": "drag",
            "refused": None,
        }
        self.send("POST", f"{VISIT}/check-sheet", json={"lines": [line], "confirmed": ["$.lines[0]"]})

    def skip(self):
        self.send("PUT", f"{VISIT}/valves/4I/skip", json={"phase": "found", "reason": "hose"})

    def decide(self):
        valve = next(one for one in self._shown(f"{VISIT}/assessment")["valves"] if one["valve"] == "3E")
        decided = None if valve["decided"] else {"decision": "set", "reason": "tight"}
        body = {"decided": decided, "was": valve["decided"]}
        self.send("PUT", f"{VISIT}/valves/3E/decision", json=body)

    def choose(self):
        was = self._shown(f"{VISIT}/setting")["choice"]
        policy = "middle" if was["policy"] == "lean-loose" else "lean-loose"
        self.send("PUT", f"{VISIT}/setting", json={"choice": {**was, "policy": policy}, "was": was})

    def adjust(self):
        number = next(self.count) % 3
        body = {"valve": "2E", "target_mm": 0.275, "turn_deg": -30.0, "confirmed": ["$.valve"]}
        self.send("PUT", f"{VISIT}/settings/s{number}", json=body)

    def lock(self):
        settings = [one for one in self._shown(f"{VISIT}/setting")["settings"] if one["id"]]
        known = settings[-1] if settings else {"id": "none", "lock_ups": []}
        body = {"set_with_mm": [0.28], "blades_mm": [0.28], "felt": "no-go"}
        path = f"{VISIT}/settings/{known['id']}/lock-ups/{len(known['lock_ups'])}"
        self.send("PUT", path, json=body)

    def take_back_lock_up(self):
        settings = [one for one in self._shown(f"{VISIT}/setting")["settings"] if one["lock_ups"]]
        known = settings[-1] if settings else {"id": "none", "lock_ups": [0]}
        self.send("DELETE", f"{VISIT}/settings/{known['id']}/lock-ups/{len(known['lock_ups']) - 1}")

    def take_back_setting(self):
        settings = [one for one in self._shown(f"{VISIT}/setting")["settings"] if one["id"]]
        self.send("DELETE", f"{VISIT}/settings/{settings[-1]['id'] if settings else 'none'}")

    def stock_one(self):
        known = next(one for one in self._shown("/api/shim-box") if one["shim_mm"] == 1.6)
        body = {"shim_mm": 1.6, "diameter_mm": 8.9, "count": known["count"] + 1, "was": known["count"]}
        self.send("PUT", "/api/shim-box", json=body)

    def fit_the_last_shim(self):
        number = next(self.count)
        body = {"valve": "2Ia", "shim_to_mm": 1.6, "confirmed": ["$.valve", "$.shim_to_mm"]}
        self.send("PUT", f"{SHIMMED}/settings/f{number % 2}", json=body)

    def note_finding(self):
        self.send("PUT", f"{VISIT}/findings/tick", json={"state": "present", "was": "absent"})

    def tick(self):
        done = next(self.count) % 2 == 0
        self.send("PUT", f"{VISIT}/verification/ticks/gasket", json={"done": done})

    def open_case(self):
        self.send("POST", f"{ENGINE}/cases", json={"id": "repeated", "opened": TODAY, "visit": "v8"})

    def close_case(self):
        confirmed = [{"cause": "seat-recession", "side": "exhaust"}]
        self.send("PUT", f"{CASE}/outcome", json={"closed": TODAY, "confirmed": confirmed})

    def open_again(self):
        self.send("DELETE", f"{CASE}/outcome")

    def note(self):
        number = next(self.count)
        self.send("PUT", f"{CASE}/notebook/n{number}", json={"text": f"note {number}"})

    def photograph(self):
        number = next(self.count) % 2
        content = picture() if number else picture("png")
        self.send("PUT", f"{CASE}/notebook/p/photograph?text=lobe", content=content)

    def remove_note(self):
        known = [one["id"] for one in self._entries()]
        self.send("DELETE", f"{CASE}/notebook/{known[-1] if known else 'none'}")

    def _entries(self):
        answer = self.page.get(f"{CASE}/notebook")
        return answer.json() if answer.status_code == 200 else []

    def change_meter(self):
        body = {"date": TODAY, "old": 9000.0 + next(self.count), "new": 1.0}
        self.send("POST", f"{ENGINE}/meter-changes", json=body)

    def take_back_meter(self):
        changes = self._shown(f"{ENGINE}/record")["engine"].get("meter_changes", [])
        gone = {"date": TODAY, "old": 1.0, "new": 0.0}
        self.send("POST", f"{ENGINE}/meter-changes/taken-back", json=changes[-1] if changes else gone)

    def begin_visit(self):
        number = next(self.count)
        body = {"id": f"w{number}", "date": TODAY, "usage": 2200.0 + number, "temperature_c": 12}
        self.send("POST", f"{ENGINE}/visits", json=body)

    def buy_blades(self):
        number = next(self.count)
        self.send("PUT", f"/api/blade-sets/b{number}", json={"name": "New", "text": "0.1 0.2", "unit": "mm"})

    def practise(self):
        self.send("PUT", "/api/practice/runs/r1", json={"learner": "Mo", "lesson": "is-it-cold"})

    def practise_on(self):
        run = self.page.get("/api/practice/runs/r1").json()
        body = {"number": run.get("steps", 0), "kind": "turn", "by_deg": 90.0}
        self.send("POST", "/api/practice/runs/r1/steps", json=body)

    def kept(self):
        """All that is kept of it, without when it was noted."""
        shown = {path: self._shown(path) for path in (f"{ENGINE}/record", "/api/engines/snowmobile/record")}
        for path in ("/api/shim-box", "/api/blade-sets", "/api/lessons"):
            shown[path] = self._shown(path)
        shown["notes"] = [{**one, "noted_at": None} for one in self._entries()]
        shown["picture"] = self.page.get(f"{CASE}/notebook/p/photograph").content
        run = self.page.get("/api/practice/runs/r1").json()
        shown["run"] = run.get("log")
        return shown


STEPS = [name for name in vars(Hands) if not name.startswith("_") and name not in ("send", "kept")]


class Crash:
    """Ends the next request that is about to store something, before it is stored, when armed."""

    def __init__(self):
        self.armed = 0
        event.listen(Session, "before_commit", self._now)

    def _now(self, _session):
        if self.armed:
            self.armed -= 1
            if self.armed == 0:
                raise ConnectionAbortedError

    def remove(self):
        event.remove(Session, "before_commit", self._now)


@pytest.fixture
def crash():
    one = Crash()
    yield one
    one.remove()


def carried_out(demo, folder, steps, crash):
    """What is kept in the end, each step sent as often and crashed as said.

    Args:
        steps: name, how often it is sent, and whether it is crashed the first time.
    """
    database, app = opened(own_copy(demo, folder)), the_app(NO_PAGES)
    attach(app, database)
    try:
        page = OwnPage(app, raising=False)

        def send(method, path, **body):
            crash.armed = 1 if crashed else 0
            answers = [page.request(method, path, **body) for _ in range(times + crashed)]
            crash.armed = 0
            # Whoever asks again after an answer that never came is answered as the first time.
            statuses = {one.status_code for one in answers[crashed:]}
            assert len(statuses) == 1, (method, path, [one.text for one in answers])
            if answers[-1].status_code < 300:
                done.append(path)

        done: list[str] = []
        hands = Hands(page, send)
        for name, times, crashed in steps:  # noqa: B007 - `send` sees them
            getattr(hands, name)()
        return hands.kept(), done
    finally:
        detach(app)
        database.close()


STEP = st.tuples(st.sampled_from(STEPS), st.integers(1, 3), st.booleans())


@settings(max_examples=EXAMPLES, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(steps=st.lists(STEP, min_size=6, max_size=12))
def test_with_repeats_and_crashes_all_ends_as_without(steps, computed, tmp_path_factory, crash):
    folder = tmp_path_factory.mktemp("repeats")
    plain = [(name, 1, False) for name, _, _ in steps]
    assert carried_out(computed, folder / "a", steps, crash) == carried_out(
        computed, folder / "b", plain, crash
    )


@pytest.mark.parametrize("name", STEPS)
def test_each_step_does_something_and_can_be_sent_twice(name, computed, tmp_path, crash):
    """Each after what it needs, so that none of them is only ever refused."""
    before = {
        "take_back_answer": ["answer"],
        "lock": ["adjust"],
        "take_back_lock_up": ["adjust", "lock", "lock"],
        "take_back_setting": ["adjust"],
        "close_case": ["open_case"],
        "open_again": ["open_case", "close_case"],
        "note": ["open_case"],
        "photograph": ["open_case"],
        "remove_note": ["open_case", "note"],
        "take_back_meter": ["change_meter"],
        "practise_on": ["practise"],
    }.get(name, [])
    first = [(one, 1, False) for one in before]
    kept, done = carried_out(computed, tmp_path / "a", [*first, (name, 3, True)], crash)
    assert len(done) == len(before) + 1
    assert (kept, done) == carried_out(computed, tmp_path / "b", [*first, (name, 1, False)], crash)
