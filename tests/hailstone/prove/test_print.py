"""What is printed: PDFs read back with another library, CSV with Python's own reader, the loom as XML."""

from __future__ import annotations

import csv
import xml.etree.ElementTree as ElementTree
from io import BytesIO, StringIO

import pytest
from pypdf import PdfReader

from hailstone.jobs.models import Job
from hailstone.layers.overviews import job_overview
from hailstone.prove import pdf
from page_words import flat

pytestmark = pytest.mark.django_db


def pages_of(response):
    assert response.headers["Content-Type"] == "application/pdf"
    return [flat(sheet.extract_text()) for sheet in PdfReader(BytesIO(response.content)).pages]


def rows_of(response):
    return list(csv.DictReader(StringIO(response.content.decode())))


def test_the_build_sheet_as_pdf_says_every_step_wire_and_part(page, hooked_up):
    text = " ".join(pages_of(page.get(f"/jobs/{hooked_up.id}/build/sheet.pdf")))
    build = job_overview(hooked_up.id).build
    for wire in build.wires:
        assert f"{wire.cut_m:g} m" in text
    for join in build.joins:
        assert join.label in text
    assert "prove pin 3" in text
    assert "Make safe: battery negative off." in text
    assert "Test again, closed." in text


def test_fonts_are_in_the_pdf_and_nothing_is_fetched(page, hooked_up, monkeypatch):
    monkeypatch.setattr("urllib.request.urlopen", lambda *_, **__: pytest.fail("the network was asked"))
    reader = PdfReader(BytesIO(page.get(f"/jobs/{hooked_up.id}/build/sheet.pdf").content))
    fonts = {
        str(font.get_object()["/BaseFont"])
        for sheet in reader.pages
        for font in sheet["/Resources"]["/Font"].get_object().values()
    }
    assert any("Barlow" in font for font in fonts)
    assert all("+" in font for font in fonts)  # subsets, which are in the file itself


def test_the_test_sheet_as_pdf_has_every_state_and_measure(page, hooked_up):
    text = " ".join(pages_of(page.get(f"/jobs/{hooked_up.id}/prove/sheet.pdf")))
    for words in ("Park + reverse", "Brake + hazard", "at most 0.50 V", "60 to 120 /min", "Not signed"):
        assert words in text


def test_without_pango_it_says_what_is_missing_and_how_to_print(page, hooked_up, monkeypatch):
    def missing(*_):
        raise pdf.NoPdfError(pdf.MISSING)

    monkeypatch.setattr("hailstone.prove.papers.pdf_of", missing)
    response = page.get(f"/jobs/{hooked_up.id}/build/sheet.pdf")
    assert (response.status_code, "apt-get install libpango" in response.content.decode()) == (503, True)


def test_cut_list_and_parts_list_are_read_by_a_spreadsheet(page, hooked_up):
    build = job_overview(hooked_up.id).build
    cuts = rows_of(page.get(f"/jobs/{hooked_up.id}/build/cut-list.csv"))
    assert [(row["wire"], float(row["cut_m"])) for row in cuts] == [(wire.label, wire.cut_m) for wire in build.wires]
    parts = rows_of(page.get(f"/jobs/{hooked_up.id}/build/parts.csv"))
    assert sum(int(row["count"]) for row in parts) == sum(part.count for part in build.parts)


def test_a_name_that_looks_like_a_formula_is_text_in_a_spreadsheet(page, hooked_up):
    """A cell that begins with = + - @ is run by spreadsheets."""
    hooked_up.points.update(name="=2+3 lamp")
    cells = [cell for row in rows_of(page.get(f"/jobs/{hooked_up.id}/build/cut-list.csv")) for cell in row.values()]
    assert any("=2+3" in cell for cell in cells)
    assert not any(cell.startswith(("=", "+", "@")) for cell in cells)


def test_every_end_of_every_wire_has_a_label(page, hooked_up):
    (text,) = pages_of(page.get(f"/jobs/{hooked_up.id}/build/labels.pdf"))
    assert text.count("AWG") == 2 * len(job_overview(hooked_up.id).build.wires)


def test_the_loom_alone_is_xml_with_every_wire_and_place(page, hooked_up):
    Job.objects.update(title="A < B & C")
    root = ElementTree.fromstring(page.get(f"/jobs/{hooked_up.id}/build/loom.svg").content)
    texts = [node.text or "" for node in root.iter("{http://www.w3.org/2000/svg}text")]
    build = job_overview(hooked_up.id).build
    for wire in build.wires:
        if len(wire.by) > 1:
            assert any(text.startswith("wire") and wire.label in text for text in texts), wire.label
    assert "left tail lamp" in texts
    lines = [node for node in root.iter("{http://www.w3.org/2000/svg}path") if "loom-wire" in node.get("class", "")]
    assert len(lines) == sum(len(wire.by) - 1 for wire in build.wires)
