"""Papers as PDF, laid out by WeasyPrint from HTML that ships with the application."""

from pronostico.pdf.job_card import job_card_pdf
from pronostico.pdf.printing import NoPdf
from pronostico.services.words import LengthUnit

__all__ = ["LengthUnit", "NoPdf", "job_card_pdf"]
