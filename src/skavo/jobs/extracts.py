"""The job that writes an extract."""

from __future__ import annotations

import tempfile
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import IO, Any

from sqlalchemy.orm import Session

from skavo.core.cleaning.package import package_of
from skavo.core.cleaning.steps import read_step
from skavo.core.cleaning.words import plan_text
from skavo.core.combining.alone import without_rows_of
from skavo.core.dataset.flatten import DataSet, parts_from, without_parts, without_sensitive
from skavo.core.errors import DataError
from skavo.core.questionnaire.variables import suggest_variable
from skavo.formats.csv_files import write_csv_zip
from skavo.formats.extract import ExtractOptions
from skavo.formats.limits import check_size, notes_of
from skavo.formats.packing import pack_into
from skavo.formats.sav_files import write_sav_zip
from skavo.formats.xlsx_files import write_xlsx
from skavo.jobs.runner import Progress
from skavo.store.database import Store
from skavo.store.datasets import DataSets, Prepared, outside_tables, plan_of
from skavo.store.files import keep_path
from skavo.store.models import NamedDataSet, PlanStep, Questionnaire
from skavo.store.plan_lines import lines_of
from skavo.store.recipes import named_data, own_set, raw_set
from skavo.store.sensitive import Hidden, masked_step

Writer = Callable[[IO[bytes], DataSet, ExtractOptions, Sequence[str]], None]
# format: (writer, ending of the file)
WRITERS: dict[str, tuple[Writer, str]] = {
    "xlsx": (write_xlsx, "xlsx"),
    "csv": (write_csv_zip, "csv.zip"),
    "sav": (write_sav_zip, "sav.zip"),
}


def write_extract(store: Store, data_sets: DataSets, order: dict[str, Any], progress: Progress) -> dict[str, Any]:
    """`order` is {data_set_id, options, cleaned}; the result names the file in the store, the data set with its revision, and
    the outside tables whose card keeps them back."""
    options = ExtractOptions(**order["options"])
    progress.say(0.1, "Laying out the interviews")
    with store.reading() as session:
        named = _ordered(session, order)
        found = named_data(data_sets, session, named, patient=True)
        name = _file_name(session, named)
        alone = {outside for outside, _ in found.alone}
        kept_back = {
            number: frozenset(
                table.name for table in outside_tables(session, number)
                if (table.joined or table.id in alone) and table.card.get("handed_over") == "no"
            )
            for number in found.prepared
        }  # fmt: skip
        steps = plan_of(session, named.begins_id) if named.begins_id is not None else []
    about = [f"Data set “{found.title}” at revision {found.revision}."]
    if options.format == "script":
        if named.begins_id is None:
            raise DataError(
                "no_plan", "A script repeats the plan of one questionnaire. Take it from what that begins with."
            )
        prepared, ending = found.prepared[named.begins_id], "cleaning.zip"
        files, data = _script(prepared, steps, name, about[0], masked=options.masked), prepared.raw

        def write(out: IO[bytes]) -> None:
            pack_into(out, files)

    else:
        data = found.data if order["cleaned"] else raw_set(found)
        held = [parts_from(one.data, kept_back[number]) for number, one in found.prepared.items()]
        data = without_rows_of(without_parts(data, frozenset().union(*held)), frozenset().union(*kept_back.values()))
        check_size(data, options)
        progress.say(0.4, "Writing the file")
        if not order["cleaned"]:
            about.append("As it was handed in, without the cleaning plan and without what is joined.")
        writer, ending = WRITERS[options.format]

        def write(out: IO[bytes]) -> None:
            writer(out, data, options, about)

    file, size = _kept(store, write, progress)
    return {
        "file": file,
        "name": f"{name}.{ending}",
        "bytes": size,
        "rows": {table: t.frame.height for table, t in data.items()},
        "notes": notes_of(data, options) if options.format != "script" else [],
        "kept_back": sorted(frozenset().union(*kept_back.values())),
        "data_set": found.title,
        "revision": found.revision,
    }


def _kept(store: Store, write: Callable[[IO[bytes]], None], progress: Progress) -> tuple[str, int]:
    """The name in the store of what is written, and its size in bytes; it is never whole in memory."""
    with tempfile.NamedTemporaryFile() as out:
        write(out)
        out.flush()
        progress.say(0.9, "Keeping it")
        path = Path(out.name)
        return keep_path(store.files, path), path.stat().st_size


def _ordered(session: Session, order: dict[str, Any]) -> NamedDataSet:
    """The data set of an order; one that waited since before there were several names its questionnaire."""
    if "data_set_id" in order:
        return session.get_one(NamedDataSet, order["data_set_id"])
    return own_set(session, order["questionnaire_id"])


def _file_name(session: Session, named: NamedDataSet) -> str:
    if named.begins_id is None:
        return suggest_variable(named.title)
    return str(session.get_one(Questionnaire, named.begins_id).script["name"])


def _script(prepared: Prepared, steps: list[PlanStep], name: str, about: str, *, masked: bool) -> dict[str, str]:
    """The plan as a script with the raw tables; masked without the sensitive columns and the steps about them."""
    hidden = prepared.hidden if masked else Hidden()
    raw = without_sensitive(prepared.raw) if masked else prepared.raw
    fitting = [
        (step.id, read_step(step.body))
        for step in steps
        if step.id in prepared.cleaned.told and step.id not in prepared.cleaned.problems
        and masked_step(step.body, hidden) == step.body
    ]  # fmt: skip
    title = f"Cleaning plan of {name}"
    found = package_of(raw, fitting, title, about)
    found["plan.txt"] = plan_text(title, about, lines_of(prepared, steps, hidden))
    return found
