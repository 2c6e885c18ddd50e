"""The demo's register on phones: each team carries its islands, and finds some of the roll otherwise than it is written."""

from __future__ import annotations

import random
from datetime import datetime, timedelta
from typing import Any

from sqlalchemy import select

from skavo.core.register.settings import KindSettings
from skavo.demo.people import ENUMERATORS
from skavo.services.branch_shares import SharedWith, share_branch
from skavo.services.desk import Desk
from skavo.services.registers import KindChange, change_kind, list_kinds
from skavo.services.unit_changes import UnitChange, change_unit
from skavo.standins.phone import Phone
from skavo.store.models import Team, Unit, UnitKind, now

_SEED = 77
_WORSE = {"good": "fair", "fair": "poor", "poor": "broken", "broken": "broken"}
_FOUND = ("Grinder", "Multimeter", "Hand saw", "Vice")


def carry_register(desk: Desk, study_id: int) -> None:
    """Islands and wards are looked at on phones; workshops and what stands in them are changed there."""
    kinds = list_kinds(desk, study_id)
    for kind in kinds:
        wanted = {"on_phones": "read" if kind.name in ("island", "ward") else "change"}
        settings = KindSettings.model_validate({**kind.settings.model_dump(), **wanted})
        change_kind(desk, kind.id, KindChange(settings=settings, version=kind.version))
    with desk.store.reading() as session:
        teams = {team.name: team.id for team in session.scalars(select(Team).where(Team.study_id == study_id))}
        islands = select(Unit.key, Unit.id).join(UnitKind, UnitKind.id == Unit.kind_id).where(Unit.above_id.is_(None))
        units = dict(session.execute(islands.where(Unit.study_id == study_id)).tuples().all())
    for island, team in dict.fromkeys((one.island, one.team) for one in ENUMERATORS):
        share_branch(desk, study_id, SharedWith(unit_id=units[island], teams=[teams[team]]))


class UnitsFound:
    """What one simulated phone finds in the workshops that it has visited."""

    def __init__(self, phone: Phone) -> None:
        self.phone, self.rng = phone, random.Random(f"{_SEED} {phone.name}")
        told = phone.units()
        self.kinds = {kind["name"]: kind for kind in told["kinds"]}
        units = [unit for piece in told["pieces"] for unit in piece["units"]]
        self.of_kind = {
            name: sorted((u for u in units if u["kind"] == kind["id"]), key=lambda u: u["key"])
            for name, kind in self.kinds.items()
        }

    def find(self, first_day: datetime) -> None:
        """Tools that are worse than the roll says, one that is not in it, one that is gone."""
        for day, tool in enumerate(self.rng.sample(self.of_kind.get("tool", []), 4)):
            condition = tool["answers"].get(self._field("tool", "condition"), "good")
            self._tell("tool", tool, {"condition": _WORSE[condition]}, first_day + timedelta(days=2 + day))
        bench = self.rng.choice(self.of_kind["bench"])
        found = {"condition": "good", "name": self.rng.choice(_FOUND)}
        made = {"unit": self._identity(), "answers": {}}
        self._tell("tool", made, found, first_day + timedelta(days=7), made=True, above=bench["unit"])
        gone = self.rng.choice(self.of_kind["tool"])
        self._tell("tool", gone, {}, first_day + timedelta(days=8), closed="Sold")

    def differ(self, desk: Desk, first_day: datetime) -> None:
        """Find a bench otherwise than somebody at the desk has learnt of it meanwhile."""
        field = self._field("bench", "condition")
        bench = self.rng.choice([one for one in self.of_kind["bench"] if one["answers"].get(field)])
        before = bench["answers"][field]
        with desk.store.reading() as session:
            unit_id = session.scalars(select(Unit.id).where(Unit.identity == bench["unit"])).one()
        other = "good" if before != "good" else "fair"
        change_unit(desk, unit_id, UnitChange(changes={field: [before, other]}))
        self._tell("bench", bench, {"condition": "broken"}, min(first_day + timedelta(days=9), now()))

    def _field(self, kind: str, variable: str) -> str:
        """The identity of a field, by its name."""
        parts = self.phone.release_of(self.kinds[kind]).parts
        return str(next(part.raw["id"] for part in parts if part.variable == variable))

    def _identity(self) -> str:
        return f"{self.rng.getrandbits(128):032x}"

    def _tell(self, kind: str, unit: dict[str, Any], found: dict[str, Any], at: datetime, **told: Any) -> None:
        self.phone.change_unit(self.kinds[kind], unit, found, rng=self.rng, at=at, **told)
