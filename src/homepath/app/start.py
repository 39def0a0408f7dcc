"""What the owner wants, written into a site file; a builder's page read into a brief."""

from __future__ import annotations

import os
import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from pathlib import Path

from homepath.core.dns.names import is_host
from homepath.core.files.brief_file import read_brief
from homepath.core.files.site_file import SITE_FILE, read_notation, read_site, write_site
from homepath.core.message import msg, reason
from homepath.core.model.brief import Brief, Site, ValueAsked
from homepath.core.model.domain import BadDomain, TypedDomain, read_domain
from homepath.core.model.problems import BadInput, Problem
from homepath.core.page_reader.brief_text import PAGE_MARK, BriefText, Values, brief_text
from homepath.core.page_reader.judge import read_page
from homepath.core.page_reader.page import Page, Picks, picked
from homepath.core.site.wanted import Wanted, late_values, work_out
from homepath.core.wording.say import say
from homepath.files import read_text, write_text


@dataclass(frozen=True, slots=True)
class PageRead:
    """A page with the brief made from it. `found` is None where the page holds nothing to enter."""

    page: Page
    found: BriefText | None


def read_pasted(text: str, domain: str | None) -> Page:
    """Read a pasted text. `domain`: the reader's own, where known. Raises BadInput for what is no text of a page."""
    return read_page(text, domain, registrable)


def brief_of(
    page: Page, builder: str, *, label: str = "", option: str = "", values: Values = "stay", picks: Picks | None = None
) -> PageRead:
    """The brief that a page makes. `label`: where the site is to live, where known; `option`: the alternative of the
    page to take; `picks`: what a person said of its table. Raises BadInput for picks that cannot be."""
    page = picked(page, picks) if picks else page
    if not page.records and not page.wanted_servers:
        return PageRead(page, None)
    found = brief_text(page, builder, label=label, option=option, values=values)
    try:
        read_brief(found.text, "the brief")
    except BadInput as error:
        errors = tuple(say(problem.message) for problem in error.problems)
        found = replace(found, doubts=(*found.doubts, *errors))
    return PageRead(page, found)


def write(found: BriefText, to: Path) -> None:
    """Write the brief, whole or not at all. Raises BadInput where it is none or cannot be written."""
    read_brief(found.text, str(to))
    write_text(to, found.text)


@dataclass(frozen=True, slots=True)
class Started:
    path: Path
    site: Site
    brief: Brief
    wanted: Wanted


def registrable(host: str) -> str | None:
    """The registrable domain of `host` by the public suffix list that ships with the tool."""
    from publicsuffixlist import PublicSuffixList

    found = PublicSuffixList(accept_unknown=True).privatesuffix(host)
    return str(found) if found else None


def read_typed(text: str) -> TypedDomain:
    """What was typed as the domain. Raises BadInput."""
    try:
        return read_domain(text, registrable)
    except BadDomain as error:
        raise BadInput(
            Problem(reason(error), key="DOMAIN", seen=text[:100], hint=msg("start.read-typed.hint"))
        ) from error


def load_brief(path: Path) -> Brief:
    """A brief file. Raises BadInput."""
    return read_brief(read_text(path, msg("file.brief"), msg("start.load-brief-2")), path.name)


def primary_of(typed: TypedDomain, chosen: str | None) -> str:
    """`www`, `apex` or a label: what was chosen, else what was typed in front of the domain, else `www`."""
    primary = (chosen or typed.label or "www").strip().lower()
    if primary in ("apex", "@"):
        return "apex"
    if "." in primary or not is_host(f"{primary}."):
        raise BadInput(
            Problem(msg("start.primary-of"), key="--primary", seen=primary, hint=msg("start.primary-of.hint"))
        )
    return primary


