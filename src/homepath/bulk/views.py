"""Which domains of a list are shown, how they count, and what those have in common that broke together."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any, get_args

from homepath.bulk.changes import Change
from homepath.bulk.site_state import Run
from homepath.bulk.state import State
from homepath.core.contracts.assessment import Json
from homepath.core.contracts.many import UNKNOWN, Verdict
from homepath.core.message import msg
from homepath.core.model.findings import LEVELS
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.steps import Stage
from homepath.core.wording.words import STATES, state_of

STAGES = (*get_args(Stage), UNKNOWN)
KEYS = ("stage", "verdict", "level", "act", "finding", "host", "builder")
"""What domains can be chosen and counted by, besides the owner's own columns."""
_ONE_OF = {"stage": STAGES, "verdict": get_args(Verdict), "level": LEVELS}


def value_of(line: Mapping[str, Any], key: str) -> str:
    """What a line has under a key; "" for nothing."""
    worst, act = line["worst"] or {}, line["act"] or {}
    if key in ("level", "finding"):
        return str(worst.get("level" if key == "level" else "code") or "")
    if key == "act":
        return str(act.get("kind") or "")
    return str(line[key] if key in KEYS else line["columns"].get(key, ""))


@dataclass(frozen=True, slots=True)
class Filter:
    """Which lines are shown. `worst`: findings of this level or a worse one; `where`: keys, each with the
    values that fit, in lower case; `changed`: only what was not delivered yet."""

    only: tuple[str, ...] = ()
    worst: str | None = None
    changed: bool = False
    where: Mapping[str, Collection[str]] = field(default_factory=dict)

    def fits(self, line: Mapping[str, Any]) -> bool:
        """Whether a line is shown."""
        levels = LEVELS[: LEVELS.index(self.worst) + 1] if self.worst in LEVELS else LEVELS
        if self.only and line["stage"] not in self.only:
            return False
        if self.worst and (line["worst"] is None or line["worst"]["level"] not in levels):
            return False
        return all(value_of(line, key).lower() in values for key, values in self.where.items())

    def of(self, state: State, run: Run | None = None, upto: int = 0) -> Iterator[Json]:
        """The lines that are shown, in the list's order. `upto`: the newest change that is delivered now."""
        lines = state.undelivered(upto) if self.changed else state.lines(run)
        return (line for line in lines if self.fits(line))


def check_filter(only: Iterable[str], worst: str | None, changed: bool, where: Iterable[str]) -> Filter:
    """Raises BadInput for a stage or level that does not exist, and for a condition that is none."""
    problems = [_no_such("stage", "--only", each, STAGES) for each in only if each not in STAGES]
    if worst is not None and worst not in LEVELS:
        problems.append(_no_such("level", "--worst", worst, LEVELS))
    conditions: dict[str, set[str]] = {}
    for each in where:
        key, sign, value = (part.strip() for part in each.partition("="))
        if not sign or not key:
            problems.append(Problem(msg("views.no-condition"), key="--where", seen=each, hint=msg("views.condition")))
        elif key in _ONE_OF and value not in _ONE_OF[key]:
            problems.append(_no_such(key, "--where", each, _ONE_OF[key]))
        conditions.setdefault(key, set()).add(value.lower())
    if problems:
        raise BadInput(*problems)
    return Filter(tuple(only), worst, changed, conditions)


def check_level(level: str | None, option: str) -> None:
    """Raises BadInput for a level that does not exist."""
    if level is not None and level not in LEVELS:
        raise BadInput(_no_such("level", option, level, LEVELS))


def check_days(text: str) -> int:
    """The number of days in `30d` or `30`. Raises BadInput."""
    number = text.strip().lower().removesuffix("d")
    if not number.isdecimal() or not 1 <= int(number) <= 400:
        raise BadInput(Problem(msg("views.no-days"), key="--history", seen=text[:40], hint=msg("views.days")))
    return int(number)


def _no_such(what: str, option: str, seen: str, there: Iterable[str]) -> Problem:
    return Problem(msg(f"views.no-{what}"), key=option, seen=seen, hint=msg("views.one-of", words=tuple(there)))


def check_key(key: str, state: State) -> str:
    """A key to count by. Raises BadInput where no domain of the list has it."""
    own = next((tuple(line["columns"]) for line in state.lines()), ())
    if key not in (*KEYS, *own):
        raise BadInput(_no_such("key", "--by", key, (*KEYS, *own)))
    return key


@dataclass(slots=True)
class Group:
    """Domains with the same value: how many are in each state now, and how many were before this run."""

    value: str
    now: Counter[str] = field(default_factory=Counter)
    before: Counter[str] = field(default_factory=Counter)


def grouped(lines: Iterable[Mapping[str, Any]], changes: Iterable[Change], key: str) -> list[Group]:
    """The lines counted by a key, those with the most that is wrong first."""
    groups: dict[str, Group] = {}
    changed = {change.domain: change for change in changes}

    def group(value: str) -> Group:
        return groups.setdefault(value, Group(value))

    for line in lines:
        value, state = value_of(line, key), state_of(line["verdict"], (line["act"] or {}).get("kind"))
        group(value).now[state] += 1
        change = changed.get(line["domain"])
        if change is None:
            group(value).before[state] += 1
        elif change.was is not None:
            was = str(change.was.get(key) or "") if key in ("stage", "verdict", "level", "act", "finding") else value
            group(was).before[state_of(str(change.was.get("verdict")), change.was.get("act"))] += 1
    return sorted(groups.values(), key=lambda each: (*(-each.now[state] for state in STATES), each.value))
