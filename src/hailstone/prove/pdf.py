"""Sheets as PDF: the same templates as on the screen, with their own style and the fonts embedded; no network."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from typing import Any

from django.conf import settings
from django.template.loader import render_to_string

__all__ = ["NoPdfError", "pdf_of"]

STATIC = Path(settings.PACKAGE) / "static"
MISSING = (
    "This machine can't make PDFs: the Pango library is missing. Print from the browser, or install it as root: "
    "apt-get install libpango-1.0-0 libpangoft2-1.0-0."
)


class NoPdfError(RuntimeError):
    """The library that lays out text isn't on this machine."""


def pdf_of(template: str, context: Mapping[str, Any]) -> bytes:
    """A sheet as PDF.

    Parameters
    ----------
    template : str
        What stands on its pages.
    context : mapping of str to Any

    Returns
    -------
    bytes

    Raises
    ------
    NoPdfError
        Pango is missing.
    """
    try:
        from weasyprint import CSS, HTML  # loads Pango, which may be missing
        from weasyprint.text.fonts import FontConfiguration
        from weasyprint.urls import URLFetcher
    except OSError as error:
        raise NoPdfError(MISSING) from error
    text = render_to_string("prove/pdf.html", {"template": template, **context})
    files, fonts = URLFetcher(allowed_protocols=("file",)), FontConfiguration()
    style = CSS(filename=str(STATIC / "css" / "pdf.css"), url_fetcher=files, font_config=fonts)
    page = HTML(string=text, base_url=str(STATIC), url_fetcher=files)
    found: bytes = page.write_pdf(stylesheets=[style], font_config=fonts)
    return found
