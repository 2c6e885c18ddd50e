"""Rules and formats against their standards."""

from __future__ import annotations

import csv
import io
from datetime import date

import numpy as np
import pytest
import zxingcpp

from skavo.core.rules.automaton import text_fits
from skavo.core.rules.check_digits import luhn_ok
from skavo.core.rules.functions import completed_months
from skavo.formats.csv_files import _cell
from skavo.formats.qr import draw_qr


@pytest.mark.parametrize("digits", ["79927398713", "4539578763621486", "0000000000"])
def test_luhn_check_digits(digits: str) -> None:
    """ISO/IEC 7812-1, annex B; 79927398713 is the example commonly printed with it (from memory)."""
    assert luhn_ok(digits)
    wrong = digits[:-1] + str((int(digits[-1]) + 1) % 10)
    assert not luhn_ok(wrong)


@pytest.mark.parametrize(
    ("text", "fits"), [("KE4X_123456", True), ("ke4x_123456", True), ("KE4_1234567", False), ("KE4X-123456", False)]
)
def test_the_common_identifier_has_four_letters_or_digits_underscore_six_digits(text: str, fits: bool) -> None:
    """Common practice."""
    assert text_fits("mask", "****_999999", text) is fits


def test_dates_are_those_of_iso_8601() -> None:
    """ISO 8601 calendar dates; a month is completed on the same day of the month or on the last day of a shorter one."""
    assert date.fromisoformat("2028-02-29").isoformat() == "2028-02-29"
    assert completed_months(date(2028, 1, 31), date(2028, 2, 29)) == 1
    assert completed_months(date(2028, 2, 29), date(2029, 2, 28)) == 12
    assert completed_months(date(2029, 3, 1), date(2028, 3, 2)) == -11


def test_csv_quotes_as_rfc_4180_says_and_no_cell_is_a_formula() -> None:
    """RFC 4180 § 2: quotes inside a quoted field are doubled; lines end in CRLF."""
    out = io.StringIO(newline="")
    csv.writer(out, lineterminator="\r\n").writerow([_cell(c) for c in ('say "a", b', "=1+1", "-2", -2, 2.0, None)])
    assert out.getvalue() == '"say ""a"", b",\'=1+1,\'-2,-2,2,\r\n'


def test_the_pairing_picture_is_read_by_an_independent_reader() -> None:
    """QR (ISO/IEC 18004); the modules are drawn large and read back by zxing-cpp."""
    address = "http://127.0.0.1:8060/field/#pair=ABCD-EFGH"
    path, size = draw_qr(address)
    picture = np.full((size, size), 255, dtype=np.uint8)
    for square in path.split("M")[1:]:
        x, y = square.split("h")[0].split(" ")
        picture[int(y), int(x)] = 0
    large = np.kron(picture, np.ones((8, 8), dtype=np.uint8))
    assert [code.text for code in zxingcpp.read_barcodes(large)] == [address]
