"""Every number that the computation assumes, in one place, with its reason.

A workshop may set any of them: pass another `Constants`. Results are kept under these values, so a change
of one is a change of every result that rests on it.
"""

from dataclasses import dataclass

MODEL_VERSION = "2"
"""Raised whenever the same record and constants would give other figures."""


@dataclass(frozen=True, slots=True)
class Constants:
    """Assumptions of the computation; lengths in mm, probabilities from 0 to 1."""

    # How a blade feels: it is refused a little below zero gap, and drags until there is some air.
    refuse_below_mm: float = 0.003
    free_above_mm: float = 0.015
    feel_sd_straight_mm: float = 0.006
    feel_sd_awkward_mm: float = 0.012  # a blade that enters at an angle binds and misleads the hand
    stack_sd_mm: float = 0.003  # for each further blade: burrs, oil film and print

    # An entry error: one of the three answers written down at random.
    entry_error_probability: float = 0.005

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

    # A correction for temperature of more than this share of the spec's width is told beside the figure.
    temperature_tells_share: float = 0.1

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
    # A valve lasts as long as it is in spec this likely.
    lasting_p_in: float = 0.9
    # A target stays this far inside the limits.
    target_guard_mm: float = 0.012
    # Where a setting left no reading behind, how near it came.
    set_to_target_sd_mm: float = 0.03
    set_without_target_sd_mm: float = 0.05
    shim_step_sd_mm: float = 0.008

    # How clearances move, mm per check interval: what a side shares, how valves of it differ (each of these
    # with the same weight a priori), and how a drift wanders.
    side_drift_sd_mm: float = 0.03
    valve_drift_sds_mm: tuple[float, ...] = (0.004, 0.008, 0.016, 0.032)
    drift_wander: float = 0.006
    # A valve that breaks from its trend has jumped by about so much.
    change_point_z: float = 3.0
    jump_sd_mm: float = 0.10
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

    # A cause that the readings alone make this likely is named without any complaint: so most sinking seats
    # are by their third visit, and sound engines hardly ever.
    developing_probability: float = 0.25

    # Where an engine's rate of use is not known: so many check intervals a year.
    check_intervals_a_year: float = 1.0

    # An engine takes this long to soak through, whatever its outside feels like.
    cold_after_hours: float = 4.0

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
