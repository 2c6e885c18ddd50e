"""Workbooks through the HTTP interface: with the media they name, the study's standard, and a blank one."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable
from typing import Any

import openpyxl
from PIL import Image

from tests.web.conftest import Desk
from tests.web.test_rules import line, saved

AT = "/api/questionnaires/1/workbook"


def picture(colour: str) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (60, 40), colour).save(out, "PNG")
    return out.getvalue()


def with_media(person: Desk) -> None:
    for name in ("plate.png", "plate.fr.png", "unused.png"):
        person.answer("POST", f"/api/studies/1/media?name={name}", picture("red"))
    saved(person, lambda s: line(s, "unit_code").media.append("plate.png"))


def names_in(content: bytes) -> set[str]:
    return set(zipfile.ZipFile(io.BytesIO(content)).namelist())


def test_it_goes_out_with_the_media_that_it_names_and_comes_in_again(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    with_media(person)
    whole = person.call("GET", f"{AT}?form=whole").data
    books = {n for n in names_in(whole) if n.endswith(".xlsx")}
    assert len(books) == 1 and names_in(whole) - books == {"media/plate.png", "media/plate.fr.png"}
    found = person.answer("POST", AT, whole)
    assert (found["faults"], found["comparison"]["changes"]) == ([], [])
    assert sorted(found["media"]) == sorted(found["replacing"]) == ["plate.fr.png", "plate.png"]
    other = person.answer("POST", "/api/studies", {"title": "Another"})["id"]
    told = person.answer("POST", f"/api/studies/{other}/media?name=whole.zip", whole)
    assert (sorted(told["added"]), told["refused"]) == (["plate.fr.png", "plate.png"], [])


def test_a_zip_that_holds_no_whole_workbook_is_refused(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        packed.writestr("questionnaire.xlsx", b"no workbook")
        packed.writestr("media/../../evil.png", picture("blue"))
    assert person.problem("POST", AT, out.getvalue())[1] == "not_a_workbook"
    told = person.answer("POST", "/api/studies/1/media?name=x.zip", out.getvalue())
    assert told["added"] == ["evil.png"]


def test_the_standard_of_the_study_goes_along_and_changes_none(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    standard = {"longest": 20, "pattern": "[a-z_]+", "by_section": False, "units": ["kg", "l"]}
    person.answer("PUT", "/api/studies/1/standard", standard)
    taken = person.call("GET", AT).data
    sheet = openpyxl.load_workbook(io.BytesIO(taken))["Standard"]
    assert [[c.value for c in row] for row in sheet.iter_rows(min_row=2)] == [
        ["Longest variable", "20"], ["Variables fit", "[a-z_]+"], ["Units", "kg, l"],
    ]  # fmt: skip
    assert person.answer("POST", AT, taken)["faults"] == []
    person.answer("PUT", "/api/studies/1/standard", {**standard, "longest": 12})
    (doubt,) = person.answer("POST", AT, taken)["faults"]
    assert (doubt["severity"], doubt["code"], doubt["cell"]) == ("doubt", "other_standard", "B2")
    assert person.answer("GET", "/api/studies/1/standard")["longest"] == 12


def test_a_blank_one_is_read_as_an_empty_questionnaire(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    blank = person.call("GET", "/api/blank-workbook?languages=en,fr-CA").data
    book = openpyxl.load_workbook(io.BytesIO(blank))
    assert {"Script", "Code lists", "Units", "About", "Kinds", "Columns", "Rules", "Example"} == set(book.sheetnames)
    found = person.answer("POST", AT, blank)
    assert [fault["code"] for fault in found["faults"]] == ["no_parts"]
    assert (found["script"]["parts"], found["script"]["languages"]) == ([], ["en", "fr-CA"])
    assert person.problem("GET", "/api/blank-workbook?languages=en,../x")[0] == 422


def test_what_is_filled_into_a_blank_one_comes_in(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    book = openpyxl.load_workbook(io.BytesIO(person.call("GET", "/api/blank-workbook").data))
    sheet: Any = book["Script"]
    headings = [cell.value for cell in sheet[1]]
    for row, values in enumerate(({"Kind": "section", "Wording [en]": "Wells"}, {"Kind": "whole number", "Wording [en]": "How deep?", "Must hold": "depth < 90"}), start=2):  # fmt: skip
        for heading, value in {"Level": str(row - 1), "Variable": ("wells", "depth")[row - 2], **values}.items():
            sheet.cell(row, headings.index(heading) + 1, value)
    out = io.BytesIO()
    book.save(out)
    found = person.answer("POST", AT, out.getvalue())
    assert found["faults"] == []
    assert [(p["level"], p["kind"], p["variable"]) for p in found["script"]["parts"]] == [
        (1, "section", "wells"), (2, "whole number", "depth"),
    ]  # fmt: skip
