"""Visits on a phone: those of its person, and attempts that it tells."""

from __future__ import annotations

from pydantic import BaseModel, Field

from skavo.services.visits_carried import AttemptTold, CarriedVisits, take_attempt, visits_for
from skavo.store.models import now
from skavo.web.device import device_asking
from skavo.web.routing import Resource, data_sets, store

api = Resource("device_visits", "/field")


class AttemptToldPath(BaseModel):
    identity: str = Field(pattern="^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$")


class AttemptReceipt(BaseModel):
    """`outcome` is arrived, or known where it was here already."""

    identity: str
    outcome: str


@api.route_for("get", "/visits", needs="device", returns=CarriedVisits)
def visits() -> CarriedVisits:
    with store().reading() as session:
        return visits_for(session, data_sets().registers, device_asking(session))


@api.route_for("put", "/attempts/<string:identity>", needs="device", returns=AttemptReceipt)
def take_in(path: AttemptToldPath, body: AttemptTold) -> AttemptReceipt:
    """Keep an attempt, once."""
    with store().session() as session:
        device = device_asking(session)
        device.last_heard = now()
        is_new = take_attempt(session, device, path.identity, body)
    return AttemptReceipt(identity=path.identity, outcome="arrived" if is_new else "known")
