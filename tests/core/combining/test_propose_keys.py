"""Which column may be which variable: by the values that meet, not by what things are called."""

from __future__ import annotations

from typing import Any

from skavo.core.combining.propose_keys import ProposedKey, propose_keys
from skavo.core.dataset.flatten import DataSet
from tests.core.combining.test_join import table
from tests.core.made_tables import column, interviews
from tests.core.made_tables import table as made_table

PLATES = [f"KE{n}X" for n in range(10)]
WARDS = ["green", "hill", "quay", "mill", "green"] * 2


def _data(**more: Any) -> DataSet:
    return interviews(
        door=(column("door", "text"), PLATES),
        ward=(column("ward", "code", codes=["green", "hill", "quay", "mill"]), WARDS),
        **more,
    )


def _told(found: list[ProposedKey]) -> list[tuple[str, str, str, int, int]]:
    return [(one.pair.ours, one.pair.theirs, one.pair.words, one.matched, one.rows) for one in found]


def test_what_tells_rows_apart_comes_first_and_codes_meet_by_code_or_label() -> None:
    roll = table({"ward": ["Green", "HILL", "quay", "mill"] * 2, "sign": [p.lower() for p in PLATES[:8]]})
    assert _told(propose_keys(_data(), roll, "interviews")) == [
        ("door", "sign", "", 8, 10),
        ("ward", "ward", "", 10, 10),
    ]
    data = _data()
    labelled = data["interviews"].layout.columns[1].codes
    labelled["green"]["en"], labelled["hill"]["en"] = "Common Green", "Windy Hill"
    by_label = table({"place": ["common green", "windy hill", "quay", "x"]})
    assert _told(propose_keys(data, by_label, "interviews")) == [("ward", "place", "en", 8, 10)]


def test_numbers_that_meet_by_chance_are_no_key() -> None:
    data = _data(
        workers=(column("workers", "whole"), [1, 2, 3, 4, 1, 2, 3, 4, 1, 2]),
        licence=(column("licence", "whole"), list(range(4001, 4011))),
    )
    roll = table({"chairs": ["1", "2", "3", "4"] * 2, "nr": [str(n) for n in range(4003, 4011)]})
    assert _told(propose_keys(data, roll, "interviews")) == [("licence", "nr", "", 8, 10)]


def test_the_rows_of_a_roster_and_what_is_above_it_may_be_keys() -> None:
    data = _data()
    keys = [(f"{n:04d}", trade) for n in (1, 2) for trade in ("shoes", "pumps", "clocks")]
    data["trade"] = made_table("trade", keys, [(column("price", "number"), [1.0] * 6)])
    prices = table({"what": ["Shoes", "Pumps", "Clocks"], "where": ["green", "hill", "quay"]})
    assert _told(propose_keys(data, prices, "trade")) == [("trade.row", "what", "", 6, 6)]


def test_nothing_is_proposed_where_nothing_meets() -> None:
    assert propose_keys(_data(), table({"a": ["x", "y", "z"], "b": [None, None, None]}), "interviews") == []
    assert propose_keys(interviews(door=(column("door", "text"), [])), table({"a": ["x"]}), "interviews") == []
