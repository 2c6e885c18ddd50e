"""The register on a phone: the branch that its person carries. Changes are handed in like interviews."""

from __future__ import annotations

from skavo.services.branch_carried import CarriedUnits, UnitsHeld, units_for
from skavo.web.device import device_asking
from skavo.web.routing import Resource, data_sets, store

api = Resource("device_units", "/field")


@api.route_for("post", "/units", needs="device", returns=CarriedUnits)
def units(body: UnitsHeld) -> CarriedUnits:
    """What the phone lacks of its branch, and what it is to forget."""
    with store().reading() as session:
        return units_for(session, data_sets().registers, device_asking(session), body)
