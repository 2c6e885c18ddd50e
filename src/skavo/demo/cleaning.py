"""The cleaning plan of the demo: most kinds of step, under their headings, with what is still to be done left open."""

from __future__ import annotations

from typing import Any

from skavo.core.cleaning.steps import (
    AnyStep,
    Class,
    Classes,
    Correct,
    Derive,
    Dictionary,
    Heading,
    Impute,
    InOrder,
    LeaveOut,
    MarkMissing,
    Present,
    Recode,
    SetValue,
    Tidy,
)
from skavo.services.desk import Desk
from skavo.services.plans import keep_step, remark_step, switch_step
from skavo.store.models import Interview

_SLIPPED = "earnings > 2000 * workers"
_TRADES = {
    "clocks": "clocks", "clock repair": "clocks", "umbrellas": "umbrellas", "umbrella": "umbrellas",
}  # fmt: skip
_TOOLS = {"kiln": "kiln", "heat gun": "heat_gun"}


def make_plan(desk: Desk, questionnaire_id: int, interviews: list[Interview], earnings: str) -> None:
    """Keep the steps one by one, as somebody at the desk would; `earnings` is the identity of that question."""
    for step in _steps(interviews, earnings):
        plan = keep_step(desk, questionnaire_id, step)
    hasty = next(step for step in plan.steps if step.body.kind == "leave_out")
    switch_step(desk, questionnaire_id, hasty.id, off=True)
    remark_step(desk, questionnaire_id, hasty.id, "Until the supervisor has been to the café")


def _steps(interviews: list[Interview], earnings: str) -> list[AnyStep]:
    return [
        Heading(text="Units and spelling"),
        Recode(
            variable="trades_other", mapping={"Clocks": "clocks", "clock repair": "clocks", "Umbrella": "umbrellas"},
            reason="One spelling for each trade",
        ),
        Dictionary(
            variable="trades_other", into="trades", words=_TRADES, replaces="other",
            codes={"clocks": "Clocks", "umbrellas": "Umbrellas"}, reason="Said often enough for a code of their own",
        ),
        Dictionary(
            variable="tools_other", into="tools", words=_TOOLS, replaces="other",
            codes={"kiln": "Kiln", "heat_gun": "Heat gun"},
        ),
        Tidy(variable="remarks", alike=True),
        Heading(text="Slips"),
        *_corrected(interviews, earnings),
        SetValue(variable="earnings", formula="earnings / 100", rule=_SLIPPED, reason="Written in hundredths of an orin"),
        MarkMissing(variable="hours", rule="hours > 112", reason="Nobody works sixteen hours every day"),
        MarkMissing(variable="in_trade", rule="in_trade > age - 8", reason="Nobody begins before they are eight"),
        InOrder(variable="position_accuracy", finding="far_above", count=40, reason="Narrow lanes, high walls"),
        LeaveOut(rule='enumerator.name is "Osk Perrin" and interview.started > 2020-01-01', reason="Made up at a café?"),
        Heading(text="Made for the tables"),
        Derive(
            into="earnings_each", formula="round(earnings / workers, 2)", label="Earnings for each who works there",
            unit="orins a week",
        ),
        Classes(
            variable="workers", into="shop_size", label="Size of the workshop",
            classes=[
                Class(code="alone", label="One person", below=2), Class(code="small", label="Two or three", below=4),
                Class(code="large", label="Four and more"),
            ],
        ),
        Derive(into="paid_hours", formula="sum(staff.hours where wage is yes)", label="Paid hours a week"),
        Impute(variable="saved_of_ten", way="median", by=["island"], reason="Needed for the scrap account"),
        Present(variable="earnings_each", label={"fr": "Recettes par personne"}, before="sources"),
    ]  # fmt: skip


def _corrected(interviews: list[Interview], earnings: str) -> list[Correct]:
    """The first interview with earnings in hundredths, which somebody phoned about."""
    for interview in interviews:
        told: Any = interview.laid_out["interviews"][0]["values"].get(earnings)
        if float(told or 0) > 5000:
            reason = "Phoned the workshop: hundredths were written as whole orins"
            value = str(round(float(told) / 100, 2))
            return [Correct(variable="earnings", interview=interview.key, value=value, reason=reason)]
    return []
