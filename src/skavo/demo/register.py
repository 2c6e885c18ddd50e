"""The demo's register: a trade roll of workshops with what stands in them, brought in from a file as a data manager does."""

from __future__ import annotations

import csv
import io
import json
import math
import random
from collections.abc import Iterator
from functools import cache

from skavo.core.questionnaire.script import Code, CodeList, Part, Script, ScriptCheck
from skavo.core.register.settings import KindSettings
from skavo.core.sampling.plan import SamplePlan
from skavo.demo.people import ENUMERATORS
from skavo.demo.places import place_in
from skavo.demo.questionnaire import demo_script
from skavo.demo.respondents import unit_code
from skavo.services.desk import Desk
from skavo.services.drafts import save_script, show_draft
from skavo.services.frames import FrameIn, RegisterFrame
from skavo.services.registers import KindChange, KindIn, UnitKindOut, change_kind, list_kinds, make_kind
from skavo.services.releases import make_release
from skavo.services.samples import SampleIn, draw
from skavo.services.unit_files import BringInOrder, order_bringing_in
from skavo.store.files import keep_file

WORKSHOPS = 640
_SEED = 640
_FIRST = [
    "Tern", "Two Lamps", "Netmender’s", "Long Awl", "Patchwork", "Grey Heron", "Slipway", "Old Forge", "Bright Rivet",
    "Harbour", "Tide", "Red Door", "Seven Spokes", "Corner", "Quiet Bell", "Anchor", "Fair Wind", "Copper", "Lantern", "Pebble",
    "Second Life", "Hand and Heel", "Salt Road", "Kettle", "North Stair", "Marram", "Cormorant", "Blue Shutter",
]  # fmt: skip
_LAST = {
    "bicycle": "Cycles", "phone": "Phones", "radio": "Wireless", "shoe": "Shoes", "pump": "Pumps", "furniture": "Joinery",
    "sail": "Sails",
}  # fmt: skip
_TRADES = {"bicycle": 6, "phone": 5, "radio": 3, "shoe": 4, "pump": 3, "furniture": 3, "sail": 2}
_BENCHES = ["Bench by the window", "Long bench", "Back bench", "Small bench", "Yard bench"]
# What it is: cost to replace in orins, years of use.
_TOOLS = {
    "Vice": (85, 30), "Truing stand": (140, 20), "Drill": (60, 10), "Grinder": (110, 12), "Soldering iron": (25, 6),
    "Sewing machine": (310, 25), "Hand saw": (18, 8), "Lathe": (920, 30), "Compressor": (260, 12), "Multimeter": (40, 8),
}  # fmt: skip
_CONDITIONS = (["good", "fair", "poor", "broken"], [40, 35, 18, 7])
_HEADINGS = [
    "kind", "key", "above", "name", "trade", "opened", "condition", "licence", "telephone", "place_latitude",
    "place_longitude", "place_accuracy", "yard", "outline", "bought", "value", "useful_life", "course",
]  # fmt: skip


def build_register(desk: Desk, study_id: int, script: Script) -> None:
    """Kinds of unit, and the units of the roll."""
    kinds = _make_kinds(desk, study_id)
    digest = keep_file(desk.store.files, trade_roll(script).encode())
    columns = {"kind": "#kind", "key": "#key", "above": "#above"} | {name: name for name in _HEADINGS[3:]}
    order = BringInOrder(file=digest, name="trade roll.csv", columns=columns, doubtful=True, trial=False)
    assert len(kinds) == 6
    desk.jobs.see_through(order_bringing_in(desk, study_id, order).id)


def draw_sample(desk: Desk, study_id: int) -> int:
    """Two hundred workshops, so many in each ward, with reserves: whom the next round visits."""
    workshop = next(kind for kind in list_kinds(desk, study_id) if kind.name == "workshop")
    plan = SamplePlan(by="stratified", size=200, strata="ward", reserves=3, seed=_SEED)
    frame = FrameIn(units=RegisterFrame(kind=workshop.id))
    return draw(desk, study_id, SampleIn(name="Round 2", frame=frame, plan=plan)).id


