"""Handing over: extracts, made as jobs."""

from __future__ import annotations

from skavo.formats.extract import ExtractOptions
from skavo.services.desk import Desk
from skavo.services.found import the_data_set
from skavo.services.jobs import JobOut, order_job
from skavo.services.refusals import Refused


def order_extract(desk: Desk, data_set_id: int, options: ExtractOptions, *, cleaned: bool) -> JobOut:
    """Order the data set as a file; with its sensitive columns only for whoever may see them."""
    if not options.masked and not desk.sees_sensitive:
        raise Refused("not_allowed", "Sensitive variables stay out of your extracts. Ask the data manager.")
    with desk.store.session() as session:
        study_id = the_data_set(session, data_set_id).study_id
        session.add(desk.event(study_id, "extract ordered", format=options.format))
    order = {"data_set_id": data_set_id, "options": options.model_dump(mode="json"), "cleaned": cleaned}
    return order_job(desk, study_id, "extract", order)
