"""Rows of a file judged one by one: what is new, changed, doubtful and wrong, and why."""

from __future__ import annotations

from typing import Any

import pytest

from skavo.core.maps.rings import closed_ring, is_same_area
from skavo.core.register.bring_in import ABOVE, KEY, KIND, Judge, Judged, Known, coming_in, guess_columns, next_key
from tests.core.register.kinds import BENCH, NOON, WORKSHOP, bench, workshop

COLUMNS = {"Kind": KIND, "Plate": KEY, "Lies under": ABOVE, "Name": "name", "Opened": "opened", "Lat": "place_latitude", "Lon": "place_longitude", "Value": "value"}  # fmt: skip
HERE = {(WORKSHOP, "LU_104"): Known(10, {"id_name": "Tern", "id_opened": 1999}, None, (-47.0, -122.0))}


def judged(*rows: dict[str, str], known: dict[tuple[int, str], Known] = HERE, **more: Any) -> list[Judged]:
    judge = Judge([workshop(), bench()], COLUMNS, known, at=NOON, **more)
    return judge.judge([(number, {"Kind": "workshop", **row}) for number, row in enumerate(rows, start=2)])


def told(one: Judged) -> list[tuple[str, str]]:
    return [(doubt.column, doubt.text) for doubt in one.doubts]


def test_a_row_is_new_changed_or_the_same() -> None:
    new, changed, same = judged(
        {"Plate": "LU_200", "Name": "Lamp"}, {"Plate": "LU_104", "Opened": "2001"}, {"Plate": "LU_104", "Name": "Tern"},
        known=HERE,
    )[:2] + judged({"Plate": "LU_104", "Name": "Tern", "Opened": "1999"})  # fmt: skip
    assert [new.verdict, changed.verdict, same.verdict] == ["new", "changed", "same"]
    assert changed.changes == {"id_opened": [1999, 2001]} and changed.answers["id_name"] == "Tern"
    assert new.label == "Lamp" and new.reckoned is not None and new.reckoned.filled == 1


def test_an_empty_cell_changes_nothing_unless_it_is_meant_to() -> None:
    (kept,) = judged({"Plate": "LU_104", "Name": ""})
    (emptied,) = judged({"Plate": "LU_104", "Name": ""}, empties=True)
    assert kept.verdict == "same"
    assert emptied.changes["id_name"] == ["Tern", None] and "id_name" not in emptied.answers


WRONG = [
    ({"Plate": ""}, "Plate", "The key is empty"),
    ({"Plate": "x1"}, "Plate", "“x1” does not look like AA_999."),
    ({"Plate": "LU_200", "Opened": "soon"}, "Opened", "“soon” is no whole number."),
    ({"Kind": "boat", "Plate": "LU_200"}, "Kind", "no kind of unit of this register (Workshop, Bench)"),
    ({"Kind": "bench", "Plate": "b1"}, "Lies under", "lies under another one. Name its key."),
    ({"Kind": "bench", "Plate": "b1", "Lies under": "LU_999"}, "Lies under", "No unit “LU_999”"),
    ({"Plate": "LU_200", "Lies under": "LU_104"}, "Lies under", "No unit “LU_104” that it may lie under"),
]


@pytest.mark.parametrize(("row", "column", "text"), WRONG)
def test_a_wrong_row_says_where_and_why(row: dict[str, str], column: str, text: str) -> None:
    (one,) = judged(row)
    assert one.verdict == "wrong"
    assert any(at == column and text in said for at, said in told(one)), told(one)


def test_a_key_that_stands_twice_comes_in_once() -> None:
    first, second = judged({"Plate": "LU_200"}, {"Plate": "LU_200"})
    assert (first.verdict, second.verdict) == ("new", "wrong")
    assert "stands in row 2 already" in told(second)[0][1]


def test_a_broken_check_and_an_odd_place_make_a_row_doubtful() -> None:
    late, nowhere, far = judged(
        {"Plate": "LU_201", "Opened": "2099"}, {"Plate": "LU_202", "Lat": "0", "Lon": "0"},
        {"Kind": "bench", "Plate": "b1", "Lies under": "LU_104", "Lat": "-49", "Lon": "-122"},
    )  # fmt: skip
    assert [one.verdict for one in (late, nowhere, far)] == ["doubtful"] * 3
    assert told(late) == [("Opened", "Not yet.")]
    assert "out in the sea" in told(nowhere)[0][1]
    assert "It lies 222 km from what it is under." in told(far)[0][1]