def start(
    typed: TypedDomain,
    primary: str,
    brief_file: Path,
    values: Mapping[str, str],
    notation_file: Path | None,
    also: tuple[str, ...],
    folder: Path,
    page_text: str | None = None,
) -> Started:
    """Check everything together, then write the site file. An existing one for another domain is not replaced.

    `page_text`: the text of a brief that was made from a page; it is written to `brief_file`, once all is right.
    """
    brief = load_brief(brief_file) if page_text is None else read_brief(page_text, brief_file.name)
    values, values_of = _by_domain(values, also)
    known = {asked.name for asked in brief.asked}
    if unknown := [name for given in (values, *values_of.values()) for name in given if name not in known]:
        hint = msg("decide.value.hint", known=tuple(sorted(known))) if known else msg("decide.value.hint-2")
        raise BadInput(Problem(msg("decide.value"), key="--value", seen=unknown[0], hint=hint))
    if notation_file:
        read_notation(read_text(notation_file, msg("file.notation")), str(notation_file))
    path = folder / SITE_FILE
    existing = read_text(path, msg("file.site")) if path.exists() else None
    before = read_site(existing, str(path)) if existing is not None else None
    domain = typed.domain.removesuffix(".")
    if before is not None and before.domain != domain:
        raise BadInput(Problem(msg("start.start", domain=before.domain), str(path), hint=msg("start.start.hint")))
    base = before if before is not None else Site(domain, primary, "", route="advise")
    site = replace(
        base,
        primary=primary,
        brief=_beside(brief_file, folder),
        also=tuple(read_typed(each).domain.removesuffix(".") for each in also) or base.also,
        notation=_beside(notation_file, folder) if notation_file else base.notation,
        values={**{name: text for name, text in base.values.items() if name in known}, **values},
        values_of=values_of or base.values_of,
    )
    late = late_values(brief)  # a builder assigns these only once it knows the domain
    given = site.values
    if lacking := [each for each in brief.asked if each.name not in late and not given.get(each.name, "").strip()]:
        raise BadInput(*(_lacking(brief, asked) for asked in lacking))
    wanted = work_out(site, brief)
    if page_text is not None:
        write_text(brief_file, page_text)
    write_text(path, write_site(site, existing, say(msg("site-file.heading"))))
    return Started(path, site, brief, wanted)


def brief_path(folder: Path, builder: str) -> Path:
    """Where a brief made from a page is written: named after the builder, beside one that someone wrote by hand."""
    word = re.sub(r"[^a-z0-9]+", "-", builder.lower()).strip("-").removeprefix("the-") or "builder"
    path = folder / f"{word}.brief.toml"
    if path.exists() and not read_text(path, "the brief").startswith(PAGE_MARK):
        return folder / f"{word}-page.brief.toml"
    return path


@dataclass(frozen=True, slots=True)
class Before:
    """The site that a folder already has for a domain. `words`: the text of its brief."""

    site: Site
    brief: Brief
    words: str

    def renewed(self, words: str) -> str:
        """A brief read from the page again, with what only the one before knew."""
        from homepath.core.page_reader.brief_text import renewed

        return renewed(words, self.words)


def before_in(folder: Path, domain: str) -> Before | None:
    """The site that a folder already has for this domain; None where it has none."""
    path = folder / SITE_FILE
    if not path.exists():
        return None
    site = read_site(read_text(path, msg("file.site")), str(path))
    if site.domain != domain:
        return None
    file = folder / site.brief
    return Before(site, load_brief(file), read_text(file, msg("file.brief")))


def default_primary(brief: Brief) -> str:
    """`www`, unless the brief has records for the domain itself alone."""
    return "apex" if (brief.apex or brief.apex_alias) and not (brief.www or brief.nameservers) else "www"


def _by_domain(values: Mapping[str, str], also: tuple[str, ...]) -> tuple[dict[str, str], dict[str, dict[str, str]]]:
    """The values for the whole site, and those given as `name@DOMAIN` for one of its further domains alone."""
    plain: dict[str, str] = {}
    single: dict[str, dict[str, str]] = {}
    known = [read_typed(each).domain.removesuffix(".") for each in also]
    for given, value in values.items():
        name, mark, domain = given.partition("@")
        if not mark:
            plain[name] = value
            continue
        if domain.strip().lower().removesuffix(".") not in known:
            hint = msg("start.by-domain.hint", known=tuple(known)) if known else msg("start.by-domain.hint-2")
            raise BadInput(Problem(msg("start.by-domain"), key="--value", seen=given, hint=hint))
        single.setdefault(domain.strip().lower().removesuffix("."), {})[name] = value
    return plain, single


def _lacking(brief: Brief, asked: ValueAsked) -> Problem:
    return Problem(
        msg("start.lacking", builder=brief.builder, ask=asked.ask),
        key=f"values.{asked.name}",
        hint=msg(
            "start.lacking.hint-2",
            name=asked.name,
            part=msg("start.lacking.hint", example=asked.example) if asked.example else "",
        ),
    )


def _beside(file: Path, folder: Path) -> str:
    return os.path.relpath(file, folder).replace(os.sep, "/")
