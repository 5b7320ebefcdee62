"""The phones of spoken English as the ARPAbet writes them, without stress digits, and what mouths do for
them."""

import re
from typing import Annotated

from pydantic import AfterValidator

from ..errors import Refusal

_VOWELS = "AA AE AH AO AW AY EH ER EY IH IY OW OY UH UW"
_CONSONANTS = "B CH D DH F G HH JH K L M N NG P R S SH T TH V W Y Z ZH"
VOWELS, CONSONANTS = frozenset(_VOWELS.split(" ")), frozenset(_CONSONANTS.split(" "))
PHONES = VOWELS | CONSONANTS
# The lips meet; the teeth stand on the lip.
CLOSURES = frozenset("MBP")
TEETH = frozenset("FV")
# How other hands write some of them.
_OTHERWISE = {
    "AX": "AH",
    "AXR": "ER",
    "IX": "IH",
    "UX": "UW",
    "EL": "L",
    "EM": "M",
    "EN": "N",
    "DX": "D",
}
MOST_PHONES = 60


def phone_of(written: str) -> str:
    """“ey1” → “EY”. Raises Refusal for what is no phone."""
    bare = re.sub(r"[0-2]$", "", written.strip().upper())
    phone = _OTHERWISE.get(bare, bare)
    if phone not in PHONES:
        raise Refusal(f"“{written[:20]}” is no phone. They are {', '.join(sorted(PHONES))}.")
    return phone


def phones_of(written: str) -> tuple[str, ...]:
    """“l ae m p s” → its phones. Raises Refusal for what are none, and for none at all."""
    found = tuple(phone_of(word) for word in re.split(r"[\s,.-]+", written.strip()) if word)
    if not found:
        raise Refusal("A pronunciation has at least one phone.")
    if len(found) > MOST_PHONES:
        raise Refusal(f"A word has {MOST_PHONES} phones at the most.")
    return found


Phone = Annotated[str, AfterValidator(phone_of)]
