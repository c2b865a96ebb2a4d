"""The job card, for the page and as PDF."""

import builtins

import pytest

from pronostico.analysis import words
from pronostico.analysis.adjustments_made import DoneOut
from pronostico.analysis.job_card import CardValveOut
from pronostico.analysis.report import EstimateOut, SpecOut
from pronostico.core.engine import Spec
from pronostico.pdf.plan import plan_rows
from pronostico.record.engine import Layout

CARD = "/api/engines/resurfacer-1/visits/v7/card"


def test_the_card_has_what_was_found_and_done_and_left(client):
    card = client.get(CARD).json()
    third = next(one for one in card["valves"] if one["valve"] == "3E")
    assert third["found"]["verdict"] == "tight" and third["left"]["verdict"] == "in"
    assert third["settings"][0]["target_mm"] == 0.28
    assert card["source"] == "Workshop manual R4-26G, 4-12"
    assert [one["part"] for one in card["torque"]] == ["locknut", "cover", "plug"]


def test_shims_that_were_fitted_stand_among_the_parts(client):
    card = client.get("/api/engines/snowmobile/visits/v2/card").json()
    assert [(one["shim_mm"], one["count"]) for one in card["shims"]] == [(1.65, 1), (1.7, 1)]


@pytest.mark.parametrize(
    "engine", ["resurfacer-1/visits/v7", "snowmobile/visits/v2", "standby-drive/visits/v2"]
)
@pytest.mark.parametrize("unit", ["mm", "thou"])
def test_the_card_is_one_page_of_pdf(client, engine, unit):
    answer = client.get(f"/api/engines/{engine}/card.pdf", params={"unit": unit})
    assert answer.status_code == 200 and answer.headers["content-type"] == "application/pdf"
    assert answer.content.startswith(b"%PDF-")
    # Sixteen valves fill the page; they do not run over.
    assert answer.content.count(b"/Type /Page\n") + answer.content.count(b"/Type /Page/") <= 1
    assert len(answer.content) > 8000


def test_without_the_library_that_lays_it_out_the_reason_is_reported(client, monkeypatch):
    real = builtins.__import__

    def without(name, *rest):
        if name.startswith("weasyprint"):
            raise OSError("cannot load library 'libpango-1.0-0'")
        return real(name, *rest)

    monkeypatch.setattr(builtins, "__import__", without)
    answer = client.get(f"{CARD}.pdf")
    assert answer.status_code == 501 and "libpango" in answer.json()["detail"]


def test_no_card_of_a_visit_that_there_is_not(client):
    assert client.get("/api/engines/resurfacer-1/visits/v99/card").status_code == 404
    assert client.get(f"{CARD}.pdf", params={"unit": "cubits"}).status_code == 422


def estimate(mean_mm, went_mm, refused_mm, verdict="in", leaning="in", correction_mm=0.0):
    return EstimateOut.model_validate(
        {
            "mean_mm": mean_mm,
            "sd_mm": 0.01,
            "q05_mm": mean_mm - 0.02,
            "q95_mm": mean_mm + 0.02,
            "verdict": verdict,
            "leaning": leaning,
            "p_tight": 0.0,
            "p_in": 1.0,
            "p_loose": 0.0,
            "contradiction": False,
            "bracket": {"went_mm": went_mm, "refused_mm": refused_mm},
            "gives_number": went_mm is not None and refused_mm is not None,
            "correction_mm": correction_mm,
            "verdict_as_read": None,
        }
    )


