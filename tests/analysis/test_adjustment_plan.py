"""What to set at a visit: from a record to turns, shims and orders, as the command prints it."""

import json

import pytest
from typer.testing import CliRunner

from pronostico.analysis.adjustment_plan import plan_adjustment
from pronostico.cli import app
from pronostico.core.thermal import correction_at
from pronostico.errors import NotThere
from pronostico.record.conversion import engine_from
from pronostico.record.reading_in import read_record
from pronostico.record.visit import SettingModel
from tests.builders import TODAY, record_document

INTAKE, EXHAUST = (0.15, 0.20), (0.25, 0.30)


def bracket(valve, blade_mm, phase="found"):
    """A reading about a hundredth over a blade: it drags, two hundredths more do not go."""
    tries = [
        {"blades_mm": [blade_mm], "felt": "drag"},
        {"blades_mm": [round(blade_mm + 0.02, 3)], "felt": "no-go"},
    ]
    return {"valve": valve, "phase": phase, "tries": tries}


def record(readings, engine=None, **top):
    """A record of a twin with those readings at its one visit."""
    document = record_document()
    document["engine"].update(
        {
            "adjuster_pitch_mm": 0.75,
            "adjuster_at": "valve",
            "valves": [
                {"id": f"{n}{side}", "cylinder": n, "side": "intake" if side == "I" else "exhaust"}
                for n in (1, 2)
                for side in "IE"
            ],
            **(engine or {}),
        }
    )
    document["visits"] = [
        {"id": "v1", "date": "2026-01-05", "usage": 100, "temperature_c": 20, "readings": readings}
    ]
    document["cases"] = []
    document.update(top)
    return read_record(json.dumps(document), today=TODAY)


def planned(read, **how):
    plan = plan_adjustment(read, "v1", **how)
    return plan, {valve.valve: valve for valve in plan.valves}


GOOD = [bracket("1I", 0.17), bracket("2I", 0.17), bracket("1E", 0.27), bracket("2E", 0.27)]


def test_only_what_is_out_or_open_is_touched_and_turned_by_its_thread():
    plan, valves = planned(record([*GOOD[:3], bracket("2E", 0.10)]))
    assert {name: one.touch for name, one in valves.items()} == {
        "1I": False,
        "1E": False,
        "2I": False,
        "2E": True,
    }
    tight = valves["2E"]
    assert tight.target_mm == pytest.approx(0.275)
    # Open by so much of 0.75 mm a turn, and a right-hand thread opens anticlockwise.
    assert tight.turn_deg == pytest.approx(-(0.275 - tight.from_mm) / 0.75 * 360)
    assert tight.p_in_after > 0.98
    assert valves["1I"].turn_deg is None and valves["1I"].p_in_after > 0.9
    assert plan.shims.fit == [] and plan.locking_allowance_mm == 0.0


def test_all_are_touched_where_asked_but_never_one_that_was_not_read():
    _, valves = planned(record(GOOD[:3]), which="all")
    assert [one.touch for one in valves.values()] == [True, True, True, False]
    assert valves["2E"].note == "not measured as found: measure it before adjusting"
    assert valves["2E"].from_mm is None


@pytest.mark.parametrize(
    ("engine", "factor"),
    [
        ({}, 1.0),
        ({"adjuster_at": "pushrod", "rocker_ratio": 1.5}, 1 / 1.5),
        ({"adjuster_at": "pivot", "rocker_ratio": 1.5}, 1 / 2.5),
        ({"adjuster_at": None, "adjustment": "screw-pushrod", "rocker_ratio": 2.0}, 1 / 2.0),
        ({"adjuster_at": None, "adjustment": "pivot-nut", "rocker_ratio": 1.0}, 1 / 2.0),
        ({"thread": {"hand": "left"}}, -1.0),
    ],
)
def test_a_turn_counts_the_place_of_the_adjuster_and_its_hand(engine, factor):
    readings = [bracket("1I", 0.17), bracket("1E", 0.10)]
    _, plain = planned(record(readings))
    _, valves = planned(record(readings, engine))
    # Push-rod engines correct for temperature otherwise; at the reference temperature there is none.
    assert valves["1E"].turn_deg == pytest.approx(factor * plain["1E"].turn_deg)


def test_what_is_not_known_of_the_thread_is_said_and_no_turn_is_guessed():
    tight = [bracket("1E", 0.10)]
    _, valves = planned(record(tight, {"adjuster_pitch_mm": None}))
    assert valves["1E"].turn_deg is None and "pitch" in valves["1E"].note
    _, valves = planned(record(tight, {"adjuster_at": "pivot"}))
    assert valves["1E"].turn_deg is None and "rocker ratio" in valves["1E"].note


