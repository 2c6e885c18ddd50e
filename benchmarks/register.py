"""A register of 100,000 units: brought in from a file, opened, unfolded, searched and narrowed down in the browser."""

from __future__ import annotations

import csv
import io
import random
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

from selenium.webdriver.common.keys import Keys

from benchmarks.result import Result
from skavo.core.permissions import granted
from skavo.demo.build import build_study
from skavo.server import Server
from skavo.services.desk import Desk
from skavo.services.jobs import show_job
from skavo.services.registers import KindIn, make_kind
from skavo.services.unit_files import BringInOrder, order_bringing_in
from skavo.store.files import keep_file
from tests.browser.chromium import DESK, open_chromium
from tests.browser.screen import Screen
from tests.workshop import workshop_script

UNITS, AREAS, SHOPS = 100_000, 100, 20_000
_HEADINGS = ["kind", "key", "above", "name", "condition", "place_latitude", "place_longitude", "bought", "value"]
# How long it takes from an act until the tree shows what is expected, by the page's own clock.
_UNTIL = """
const [expected, done] = arguments;
const shows = () => document.querySelector('.register-left')?.textContent.includes(expected);
const began = performance.now();
const look = () => (shows() ? done(performance.now() - began) : requestAnimationFrame(look));
ACT;
look();
"""
_WRITE = """
const field = document.querySelector('.register-look input');
Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(field, '%s');
field.dispatchEvent(new Event('input', { bubbles: true }));
"""


def roll() -> str:
    """Areas, shops in them and tools in those; seeded."""
    out, chance = io.StringIO(), random.Random(1)
    writer = csv.writer(out)
    writer.writerow(_HEADINGS)
    writer.writerows(["area", f"A{n}", "", f"Area {n}"] for n in range(AREAS))
    for n in range(SHOPS):
        place = (-47 + chance.random(), -122 + chance.random())
        writer.writerow(["shop", f"S{n}", f"A{n % AREAS}", f"Shop {n}", chance.choice(["good", "poor", ""]), *place])
    for n in range(UNITS - AREAS - SHOPS):
        condition, bought = chance.choice(["good", "fair", "poor"]), chance.randrange(1980, 2026)
        name = f"{chance.choice(['Vice', 'Drill', 'Saw'])} {n}"
        writer.writerow(["tool", f"T{n}", f"S{n % SHOPS}", name, condition, "", "", bought, chance.randrange(10, 900)])
    return out.getvalue()


def run() -> Iterator[Result]:
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder) / "store", "127.0.0.1", 0, limits=False)
        build_study(server.store, workshop_script())
        server.start()
        yield _brought_in(server)
        screen = Screen(open_chromium(DESK))
        screen.browser.get(server.address)
        screen.type_into("input[autocomplete=username]", "dora")
        screen.type_into("input[type=password]", "ostrel-isles" + Keys.ENTER)
        screen.find(".study-line")
        screen.browser.get(f"{server.address}studies/1/plan/registers")
        screen.find(".unit-line")
        # The first one to ask waits until the register is in memory; whoever comes later does not.
        screen.browser.refresh()
        screen.find(".unit-line")
        acts = {
            "unfolding an area": ("document.querySelector('.twist').click()", "Shop 100"),
            "searching": (_WRITE % "vice 1234", "Vice 1234"),
            "searching again": (_WRITE % "saw 777", "Saw 777"),
            "all of it again": (_WRITE % "", "100,000"),
        }
        for name, (act, expected) in acts.items():
            took = screen.browser.execute_async_script(_UNTIL.replace("ACT", act), expected)
            yield Result(f"register of {UNITS:,} units, {name}", took / 1000, 0.3, "by the page’s own clock", "s")
        screen.browser.quit()
        server.stop()


def _brought_in(server: Server) -> Result:
    store = server.store
    sets, jobs = server.app.extensions["skavo_data_sets"], server.jobs
    desk = Desk(store, sets, jobs, "Dora Maine", None, granted(["data_manager"]))
    area = make_kind(desk, 1, KindIn(title="Area", ready="area"))
    shop = make_kind(desk, 1, KindIn(title="Shop", ready="premises", under=[area.id]))
    make_kind(desk, 1, KindIn(title="Tool", ready="equipment", under=[shop.id]))
    content = roll().encode()
    columns = {"kind": "#kind", "key": "#key", "above": "#above"} | {name: name for name in _HEADINGS[3:]}
    order = BringInOrder(
        file=keep_file(store.files, content), name="roll.csv", columns=columns, doubtful=True, trial=False
    )
    began = time.perf_counter()
    job = order_bringing_in(desk, 1, order)
    while show_job(desk, job.id).state in ("waiting", "running"):
        time.sleep(0.2)
    took = time.perf_counter() - began
    began = time.perf_counter()
    list(csv.DictReader(io.StringIO(content.decode())))
    bare = time.perf_counter() - began
    assert show_job(desk, job.id).state == "done", show_job(desk, job.id).problem
    detail = f"{took:.1f} s against {bare:.2f} s of reading its rows alone"
    return Result(f"{UNITS:,} units judged, reckoned and brought in", took, 60, detail, "s")
