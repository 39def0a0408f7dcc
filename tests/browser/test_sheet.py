"""The sheet as a page, in a real browser: copied, ticked, opened again, printed, and looked over by axe-core."""

from __future__ import annotations

import base64
import contextlib
from pathlib import Path
from typing import Any

from selenium.common.exceptions import TimeoutException
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import WebDriverWait

from homepath.core.files.sheet import Job, Line
from homepath.core.model.brief import Notation
from homepath.report.sheet_html import as_page
from tests.browser.conftest import violations

NASTY = '"><script>document.title="broken"</script>\u202e'
JOBS = [
    Job("where tidewick-kiln.example leads", (
        Line("delete", "A", "@", "198.51.100.7", 3600),
        Line("enter", "A", "@", "192.0.2.10", 3600),
        Line("enter", "A", "@", "192.0.2.44", 3600),
    )),
    Job("where www leads", (Line("enter", "CNAME", "www", "site-20817.edge.bricklark.example.", 3600, True),)),
    Job("the proof", (Line("enter", "TXT", "", "bricklark-owner=tk-4471", 3600),), (NASTY, "v=spf1 mx -all")),
]  # fmt: skip


def page(folder: Path) -> str:
    file = folder / "sheet.html"
    file.write_text(as_page("tidewick-kiln.example.", JOBS, Notation(host="Mossgate")), encoding="utf-8")
    return file.as_uri()


def test_copy_tick_reload_and_print(browser: Any, tmp_path: Path) -> None:
    browser.get_log("browser")
    browser.get(page(tmp_path))
    assert browser.title == "DNS records for tidewick-kiln.example"
    assert [entry for entry in browser.get_log("browser") if entry["level"] == "SEVERE"] == []
    buttons = browser.find_elements(By.CSS_SELECTOR, "button[data-of]")
    assert len(buttons) == 9
    for number in (1, 7):
        buttons[number].click()
        code = browser.find_element(By.ID, buttons[number].get_attribute("data-of"))
        assert browser.find_element(By.ID, "said").text == f"Copied: {code.text}"
        # pasted somewhere else, it is the value and nothing more
        browser.execute_script("let t = document.createElement('textarea'); t.id = 'paste'; document.body.append(t)")
        target = browser.find_element(By.ID, "paste")
        target.send_keys(Keys.CONTROL, "v")
        assert target.get_attribute("value") == code.text
        browser.execute_script("document.getElementById('paste').remove()")
    boxes = browser.find_elements(By.CSS_SELECTOR, "input[type=checkbox]")
    assert len(boxes) == 5
    boxes[1].send_keys(Keys.SPACE)  # by keyboard
    assert browser.find_element(By.ID, "count").text == "1 of 5 done"
    browser.refresh()
    ticked = [False, True, False, False, False]

    def restored(there: Any) -> bool:
        """The browser itself restores what was ticked, soon after the page is loaded."""
        return [box.is_selected() for box in there.find_elements(By.CSS_SELECTOR, "input[type=checkbox]")] == ticked

    for _ in range(4):  # it notes what was ticked only now and then, so a reload right behind a tick may come too soon
        with contextlib.suppress(TimeoutException):
            WebDriverWait(browser, 8).until(restored)
            break
        box = browser.find_elements(By.CSS_SELECTOR, "input[type=checkbox]")[1]
        if not box.is_selected():
            box.send_keys(Keys.SPACE)
        browser.refresh()
    assert restored(browser)
    printed = base64.b64decode(browser.execute_cdp_cmd("Page.printToPDF", {"preferCSSPageSize": True})["data"])
    assert printed.startswith(b"%PDF-")
    assert 1 <= printed.count(b"/Type /Page\n") + printed.count(b"/Type /Page ") <= 2
    browser.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": "print"})
    assert not any(each.is_displayed() for each in browser.find_elements(By.CSS_SELECTOR, "button[data-of]"))
    browser.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": ""})


def test_it_can_be_used_by_everybody(browser: Any, tmp_path: Path) -> None:
    for scheme in ("light", "dark"):
        features = [{"name": "prefers-color-scheme", "value": scheme}]
        browser.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": features})
        for width in (1280, 390):
            browser.set_window_size(width, 844)
            browser.get(page(tmp_path))
            assert violations(browser) == []
            wide = browser.execute_script("return document.documentElement.scrollWidth - window.innerWidth")
            assert wide <= 0, f"it must be scrolled sideways at {width}"
    assert browser.title == "DNS records for tidewick-kiln.example"  # the record's text stayed text


def test_nothing_but_its_own_script_runs_and_nothing_is_loaded(browser: Any, tmp_path: Path) -> None:
    file = tmp_path / "broken.html"
    words = as_page("tidewick-kiln.example.", JOBS, Notation(host="Mossgate"))
    added = "<script>document.title = 'broken'</script><img src='http://127.0.0.1:9/x.png'>"
    file.write_text(words.replace("</main>", f"{added}</main>"), encoding="utf-8")
    browser.get(file.as_uri())
    assert browser.title == "DNS records for tidewick-kiln.example"
    said = [entry["message"] for entry in browser.get_log("browser")]
    assert sum("Content Security Policy" in each for each in said) >= 2
