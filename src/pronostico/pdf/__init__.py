"""Papers as PDF, laid out by WeasyPrint from HTML that ships with the application."""

from pronostico.analysis.adjustment_words import LengthUnit
from pronostico.pdf.job_card import job_card_pdf
from pronostico.pdf.parts_order import parts_order_pdf
from pronostico.pdf.printing import NoPdf

__all__ = ["LengthUnit", "NoPdf", "job_card_pdf", "parts_order_pdf"]