def _make_kinds(desk: Desk, study_id: int) -> list[UnitKindOut]:
    island = make_kind(desk, study_id, KindIn(title="Island", ready="area"))
    ward = make_kind(desk, study_id, KindIn(title="Ward", ready="area", under=[island.id]))
    workshop = make_kind(desk, study_id, KindIn(title="Workshop", under=[ward.id]))
    bench = make_kind(desk, study_id, KindIn(title="Bench", under=[workshop.id]))
    make_kind(desk, study_id, KindIn(title="Tool", ready="equipment", under=[bench.id]))
    make_kind(desk, study_id, KindIn(title="Delivery round", ready="stretch", under=[workshop.id]))
    _describe(desk, workshop, _WORKSHOP, key_named="Plate", key_mask="****_999999", glyph="⚒")
    _describe(desk, bench, _BENCH, key_named="Number", glyph="▤")
    return list_kinds(desk, study_id)


def _describe(desk: Desk, kind: UnitKindOut, parts: list[Part], **settings: str) -> None:
    """Write the fields of a kind and release them."""
    draft = show_draft(desk, kind.questionnaire_id)
    script = draft.script.model_copy(update={"parts": parts, "code_lists": [_CONDITION, _TRADE]})
    make_release(desk, draft.id, save_script(desk, draft.id, script, draft.version).version, "")
    named = KindSettings.model_validate({**kind.settings.model_dump(), "label": parts[0].id, **settings})
    change_kind(desk, kind.id, KindChange(settings=named, version=kind.version))


def _field(kind: str, variable: str, wording: str, **more: object) -> Part:
    return Part.model_validate(
        {"id": f"{kind}-{variable}", "kind": kind, "variable": variable, "wording": {"en": wording}, **more}
    )


_CONDITION = CodeList(
    name="condition",
    codes=[Code(code=code, label={"en": code.capitalize()}) for code in _CONDITIONS[0]],
)
_TRADE = CodeList(name="trade", codes=[Code(code=code, label={"en": last}) for code, last in _LAST.items()])
_WORKSHOP = [
    _field("text", "name", "Name"),
    _field("single answer", "trade", "Trade", code_list="trade"),
    _field(
        "whole number", "opened", "Opened in", least=1850,
        must_hold=[ScriptCheck(rule="opened <= year(today)", message={"en": "This year has not come yet."})],
    ),
    _field("single answer", "condition", "Condition of the building", code_list="condition"),
    _field("text", "licence", "Licence", mask="L-9999"),
    _field("text", "telephone", "Telephone", sensitive=True),
    _field("point", "place", "Place"),
    _field("area", "yard", "Yard"),
    _field("derived value", "yard_m2", "Size of the yard", derived="size(yard)"),
    _field("photo", "front", "Front"),
]  # fmt: skip
_BENCH = [
    _field("text", "name", "Name"),
    _field("single answer", "condition", "Condition", code_list="condition"),
]


def trade_roll(script: Script) -> str:
    """The whole roll as one .csv file: islands, wards, workshops, benches, tools and delivery rounds; seeded."""
    out = io.StringIO()
    writer = csv.DictWriter(out, _HEADINGS, restval="")
    writer.writeheader()
    writer.writerows(_areas(script))
    rng = random.Random(_SEED)
    for number in range(WORKSHOPS):
        writer.writerows(_workshop(rng, script, number))
    return out.getvalue()


@cache
def workshop_names() -> dict[str, str]:
    """What stands above the door of each workshop of the roll, by its plate."""
    rows = csv.DictReader(io.StringIO(trade_roll(demo_script())))
    return {row["key"]: row["name"] for row in rows if row["kind"] == "workshop"}


Row = dict[str, object]


def _areas(script: Script) -> Iterator[Row]:
    wards = script.list_named("ward")
    islands = script.list_named("island")
    assert wards is not None and islands is not None
    for island in islands.codes:
        yield {"kind": "island", "key": island.code, "name": island.label["en"]}
    for ward in wards.codes:
        yield {"kind": "ward", "key": ward.code, "above": ward.attributes["island"], "name": ward.label["en"]}


