"""Headless Chromium at desk and phone size; nothing but this machine can be reached from it."""

from __future__ import annotations

import os
import signal
import tempfile
from pathlib import Path

from selenium import webdriver
from selenium.webdriver.chrome.options import Options
from selenium.webdriver.chrome.service import Service

DESK = (1280, 800)
PHONE = (390, 844)


def open_chromium(size: tuple[int, int], *, profile: Path | None = None, sees: Path | None = None) -> webdriver.Chrome:
    """A browser of `size`; the same `profile` again finds what it kept (as when a phone is switched on again).

    `sees` is a film of JPEG pictures (.mjpeg) that its camera shows; its microphone beeps then, and both may be used.
    """
    options = Options()
    options.binary_location = "/usr/bin/chromium"
    for argument in (
        "--headless=new", "--no-sandbox", "--disable-dev-shm-usage", "--disable-gpu", "--no-first-run",
        "--disable-background-networking", "--disable-component-update", "--disable-sync", "--hide-scrollbars",
        "--host-resolver-rules=MAP * ~NOTFOUND , EXCLUDE 127.0.0.1",
        f"--user-data-dir={profile or tempfile.mkdtemp()}", f"--window-size={size[0]},{size[1]}",
    ):  # fmt: skip
        options.add_argument(argument)
    if sees is not None:
        options.add_argument("--use-fake-device-for-media-stream")
        options.add_argument("--use-fake-ui-for-media-stream")
        options.add_argument(f"--use-file-for-fake-video-capture={sees}")
    if size == PHONE:
        metrics = {"width": size[0], "height": size[1], "pixelRatio": 1.0, "touch": True}
        options.add_experimental_option("mobileEmulation", {"deviceMetrics": metrics})
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    browser = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    if size != PHONE:
        metrics = {"width": size[0], "height": size[1], "deviceScaleFactor": 1, "mobile": False}
        browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
    browser.set_script_timeout(60)
    return browser


def kill(browser: webdriver.Chrome) -> None:
    """End the browser at once, as when a phone's battery dies; its profile keeps what was written."""
    os.kill(browser.capabilities["goog:processID"], signal.SIGKILL)
    browser.service.stop()


def cut_network(browser: webdriver.Chrome, cut: bool) -> None:
    """Cut the network off, or give it back, by the browser's own controls."""
    browser.set_network_conditions(offline=cut, latency=0, throughput=10_000_000)


def errors_in(browser: webdriver.Chrome) -> list[str]:
    """What the page complained about in its console, failed requests without a network left out."""
    return [
        entry["message"]
        for entry in browser.get_log("browser")  # type: ignore[no-untyped-call]
        if entry["level"] == "SEVERE" and "ERR_INTERNET_DISCONNECTED" not in entry["message"]
    ]
