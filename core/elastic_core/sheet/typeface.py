"""The typefaces of paper that goes out of the house."""

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.cidfonts import UnicodeCIDFont

PLAIN = "Helvetica"
# Letters that the plain one lacks are set in one that every reader of such files brings along.
_FAR = "HeiseiKakuGo-W5"


def face_for(text: str) -> str:
    """The typeface that has the letters of a text, ready to be set."""
    try:
        text.encode("cp1252")
    except UnicodeEncodeError:
        pdfmetrics.registerFont(UnicodeCIDFont(_FAR))
        return _FAR
    return PLAIN