def test_figures_on_paper_never_go_below_none():
    assert words.gap(estimate(0.254, 0.25, 0.28), "thou") == "10.0"
    assert words.gap(estimate(-0.03, None, 0.04), "mm") == "none"
    assert words.gap(estimate(0.02, None, 0.04), "mm") == "under 0.04"
    assert words.gap(estimate(-0.01, 0.02, 0.04), "mm") == "0.00"
    # A bound is told as a bound, and at the temperature of the estimate.
    assert words.gap(estimate(0.66, 0.53, None), "mm") == "over 0.53"
    assert words.gap(estimate(0.66, 0.5334, None), "thou") == "over 21.0"
    assert words.gap(estimate(0.02, None, 0.04, correction_mm=-0.02), "mm") == "under 0.06"
    assert words.gap(None, "mm") == "–" and words.spec(None, "mm") == "–"
    assert words.spec(SpecOut.model_validate(Spec(0.15, 0.20)), "mm") == "0.15 to 0.20"
    assert words.verdict(estimate(0.2, 0.2, 0.2, "open", "tight")) == "inconclusive, probably tight"


def test_what_was_done_is_reported_in_words():
    def done(**fields):
        blank = dict.fromkeys(DoneOut.model_fields)
        return DoneOut.model_validate({**blank, "valve": "1E", "lock_ups": [], **fields}).text["mm"]

    locked = [{"set_with_mm": [0.28], "blades_mm": [0.28], "felt": "drag"}] * 2
    assert done(target_mm=0.28, turn_deg=22.5, lock_ups=locked) == (
        "adjusted to 0.28 mm; 22° clockwise, about 1/16 of a turn; tightened 2 times"
    )
    assert done(shim_from_mm=2.5, shim_to_mm=2.4, source="moved", moved_from="3I") == (
        "shim 2.500 out, 2.400 mm in from 3I"
    )
    assert done(shim_to_mm=2.4, source="order", reason="worn") == "shim 2.400 mm in bought; worn"
    assert done() == "adjusted"


def card_valve(name, cylinder, side, place):
    blank = dict.fromkeys(CardValveOut.model_fields)
    return CardValveOut.model_validate(
        {**blank, "valve": name, "cylinder": cylinder, "side": side, "place": place, "settings": []}
    )


@pytest.mark.parametrize(
    ("layout", "kinds", "bores"),
    [
        (None, [["bores", "valves"]], [[1, 2]]),
        (Layout(intake_side="left", front="left"), [["exhaust", "bores", "intake"]], [[1, 2]]),
        (Layout(intake_side="left", front="right"), [["intake", "bores", "exhaust"]], [[2, 1]]),
        # The intakes of a V stand inside, between its banks.
        (
            Layout(kind="v"),
            [["exhaust", "bores", "intake"], ["intake", "bores", "exhaust"]],
            [[1], [2]],
        ),
    ],
)
def test_the_plan_on_paper_has_the_rows_of_the_drawn_one(layout, kinds, bores):
    valves = [
        card_valve(f"{n}{side[0].upper()}", n, side, 2 * n - (side == "intake"))
        for n in (1, 2)
        for side in ("intake", "exhaust")
    ]
    banks = plan_rows(valves, layout)
    assert [[row.kind for row in bank] for bank in banks] == kinds
    assert [list(row.cells) for bank in banks for row in bank if row.kind == "bores"] == bores
    shown = [
        one.valve
        for bank in banks
        for row in bank
        if row.kind != "bores"
        for cell in row.cells
        for one in cell
    ]
    assert sorted(shown) == ["1E", "1I", "2E", "2I"]


def test_the_card_says_what_was_really_done(client):
    card = client.get("/api/engines/snowmobile/visits/v2/card").json()
    assert card["work_done"] == "checked and set: 2 shims"
    checked = client.get("/api/engines/quad/visits/v1/card").json()
    assert checked["work_done"].startswith("checked")
    # The meter as it was typed, beside the running total.
    assert card["meter"] == card["usage"] and card["unread"] == []


def test_the_card_names_what_was_not_read_and_the_customers_own_words(client):
    card = client.get("/api/engines/thrower/visits/v4/card").json()
    assert "The rope is heavy now." in card["customers_words"]
    assert client.get("/api/engines/resurfacer-1/visits/v8/card").json()["unread"] == ["4E"]
