"""Every number that the computation assumes, in one place, with its reason.

A workshop may set any of them: pass another `Constants`. Results are kept under these values, so a change
of one is a change of every result that rests on it.
"""

from dataclasses import dataclass

MODEL_VERSION = "6"
"""Raised whenever the same record and constants would give other figures."""


@dataclass(frozen=True, slots=True)
class Constants:
    """Assumptions of the computation; lengths in mm, angles in crankshaft degrees, probabilities from 0 to 1.

    Grid steps, tolerances and counts of rounds, which say how finely something is computed and nothing of
    engines, stand beside the computation that they belong to.
    """

    # How a blade feels: it is refused a little below zero gap, and drags until there is some air.
    refuse_below_mm: float = 0.003
    free_above_mm: float = 0.015
    feel_sd_straight_mm: float = 0.006
    feel_sd_awkward_mm: float = 0.012  # a blade that enters at an angle binds and misleads the hand
    stack_sd_mm: float = 0.003  # for each further blade: burrs, oil film and print

    # An entry error: one of the three answers written down at random.
    entry_error_probability: float = 0.005

    # An answer less likely than this by what was read before is asked back where a machine understood it.
    unlikely_answer_probability: float = 0.02

    # What is believed of a clearance before it was ever read, about the middle of its spec.
    prior_sd_mm: float = 0.15
    # A spec that is a single figure is taken as that figure with this much either way.
    figure_half_width_mm: float = 0.025

    # When a class becomes a verdict, and not just the most likely one.
    verdict_probability: float = 0.90
    verdict_rival_ratio: float = 0.30
    contradiction_ratio: float = 0.05

    # A reading gives a number to choose a shim or a turn by where its 5 to 95 % range is at most this wide,
    # or as wide as the spec where that is wider: one step of a usual shim series.
    number_width_mm: float = 0.05
    # Until then a further blade is worth offering where it takes away this share of the variance; so many.
    least_variance_share: float = 0.10
    most_tries_for_number: int = 8

    # About its spec a set of blades should have no wider steps than this, about a thou; how far outside the
    # limits a blade still helps to tell in from out; a stack fills a step where it falls this share of it
    # away from either end; so many stacks are offered a step.
    widest_blade_step_mm: float = 0.026
    blades_around_mm: float = 0.03
    stack_clear_share: float = 0.2
    most_stacks_a_gap: int = 3

    # A correction for temperature of more than this share of the spec's width is shown beside the figure.
    temperature_tells_share: float = 0.1

    # A test that is expected to settle less than this share of the best one is not offered.
    least_test_share: float = 0.25

    # When the advice on the next blade has said enough.
    least_gain_bits: float = 0.02
    most_tries: int = 8
    most_times_one_blade: int = 2
    near_tie: float = 0.05  # gains this close are as good as each other
    # A thickness already tried is advised again only where it tells this much more than the best untried one.
    repeat_gain: float = 1.25

    # Two readings of one valve in one state differ by this much: where on the lobe, how clean.
    reading_sd_mm: float = 0.005
    # What all readings of one visit share: the day, the hand, the set of blades.
    visit_shift_sd_mm: float = 0.004
    # Locking the nut moves the screw by about this much (used by the simulator).
    locking_sd_mm: float = 0.006
    # Hands differ by about this much in what their locking moves on average.
    locking_habit_sd_mm: float = 0.015
    # A valve is set with a single blade before a stack that comes no more than this nearer to the target: a
    # stack springs. Simulated hands leave the fewest valves out of spec with it.
    stack_must_gain_mm: float = 0.005
    # A valve lasts as long as it is in spec this likely.
    lasting_p_in: float = 0.9
    # So many check intervals ahead a target is followed.
    target_most_intervals: float = 20.0
    # "Lean loose" sets an exhaust valve this share of the way from the least to the most.
    lean_loose_share: float = 2.0 / 3.0
    # A target stays this far inside the limits.
    target_guard_mm: float = 0.012
    # Where a setting left no reading behind, how near it came.
    set_to_target_sd_mm: float = 0.03
    set_without_target_sd_mm: float = 0.05
    shim_step_sd_mm: float = 0.008
    # Among shims as likely in spec: what half a width of the spec off the target costs, in probability.
    off_target_cost: float = 0.01
    # A hydraulic lifter's plunger stands well between these shares of its stroke: it has room either way.
    preload_least_share: float = 0.25
    preload_most_share: float = 0.75
    # Off with the cover and on again, minutes, where the engine's data do not say.
    access_minutes: float = 30.0

    # How clearances move, mm per check interval: what a side shares, how valves of it differ (each of these
    # with the same weight a priori), and how a drift wanders.
    side_drift_sd_mm: float = 0.03
    valve_drift_sds_mm: tuple[float, ...] = (0.004, 0.008, 0.016, 0.032)
    drift_wander: float = 0.006
    # A valve that breaks from its trend has jumped by about so much.
    change_point_z: float = 3.0
    # So near a break an unlikely entry error is counted in before it is called one.
    near_change_point_z: float = 2.0
    jump_sd_mm: float = 0.10
    # Whether the drift may be other than steady.
    drift_regimes: bool = True
    # Regimes of the drift. Bedding in, and settling after head work: how far a clearance closes by it, mm
    # (common to the engine, and each valve's own), over how many check intervals it decays, and what is left
    # of a side's drift then. Its probability where the era begins new, and where it does not.
    bedding_mm: float = -0.045
    bedding_sd_mm: float = 0.020
    bedding_own_sd_mm: float = 0.012
    bedding_decays_intervals: tuple[float, ...] = (0.5, 1.5)
    bedding_side_drift_sd_mm: float = 0.012
    bedding_prior_fresh: float = 0.35
    bedding_prior: float = 0.05
    hardly_run_intervals: float = 0.5
    # Wear that speeds up: the drift that it adds at the last visit, mm per check interval, and the rate at
    # which that grows. Means apart from zero on purpose: else it fits a healthy engine as well as none does.
    speeding_growths: tuple[float, ...] = (0.25, 0.6)
    speeding_mm_per_interval: float = -0.05
    speeding_sd_mm_per_interval: float = 0.03
    speeding_own_sd_mm_per_interval: float = 0.015
    speeding_prior_exhaust: float = 0.04
    speeding_prior_intake: float = 0.01
    speeding_valve_mm_per_interval: float = 0.05
    speeding_valve_sd_mm_per_interval: float = 0.03
    # A valve by itself: so likely each, and all of an engine together. More than such valves are: it is asked
    # only where the last readings point there, and what it fits is then mostly a valve that moves.
    speeding_valve_prior: float = 0.08
    speeding_valves_prior: float = 0.4
    # Asked where its last two readings leave what was predicted in one sense, one of them by so many sd.
    speeding_asked_z: float = 0.8
    # A jump of one valve is the side's speeding up where so many of its readings lie low.
    speeding_share_moved: float = 0.5
    # One visit read warm: how it shifts all readings, mm, how likely each is, and what it takes to tell.
    warm_shift_sd_mm: float = 0.03
    warm_visit_prior: float = 0.02
    warm_fewest_readings: int = 4
    warm_fewest_visits: int = 3
    warm_share_moved: float = 0.7
    # What a clearance is off by for once, mm: a flake of carbon on the seat, dirt under the blade.
    deposit_mm: float = 0.07
    deposit_sd_mm: float = 0.04
    deposit_probability: float = 0.006
    deposit_prior_readings: float = 10.0
    # It went again where the next reading is back within such a share of the jump.
    deposit_gone_share: float = 0.5
    # How likely a jump is, where regimes with and without one are compared.
    jump_probability: float = 0.01
    # A regime less likely at first sight is not computed; one less likely in the end is dropped.
    regime_at_first_sight: float = 0.03
    least_regime: float = 0.01
    # Sister engines. How much the side drifts of engines of one kind may differ, mm per check interval, each
    # with the same weight before their records; a record that adds less than such a share to the prior says
    # nothing. The prior from them is never narrower than the least sd, and rounded, so that a new visit
    # changes only what it changes.
    sister_sds_mm: tuple[float, ...] = (0.002, 0.005, 0.012, 0.03)
    sister_least_information: float = 0.05
    sister_least_sd_mm: float = 0.008
    sister_mean_step_mm: float = 0.002
    sister_sd_ratio: float = 1.25
    # How likely an engine is to differ from its sisters, and from when on that is remarked on.
    sister_differs_prior: float = 0.1
    sister_differs: float = 0.5
    sister_fewest_visits: int = 3
    # Sides or shims exchanged: how likely before the readings; about the middle of its spec a clearance that
    # was never read lies with this sd, and the valves of a side beside that with one of these, (mm, share).
    sides_swapped_prior: float = 0.01
    shims_exchanged_prior: float = 0.02
    in_use_sd_mm: float = 0.04
    side_moves_together: tuple[tuple[float, float], ...] = ((0.02, 0.8), (0.1, 0.2))
    # How far the hands of technicians differ, and from what difference and probability on it is said: half a
    # step of the finest sets.
    feel_between_sd_mm: float = 0.008
    feel_apart_mm: float = 0.004
    feel_probability: float = 0.9
    # What counts in telling when to check next.
    next_check_risk: float = 0.1
    next_check_margin_mm: float = 0.03
    next_check_most_intervals: float = 3.0
    crossing_most_intervals: float = 10.0
    # Trends: how surely it moves, and what still is steady, in widths of the spec.
    trend_probability: float = 0.9
    steady_probability: float = 0.8
    steady_share_of_width: float = 0.25
    # A try so likely an entry error is a case of its own, so many a valve; one less likely than the second
    # figure is taken at its word.
    live_entry_error: float = 0.02
    doubted_entry_error: float = 0.001
    most_live_entry_errors: int = 3
    # A try less likely an entry error than this is not named.
    least_reported_entry_error: float = 0.02
    # A valve less likely out than this is not named among those that may be.
    named_valve_probability: float = 0.05
    # How far ahead a report looks, and how far a question "what if" may, check intervals.
    ahead_intervals: float = 2.0
    furthest_what_if_intervals: float = 10.0

    # A cause that the readings alone make this likely is named without any complaint: so most sinking seats
    # are by their third visit, and sound engines hardly ever.
    developing_probability: float = 0.25

    # What the words for a link's strength stand for: P(finding | cause), without a leak.
    strength_always: float = 0.97
    strength_usually: float = 0.80
    strength_often: float = 0.55
    strength_sometimes: float = 0.25
    strength_rarely: float = 0.07
    # A cause that prevents a finding leaves this share of its probability.
    prevented: float = 0.3
    # Findings from the same facts: of n the sum counts 1 / (1 + this (n - 1)).
    same_facts_share: float = 0.5
    # A finding whose probability a cause moves by less than this, in natural log, is no evidence of it.
    uninformative_nats: float = 1e-3
    # Closed cases that the stated spread of causes is worth, and that a stated strength is worth.
    prior_cases: float = 20.0
    prior_strength_cases: float = 10.0
    # Two findings contradict each other where each is this sure.
    sure_presence: float = 0.9
    # A case opened within so many days of a visit is of that visit.
    same_occasion_days: int = 7

    # The next test: so many findings of one are combined, it gains at least so many bits, and an outcome is
    # named that gains this share of the best. Near-equals as in `near_tie`.
    most_findings_together: int = 3
    least_test_bits: float = 0.01
    named_outcome_share: float = 0.1
    # With such a chance of a cause that cranking makes worse the engine is not turned by its starter.
    no_cranking_probability: float = 0.15

    # "The thinnest blade did not go" needs a thin blade: a refusal of a thick one shows nothing of the kind.
    thin_blade_mm: float = 0.06
    # Very loose: over the most that the spec allows, times this.
    very_loose_times: float = 2.0
    # With less lift than this left a compression release eases nothing.
    least_release_mm: float = 0.10
    # A lobe that lifts less than this share of the others of its side is low.
    low_lift_share: float = 0.88
    # How surely all moved at once: at least this where the visit is suspect, at most that where it is not.
    suspect_shift_presence: float = 0.9
    other_shift_presence: float = 0.5
    # What is only predicted since the last visit is evidence where it is likelier than not; how clearances
    # move, which goes on, where it is clear either way.
    carried_probability: float = 0.5
    carried_trend_probability: float = 0.8

    # Where an engine's rate of use is not known: so many check intervals a year.
    check_intervals_a_year: float = 1.0
    # A history of fewer days says little of the rate of use; a date further away helps nobody.
    least_history_days: int = 14
    furthest_date_days: int = 3650
    # A meter wants to be read again after this share of a check interval, by the engine's own rate of use;
    # not sooner than a fortnight, and where the rate is not known after half a year.
    meter_reading_share: float = 0.5
    soonest_meter_reading_days: int = 14
    latest_meter_reading_days: int = 180
    # Clearances close as a new head settles in its first hours: checked again after so much, by unit.
    recheck_after_head_work_h: float = 10.0
    recheck_after_head_work_km: float = 500.0
    recheck_after_head_work_mi: float = 300.0

    # Readings of one gauge on one engine differ by this share; oil raises the compression of worn rings by
    # this share or more; cylinders differ by less than this share of the highest where no limit is known.
    compression_gauge_share: float = 0.03
    wet_gain_share: float = 0.10
    compression_spread_share: float = 0.25
    # A cylinder that loses more than this in a leak-down test is not tight.
    sound_leak_percent: float = 15.0

    # Valve events where none are known, degrees of the cylinder's own angle after its top on compression.
    intake_opens_deg: float = 345.0
    intake_closes_deg: float = 590.0
    exhaust_opens_deg: float = 130.0
    exhaust_closes_deg: float = 375.0
    # The ramps of a cam begin before the events that a manual prints; so far from the middle of its rest a
    # lobe still points away.
    rest_margin_deg: float = 20.0
    lobe_tolerance_deg: float = 15.0

    # An engine takes this long to soak through, whatever its outside feels like.
    cold_after_hours: float = 4.0

    # Figures that are seldom right. No engine that stood overnight is warmer, and no manual calls one cold
    # above the second; in Fahrenheit such figures are everyday ones.
    warmest_soak_c: float = 45.0
    warmest_limit_c: float = 60.0
    # Far over any clearance, and an everyday figure in thou; thinner than any blade: mm taken as thou.
    widest_clearance_mm: float = 1.2
    narrowest_clearance_mm: float = 0.02
    # An engine that runs at all has more compression; a figure up to the second was read in bar, not psi.
    lowest_compression_kpa: float = 300.0
    highest_in_bar: float = 60.0
    # So much usage between two visits is more often a digit too many.
    longest_gap_intervals: float = 10.0

    # The crank may stand a turn off: how often, where an earlier position of the visit was suspect, the
    # clearance of a valve on its lobe, how often the lobe shows, and the share of valves that are far off.
    one_turn_off_prior: float = 0.02
    one_turn_off_again_prior: float = 0.3
    on_lobe_mm: float = -0.10
    lobe_shows: float = 0.95
    far_off_share: float = 0.01
    position_suspect: float = 0.5

    # When all readings of a visit are suspected to have moved at once.
    fewest_for_shift: int = 6
    shift_z: float = 2.0
    shift_share: float = 1.75  # of the shift's own sd
    # When a valve stands apart from the others of its side, and when a reading swings with the crank.
    fewest_neighbours: int = 2
    odd_valve_z: float = 3.0
    swing_z: float = 3.0

    # A drift smaller than this per check interval is no trend.
    trend_floor_mm_per_interval: float = 0.002

    # Linear expansion per kelvin.
    expansion_aluminium: float = 22e-6
    expansion_cast_iron: float = 11e-6
    expansion_intake_valve: float = 12e-6
    expansion_exhaust_valve: float = 17e-6
    expansion_pushrod: float = 12e-6
    # Where the manual names no reference temperature: that of a workshop, and how far workshops differ.
    reference_assumed_c: float = 20.0
    reference_assumed_sd_k: float = 6.0
    temperature_unknown_sd_mm: float = 0.003  # the temperature was not noted
    geometry_unknown_mm_per_k: float = 0.3e-3  # a length that the correction needs is not known


DEFAULT = Constants()
