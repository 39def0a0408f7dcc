"""The report in a real browser: hostile texts stay texts, nothing is loaded, it prints, and everybody can use it."""

from __future__ import annotations

import base64
import re
from pathlib import Path
from typing import Any

import pytest
from selenium.webdriver.common.by import By

from homepath.core.contracts.many import unknown_json
from homepath.core.propagation.readings import CheckShares
from homepath.report.page import many_page
from tests.browser.conftest import violations
from tests.core.cases import RIGHT, START
from tests.core.report_cases import CODE, hostile, pages
from tests.core.test_assess import PARKED, visit
from tests.core.test_report import settled

LOOKS = (CheckShares(START, (0.0, 1.0, 0.0, 0.0), START + 3600), CheckShares(START + 600, (0.5, 0.3, 0.1, 0.1), None))


def some() -> dict[str, str]:
    """Pages of all kinds, by a name."""
    found = {f"hostile {name}": page for name, page in pages(hostile()).items()}
    found |= {f"parked {name}": page for name, page in settled(PARKED).items()}
    found |= {f"spreading {name}": page for name, page in settled(RIGHT, looks=LOOKS, now=START + 900).items()}
    found |= {f"arrived {name}": page for name, page in settled(RIGHT, visit=visit(START + 1, "arrived")).items()}
    found["many"] = many()
    return found


def many() -> str:
    trouble = unknown_json("zebra.example.", f"no answer {CODE}", "unknown", START, START)
    fine = {**trouble, "verdict": "as-wanted", "stage": "arrived", "act": {"kind": "none"}, "trouble": "", "do": ""}
    return many_page("list.csv", [{**fine, "domain": f"d{at}.example."} for at in (10, 9, 2)] + [trouble], START)


def opened(browser: Any, folder: Path, page: str) -> None:
    file = folder / "page.html"
    file.write_text(page, encoding="utf-8")
    browser.get_log("browser")
    browser.get(file.as_uri())


def test_hostile_texts_are_inert_and_no_console_complains(browser: Any, tmp_path: Path) -> None:
    for name, page in some().items():
        opened(browser, tmp_path, page)
        said = [each for each in browser.get_log("browser") if "chrome://" not in each["message"]]  # of its own pages
        assert said == [], name
        assert "broken" not in browser.title
        assert browser.execute_script("return performance.getEntriesByType('resource').length") == 0


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_everybody_can_use_it_on_wide_and_narrow_screens(browser: Any, tmp_path: Path, scheme: str) -> None:
    features = [{"name": "prefers-color-scheme", "value": scheme}]
    browser.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": features})
    try:
        for name, page in some().items():
            for width in (1280, 390):
                browser.set_window_size(width, 844)
                opened(browser, tmp_path, page)
                assert violations(browser) == [], name
                wide = browser.execute_script("return document.documentElement.scrollWidth - window.innerWidth")
                assert wide <= 0, f"{name} must be scrolled sideways at {width}"
    finally:
        browser.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": "", "features": []})


def test_it_prints_on_two_pages_and_for_support_on_one(browser: Any, tmp_path: Path) -> None:
    for name, page in some().items():
        opened(browser, tmp_path, page)
        printed = base64.b64decode(browser.execute_cdp_cmd("Page.printToPDF", {"preferCSSPageSize": True})["data"])
        count = len(re.findall(rb"/Type\s*/Page[^s]", printed))
        assert count <= (1 if name.endswith("support") else 2), name


def test_what_is_added_does_not_run_and_loads_nothing(browser: Any, tmp_path: Path) -> None:
    for page in (settled(PARKED)["owner"], many()):
        added = "<script>document.title='broken'</script><img src='http://127.0.0.1:9/x.png'><p style='color:red'>x</p>"
        opened(browser, tmp_path, page.replace("</main>", f"{added}</main>"))
        assert "broken" not in browser.title
        said = [entry["message"] for entry in browser.get_log("browser")]
        assert sum("Content Security Policy" in each for each in said) >= 3


def test_the_table_of_many_sorts_and_filters_by_keyboard(browser: Any, tmp_path: Path) -> None:
    from selenium.webdriver.common.keys import Keys

    opened(browser, tmp_path, many())

    def shown() -> list[str]:
        rows = browser.find_elements(By.CSS_SELECTOR, "tbody tr")
        return [row.find_element(By.TAG_NAME, "td").text for row in rows if row.is_displayed()]

    assert shown() == ["zebra.example", "d10.example", "d9.example", "d2.example"]
    head = browser.find_element(By.CSS_SELECTOR, "th button")
    head.send_keys(Keys.ENTER)
    assert shown() == ["d2.example", "d9.example", "d10.example", "zebra.example"]
    assert browser.find_element(By.TAG_NAME, "th").get_attribute("aria-sort") == "ascending"
    head.send_keys(Keys.ENTER)
    assert shown()[0] == "zebra.example"
    browser.find_element(By.ID, "search").send_keys("d1")
    assert shown() == ["d10.example"]
    assert browser.find_element(By.ID, "shown").text == "1 to 1 of 1 (4 in all)"
    browser.find_element(By.ID, "search").send_keys(Keys.BACKSPACE, Keys.BACKSPACE)
    browser.find_element(By.ID, "stands").send_keys("unknown")
    assert shown() == ["zebra.example"]
    assert browser.get_log("browser") == []


def test_twenty_thousand_domains_open_at_once_and_nothing_is_cut_off(browser: Any, tmp_path: Path) -> None:
    """200 rows at a time; the search takes the words of `--where`. The bound only guards against a page that hangs."""
    trouble = unknown_json("x.example.", "no answer", "unknown", START, START, "Mossgate")
    fine = {
        **trouble,
        "verdict": "as-wanted",
        "stage": "arrived",
        "act": {"kind": "none"},
        "trouble": "",
        "host": "Thornlea",
    }
    lines = [
        {**(fine if at % 50 else trouble), "domain": f"d{at}.example.", "columns": {"owner": f"<b>{at % 7}"}}
        for at in range(20_000)
    ]
    days = [(f"2026-03-0{day}", {"as-wanted": 19_000, "unknown": 100 * day}) for day in range(1, 5)]
    opened(browser, tmp_path, many_page("list.csv", lines, START, days))
    took = browser.execute_script("return performance.timing.loadEventEnd - performance.timing.navigationStart")
    assert took < 10_000
    said = browser.find_element(By.ID, "shown")
    assert said.text == "1 to 200 of 20000"
    assert browser.find_element(By.CSS_SELECTOR, "details summary").text.startswith("400 domains")
    for _ in range(2):
        browser.find_element(By.ID, "on").click()
    assert said.text == "401 to 600 of 20000"
    browser.find_element(By.ID, "search").send_keys("host=thornlea owner=<b>3 d10")
    assert said.text.startswith("1 to ")
    cells = [row.text for row in browser.find_elements(By.CSS_SELECTOR, "tbody tr")]
    assert all("<b>3" in text and "d10" in text for text in cells)
    assert len(browser.find_elements(By.CSS_SELECTOR, "svg rect")) == 16
    assert browser.get_log("browser") == []
