"""Reports as tables for people: never a certainty that nobody has, never a gap below none."""

from rich.console import Console
from rich.table import Table

from pronostico.analysis import chances, sound_words, words
from pronostico.analysis.adjustment_plan_report import AdjustmentPlanOut, CountOut, SetValveOut
from pronostico.analysis.crank_plan import CrankOut
from pronostico.analysis.diagnosis_report import DiagnosisOut, EvidenceOut
from pronostico.analysis.drift_report import SpreadOut
from pronostico.analysis.report import AnalysisOut, EstimateOut, ValveOut
from pronostico.analysis.sound_report import SoundOut


def _reading(estimate: EstimateOut | None) -> str:
    """A reading: its verdict, how sure it is, and what is known of the clearance."""
    if estimate is None:
        return "not measured"
    chance = {"tight": estimate.p_tight, "in": estimate.p_in, "loose": estimate.p_loose}[estimate.leaning]
    went, refused = estimate.bracket.went_mm, estimate.bracket.refused_mm
    if went is None and refused is not None:
        figure = f"under {max(refused - estimate.correction_mm, 0.0):.2f} mm"
    elif refused is None and went is not None and not estimate.gives_number:
        figure = f"over {max(went - estimate.correction_mm, 0.0):.2f} mm"
    else:
        figure = f"{max(estimate.q05_mm, 0.0):.2f} to {max(estimate.q95_mm, 0.0):.2f} mm"
    return f"{words.verdict(estimate)} ({chances.percent(chance)}), {figure}"


def _drift(valve: ValveOut) -> str:
    """How a valve moves, in a word and in figures."""
    if valve.drift is None:
        return ""
    broke = (
        "" if valve.break_ is None else f"; sudden change at {valve.break_.visit}, {valve.break_.direction}er"
    )
    return f"{valve.drift.trend}, {valve.drift.mean_mm_per_interval:+.3f} mm per interval{broke}"


def _out_of_spec(valve: ValveOut, report: AnalysisOut) -> str:
    """When it is as likely out as in, on the side where that comes first."""
    if valve.crossing is None:
        return ""
    sides = {"tight": valve.crossing.tight, "loose": valve.crossing.loose}
    even = {side: one.q50 for side, one in sides.items() if one is not None and one.q50 is not None}
    if not even:
        return "not within the forecast"
    side = min(even, key=lambda name: even[name])
    now = report.as_of_usage is not None and even[side] <= report.as_of_usage
    return f"{side} now" if now else f"{side} at {even[side]:.0f} {report.usage_unit}"


def _sink(moved: SpreadOut | None) -> str:
    """How far a valve has closed or opened; nothing after a single visit, which has nothing to add up."""
    if moved is None or moved.sd_mm == 0.0:
        return ""
    rounded = round(moved.mean_mm, 2)
    return f"{rounded:+.2f} mm" if rounded else "0.00 mm"


def _evidence(entry: EvidenceOut) -> str:
    """One line of evidence: the finding or its absence, where, and its factor."""
    found = entry.label if entry.presence >= 0.5 else f"not: {entry.label}"
    where = f", {entry.where}" if entry.where else ""
    return f"{found}{where} {chances.factor(entry.decibans)}"


