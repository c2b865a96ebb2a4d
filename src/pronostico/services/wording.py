"""Figures in words for people: never a certainty that nobody has, never a gap below none."""

from pronostico.services.analysis_report import EstimateOut, SinkOut
from pronostico.services.diagnosis_report import EvidenceOut

# From here on a rounded percentage would read as certainty.
_NEARLY_CERTAIN = 0.995


def percent(probability: float) -> str:
    """A probability as a percentage.

    >>> percent(0.884), percent(0.9999), percent(0.0)
    ('88 %', 'over 99 %', 'under 1 %')
    """
    if probability >= _NEARLY_CERTAIN:
        return "over 99 %"
    if probability < 1.0 - _NEARLY_CERTAIN:
        return "under 1 %"
    return f"{probability:.0%}".replace("%", " %")


def reading(estimate: EstimateOut | None) -> str:
    """A reading: its verdict, how sure it is, and what is known of the clearance."""
    if estimate is None:
        return "not read"
    chance = {"tight": estimate.p_tight, "in": estimate.p_in, "loose": estimate.p_loose}[estimate.leaning]
    word = f"open, likely {estimate.leaning}" if estimate.verdict == "open" else estimate.verdict
    if estimate.bracket.went_mm is None:
        figure = f"under {estimate.bracket.refused_mm:.2f} mm"
    else:
        figure = f"{max(estimate.q05_mm, 0.0):.2f} to {max(estimate.q95_mm, 0.0):.2f} mm"
    mark = " (contradicts itself)" if estimate.contradiction else ""
    return f"{word}, {percent(chance)}, {figure}{mark}"


def sink(moved: SinkOut | None) -> str:
    """How far a valve has closed or opened."""
    if moved is None:
        return ""
    rounded = round(moved.mean_mm, 2)
    return f"{rounded:+.2f} mm" if rounded else "0.00 mm"


def evidence(entry: EvidenceOut) -> str:
    """One line of a ledger: what was found or not found, where, and its weight in decibans."""
    found = entry.label if entry.presence >= 0.5 else f"not: {entry.label}"
    where = f", {entry.where}" if entry.where else ""
    return f"{found}{where} {entry.decibans:+.1f}"
