"""Sides and shims that look exchanged: by hand, on simulated engines, and what is not to be taken for it."""

import numpy as np
import pytest
from benchmarks.truth import simulated
from scipy.special import expit, logit

from pronostico.analysis.diagnosis import diagnose_record
from pronostico.analysis.drift_cache import drifts_as_found
from pronostico.core.causes.exchanged import exchanged, exchanged_shims, sides_swapped
from pronostico.core.constants import DEFAULT
from pronostico.core.gauge.engine_readings import analyse
from pronostico.core.visits import Setting
from pronostico.record.models import Record
from tests.builders import around, engine, record_document, visit

NAMES = tuple(f"{n}{side}" for n in (1, 2) for side in "IE")


def checked(usage_number, gaps, **more):
    return visit(
        usage_number, 250.0 * usage_number, *(around(name, gap) for name, gap in gaps.items()), **more
    )


def gaps(intake=0.17, exhaust=0.27, **others):
    return {name: others.get(f"v{name}", intake if "I" in name else exhaust) for name in NAMES}


def p_swapped(visits, of=None):
    of = of or engine(2)
    analysis = analyse(of, tuple(visits))
    pairs = [(valve, valve.states[-1]) for valve in analysis.valves]
    log_ratio = sides_swapped(pairs, drifts_as_found(of, tuple(visits)))
    return expit(logit(DEFAULT.sides_swapped_prior) + log_ratio)


def test_intakes_read_as_exhausts_are_seen_against_what_was_found_before():
    before = [checked(1, gaps()), checked(2, gaps(0.17, 0.26))]
    assert p_swapped([*before, checked(3, gaps(0.26, 0.17))]) > 0.8
    assert p_swapped([*before, checked(3, gaps(0.17, 0.25))]) < 0.01


def test_specs_entered_the_wrong_way_round_are_seen_at_the_first_visit():
    assert p_swapped([checked(1, gaps(0.27, 0.17))]) > 0.7
    assert p_swapped([checked(1, gaps())]) < 0.001


@pytest.mark.parametrize(
    "found",
    [
        gaps(0.17, 0.17),  # exhausts that closed far
        gaps(0.26, 0.27),  # intakes that wore loose
        gaps(0.20, 0.23),  # both nearer to each other, and neither past the other
        gaps(v1E=0.17),
    ],
)
def test_what_wears_is_not_taken_for_exchanged_sides(found):
    assert p_swapped([checked(1, found)]) < 0.2
    assert p_swapped([checked(1, gaps()), checked(2, gaps()), checked(3, found)]) < 0.2


def test_one_side_alone_says_nothing():
    only = visit(1, 250.0, around("1I", 0.27), around("2I", 0.27))
    assert p_swapped([only]) == 0.0


def test_simulated_engines_are_hardly_ever_taken_for_exchanged():
    found = [
        p_swapped(made.visits[:4], made.engine)
        for kind in ("healthy", "recession", "bedding in", "a side runs away")
        for number in range(6)
        for made in [simulated(kind, number)]
    ]
    assert max(found) < 0.3


SHIMS = engine(2, adjustment="shim-under-bucket")


def shimmed(exchange):
    """Two exhausts set by shims at the second visit, and what is found at the third."""
    settings = (Setting("1E", None, 2.65, 2.60), Setting("2E", None, 2.80, 2.75))
    first, second = checked(1, gaps()), checked(2, gaps(v1E=0.23, v2E=0.22), settings=settings)
    # Each has 0.28 or 0.27 after the right shim; 2.60 in place of 2.75 is 0.15 mm looser.
    third = gaps(v1E=0.13, v2E=0.42) if exchange else gaps(v1E=0.27, v2E=0.26)
    return (first, second, checked(3, third))


def p_exchanged(visits):
    found = exchanged_shims(drifts_as_found(SHIMS, visits), visits)
    return {name: expit(logit(DEFAULT.shims_exchanged_prior) + ratio) for name, ratio in found.items()}


def test_two_shims_that_were_exchanged_are_named_with_both_valves():
    visits = shimmed(exchange=True)
    found = p_exchanged(visits)
    assert set(found) == {"1E", "2E"} and min(found.values()) > 0.8
    assert max(p_exchanged(shimmed(exchange=False)).values()) < 0.01


def test_two_sudden_changes_of_other_sizes_are_no_exchange():
    first, second, _ = shimmed(exchange=True)
    visits = (first, second, checked(3, gaps(v1E=0.20, v2E=0.42)))
    assert max(p_exchanged(visits).values()) < 0.3


def test_shims_are_asked_about_only_where_valves_are_set_by_shims():
    visits = shimmed(exchange=True)
    for of, expected in ((SHIMS, {"1E", "2E"}), (engine(2), set())):
        evidence = exchanged(analyse(of, visits), drifts_as_found(of, visits), visits)
        assert {one.place.valve for one in evidence if one.finding == "shims-exchanged"} == expected
    assert list(exchanged(analyse(SHIMS, ()), drifts_as_found(SHIMS, ()), ())) == []
    assert exchanged_shims(drifts_as_found(SHIMS, visits[:1]), visits[:1]) == {}


def test_swapped_sides_lead_to_a_measurement_error():
    document = record_document()
    swapped = gaps(0.27, 0.17)
    document["visits"] = [
        {
            "id": "v1",
            "date": "2026-01-01",
            "usage": 1000.0,
            "readings": [
                {
                    "valve": name,
                    "phase": "found",
                    "tries": [
                        {"blades_mm": [gap], "felt": "drag"},
                        {"blades_mm": [round(gap + 0.02, 3)], "felt": "no-go"},
                    ],
                }
                for name, gap in swapped.items()
            ],
        }
    ]
    document["cases"] = []
    report = diagnose_record(Record.model_validate(document))
    assert report.causes[0].cause == "checked-wrong"
    assert report.causes[0].probability > 0.5


def test_random_sound_engines_of_any_specs_stay_below_doubt():
    rng = np.random.default_rng(5)
    found = [
        p_swapped(
            [checked(1, {name: float(rng.normal(0.175 if "I" in name else 0.275, 0.03)) for name in NAMES})]
        )
        for _ in range(60)
    ]
    assert np.mean([one > 0.1 for one in found]) < 0.05