def test_what_lies_under_a_row_of_the_same_file_finds_it_and_falls_with_it() -> None:
    rows = [
        {"Kind": "bench", "Plate": "b2", "Lies under": "b1"}, {"Kind": "bench", "Plate": "b1", "Lies under": "LU_200"},
        {"Plate": "LU_200", "Opened": "2099"},
    ]  # fmt: skip
    tool, bench_, shop = judged(*rows)
    assert (tool.above_row, bench_.above_row) == (3, 4)
    assert [one.row for one in coming_in([tool, bench_, shop], doubtful=True)] == [2, 3, 4]
    # Without the doubtful workshop neither the bench nor what lies on it has a place.
    assert coming_in([tool, bench_, shop], doubtful=False) == []
    rows[2]["Opened"] = "never"
    assert [one.verdict for one in judged(*rows)] == ["wrong"] * 3


def test_rows_that_lie_under_each_other_are_wrong() -> None:
    a, b = judged(
        {"Kind": "bench", "Plate": "a", "Lies under": "b"}, {"Kind": "bench", "Plate": "b", "Lies under": "a"}
    )
    assert "It would lie under itself." in told(a)[0][1] and b.verdict == "wrong"


def test_an_old_unit_moved_under_what_lies_below_it_is_wrong() -> None:
    known = {**HERE, (BENCH, "a"): Known(11, {}, 10), (BENCH, "b"): Known(12, {}, 11)}
    (one,) = judged({"Kind": "bench", "Plate": "a", "Lies under": "b"}, known=known)
    assert one.verdict == "wrong" and "under itself" in told(one)[0][1]


def test_an_old_unit_named_under_another_one_moves() -> None:
    known = {**HERE, (WORKSHOP, "LU_105"): Known(13, {}, None), (BENCH, "a"): Known(11, {"id_name": "A"}, 10)}
    (one,) = judged({"Kind": "bench", "Plate": "a", "Lies under": "LU_105"}, known=known)
    assert one.moves and one.above_unit == 13 and one.verdict == "changed" and one.changes == {}


def test_columns_are_known_by_variable_wording_and_what_the_key_is_called() -> None:
    headings = ["plate", "NAME", "Opened in", "Place latitude", "Workshop", "kind of unit", "lon", "geometry", "colour"]
    assert guess_columns(headings, [workshop(), bench()]) == {
        "plate": KEY, "NAME": "name", "Opened in": "opened", "Place latitude": "place_latitude", "Workshop": ABOVE,
        "kind of unit": KIND, "lon": "place_longitude", "geometry": "", "colour": "",
    }  # fmt: skip
    assert guess_columns(["geometry"], [workshop()]) == {"geometry": "place_latitude"}


def test_a_key_made_by_hand_is_the_next_free_one_under_the_unit_above() -> None:
    assert next_key("", {"LU_104-3"}.__contains__, "LU_104", 2) == "LU_104-4"
    assert next_key("", set().__contains__, "", 7) == "8"
    assert next_key("AA_999", set().__contains__, "", 0) == ""


def test_an_area_that_was_drawn_clockwise_comes_back_as_it_was() -> None:
    corners = [(10.0, 0.0), (10.0, 1.0), (11.0, 1.0), (11.0, 0.0)]
    drawn = {"points": [{"longitude": east, "latitude": north, "accuracy": 4} for east, north in corners]}
    ring = closed_ring(corners)
    assert ring[1] == [11.0, 0.0]
    back = {"points": [{"longitude": east, "latitude": north, "accuracy": None} for east, north in ring]}
    assert is_same_area(drawn, back)
    other = {"points": [{**point, "latitude": point["latitude"] + 1} for point in drawn["points"]]}
    assert not is_same_area(drawn, other)
    assert not is_same_area(None, back) and not is_same_area(drawn, None)
