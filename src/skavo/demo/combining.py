"""The two outside tables of the demo, with their planted trouble: the licence office's roll and a list of prices."""

from __future__ import annotations

import csv
import io
import random
from collections.abc import Iterator
from datetime import date, timedelta
from pathlib import Path
from tempfile import TemporaryDirectory

from skavo.core.cleaning.steps import Derive
from skavo.core.combining.spec import Compared, Join, KeyPair, Near
from skavo.core.dataset.layout import INTERVIEWS
from skavo.core.estimation.tables import TableRequest
from skavo.core.recipes.recipe import LeavesOut, Recipe, Source
from skavo.demo.register import workshop_names
from skavo.demo.respondents import PRICES
from skavo.services.combining import JoinChange, learn_weights, set_join
from skavo.services.data_sets import DataSetIn, add_data_set
from skavo.services.desk import Desk
from skavo.services.outside_tables import BringIn, Card, OutsideOut, bring_in, keep_sent, write_card
from skavo.services.source_checks import SourceCheckIn, keep_check
from skavo.services.tables import save_table
from skavo.store.models import Study

_SEED = 1907
# How the licence office writes what stands above a door.
_OFFICE = {
    "Cycles": "Cycle Wks", "Joinery": "Joiners", "Shoes": "Shoe Repairs", "Wireless": "Radios", "Phones": "Telephones",
    "Pumps": "Pump Motors", "Sails": "Sail Loft", "and": "&", "Old": "The Old",
}  # fmt: skip
_UNVISITED = 14


def combine_tables(desk: Desk, questionnaire_id: int) -> None:
    """Bring both tables in and join them; what likeness leaves in doubt waits for somebody to decide."""
    roll = _bring_in(
        desk, questionnaire_id, "licence roll.csv", _roll(desk, questionnaire_id).encode(), "licence", _ROLL_CARD
    )
    join = learn_weights(desk, roll.id, _ROLL_JOIN)
    set_join(desk, questionnaire_id, roll.id, JoinChange(join=join, version=roll.version))
    prices = _bring_in(
        desk, questionnaire_id, "prix des réparations.csv", _prices().encode("cp1252"), "usual", _PRICES_CARD
    )
    set_join(desk, questionnaire_id, prices.id, JoinChange(join=_PRICES_JOIN, version=prices.version))
    for check in _CHECKS:
        keep_check(desk, questionnaire_id, check)


def round_by_round(desk: Desk, study_id: int, questionnaire_id: int) -> None:
    """A data set whose rows are trades, of both rounds, with what they ask held against the usual price."""
    with desk.store.reading() as session:
        first, second = session.get_one(Study, study_id).rounds
    begun = date.fromisoformat(second["begins"])
    recipe = Recipe(
        sources=[
            Source(
                questionnaire=questionnaire_id, called=first["name"], since=date.fromisoformat(first["begins"]),
                until=begun - timedelta(days=1),
            ),
            Source(questionnaire=questionnaire_id, called=second["name"], since=begun),
        ],
        derived=[
            Derive(
                table="trade", into="over_usual", formula="price_low / usual_prix_habituel",
                label="Lowest price, as a share of the usual one",
            )
        ],
        left_out=[LeavesOut(rule="not licensed", reason="The usual prices are those of licensed workshops")],
        rows="trade",
    )  # fmt: skip
    made = add_data_set(desk, study_id, DataSetIn(title="Trades, round by round", recipe=recipe))
    save_table(
        desk, made.id, "Prices against the usual ones", TableRequest(show="mean", variable="over_usual", by="island")
    )


def _bring_in(desk: Desk, questionnaire_id: int, name: str, content: bytes, called: str, card: Card) -> OutsideOut:
    with TemporaryDirectory() as folder:
        sent = Path(folder) / "sent"
        sent.write_bytes(content)
        file = keep_sent(desk, questionnaire_id, sent)
    table = bring_in(desk, questionnaire_id, BringIn(file=file, file_name=name, name=called))
    return write_card(desk, table.id, card, table.version)


_ROLL_CARD = Card(
    collected_by="The isles’ licence office", collected_for="The Bureau of Crafts",
    collected_when="Kept up to date, taken in spring", how="From applications; plates copied by hand",
    purpose="Trade licences and their fees", population="Workshops that hold a licence, or held one since 1990",
    definitions="Fee class: A up to two benches, B up to four, C above", terms="For this survey only",
    trust="Names as applied for; plates with slips; trades out of date", handed_over="no",
)  # fmt: skip
_PRICES_CARD = Card(
    collected_by="The chamber of menders", collected_for="Its members", collected_when="Every spring",
    how="Asked by letter, about one workshop in five answers", purpose="So that nobody asks too little",
    population="Members on four islands", definitions="The usual price of a job, in orins", terms="Free to use, named",
    trust="Good for the common trades; no sails on Vint",
)  # fmt: skip
_ROLL_JOIN = Join(
    keys=[KeyPair(ours="unit_code", theirs="plate", alike=["case", "blanks"])],
    take=["licensed since", "fee class"],
    several="leave",
    near=Near(
        compare=[
            Compared(ours="called", theirs="workshop", how="text"),
            Compared(ours="street", theirs="street", how="text", words="en"),
            Compared(ours="ward", theirs="ward", how="exact", words="en"),
            Compared(ours="opened", theirs="opened", how="whole"),
            Compared(ours="unit_code", theirs="plate", how="text"),
        ],
        blocks=[["ward"], ["called"], ["unit_code"]],
    ),
)
_PRICES_JOIN = Join(
    into="trade",
    keys=[
        KeyPair(ours="island", theirs="île", alike=["case"], words="en"),
        KeyPair(ours="trade.row", theirs="métier", alike=["case"]),
    ],
    take=["prix habituel"],
)