def test_the_manuals_figure_is_taken_where_it_gives_one():
    figure = {"intake": {"figure_mm": 0.10}, "exhaust": {"min_mm": 0.25, "max_mm": 0.30}}
    _, valves = planned(record(GOOD, {"spec": figure}), policy="figure", which="all")
    assert valves["1I"].target_mm == pytest.approx(0.10)
    assert valves["1E"].target_mm == pytest.approx(0.275)
    _, leaning = planned(record(GOOD), policy="lean-loose", which="all")
    assert leaning["1E"].target_mm == pytest.approx(0.25 + 2 / 3 * 0.05)
    assert leaning["1I"].target_mm == pytest.approx(0.175)


def test_the_figure_is_the_one_that_held_on_the_day_of_the_visit():
    figure = {"intake": {"figure_mm": 0.10}, "exhaust": {"figure_mm": 0.20}}
    later = {"intake": {"figure_mm": 0.12}, "exhaust": {"figure_mm": 0.22}}
    for day, wanted in (("2026-01-04", 0.12), ("2026-01-06", 0.10)):
        engine = {"spec": figure, "spec_changes": [{"date": day, "spec": later}]}
        _, valves = planned(record(GOOD, engine), policy="figure", which="all")
        assert valves["1I"].target_mm == pytest.approx(wanted)


def test_what_locking_did_before_is_allowed_for():
    lockup = [{"before": bracket("1E", 0.25)["tries"], "after": bracket("1E", 0.28)["tries"]}] * 6
    read = record([*GOOD, bracket("1E", 0.10)])
    read.visits[0].settings.append(SettingModel.model_validate({"valve": "2E", "lockup": lockup}))
    plan, _ = planned(read)
    # Locking opened it by 0.03 every time: most of that is taken off a priori.
    assert 0.015 < plan.locking_allowance_mm < 0.03


def test_valves_that_share_a_rocker_are_named_together():
    valves = [
        {"id": "1I", "cylinder": 1, "side": "intake", "shares_rocker_with": ["1E"]},
        {"id": "1E", "cylinder": 1, "side": "exhaust", "shares_rocker_with": ["1I"]},
    ]
    _, plan = planned(record([bracket("1I", 0.05)], {"valves": valves, "firing_order": [1]}))
    assert plan["1I"].together_with == ["1E"]


# Shims


def shimmed(readings, adjustment="shim-under-bucket", shims=(2.50, 2.50, 2.50, 2.50), **top):
    names = ("1I", "1E", "2I", "2E")
    valves = [
        {
            "id": name,
            "cylinder": int(name[0]),
            "side": "intake" if name[1] == "I" else "exhaust",
            "shim_mm": mm,
        }
        for name, mm in zip(names, shims, strict=True)
    ]
    engine = {
        "adjustment": adjustment,
        "valves": valves,
        "shim_series": {"from_mm": 2.0, "to_mm": 3.0, "step_mm": 0.05},
    }
    return record(readings, engine, **top)


def test_a_shim_is_worked_out_ordered_and_the_old_one_freed():
    plan, valves = planned(shimmed([*GOOD[:3], bracket("2E", 0.17)]))
    assert [(one.valve, one.shim_mm, one.source) for one in plan.shims.fit] == [("2E", 2.40, "order")]
    assert [(one.shim_mm, one.count) for one in plan.shims.order] == [(2.40, 1)]
    assert [(one.shim_mm, one.count) for one in plan.shims.freed] == [(2.50, 1)]
    assert valves["2E"].shim.source == "order" and valves["2E"].turn_deg is None
    assert plan.camshafts_out == ["exhaust"]
    assert valves["1I"].shim is None


def test_the_box_and_the_other_valves_come_before_an_order():
    read = shimmed(
        [bracket("1I", 0.07), bracket("1E", 0.17), bracket("2I", 0.27), bracket("2E", 0.27)],
        shims=(2.50, 2.50, 2.40, 2.50),
        shim_box=[{"shim_mm": 2.40, "count": 1}],
    )
    plan, valves = planned(read)
    assert plan.shims.order == []
    sources = {one.valve: one.source for one in plan.shims.fit}
    assert sources["2I"].startswith("moved from ")
    assert set(sources) == {"1I", "1E", "2I"}
    assert all(valves[name].p_in_after > 0.9 for name in sources)
    assert planned(shimmed(GOOD, adjustment="shim-over-bucket"))[0].camshafts_out == []


