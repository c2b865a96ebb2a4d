"""What a recording is evidence for: its likelihood ratios, at the valve that it names, as one witness."""

from datetime import UTC, datetime, timedelta

import pytest

from pronostico.analysis.sound_evidence import presence_of, sound_evidence, speaking
from pronostico.core.causes.places import Place
from pronostico.record.engine import EngineModel
from pronostico.record.sound import (
    HeardFinding,
    HeardTick,
    HeardValve,
    HowRecorded,
    SoundRecording,
    WhatIsHeard,
)
from pronostico.record.visit import VisitModel
from tests.builders import record_document

AT = datetime(2026, 3, 1, tzinfo=UTC)


def four_cylinders():
    """The small record's engine with eight valves."""
    document = record_document()["engine"]
    document["firing_order"] = [1, 3, 4, 2]
    first = document["valves"][0]
    sides = (("I", "intake"), ("E", "exhaust"))
    document["valves"] = [
        {**first, "id": f"{n}{letter}", "cylinder": n, "side": side}
        for n in range(1, 5)
        for letter, side in sides
    ]
    return EngineModel.model_validate(document)


def recording(half=0.5, crank=-1.0, unrelated=-0.4, *, answer="valve-train", valves=(), alike=None, **more):
    """A recording by the likelihood ratios of its findings; `valves`: of one tick, each with its share."""
    ratios = {"sound-half-speed": half, "sound-crank-speed": crank, "sound-unrelated": unrelated}
    named = [HeardValve(id=name, p=p, event="closes") for name, p in valves]
    heard = WhatIsHeard(
        answer=answer,
        findings={name: HeardFinding(p=0.5, log10_lr=value) for name, value in ratios.items()},
        rpm=900.0,
        all_alike=alike,
        ticks=[HeardTick(strength_db=8.0, at_deg=500.0, at_sd_deg=6.0, valves=named)] if named else [],
    )
    fields = {"id": "r", "at": AT, "phase": "found", "seconds": 10.0, "rate_hz": 22050, "channels": 1}
    return SoundRecording(**{**fields, **more}, how=HowRecorded(), heard=heard)


def evidence(*recordings):
    visit = VisitModel(id="v", date=AT.date(), usage=100.0, recordings=list(recordings))
    found = sound_evidence(visit, four_cylinders())
    return {(one.finding, one.place.name): one.presence for one in found}


def ratio(presence, there=0.6, leak=0.03):
    """What a presence is worth for a cause that makes its finding 0.6 likely, as the network has it."""
    mixed = presence * there + (1 - presence) * (1 - there)
    return mixed / (presence * leak + (1 - presence) * (1 - leak))


@pytest.mark.parametrize("log10_ratio", [-1.5, -0.3, 0.0, 0.7, 2.0])
def test_a_likelihood_ratio_weighs_in_the_network_what_it_says(log10_ratio):
    given = 10.0**log10_ratio
    # P(recording | cause) / P(recording | no cause), the finding summed over.
    exact = (0.6 * given + 0.4) / (0.03 * given + 0.97)
    assert ratio(presence_of(log10_ratio)) == pytest.approx(exact)


def test_without_a_valve_it_stands_for_the_engine_as_a_whole():
    found = evidence(recording(half=1.0))
    assert found["sound-half-speed", "engine"] == pytest.approx(10 / 11)
    assert found["sound-crank-speed", "engine"] == pytest.approx(1 / 11)
    assert set(found) == {
        (name, "engine") for name in ("sound-half-speed", "sound-crank-speed", "sound-unrelated")
    }


def test_at_valves_it_is_the_lesser_of_a_tick_and_of_its_being_there():
    found = evidence(recording(half=0.5, valves=[("2E", 0.5), ("3I", 0.4)]))
    # F-45: at 2E 0.5 * 7 / 0.5 = 7 to 1, but a tick only 3.16 to 1.
    assert found["sound-half-speed", "2E"] == pytest.approx(0.760, abs=5e-4)
    sure = evidence(recording(half=1.9, valves=[("2E", 0.5), ("3I", 0.4)]))
    assert sure["sound-half-speed", "2E"] == pytest.approx(0.875)
    assert sure["sound-half-speed", "3I"] == pytest.approx(0.4 * 7 / 0.6 / (1 + 0.4 * 7 / 0.6))
    # What is left over is shared by the six others: 0.1 / 6 each.
    assert sure["sound-half-speed", "1I"] == pytest.approx(0.1061, abs=1e-3)
    assert ("sound-half-speed", "engine") not in sure


def test_where_all_tick_alike_no_single_valve_is_meant():
    found = evidence(recording(half=1.5, alike=0.85, valves=[("2E", 0.9)]))
    assert ("sound-all-alike", "engine") in found
    assert not any(finding == "sound-half-speed" for finding, _ in found)


def test_what_speaks_against_a_tick_speaks_against_it_anywhere():
    found = evidence(recording(half=-0.8, answer="nothing", valves=[("2E", 0.9)]))
    assert found["sound-half-speed", "engine"] < 0.2


def test_what_cannot_tell_changes_nothing():
    assert evidence(recording(answer="cannot-tell", half=0.3)) == {}
    assert evidence() == {}


def test_the_last_before_setting_that_says_anything_counts():
    old, mute = recording(id="a"), recording(id="b", answer="cannot-tell", at=AT + timedelta(hours=1))
    after = recording(id="c", phase="left", at=AT + timedelta(hours=2))
    visit = VisitModel(id="v", date=AT.date(), usage=1.0, recordings=[mute, old, after])
    assert speaking(visit.recordings).id == "a"


def test_a_place_is_a_valve_of_the_engine():
    visit = VisitModel(
        id="v", date=AT.date(), usage=1.0, recordings=[recording(half=1.9, valves=[("2E", 0.9)])]
    )
    engine = four_cylinders()
    named = [one for one in sound_evidence(visit, engine) if one.finding == "sound-half-speed"]
    assert {one.place for one in named} == {Place(valve=one.id) for one in engine.valves}
