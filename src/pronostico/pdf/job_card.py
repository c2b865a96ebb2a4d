"""The job card of a visit as one printable page."""

from functools import partial

from pronostico.analysis import words
from pronostico.analysis.job_card import JobCardOut
from pronostico.analysis.words import LengthUnit
from pronostico.analysis.workshop_settings import ShopSettings
from pronostico.pdf.plan import plan_rows
from pronostico.pdf.printing import pdf_of


def job_card_pdf(card: JobCardOut, *, unit: LengthUnit, gauges: ShopSettings) -> bytes:
    """A job card as PDF.

    Args:
        unit: in which lengths are told.
        gauges: in which units pressures are.

    Raises:
        NoPdf: this machine lacks the libraries for it.
    """
    return pdf_of(
        "job_card.html",
        {
            "card": card,
            "unit": unit,
            "banks": plan_rows(card.valves, card.layout),
            "gap": partial(words.gap, unit=unit),
            "spec": partial(words.spec, unit=unit),
            "done": partial(words.done, unit=unit),
            "verdict": words.verdict,
            "torque": words.torque,
            "gauged": partial(words.gauged, gauges=gauges),
        },
    )
