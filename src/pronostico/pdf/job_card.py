"""The job card of a visit as one printable page, and its photographs on the next."""

from collections.abc import Sequence
from functools import partial
from pathlib import Path

from pronostico.analysis import words
from pronostico.analysis.adjustment_words import LengthUnit
from pronostico.analysis.job_card import JobCardOut
from pronostico.analysis.workshop_settings import WorkshopSettings
from pronostico.pdf.plan import plan_rows
from pronostico.pdf.printing import pdf_of


def job_card_pdf(
    card: JobCardOut,
    *,
    unit: LengthUnit,
    gauges: WorkshopSettings,
    pictures: Sequence[tuple[str, Path]] = (),
) -> bytes:
    """A job card as PDF.

    Args:
        unit: of lengths.
        gauges: in which units pressures are.
        pictures: photographs to show, each with what stands under it.

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
            "done": lambda one: one.text[unit],
            "verdict": words.verdict,
            "torque": words.torque,
            "pictures": [(text, path.resolve().as_uri()) for text, path in pictures],
            "gauged": partial(words.gauged, gauges=gauges),
        },
    )
