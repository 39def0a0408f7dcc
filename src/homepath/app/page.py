"""A builder's page, read: the text in, a brief out, and everything that has to be settled between them."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from homepath.app.start import registrable
from homepath.core.files.brief_file import read_brief
from homepath.core.model.problems import BadInput
from homepath.core.page_reader.brief_text import BriefText, Values, brief_text
from homepath.core.page_reader.judge import read_page
from homepath.core.page_reader.page import Page
from homepath.core.wording.say import say
from homepath.files import write_text


@dataclass(frozen=True, slots=True)
class PageRead:
    """A page with the brief made from it. `found` is None where the page holds nothing to enter."""

    page: Page
    found: BriefText | None


def read(
    text: str,
    builder: str,
    *,
    domain: str | None = None,
    label: str = "",
    option: str = "",
    values: Values = "stay",
) -> PageRead:
    """Read a pasted text. `domain`, `label`: the reader's own domain and the label where the site is to live, where
    known; `option`: the alternative of the page to take. Raises BadInput for what is no text of a page."""
    page = read_page(text, domain, registrable)
    if not page.records and not any(server.mood in ("", "want") for server in page.nameservers):
        return PageRead(page, None)
    found = brief_text(page, builder, label=label, option=option, values=values)
    try:
        read_brief(found.text, "the brief")
    except BadInput as error:
        said = tuple(say(problem.message) for problem in error.problems)
        found = BriefText(found.text, found.rows, (*found.doubts, *said), found.notes, found.values, found.options)
    return PageRead(page, found)


def write(found: BriefText, to: Path) -> None:
    """Write the brief, whole or not at all. Raises BadInput where it is none or cannot be written."""
    read_brief(found.text, str(to))
    write_text(to, found.text)
