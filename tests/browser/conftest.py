"""Headless Chromium, driven over loopback; and axe-core, the accessibility checker, from npm."""

from __future__ import annotations

import os
import shutil
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

AXE = Path(os.environ.get("HOMEPATH_AXE", Path(__file__).parents[2] / ".browser/node_modules/axe-core/axe.min.js"))


@pytest.fixture(scope="module")
def browser(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Any]:
    """A browser of its own; what is missing is a failure where HOMEPATH_REQUIRE_REAL is set."""
    chromium, driver = shutil.which("chromium"), shutil.which("chromedriver")
    if not (chromium and driver and AXE.exists()):
        missing = "Chromium, ChromeDriver or axe-core is missing (make test installs them)"
        if os.environ.get("HOMEPATH_REQUIRE_REAL"):
            pytest.fail(missing)
        pytest.skip(missing)
    from selenium import webdriver

    options = webdriver.ChromeOptions()
    options.binary_location = chromium
    folder = tmp_path_factory.mktemp("profile")
    for word in (
        "--headless=new", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
        "--disable-dev-shm-usage",
        "--disable-background-networking", "--disable-component-update", "--disable-sync", "--window-size=1280,800",
        f"--user-data-dir={folder}",
    ):  # fmt: skip
        options.add_argument(word)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    made = webdriver.Chrome(options=options, service=webdriver.ChromeService(executable_path=driver))
    yield made
    made.quit()


def violations(browser: Any) -> list[str]:
    """What axe-core finds on the page that is open: rule and place."""
    from selenium.webdriver.support.ui import WebDriverWait

    # the page's own policy forbids scripts; the checker runs outside it, as the browser's tools do
    browser.execute_cdp_cmd("Page.setBypassCSP", {"enabled": True})
    try:
        browser.refresh()
        browser.execute_script(AXE.read_text())
        browser.execute_script("window.__found = null; axe.run().then(r => { window.__found = [r.violations] })")
        found = WebDriverWait(browser, 30).until(lambda b: b.execute_script("return window.__found"))
    finally:
        browser.execute_cdp_cmd("Page.setBypassCSP", {"enabled": False})
    return [f"{each['id']}: {node['html'][:120]}" for each in found[0] for node in each["nodes"]]
