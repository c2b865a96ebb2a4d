"""A template filled in and laid out; nothing is fetched from anywhere while that is done."""

from collections.abc import Mapping
from importlib.resources import files

from jinja2 import Environment, PackageLoader, StrictUndefined, select_autoescape

from pronostico.errors import ServiceError

_FONTS = files("pronostico.pdf") / "fonts"
_TEMPLATES = Environment(
    loader=PackageLoader("pronostico", "pdf"),
    autoescape=select_autoescape(default=True),
    undefined=StrictUndefined,
    trim_blocks=True,
    lstrip_blocks=True,
)


class NoPdf(ServiceError):
    """This machine lacks the libraries that a PDF needs."""


def pdf_of(template: str, context: Mapping[str, object]) -> bytes:
    """A filled-in template as PDF.

    Raises:
        NoPdf: the Pango library is missing, which lays out the text.
    """
    try:
        # Slow to load, and wanted by few starts of the application.
        from weasyprint import HTML
        from weasyprint.urls import URLFetcher
    except OSError as error:
        raise NoPdf(
            "a PDF needs the library Pango on this machine (Debian's libpango-1.0-0 and libpangoft2-1.0-0); "
            "the page itself can be printed, or saved as PDF, from the browser"
        ) from error
    fonts = {path.name: path for path in _FONTS.iterdir()}
    text = _TEMPLATES.get_template(template).render(fonts=fonts, **context)
    fetcher = URLFetcher(allowed_protocols=["file"])
    document: bytes = HTML(string=text, url_fetcher=fetcher, base_url=str(_FONTS)).write_pdf()
    return document
