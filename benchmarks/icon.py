"""From a tap on the phone's icon to the first question: no server, no caches, a browser just started, slowed four times.

The slowing is the browser's own and holds for the page; the engine's worker runs at full speed.
"""

from __future__ import annotations

import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

from benchmarks.result import Result
from tests.browser.test_without_network import Field

STARTS = 5
SLOWED = 4
TO_REACH_SECONDS = 6.0


def run() -> Iterator[Result]:
    with tempfile.TemporaryDirectory() as folder:
        field = Field(Path(folder))
        field.pair()
        field.server.kill()
        times = []
        for _ in range(STARTS):
            field.kill_phone()
            field.phone.browser.execute_cdp_cmd("Emulation.setCPUThrottlingRate", {"rate": SLOWED})
            began = time.perf_counter()
            field.today()
            field.phone.press("Start an interview")
            field.shows("Which well is it?")
            times.append(time.perf_counter() - began)
        field.end()
    times.sort()
    detail = f"median of {STARTS}; quickest {times[0]:.1f} s, slowest {times[-1]:.1f} s"
    yield Result("icon to first question, nothing but the phone", times[STARTS // 2], TO_REACH_SECONDS, detail, "s")
