"""The job that writes an extract."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable
from typing import Any

from skavo.core.cleaning.package import package_of
from skavo.core.cleaning.steps import read_step
from skavo.core.cleaning.words import plan_text
from skavo.core.dataset.flatten import DataSet, without_sensitive, without_sources
from skavo.formats.csv_files import write_csv_zip
from skavo.formats.extract import ExtractOptions
from skavo.formats.limits import check_size
from skavo.formats.sav_files import write_sav_zip
from skavo.formats.xlsx_files import write_xlsx
from skavo.jobs.runner import Progress
from skavo.store.database import Store
from skavo.store.datasets import DataSets, Prepared, outside_tables, plan_of
from skavo.store.files import keep_file
from skavo.store.models import PlanStep, Questionnaire
from skavo.store.plan_lines import lines_of
from skavo.store.sensitive import Hidden, masked_step

# format: (writer, ending of the file)
WRITERS: dict[str, tuple[Callable[[DataSet, ExtractOptions], bytes], str]] = {
    "xlsx": (write_xlsx, "xlsx"),
    "csv": (write_csv_zip, "csv.zip"),
    "sav": (write_sav_zip, "sav.zip"),
}


def write_extract(store: Store, data_sets: DataSets, order: dict[str, Any], progress: Progress) -> dict[str, Any]:
    """`order` is {questionnaire_id, options, cleaned}; the result names the file in the store, and the outside tables whose
    card keeps them back."""
    options = ExtractOptions(**order["options"])
    progress.say(0.1, "Laying out the interviews")
    with store.reading() as session:
        prepared = data_sets.of(session, order["questionnaire_id"], patient=True)
        name = session.get_one(Questionnaire, order["questionnaire_id"]).script["name"]
        steps = plan_of(session, order["questionnaire_id"])
        kept_back = frozenset(
            table.name for table in outside_tables(session, order["questionnaire_id"])
            if table.joined and table.card.get("handed_over") == "no"
        )  # fmt: skip
    data = prepared.data if order["cleaned"] and options.format != "script" else prepared.raw
    data = without_sources(data, kept_back)
    check_size(data, options)
    progress.say(0.4, "Writing the file")
    if options.format == "script":
        content, ending = _script(prepared, steps, name, masked=options.masked), "cleaning.zip"
    else:
        writer, ending = WRITERS[options.format]
        content = writer(data, options)
    progress.say(0.9, "Keeping it")
    digest = keep_file(store.files, content)
    rows = {name: table.frame.height for name, table in data.items()}
    return {
        "file": digest,
        "name": f"{name}.{ending}",
        "bytes": len(content),
        "rows": rows,
        "kept_back": sorted(kept_back),
    }


def _script(prepared: Prepared, steps: list[PlanStep], name: str, *, masked: bool) -> bytes:
    """The plan as a script with the raw tables, in a zip; masked without the sensitive columns and the steps about them."""
    hidden = prepared.hidden if masked else Hidden()
    raw = without_sensitive(prepared.raw) if masked else prepared.raw
    fitting = [
        (step.id, read_step(step.body))
        for step in steps
        if step.id in prepared.cleaned.told and step.id not in prepared.cleaned.problems
        and masked_step(step.body, hidden) == step.body
    ]  # fmt: skip
    title, about = f"Cleaning plan of {name}", f"Data set at revision {prepared.at}."
    found = package_of(raw, fitting, title, about)
    found["plan.txt"] = plan_text(title, about, lines_of(prepared, steps, hidden))
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as out:
        for file, text in found.items():
            out.writestr(file, text)
    return packed.getvalue()
