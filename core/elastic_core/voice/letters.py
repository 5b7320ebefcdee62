"""From letters to phones, for words that no dictionary knows.

An encoder and a decoder of gated recurrent units (Cho et al. 2014, “Learning Phrase Representations using RNN
Encoder-Decoder”), with the weights that Park and Kim trained on the CMU Pronouncing Dictionary and gave away
under the Apache licence 2.0 in g2p-en 2.1.0. In letters.npz each row of a matrix is kept in whole steps of
its own `_step`.
"""

from functools import cache
from importlib.resources import files

import numpy as np
from numpy.typing import NDArray

from .phones import VOWELS, phone_of

_LETTERS = ("<pad>", "<unk>", "</s>", *"abcdefghijklmnopqrstuvwxyz")
_START, _END, _FIRST_PHONE = 2, 3, 4
# In the order in which the weights know them; vowels have a stress of 0, 1 or 2.
_SIGNS = (
    "AA0 AA1 AA2 AE0 AE1 AE2 AH0 AH1 AH2 AO0 AO1 AO2 AW0 AW1 AW2 AY0 AY1 AY2 B CH D DH EH0 EH1 EH2 "
    "ER0 ER1 ER2 EY0 EY1 EY2 F G HH IH0 IH1 IH2 IY0 IY1 IY2 JH K L M N NG OW0 OW1 OW2 OY0 OY1 OY2 P R S "
    "SH T TH UH0 UH1 UH2 UW UW0 UW1 UW2 V W Y Z ZH"
)
_PHONES = tuple(_SIGNS.split(" "))
_MOST_PHONES = 40
Weights = NDArray[np.float32]


def spelt_out(word: str) -> tuple[str, ...]:
    """The phones of a word in small letters, vowels with their stress: “gull” → G, AH1, L."""
    weights = _weights()
    letters = [_LETTERS.index(letter) for letter in word if letter in _LETTERS] or [1]
    state = np.zeros(256, dtype=np.float32)
    for letter in (*letters, _LETTERS.index("</s>")):
        state = _step(weights, "enc", weights["enc_emb"][letter], state)
    found: list[str] = []
    last = _START
    for _ in range(_MOST_PHONES):
        state = _step(weights, "dec", weights["dec_emb"][last], state)
        last = int(np.argmax(weights["fc_w"] @ state + weights["fc_b"]))
        if last == _END:
            break
        if last >= _FIRST_PHONE:
            found.append(_PHONES[last - _FIRST_PHONE])
    return tuple(found)


def stresses(word: str, phones: tuple[str, ...]) -> tuple[bool, ...]:
    """Which phones of a word are stressed vowels: as its letters tell where they tell as many vowels, else the
    first vowel. [phones] → [phones]"""
    told = [sign[-1] for sign in spelt_out(word) if phone_of(sign) in VOWELS]
    vowels = [place for place, phone in enumerate(phones) if phone in VOWELS]
    if len(told) == len(vowels):
        stressed = {place for place, stress in zip(vowels, told, strict=True) if stress == "1"}
    else:
        stressed = set(vowels[:1])
    return tuple(place in stressed for place in range(len(phones)))


def _step(weights: dict[str, Weights], part: str, given: Weights, state: Weights) -> Weights:
    """One step of a gated recurrent unit."""
    from_given = weights[f"{part}_w_ih"] @ given + weights[f"{part}_b_ih"]
    from_state = weights[f"{part}_w_hh"] @ state + weights[f"{part}_b_hh"]
    reset, update = np.split(_squashed(from_given[:512] + from_state[:512]), 2)
    new = np.tanh(from_given[512:] + reset * from_state[512:])
    stepped: Weights = (1 - update) * new + update * state
    return stepped


def _squashed(values: Weights) -> Weights:
    squashed: Weights = (1 / (1 + np.exp(-values))).astype(np.float32)
    return squashed


@cache
def _weights() -> dict[str, Weights]:
    with (files(__package__) / "letters.npz").open("rb") as file:
        kept = np.load(file)
        return {
            name: kept[name].astype(np.float32) * kept[f"{name}_step"]
            for name in kept.files
            if not name.endswith("_step")
        }
