"""Check digits, one row for each published algorithm. Standard library only: the phone loads this.

Each says whether a text carries the right check characters at its end.
"""

from __future__ import annotations

from collections.abc import Callable

_DIGITS_LETTERS = "0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZ"


def luhn_ok(text: str) -> bool:
    """ISO/IEC 7812-1, annex B."""
    if not _digits(text):
        return False
    doubled = [int(c) * (1 + i % 2) for i, c in enumerate(reversed(text))]
    return sum(d - 9 if d > 9 else d for d in doubled) % 10 == 0


# The dihedral group of the pentagon and the permutations of J. Verhoeff, Error Detecting Decimal Codes, 1969.
_DIHEDRAL = [
    [(a + b) % 5 if a < 5 and b < 5 else (a + b) % 5 + 5 if a < 5 else (a - b) % 5 + 5 if b < 5 else (a - b) % 5
     for b in range(10)]
    for a in range(10)
]  # fmt: skip
_PERMUTATION = [1, 5, 7, 6, 2, 8, 3, 0, 9, 4]


def verhoeff_ok(text: str) -> bool:
    """J. Verhoeff, Error Detecting Decimal Codes, 1969."""
    if not _digits(text):
        return False
    check = 0
    for place, c in enumerate(reversed(text)):
        digit = int(c)
        for _ in range(place % 8):
            digit = _PERMUTATION[digit]
        check = _DIHEDRAL[check][digit]
    return check == 0


def _pure(modulus: int, radix: int, alphabet: str, checks: int, last: str = "") -> Callable[[str], bool]:
    """A pure system of ISO/IEC 7064: the value of the whole text is 1 modulo `modulus`."""

    def ok(text: str) -> bool:
        body, check = text[: -checks or None], text[-checks:]
        if not body or not all(c in alphabet for c in body) or not all(c in alphabet + last for c in check):
            return False
        value = 0
        for c in text:
            value = (value * radix + (alphabet + last).index(c)) % modulus
        return value == 1

    return ok


def _mod_97_10(text: str) -> bool:
    """ISO/IEC 7064, MOD 97-10; letters count as 10 to 35."""
    if len(text) < 3 or not all(c in _DIGITS_LETTERS for c in text):
        return False
    return int("".join(str(_DIGITS_LETTERS.index(c)) for c in text)) % 97 == 1


def _hybrid(modulus: int, alphabet: str) -> Callable[[str], bool]:
    """A hybrid system of ISO/IEC 7064, MOD (M + 1, M)."""

    def ok(text: str) -> bool:
        if len(text) < 2 or not all(c in alphabet for c in text):
            return False
        check = modulus
        for c in text[:-1]:
            check = (check + alphabet.index(c)) % modulus or modulus
            check = check * 2 % (modulus + 1)
        return (check + alphabet.index(text[-1])) % modulus == 1

    return ok


def _digits(text: str) -> bool:
    return text.isascii() and text.isdecimal()


ALGORITHMS: dict[str, Callable[[str], bool]] = {
    "luhn": luhn_ok,
    "verhoeff": verhoeff_ok,
    "mod 11-2": _pure(11, 2, "0123456789", 1, "X"),
    "mod 37-2": _pure(37, 2, _DIGITS_LETTERS, 1, "*"),
    "mod 97-10": _mod_97_10,
    "mod 11-10": _hybrid(10, "0123456789"),
    "mod 37-36": _hybrid(36, _DIGITS_LETTERS),
}

# Codes are written in groups; what stands between them is no part of the code.
_NO_SEPARATORS = str.maketrans("", "", " _-./")


def check_digit_ok(text: str, algorithm: str) -> bool:
    """Whether a code, with or without separators, carries the check characters of one of ALGORITHMS."""
    return ALGORITHMS[algorithm](text.translate(_NO_SEPARATORS))