def print_analysis(report: AnalysisOut) -> None:
    """Readings of the last visit and what is ahead, one line per valve."""
    console = Console()
    if report.as_of_usage is None:
        console.print("No visits yet: nothing to analyse.")
        return
    table = Table(title=f"{report.engine} at {report.as_of_usage:g} {report.usage_unit}")
    for heading in ("valve", "found", "left", "drift", "valve sink", "out of spec"):
        table.add_column(heading)
    for valve in report.valves:
        table.add_row(
            valve.valve,
            _reading(valve.found) if valve.spec is not None else "hydraulic: no clearance",
            _reading(valve.left) if valve.left is not None else "",
            _drift(valve),
            _sink(valve.sink),
            _out_of_spec(valve, report),
        )
    console.print(table)
    if not report.settled:
        console.print("The drift calculation did not converge: its figures are approximate.")
    if report.regimes and report.regimes[0].kind != "steady":
        of_drift = "; ".join(f"{one.label}, {chances.percent(one.probability)}" for one in report.regimes)
        console.print(f"Drift: {of_drift}.")
    for side in report.expected:
        engines = "1 sister engine" if side.sisters == 1 else f"{side.sisters} sister engines"
        remark = "; this engine drifts differently" if side.differs else ""
        console.print(
            f"Expected from {engines}: {side.side} {side.mean_mm_per_interval:+.3f} mm per interval "
            f"(± {side.sd_mm_per_interval:.3f}){remark}."
        )
    look, check = report.check_due, report.next_check
    if look is not None:
        when = "now" if look.now else f"at {look.usage:.0f} {report.usage_unit}"
        console.print(f"Next check {when}: {look.why or 'chosen at the last visit'}.")
    if check is not None and check.due_now:
        console.print(f"Out of spec or inconclusive: {' '.join(check.due_now)}.")
    for position in report.positions:
        if position.suspect:
            console.print(
                f"{' '.join(position.valves)}: the crank may be one turn off, "
                f"{chances.chance(position.p_one_turn_off)}. Turn it one full turn and re-measure."
            )
    for one in report.visits:
        if one.shift is not None and one.shift.suspect:
            console.print(
                f"Visit {one.visit}: all readings moved together; was it a cold check with the same blades?"
            )


# What is printed for people is cut short; --json has it all.
_WORTH_A_CAUTION = 0.1
_WORTH_PRINTING = 0.01
_MOST_ENTRIES = 6


def print_diagnosis(report: DiagnosisOut) -> None:
    """The likelier causes with the heaviest of their evidence."""
    console = Console()
    table = Table(title="Causes" if report.case is None else f"Causes, case {report.case}")
    for heading in ("cause", "where", "probability", "for", "against"):
        table.add_column(heading)
    for cause in [one for one in report.causes if one.probability >= _WORTH_PRINTING]:
        ledger = (
            "\n".join(_evidence(entry) for entry in side[:_MOST_ENTRIES])
            for side in (cause.for_, cause.against)
        )
        table.add_row(cause.label, cause.where, chances.percent(cause.probability), *ledger)
    console.print(table)
    console.print(
        f"other cause: {chances.percent(report.none_of_these)}; "
        "×10 makes a cause ten times likelier, ÷10 ten times less likely"
    )
    for cause in [one for one in report.causes if one.caution and one.probability >= _WORTH_A_CAUTION]:
        console.print(f"{cause.label}: {cause.caution}")
    if report.next_tests:
        tests = Table(title="Next test, most information per minute first")
        for heading in ("test", "where", "minutes", "settles", "if it shows"):
            tests.add_column(heading)
        for one in report.next_tests[:_MOST_ENTRIES]:
            outcomes = "\n".join(
                f"{outcome.label}: {outcome.cause_label} {outcome.cause_where}, "
                f"{chances.percent(outcome.probability_of_cause)}"
                for outcome in one.outcomes
            )
            tests.add_row(
                one.label, one.where, f"{one.minutes:.0f}", chances.settles(one.gain_bits), outcomes
            )
        console.print(tests)


def print_stations(plan: CrankOut) -> None:
    """Where to turn the crank, one line per position."""
    console = Console()
    table = Table(title=f"Where to turn the crank ({plan.school}); direction of rotation only")
    for heading in ("turn a further", "to", "measure"):
        table.add_column(heading)
    turns = ["", *(f"{turn:g} degrees" for turn in plan.turns_between_deg)]
    for turn, station in zip(turns, plan.stations, strict=True):
        table.add_row(turn, station.mark, " ".join(station.valves))
    console.print(table)
    if plan.past_top is not None:
        further, travel = plan.past_top.crank_deg, plan.past_top.travel_mm
        console.print(
            f"At each, turn {further:.0f} degrees further ({travel:g} mm of piston travel), "
            "past the compression release."
        )
    if plan.lobe_position is not None:
        console.print(f"Manual: {plan.lobe_position}")