_CHECKS = [
    SourceCheckIn(rule="opened <= licence_licensed_since", words="The licence is older than the workshop"),
    SourceCheckIn(
        table="trade", rule="price_low <= 2 * usual_prix_habituel", words="Even the lowest price is twice the usual one"
    ),
]


def _roll(desk: Desk, questionnaire_id: int) -> str:
    """The licence office's roll: some workshops missing, some twice, some that nobody visited; names as the office writes
    them, plates with slips or without any."""
    rng = random.Random(_SEED)
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(["plate", "workshop", "ward", "street", "opened", "licence", "licensed since", "fee class"])
    names, seen = workshop_names(), set()
    number = 0
    for plate, ward, street, opened in _visited(desk, questionnaire_id):
        if plate in seen:
            continue
        seen.add(plate)
        number += 1
        if number % 11 == 3:
            continue
        shown = plate.lower() if number % 7 == 0 else plate
        shown = "" if number % 6 == 1 else _slipped(rng, shown) if number % 9 == 4 else shown
        called = _as_office(rng, names.get(plate, "Workshop"))
        year = "" if rng.random() < 0.15 or not opened else int(opened) + rng.choice([0, 0, 0, 0, 1, -1])
        if number % 8 == 2:
            # An application by somebody's hand: no plate, half a name, no street.
            shown, street, called = "", "", called.rsplit(" ", 1)[0]
        where = street if rng.random() < 0.8 else street.replace("Street", "St.").replace("Lane", "Ln.")
        # Now and then a licence is older than the workshop says that it is.
        since = max(1990, (opened or 1990) + (rng.randrange(0, 6) if number % 17 else -4))
        writer.writerow([shown, called, ward, where, year, f"L-{4000 + number}", since, rng.choice("AABC")])
        if number % 29 == 5:
            writer.writerow([shown, called, ward, street, year, f"L-{9000 + number}", since + 1, "C"])
    others = [plate for plate in names if plate not in seen][-_UNVISITED:]
    for at, plate in enumerate(others):
        writer.writerow([plate, names[plate], "", "", "", f"L-{7000 + at}", 2001 + at, "B"])
    return out.getvalue()


def _visited(desk: Desk, questionnaire_id: int) -> Iterator[tuple[str, str, str, int | None]]:
    """Plate, ward, street and year of opening of every workshop that somebody has been to."""
    with desk.store.reading() as session:
        table = desk.data(session, questionnaire_id).raw[INTERVIEWS]
    labels = {
        name: {code: texts["en"] for code, texts in column.codes.items()}
        for name in ("ward", "street")
        if (column := table.layout.column(name)) is not None
    }
    for plate, ward, street, opened in table.frame.select("unit_code", "ward", "street", "opened").iter_rows():
        if plate is not None:
            yield plate, labels["ward"].get(ward, ""), labels["street"].get(street, ""), opened


def _slipped(rng: random.Random, plate: str) -> str:
    """A plate with two neighbouring figures the wrong way round."""
    at = rng.randrange(6, len(plate) - 1)
    return plate[:at] + plate[at + 1] + plate[at] + plate[at + 2 :]


def _as_office(rng: random.Random, name: str) -> str:
    words = [_OFFICE.get(word, word) if rng.random() < 0.35 else word for word in name.split()]
    written = " ".join(words)
    if rng.random() < 0.12:
        at = rng.randrange(1, max(2, len(written) - 1))
        written = written[:at] + written[at + 1 :]
    return f"{written} Ltd" if rng.random() < 0.08 else written


def _prices() -> str:
    """Usual prices by island and trade, as another office exports them: semicolons, decimal commas, a title above."""
    rng = random.Random(_SEED)
    lines = ["Prix habituels des réparations, en orins;;", "", "île;métier;prix habituel"]
    for island in ("Kesk", "Luma", "Tarrow", "Vint"):
        for trade, price in PRICES.items():
            if (island, trade) != ("Vint", "sail") and trade != "other":
                lines.append(f"{island};{trade.capitalize()};{price * rng.uniform(0.9, 1.15):.2f}".replace(".", ","))
    return "\r\n".join(lines)