def test_a_shim_that_was_fitted_at_the_visit_is_the_one_that_is_in_now():
    document = shimmed([*GOOD[:3], bracket("2E", 0.17)]).model_dump(mode="json")
    document["visits"][0]["settings"] = [{"valve": "2E", "shim_from_mm": 2.50, "shim_to_mm": 2.45}]
    document["visits"][0]["readings"].append(bracket("2E", 0.22, phase="left"))
    read = read_record(json.dumps(document), today=TODAY)
    plan, valves = planned(read)
    # Fitted once and still tight: the second round goes from the new shim and the reading as left.
    assert valves["2E"].from_mm == pytest.approx(0.23, abs=0.01)
    assert [one.shim_mm for one in plan.shims.fit] == [2.40]
    assert [one.shim_mm for one in plan.shims.freed] == [2.45]


def test_a_shim_that_nobody_knows_is_asked_for():
    plan, valves = planned(shimmed([bracket("1E", 0.17)], shims=(2.50, None, 2.50, 2.50)))
    assert plan.shims.fit == [] and "read or measure it" in valves["1E"].note


def test_where_the_series_ends_it_is_said():
    _, valves = planned(shimmed([bracket("1E", 0.05)], shims=(2.50, 2.00, 2.50, 2.50)))
    assert valves["1E"].note == "no shim brings it into spec"


# A bound is no number


BLADES = (0.05, 0.10, 0.13, 0.15, 0.18, 0.20, 0.25, 0.30)


def answers(valve, *felt, phase="found"):
    return {
        "valve": valve,
        "phase": phase,
        "tries": [{"blades_mm": [blade], "felt": how} for blade, how in felt],
    }


def wide(readings, **top):
    """Shims under buckets, spec 0.16 to 0.22 on both sides, a set from 0.05 mm."""
    spec = {"min_mm": 0.16, "max_mm": 0.22}
    read = shimmed(readings, **top)
    document = read.model_dump(mode="json")
    document["engine"]["spec"] = {"intake": spec, "exhaust": spec}
    document["gauge_set"] = {"id": "s", "blades_mm": list(BLADES)}
    return read_record(json.dumps(document), today=TODAY)


BOUND = answers("1I", (0.20, "no-go"), (0.15, "no-go"))
NUMBER = answers("1E", (0.25, "no-go"), (0.13, "free"), (0.15, "no-go"))


def test_a_valve_known_only_as_a_bound_gets_no_shim_and_takes_none():
    plan, valves = planned(wide([BOUND, NUMBER], shim_box=[{"shim_mm": 2.45, "count": 1}]))
    bound, number = valves["1I"], valves["1E"]
    assert bound.verdict == "tight" and bound.touch
    assert bound.needs_reading is not None and 0.09 < bound.needs_reading.next_mm <= 0.13
    assert (bound.shim, bound.from_mm, bound.p_in_after, bound.provisional) == (None, None, None, False)
    assert "measure its clearance" in bound.note
    # The shim of the box goes to the valve that can use it, and nothing is ordered or freed for the other.
    assert [(one.valve, one.shim_mm, one.source) for one in plan.shims.fit] == [("1E", 2.45, "stock")]
    assert plan.shims.order == [] and [one.shim_mm for one in plan.shims.freed] == [2.50]
    assert number.needs_reading is None


def test_a_lower_bound_alone_is_no_number_either():
    _, valves = planned(wide([answers("1I", (0.25, "free"))]))
    assert valves["1I"].verdict == "loose"
    assert valves["1I"].needs_reading.next_mm > 0.25 and valves["1I"].shim is None


def test_one_more_answer_gives_the_number():
    further = answers("1I", (0.20, "no-go"), (0.15, "no-go"), (0.13, "drag"))
    _, valves = planned(wide([further]))
    assert valves["1I"].needs_reading is None
    assert valves["1I"].shim.shim_mm == pytest.approx(2.45)


def test_where_the_thinnest_blade_is_refused_the_fit_is_provisional():
    plan, valves = planned(wide([answers("1I", (0.15, "no-go"), (0.05, "no-go"))]))
    one = valves["1I"]
    assert (one.provisional, one.needs_reading, one.from_mm, one.p_in_after) == (True, None, 0.0, None)
    # From a clearance of 0 to the middle, 0.19: a shim of 2.30 in place of 2.50.
    assert one.shim.shim_mm == pytest.approx(2.30) and "plan again" in one.note
    assert [fit.valve for fit in plan.shims.fit] == ["1I"]


def test_a_screw_known_only_as_a_bound_is_set_with_the_blade_and_no_turn_is_computed():
    read = record([answers("1I", (0.15, "no-go")), answers("1E", (0.40, "free"))])
    _, valves = planned(read, blades_mm=BLADES)
    for name in ("1I", "1E"):
        assert valves[name].touch and valves[name].turn_deg is None and valves[name].from_mm is None
        assert valves[name].set_with_mm is not None and valves[name].needs_reading is not None
        assert "no turn can be calculated" in valves[name].note
    # Without a pitch no turn would be computed anyway: nothing has to be read for it.
    _, plain = planned(record([answers("1I", (0.15, "no-go"))], {"adjuster_pitch_mm": None}))
    assert plain["1I"].needs_reading is None


