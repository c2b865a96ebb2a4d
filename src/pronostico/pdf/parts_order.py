"""Parts on order as pages, one for each source."""

from collections.abc import Sequence
from datetime import date
from itertools import groupby

from pronostico.analysis.parts_order import OrderedPartOut
from pronostico.pdf.printing import pdf_of


def parts_order_pdf(parts: Sequence[OrderedPartOut], *, today: date) -> bytes:
    """Orders as PDF.

    Args:
        parts: those of one source beside each other.

    Raises:
        NoPdf: this machine lacks the libraries for it.
    """
    orders = [(source, list(own)) for source, own in groupby(parts, key=lambda one: one.source)]
    return pdf_of("parts_order.html", {"orders": orders, "today": today})
