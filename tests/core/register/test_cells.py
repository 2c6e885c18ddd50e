"""Answers as cells of a table, and back."""

from __future__ import annotations

from typing import Any

import pytest

from skavo.core.register.cells import WrongCell, cells_of, columns_of, comes_in, read_cells
from skavo.core.register.form import UnitForm
from tests.core.register.kinds import bench, workshop

GOOD: list[tuple[str, list[str], Any]] = [
    ("opened", ["1 987"], 1987),
    ("opened", ["1’987"], 1987),
    ("condition", ["poor"], "poor"),
    ("condition", ["Mauvais"], "poor"),
    ("condition", [" POOR "], "poor"),
    ("trades", ["pump; shoe"], ["pump", "shoe"]),
    ("seen", ["2027-03-14"], "2027-03-14"),
    ("seen", ["14.3.2027"], "2027-03-14"),
    ("seen", ["14/3/2027"], "2027-03-14"),
    ("licensed", ["Yes"], True),
    ("licensed", ["0"], False),
    ("place", ["-47.25", "-122,5", "8"], {"latitude": -47.25, "longitude": -122.5, "accuracy": 8.0}),
    ("place", ['{"type": "Point", "coordinates": [-122.5, -47.25]}', "", "8"], {"latitude": -47.25, "longitude": -122.5, "accuracy": 8.0}),
    ("value", ["12,50"], "12.5"),
    ("value", ["don't know"], {"special": "dont_know"}),
    ("weight", ["2.5", "t"], {"amount": "2.5", "unit": "t"}),
    ("weight", ["2.5 tonnes", ""], {"amount": "2.5", "unit": "t"}),
    ("name", [""], None),
]  # fmt: skip
BAD = [
    ("opened", ["19x7"], "is no whole number"),
    ("opened", ["12.5"], "is no whole number"),
    ("condition", ["ruined"], "no code of the list condition (good, fair, poor)"),
    ("trades", ["shoe;hat"], "“hat” is no code"),
    ("seen", ["3/4/2027"], "may be two days"),
    ("seen", ["31.2.2027"], "is no date"),
    ("licensed", ["perhaps"], "is no yes or no"),
    ("place", ["-47.25", "", ""], "is no place"),
    ("place", ["-470", "12", ""], "is no place"),
    ("yard", ["nonsense"], "is no Polygon"),
    ("yard", ['{"type": "Point", "coordinates": [1, 2]}'], "is no Polygon"),
    ("weight", ["2", "stone"], "names no unit of its list (kg, t)"),
    ("weight", ["2", ""], "names no unit of its list"),
]


def _form(variable: str) -> UnitForm:
    form = workshop().form
    return form if f"id_{variable}" in form.by_id and variable not in ("value", "weight") else bench().form


@pytest.mark.parametrize(("variable", "texts", "answer"), GOOD)
def test_a_cell_is_read_as_people_write_it(variable: str, texts: list[str], answer: Any) -> None:
    form = _form(variable)
    part = form.by_id[f"id_{variable}"]
    assert form.release is not None
    assert read_cells(form.release, part, dict(zip(columns_of(part), texts, strict=True))) == answer


@pytest.mark.parametrize(("variable", "texts", "told"), BAD)
def test_a_cell_that_holds_no_answer_says_what_is_expected(variable: str, texts: list[str], told: str) -> None:
    form = _form(variable)
    part = form.by_id[f"id_{variable}"]
    assert form.release is not None
    with pytest.raises(WrongCell) as error:
        read_cells(form.release, part, dict(zip(columns_of(part), texts, strict=True)))
    assert told in str(error.value)


ANSWERS: list[tuple[str, Any]] = [
    ("name", "=SUM(A1)"), ("opened", 1987), ("condition", "fair"), ("trades", ["shoe", "pump"]), ("seen", "2027-03-14"),
    ("licensed", False), ("place", {"latitude": -47.25, "longitude": -122.5, "accuracy": None}),
    ("yard", {"points": [{"latitude": a, "longitude": b, "accuracy": None} for a, b in ((0.0, 0.0), (0.0, 1.0), (1.0, 1.0))]}),
    ("value", "12.5"), ("value", {"special": "dont_know"}), ("weight", {"amount": "2.5", "unit": "t"}),
]  # fmt: skip


@pytest.mark.parametrize(("variable", "answer"), ANSWERS)
def test_what_goes_out_comes_in_as_it_was(variable: str, answer: Any) -> None:
    form = _form(variable)
    part = form.by_id[f"id_{variable}"]
    assert form.release is not None
    cells = dict(zip(columns_of(part), cells_of(part, answer), strict=True))
    assert read_cells(form.release, part, cells) == answer


def test_pictures_and_what_is_derived_go_out_only() -> None:
    form = workshop().form
    assert not comes_in(form.by_id["id_front"]) and not comes_in(form.by_id["id_age"])
    media = {"file": "a" * 64, "name": "front.jpg", "type": "image/jpeg", "bytes": 5}
    assert cells_of(form.by_id["id_front"], media) == ["front.jpg"]