def test_the_command_says_what_to_measure(tmp_path):
    printed = run(tmp_path, wide([BOUND]), "--json")
    assert json.loads(printed.stdout)["valves"][0]["needs_reading"]["next_mm"] <= 0.13
    said = run(tmp_path, wide([BOUND])).stdout
    assert "measure its clearance to choose a shim; try 0.1 mm next" in said
    thinnest = run(tmp_path, wide([answers("1I", (0.15, "no-go"), (0.05, "no-go"))])).stdout
    assert "shim 2.300 mm, order; provisional, assuming zero clearance" in thinnest


# Hydraulic


def test_hydraulic_lifters_are_reported_their_preload():
    none = {"min_mm": None, "max_mm": None, "figure_mm": None}
    engine = {
        "adjustment": "hydraulic",
        "adjuster_at": "pivot",
        "rocker_ratio": 1.5,
        "spec": {"intake": none, "exhaust": none},
        "hydraulic": {"preload_turns": 0.75, "plunger_stroke_mm": 2.8},
    }
    plan, valves = planned(record([], engine))
    # The valve tip stands still: 0.75 turns of 0.75 mm at the pivot move the pushrod end by 2.5 / 1.5 of it.
    assert plan.preload.plunger_travel_mm == pytest.approx(0.9375, abs=0.001)
    assert plan.preload.share_of_stroke == pytest.approx(0.335, abs=0.001) and plan.preload.sound is True
    assert not any(one.touch for one in valves.values())


# The command


def run(tmp_path, read, *more):
    path = tmp_path / "record.json"
    path.write_text(read.model_dump_json(), "utf-8")
    # Wide, so that no note is broken over two lines of a table.
    return CliRunner(env={"COLUMNS": "240"}).invoke(app, ["set", str(path), "--visit", "v1", *more])


def test_the_command_prints_one_json_document(tmp_path):
    printed = run(tmp_path, shimmed([*GOOD[:3], bracket("2E", 0.17)]), "--policy", "lean-loose", "--json")
    plan = json.loads(printed.stdout)
    assert printed.exit_code == 0 and plan["policy"] == "lean-loose"
    assert {"valve", "touch", "target_mm", "from_mm", "turn_deg", "shim", "p_in_after"} <= set(
        plan["valves"][0]
    )
    assert set(plan["shims"]) == {"fit", "order", "freed"}
    assert plan["shims"]["fit"][0]["source"] == "order"


def test_the_command_says_it_in_words(tmp_path):
    screws = run(tmp_path, record([*GOOD[:3], bracket("2E", 0.10)]))
    assert "anticlockwise" in screws.stdout and "no change" in screws.stdout
    shims = run(tmp_path, shimmed([*GOOD[:3], bracket("2E", 0.17)]))
    assert "order 1 of 2.400 mm; return to the box 1 of 2.500 mm" in shims.stdout
    assert "camshafts out: exhaust" in shims.stdout


def test_a_visit_that_there_is_not_is_reported(tmp_path):
    with pytest.raises(NotThere, match="there is no visit 'v7'"):
        plan_adjustment(record(GOOD), "v7")
    path = tmp_path / "record.json"
    path.write_text(record(GOOD).model_dump_json(), "utf-8")
    failed = CliRunner().invoke(app, ["set", str(path), "--visit", "v7"])
    assert failed.exit_code == 1 and "there is no visit 'v7'" in failed.stderr
    assert CliRunner().invoke(app, ["set", str(path)]).exit_code == 2


def test_the_blade_to_set_with_meets_the_gap_as_warm_as_it_is_today():
    materials = {"head_material": "aluminium", "block_material": "aluminium", "valve_length_mm": 100}
    read = record([*GOOD[:3], bracket("2E", 0.10)], engine={**materials, "reference_temperature_c": 20})
    blades = [round(0.05 + 0.01 * n, 2) for n in range(40)]

    def chosen(temperature_c):
        visits = [read.visits[0].model_copy(update={"temperature_c": temperature_c})]
        valves = planned(read.model_copy(update={"visits": visits}), blades_mm=blades)[1]
        return sum(valves["2E"].set_with_mm)

    heat = correction_at(engine_from(read.engine), "exhaust", 60.0).correction_mm
    assert abs(heat) > 0.015
    assert chosen(60.0) - chosen(20.0) == pytest.approx(heat, abs=0.01)