def _sizes(counted: list[CountOut]) -> str:
    return ", ".join(f"{one.count} of {one.shim_mm:.3f} mm" for one in counted) or "nothing"


def _doing(valve: SetValveOut) -> str:
    """What to do with a valve, in words."""
    if valve.needs_reading is not None and valve.needs_reading.next_mm is not None:
        return f"{valve.note}; try {valve.needs_reading.next_mm:g} mm next"
    if valve.note is not None and not valve.provisional:
        return valve.note
    if not valve.touch:
        return "no change"
    if valve.shim is not None:
        provisional = f"; {valve.note}" if valve.provisional else ""
        return f"shim {valve.shim.shim_mm:.3f} mm, {valve.shim.source}{provisional}"
    turned = valve.turn_text or ""
    if valve.set_with_mm is None:
        return turned
    blade = " + ".join(f"{mm:g}" for mm in valve.set_with_mm)
    return f"{turned}; so that {blade} mm drags, then tighten the locknut".removeprefix("; ")


def print_adjustment(plan: AdjustmentPlanOut) -> None:
    """What to set, one line per valve, and the shims."""
    console = Console()
    table = Table(title=f"to be adjusted: {plan.which}, policy {plan.policy}")
    for heading in ("valve", "now", "target", "do", "in spec afterwards"):
        table.add_column(heading)
    for valve in plan.valves:
        stands = "" if valve.from_mm is None else f"{max(valve.from_mm, 0.0):.2f} mm"
        target = "" if valve.target_mm is None or not valve.touch else f"{valve.target_mm:.3f} mm"
        after = "" if valve.p_in_after is None else chances.percent(valve.p_in_after)
        table.add_row(valve.valve, stands, target, _doing(valve), after)
    console.print(table)
    if plan.shims.fit:
        console.print(f"order {_sizes(plan.shims.order)}; return to the box {_sizes(plan.shims.freed)}")
    if plan.camshafts_out:
        console.print(f"camshafts out: {'; '.join(plan.camshafts_out)}")
    if plan.preload is not None:
        console.print(f"past zero lash, felt by spinning the pushrod: {plan.preload.turns:g} turns")
    console.print("The maker's manual comes first. Re-measure after tightening: it moves the screw.")


_BARS = " ▁▂▃▄▅▆▇█"


def print_sound(report: SoundOut, folded_db: list[float]) -> None:
    """What a recording says, and the folded envelope as a line of text."""
    console = Console(highlight=False)
    console.print(sound_words.headline(report.answer))
    rpm = report.rpm
    console.print(
        f"{report.input.seconds:.0f} s, {rpm.cycles} cycles at {rpm.mean:.0f} rpm "
        f"({rpm.low:.0f} to {rpm.high:.0f})"
    )
    lines = [*sound_words.finding_words(report.findings), *sound_words.alike_words(report.all_alike)]
    if report.unrelated_at is not None and report.findings["sound-unrelated"].p >= 0.8:
        own = report.unrelated_at
        lines.append(f"It comes {own.per_turn:.2f} times a turn of the crank ({own.hz:.1f} Hz)")
    for tick in report.ticks:
        said = sound_words.tick_words(tick.strength_db, tick.at_deg, tick.at_sd_deg, tick.valves or ())
        lines.append(f"{said}; {tick.trend.verdict.replace('-', ' ')}")
    for line in lines:
        console.print(f"  {line}")
    most = max(*folded_db, 6.0)
    console.print("  " + "".join(_BARS[round(8 * one / most)] for one in folded_db))
    console.print("  0" + "360".center(len(folded_db) - 4) + "720")
    for warning in sound_words.warning_words(report.warnings):
        console.print(warning)
    if report.compare is not None:
        compared = report.compare
        console.print(f"{sound_words.became_words(compared.verdict, compared.p_gone)} {compared.why}")
    console.print(sound_words.LIMITS[0])
