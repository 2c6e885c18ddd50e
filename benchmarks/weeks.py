"""A phone that was away for weeks: 500 interviews with 2,000 photos in headless Chromium, and 100 filled one by one."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from pathlib import Path

from benchmarks.result import Result
from tests.browser.pairing import PIN
from tests.browser.test_profile import set_profile
from tests.browser.test_without_network import Field

INTERVIEWS = 500
PHOTOS = 2_000
PHOTO_BYTES = 150_000
CONTENT_BYTES = 40_000
FILLED = 100

# What one interview left behind is what all leave behind: its rows again under other names.
_MULTIPLY = """
const [interviews, photos, bytes, content, done] = arguments;
const open = indexedDB.open('skavo-field');
open.onsuccess = async () => {
  const db = open.result;
  const all = (table) => new Promise((on) => {
    const asked = db.transaction(table).objectStore(table).getAll();
    asked.onsuccess = () => on(asked.result);
  });
  const [row] = await all('interviews');
  const day = 86_400_000;
  for (let from = 0; from < interviews; from += 100) {
    const change = db.transaction(['interviews', 'attachments'], 'readwrite');
    for (let n = from; n < Math.min(from + 100, interviews); n += 1) {
      const uuid = crypto.randomUUID();
      const changedAt = new Date(Date.now() - (n / interviews) * 28 * day).toISOString();
      change.objectStore('interviews').add({ ...row, uuid, changedAt, state: n % 2 === 0 ? 'packed' : 'in hand', content: new Uint8Array(content).fill(n % 250) });
      for (let k = 0; k < photos / interviews; k += 1) {
        const sealed = new Blob([crypto.getRandomValues(new Uint8Array(60_000)), new Uint8Array(bytes - 60_000)]);
        change.objectStore('attachments').add({
          interview: uuid, hash: `${n}-${k}`, kind: 'photo', bytes, type: 'image/jpeg', sealed, confirmed: 0,
        });
      }
    }
    await new Promise((on, off) => { change.oncomplete = on; change.onabort = () => off(change.error); });
  }
  db.close();
  done(interviews);
};
"""

# From what is done until the page shows what it leads to, and has painted it.
_TIMED = """
const [act, wanted, least, done] = arguments;
const began = performance.now();
const there = () => document.querySelectorAll(wanted).length >= least;
const look = () => there()
  ? requestAnimationFrame(() => setTimeout(() => done(performance.now() - began)))
  : setTimeout(look, 2);
document.querySelector(act).click();
look();
"""


def run() -> Iterator[Result]:
    with tempfile.TemporaryDirectory() as folder:
        field = Field(Path(folder))
        set_profile(field, sends="by hand")
        field.pair()
        yield from _memory(field)
        yield from _weeks(field)
        field.end()


def _filled(field: Field, name: str) -> None:
    field.begin(name)
    field.next()
    field.finish("12")


def _memory(field: Field) -> Iterator[Result]:
    for number in range(5):
        _filled(field, f"Well {number}")
    before = _resident(field)
    for number in range(FILLED):
        _filled(field, f"Well {number}")
    after = _resident(field)
    detail = f"{after >> 20} MB after {FILLED} interviews filled and packed in one page, {before >> 20} MB before"
    yield Result("memory of the phone's page after 100 interviews / before", after / before, 1.3, detail)


def _resident(field: Field) -> int:
    """Bytes that the page's processes hold, after what is no longer used was collected."""
    field.phone.browser.execute_cdp_cmd("HeapProfiler.collectGarbage", {})
    profile = f"--user-data-dir={field.folder / 'phone'}"
    held = 0
    for process in Path("/proc").iterdir():
        if not process.name.isdigit():
            continue
        try:
            line = (process / "cmdline").read_bytes().decode(errors="replace")
            if "--type=renderer" in line and profile in line:
                status = (process / "status").read_text()
                held += int(status.split("VmRSS:")[1].split()[0]) << 10
        except OSError:
            continue
    assert held > 0
    return held


def _weeks(field: Field) -> Iterator[Result]:
    browser = field.phone.browser
    made = browser.execute_async_script(_MULTIPLY, INTERVIEWS, PHOTOS, PHOTO_BYTES, CONTENT_BYTES)
    assert made == INTERVIEWS
    browser.get(f"{field.server.address}/field/")
    field.phone.find("input[name=pin]").send_keys(PIN)
    field.phone.until(lambda: not browser.find_element("css selector", ".wide-button").get_attribute("disabled"))
    took = browser.execute_async_script(_TIMED, "button[type=submit]", ".line", 20)
    what = f"{INTERVIEWS} interviews, {PHOTOS} photos"
    yield Result("unlocking a phone that holds weeks", took, 2_000, f"from the PIN to today's list; {what}", "ms")
    ways = {
        "the list of all interviews": ("a[href$=interviews]", ".line", 20),
        "today's list": (".places a", ".tally", 3),
    }
    for name, (act, wanted, least) in ways.items():
        times = []
        for _ in range(5):
            browser.execute_async_script(_TIMED, ".places a:last-child", ".facts", 1)
            times.append(browser.execute_async_script(_TIMED, act, wanted, least))
        yield Result(f"{name} on a phone that holds weeks", sorted(times)[2], 300, f"median of 5; {what}", "ms")
    field.begin("North well")
    times = []
    for _ in range(10):
        times.append(browser.execute_async_script(_TIMED, ".fill-foot .next", ".fill-foot .back:not(:disabled)", 1))
        browser.execute_async_script(_TIMED, ".fill-foot .back", ".fill-foot .back:disabled", 1)
    yield Result("the next question on a phone that holds weeks", sorted(times)[5], 100, f"median of 10; {what}", "ms")
