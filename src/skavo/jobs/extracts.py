"""The job that writes an extract."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from skavo.core.dataset.flatten import DataSet
from skavo.formats.csv_files import write_csv_zip
from skavo.formats.extract import ExtractOptions
from skavo.formats.sav_files import write_sav_zip
from skavo.formats.xlsx_files import write_xlsx
from skavo.jobs.runner import Progress
from skavo.store.database import Store
from skavo.store.datasets import DataSets
from skavo.store.files import keep_file
from skavo.store.models import Questionnaire

# format: (writer, ending of the file)
WRITERS: dict[str, tuple[Callable[[DataSet, ExtractOptions], bytes], str]] = {
    "xlsx": (write_xlsx, "xlsx"),
    "csv": (write_csv_zip, "csv.zip"),
    "sav": (write_sav_zip, "sav.zip"),
}


def write_extract(store: Store, data_sets: DataSets, order: dict[str, Any], progress: Progress) -> dict[str, Any]:
    """`order` is {questionnaire_id, options, cleaned}; the result names the file in the store."""
    options = ExtractOptions(**order["options"])
    progress.say(0.1, "Laying out the interviews")
    with store.reading() as session:
        prepared = data_sets.of(session, order["questionnaire_id"])
        name = session.get_one(Questionnaire, order["questionnaire_id"]).script["name"]
    data = prepared.data if order["cleaned"] else prepared.raw
    progress.say(0.4, "Writing the file")
    writer, ending = WRITERS[options.format]
    content = writer(data, options)
    progress.say(0.9, "Keeping it")
    digest = keep_file(store.files, content)
    rows = {name: table.frame.height for name, table in data.items()}
    return {"file": digest, "name": f"{name}.{ending}", "bytes": len(content), "rows": rows}
