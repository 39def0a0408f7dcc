"""Which stage a domain is at: the first line of the table whose condition holds."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from homepath.core.model.findings import Finding
from homepath.core.model.path import Next, Stage
from homepath.core.model.plan import Place, Plan
from homepath.core.model.readings import Spread
from homepath.core.model.visits import Visit


@dataclass(frozen=True, slots=True)
class View:
    """All that was looked at. `builder_knows`: None where nobody could tell. `visit`: None where it was too early."""

    plan: Plan
    builder: str
    spread: Spread
    builder_knows: bool | None
    visit: Visit | None


@dataclass(frozen=True, slots=True)
class _Line:
    stage: Stage
    where: Place
    holds: Callable[[View], bool]
    do: Callable[[View], str]
    because: Callable[[View], tuple[Finding, ...]]
    until: Callable[[View], float | None] = lambda view: None


def _plan_findings(view: View) -> tuple[Finding, ...]:
    return tuple(finding for finding in view.plan.findings if finding.level != "note")


def _wrong(view: View) -> bool:
    return view.spread.verdict in ("entered-wrong", "split") and bool(view.plan.work)


def _mend_words(view: View) -> str:
    cures = [f.cure for f in (*view.spread.findings, *view.plan.findings) if f.code in _TYPING]
    return cures[0] if cures else "Compare what was entered with `homepath sheet` and correct it."


_TYPING = ("near-miss", "target-unfinished", "name-doubled", "address-set-incomplete", "address-elsewhere")


def _visit_findings(view: View) -> tuple[Finding, ...]:
    return view.visit.findings if view.visit else ()


def _web_words(view: View) -> str:
    found = [finding for finding in _visit_findings(view) if finding.level != "note"]
    return f"{found[0].message} {found[0].cure}" if found else "Run `homepath visit` and look at the ways that fail."


def _secure_words(view: View) -> str:
    """What the builder most likely waits for, where that is something to do; else only to wait."""
    likely = view.visit.may_wait_for[:1] if view.visit else ()
    if likely and likely[0].until is None:
        return f"{likely[0].what} {likely[0].do}"
    return f"Wait: {view.builder} still has to look at the records and get the certificate."


TABLE: tuple[_Line, ...] = (
    _Line(
        "decide",
        "DNS host",
        lambda view: bool(view.plan.blockers),
        lambda view: view.plan.blockers[0].cure,
        lambda view: view.plan.blockers,
    ),
    _Line("mend", "DNS host", _wrong, _mend_words, lambda view: view.spread.findings or _plan_findings(view)),
    _Line(
        "claim",
        "builder",
        lambda view: bool(view.plan.work) and view.builder_knows is False,
        lambda view: f"Connect the domain in {view.builder}'s settings. Its first check fails; that is normal.",
        lambda view: (),
    ),
    _Line(
        "enter",
        "registrar",
        lambda view: bool(view.plan.work) and view.plan.route == "nameservers",
        lambda view: (
            "Enter the builder's name servers at the registrar; `homepath plan` has the steps before and after."
        ),
        _plan_findings,
    ),
    _Line(
        "enter",
        "DNS host",
        lambda view: bool(view.plan.work),
        lambda view: "Enter the records: `homepath sheet` shows what to type, `homepath send` sends it.",
        _plan_findings,
    ),
    _Line(
        "mend",
        "DNS host",
        lambda view: view.spread.verdict == "split",
        lambda view: "The DNS host's servers disagree. Wait a few minutes; if it stays so, tell the DNS host.",
        lambda view: view.spread.findings,
    ),
    _Line(
        "look",
        "here",
        lambda view: view.spread.verdict in ("unknown", "entered-wrong", "not-entered"),
        lambda view: (
            "Look again: what the servers said does not fit together yet. `homepath survey`, then `homepath next`."
        ),
        lambda view: view.spread.findings,
    ),
    _Line(
        "web",
        "builder",
        lambda view: view.visit is not None and view.visit.verdict == "broken",
        _web_words,
        _visit_findings,
    ),
    _Line(
        "spread",
        "here",
        lambda view: view.spread.verdict == "spreading",
        lambda view: "Wait: everything is entered rightly, caches are letting go of the old answers.",
        lambda view: view.spread.findings,
        lambda view: view.spread.settled_by,
    ),
    _Line(
        "secure",
        "here",
        lambda view: view.visit is not None and view.visit.verdict == "waiting",
        _secure_words,
        _visit_findings,
        lambda view: view.visit.wait_until if view.visit else None,
    ),
    _Line(
        "arrived",
        "here",
        lambda view: view.visit is not None and view.visit.verdict == "arrived",
        lambda view: "Nothing: the site answers at its primary address, every way in leads there.",
        _visit_findings,
    ),
    _Line(
        "look",
        "here",
        lambda view: True,
        lambda view: "Run `homepath visit`: DNS is right, and the web was not looked at yet.",
        lambda view: (),
    ),
)


def place_on_path(view: View) -> Next:
    """The next thing to do."""
    line = next(line for line in TABLE if line.holds(view))
    because = tuple(dict.fromkeys(line.because(view)))
    return Next(view.plan.domain, line.stage, line.do(view), line.where, line.until(view), because)
