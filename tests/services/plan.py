"""A desk with a register: wards, workshops under them, tools under those."""

from __future__ import annotations

from typing import Any

from skavo.core.register.narrowing import Narrowing
from skavo.services.branches import BranchQuery, show_branch
from skavo.services.desk import Desk
from skavo.services.jobs import JobOut, show_job
from skavo.services.registers import KindIn, UnitKindOut, make_kind
from skavo.services.unit_changes import UnitIn, make_unit
from skavo.services.unit_files import BringInOrder, order_bringing_in
from skavo.services.units import UnitOut
from skavo.store.files import keep_file

ALL = Narrowing()


class Plan:
    """A desk with wards, premises under them and equipment under those."""

    def __init__(self, desk: Desk, study_id: int) -> None:
        self.desk, self.study_id = desk, study_id
        self.ward = make_kind(desk, study_id, KindIn(title="Ward", ready="area"))
        self.shop = make_kind(desk, study_id, KindIn(title="Workshop", ready="premises", under=[self.ward.id]))
        self.tool = make_kind(desk, study_id, KindIn(title="Tool", ready="equipment", under=[self.shop.id]))

    def make(self, kind: UnitKindOut, key: str, above: UnitOut | None = None, **answers: Any) -> UnitOut:
        given = {f"{kind.name}_{variable}": value for variable, value in answers.items()}
        wanted = UnitIn(kind_id=kind.id, key=key, above=above.id if above else 0, answers=given)
        return make_unit(self.desk, self.study_id, wanted)

    def tree(self, narrowing: Narrowing = ALL, above: int = 0, desk: Desk | None = None) -> list[tuple[str, int]]:
        query = BranchQuery(above=above, narrowing=narrowing.model_dump_json())
        return [(line.label, line.below) for line in show_branch(desk or self.desk, self.study_id, query).lines]

    def job(self, ordered: JobOut) -> dict[str, Any]:
        self.desk.jobs.run(ordered.id)
        done = show_job(self.desk, ordered.id)
        assert done.state == "done", done.problem
        return done.result or {}

    def bring(self, text: str, name: str = "units.csv", **more: Any) -> dict[str, Any]:
        digest = keep_file(self.desk.store.files, text.encode())
        wanted = {"file": digest, "name": name, "trial": False, "doubtful": True, **more}
        return self.job(order_bringing_in(self.desk, self.study_id, BringInOrder.model_validate(wanted)))
