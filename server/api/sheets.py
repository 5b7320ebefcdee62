"""Exposure sheets out: as CSV, and on paper."""

from django.http.response import HttpResponseBase

from elastic_core.sheet.as_csv import csv_of
from elastic_core.sheet.as_pdf import pdf_of
from elastic_core.sheet.document import Sheet

from .downloads import download
from .schemas import SheetForm


def sheet_out(sheet: Sheet, form: SheetForm) -> HttpResponseBase:
    """A sheet as a file to keep."""
    if form == "pdf":
        return download(pdf_of(sheet), f"{sheet.title}.pdf", "application/pdf")
    return download(csv_of(sheet), f"{sheet.title}.csv", "text/csv; charset=utf-8")
