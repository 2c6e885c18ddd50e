"""The interviews station: the ledger."""

from __future__ import annotations

from skavo.services.ledger import Ledger, LedgerQuery, show_ledger
from skavo.web.routing import Resource, desk
from skavo.web.shapes import StudyPath

api = Resource("ledger")


@api.route_for("get", "/studies/<int:study_id>/interviews", needs="interview.read", returns=Ledger)
def ledger(path: StudyPath, query: LedgerQuery) -> Ledger:
    return show_ledger(desk(), path.study_id, query)