def _workshop(rng: random.Random, script: Script, number: int) -> Iterator[Row]:
    island = ENUMERATORS[number % len(ENUMERATORS)].island
    wards = script.list_named("ward")
    assert wards is not None
    own = [ward.code for ward in wards.codes if ward.attributes["island"] == island]
    ward_number = rng.randrange(len(own))
    (trade,) = rng.choices(list(_TRADES), list(_TRADES.values()))
    plate = unit_code(island, number)
    latitude, longitude = place_in(island, ward_number, rng)
    yield {
        "kind": "workshop", "key": plate, "above": own[ward_number], "name": f"{rng.choice(_FIRST)} {_LAST[trade]}",
        "trade": trade, "opened": rng.randrange(1961, 2026) if rng.random() < 0.7 else "",
        "condition": _condition(rng, 0.5), "licence": f"L-{4000 + number}" if rng.random() < 0.8 else "",
        "telephone": f"555 0{number:03d}" if rng.random() < 0.4 else "",
        "place_latitude": latitude, "place_longitude": longitude, "place_accuracy": rng.randrange(3, 14),
        "yard": _yard(rng, latitude, longitude) if rng.random() < 0.25 else "",
    }  # fmt: skip
    if rng.random() < 0.1:
        course = _round(rng, latitude, longitude)
        yield {
            "kind": "delivery_round",
            "key": f"{plate}-R",
            "above": plate,
            "name": "Delivery round",
            "course": course,
        }
    for bench in range(rng.choice([2, 2, 3, 3, 3, 4, 5])):
        key = f"{plate}-{bench + 1}"
        yield {"kind": "bench", "key": key, "above": plate, "name": _BENCHES[bench], "condition": _condition(rng, 0.6)}
        for tool in range(rng.choice([1, 2, 3, 3, 4, 5])):
            yield _tool(rng, f"{key}-{tool + 1}", key)


def _tool(rng: random.Random, key: str, bench: str) -> Row:
    name, (cost, life) = rng.choice(list(_TOOLS.items()))
    return {
        "kind": "tool", "key": key, "above": bench, "name": name,
        "bought": rng.randrange(1985, 2026) if rng.random() < 0.65 else "",
        "value": round(cost * rng.uniform(0.8, 1.3)) if rng.random() < 0.75 else "",
        "useful_life": life if rng.random() < 0.7 else "", "condition": _condition(rng, 0.7),
    }  # fmt: skip


def _condition(rng: random.Random, known: float) -> str:
    return rng.choices(*_CONDITIONS)[0] if rng.random() < known else ""


def _yard(rng: random.Random, latitude: float, longitude: float) -> str:
    """A yard of four uneven corners beside the door, as GeoJSON (RFC 7946)."""
    turn = rng.uniform(0, math.tau)
    reach = [rng.uniform(0.00006, 0.00014) for _ in range(4)]
    corners = [
        [
            round(longitude + r * math.cos(turn + at * math.tau / 4) / math.cos(math.radians(latitude)), 7),
            round(latitude + r * math.sin(turn + at * math.tau / 4), 7),
        ]
        for at, r in enumerate(reach)
    ]
    return json.dumps({"type": "Polygon", "coordinates": [[*corners, corners[0]]]})


def _round(rng: random.Random, latitude: float, longitude: float) -> str:
    """A round of a dozen bends from the door through the ward and back."""
    turn, bends = rng.uniform(0, math.tau), 12
    line = [[longitude, latitude]]
    for bend in range(1, bends):
        angle = turn + math.tau * bend / bends
        reach = rng.uniform(0.002, 0.004)
        line.append(
            [
                round(longitude + reach * (math.cos(angle) - math.cos(turn)), 6),
                round(latitude + reach * (math.sin(angle) - math.sin(turn)) * 0.7, 6),
            ]
        )
    return json.dumps({"type": "LineString", "coordinates": [*line, [longitude, latitude]]})
