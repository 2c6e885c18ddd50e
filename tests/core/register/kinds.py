"""Workshops with benches under them: small kinds of unit for tests."""

from __future__ import annotations

from datetime import UTC, datetime

from skavo.core.interview.release import Release
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.script import Code, CodeList, Part, Script, ScriptCheck, UnitList, UnitOfMeasure
from skavo.core.register.bring_in import Kind
from skavo.core.register.form import UnitForm
from skavo.core.register.settings import Carried, KindSettings

NOON = datetime(2027, 3, 14, 12, tzinfo=UTC)
WORKSHOP, BENCH = 1, 2

_CONDITION = CodeList(
    name="condition",
    codes=[Code(code=code, label={"en": code.title(), "fr": french}) for code, french in (("good", "Bon"), ("fair", "Passable"), ("poor", "Mauvais"))],
)  # fmt: skip


def _part(kind: str, variable: str, wording: str, **more: object) -> Part:
    return Part(id=f"id_{variable}", kind=kind, variable=variable, wording={"en": wording}, **more)  # type: ignore[arg-type]


def form_of(
    *parts: Part, label: str = "", lists: tuple[CodeList, ...] = (_CONDITION,), units: tuple[UnitList, ...] = ()
) -> UnitForm:
    script = Script(
        name="unit", languages=["en", "fr"], parts=list(parts), code_lists=list(lists), unit_lists=list(units)
    )
    compiled = compile_script(script)
    assert compiled.release is not None, compiled.errors
    return UnitForm(Release(compiled.release), label)


def workshop() -> Kind:
    form = form_of(
        _part("text", "name", "Name"),
        _part("whole number", "opened", "Opened in", least=1900, must_hold=[ScriptCheck(rule="opened <= year(today)", message={"en": "Not yet."})]),
        _part("single answer", "condition", "Condition", code_list="condition"),
        _part("point", "place", "Place"),
        _part("area", "yard", "Yard"),
        _part("multiple answer", "trades", "Trades", code_list="trade"),
        _part("date", "seen", "Seen on"),
        _part("yes/no", "licensed", "Licensed"),
        _part("derived value", "age", "Age", derived="year(today) - opened"),
        _part("photo", "front", "Front"),
        label="id_name",
        lists=(_CONDITION, CodeList(name="trade", codes=[Code(code=c, label={"en": c.title()}) for c in ("shoe", "sail", "pump")])),
    )  # fmt: skip
    return Kind(
        id=WORKSHOP,
        name="workshop",
        title="Workshop",
        settings=KindSettings(key_mask="AA_999", key_named="Plate", label="id_name"),
        form=form,
    )


def bench() -> Kind:
    form = form_of(
        _part("text", "name", "Name"),
        _part("decimal", "value", "Value", least=0, special_answers=["dont_know"]),
        _part("quantity", "weight", "Weight", unit="mass"),
        _part("point", "place", "Place"),
        label="id_name",
        units=(
            UnitList(name="mass", units=[
                UnitOfMeasure(unit="kg", dimension="mass", label={"en": "kilograms"}),
                UnitOfMeasure(unit="t", dimension="mass", factor="1000", label={"en": "tonnes"}),
            ]),
        ),
    )  # fmt: skip
    settings = KindSettings(
        under=[WORKSHOP, BENCH], stands_alone=False, label="id_name", carried=[Carried(part_id="id_value", how="sum")]
    )
    return Kind(id=BENCH, name="bench", title="Bench", settings=settings, form=form)
