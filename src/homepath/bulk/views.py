"""What is shown of a list: which domains, how they count, what those that broke have in common; the counts for a
monitoring system, in the open text format of the IETF draft; and its lines as a Parquet file."""

from __future__ import annotations

import os
from collections import Counter
from collections.abc import Collection, Iterable, Iterator, Mapping
from contextlib import suppress
from dataclasses import dataclass, field
from importlib import import_module
from itertools import chain, islice
from pathlib import Path
from typing import Any, get_args

from homepath.bulk.site_state import Change, Run
from homepath.bulk.state import State
from homepath.core.contracts.assessment import Json
from homepath.core.contracts.many import UNKNOWN, Verdict
from homepath.core.message import msg
from homepath.core.model.findings import LEVELS
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.steps import Stage
from homepath.core.model.times import from_rfc3339
from homepath.core.wording.words import STATES, state_of
from homepath.files import write_text

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


def write_metrics(path: Path, state: State, run: Run, now: float) -> None:
    """Domains by verdict, findings by code, what changed in this run and when it ended. The file is there whole or not
    at all. Raises BadInput where it cannot be written."""
    write_text(path, metrics_text(state, run, now))


def metrics_text(state: State, run: Run, now: float) -> str:
    counts = state.counts()
    findings = Counter((line["worst"]["code"], line["worst"]["level"]) for line in state.lines() if line["worst"])
    changed = sum(change.was is not None for change in state.changes.of(run=run.id))
    lines = ["# TYPE homepath_domains gauge"]
    lines += [f'homepath_domains{{verdict="{word}"}} {counts.get(word, 0)}' for word in get_args(Verdict)]
    lines.append("# TYPE homepath_domains_unchecked gauge")
    lines.append(f"homepath_domains_unchecked {state.never_checked()}")
    lines.append("# TYPE homepath_findings gauge")
    lines += [
        f'homepath_findings{{code="{_label(code)}",level="{_label(level)}"}} {count}'
        for (code, level), count in sorted(findings.items())
    ]
    lines.append("# TYPE homepath_changes gauge")
    lines.append(f"homepath_changes {changed}")
    lines.append("# TYPE homepath_run_end_seconds gauge")
    lines.append(f"homepath_run_end_seconds {now:.3f}")
    return "\n".join([*lines, "# EOF", ""])


def _label(text: object) -> str:
    """Quotes, backslashes and line breaks escaped (section 4.2 of the format); what comes from a damaged state too."""
    words = str(text).replace("\\", "\\\\").replace('"', '\\"')
    return words.replace("\n", "\\n")


AT_ONCE = 10_000
"""Rows in one group; memory holds one of them."""
_TEXTS = ("domain", "verdict", "stage", "do", "where", "host", "builder", "trouble")
_MOMENTS = ("wait_until", "since", "looked_at", "next_look")
_WORST = ("code", "level", "name", "type", "message", "cure")


def check_parquet(path: Path) -> None:
    """Raises BadInput where no Parquet file can be written."""
    _library()
    if path.is_dir():
        raise BadInput(Problem(msg("tables.check-parquet"), str(path), key="--parquet"))


def write_parquet(path: Path, lines: Iterable[dict[str, Any]]) -> None:
    """One row a domain; moments as UTC timestamps, the act as JSON text, the owner's columns as texts. The file is
    there whole or not at all."""
    import json

    arrow, parquet = _library(), import_module("pyarrow.parquet")
    moment = arrow.timestamp("s", tz="UTC")
    columns = [(name, arrow.string()) for name in _TEXTS]
    columns += [("act", arrow.string()), ("changed", arrow.bool_())]
    columns += [(f"worst_{name}", arrow.string()) for name in _WORST] + [(name, moment) for name in _MOMENTS]
    source = iter(lines)
    first = next(source, None)
    own = [name for name in (first or {"columns": {}})["columns"] if name not in {name for name, _ in columns}]
    schema = arrow.schema([*columns, *((name, arrow.string()) for name in own)])
    source = chain([first] if first else [], source)
    made = path.with_name(f".{path.name}.{os.getpid()}")
    try:
        with parquet.ParquetWriter(str(made), schema) as writer:
            while some := list(islice(source, AT_ONCE)):
                rows = [
                    {**_row(line), "act": json.dumps(line["act"]), **{name: line["columns"].get(name) for name in own}}
                    for line in some
                ]
                writer.write_table(arrow.Table.from_pylist(rows, schema=schema))
        made.replace(path)
    except OSError as error:
        raise BadInput(
            Problem(msg("tables.write-parquet", strerror=error.strerror or str(error)), str(path))
        ) from error
    finally:
        with suppress(OSError):
            made.unlink(missing_ok=True)


def _row(line: dict[str, Any]) -> dict[str, Any]:
    worst = line["worst"] or {}
    return {
        **{name: line.get(name) for name in _TEXTS},
        "changed": line["changed"],
        **{f"worst_{name}": worst.get(name) for name in _WORST},
        **{name: int(from_rfc3339(line[name])) if line.get(name) else None for name in _MOMENTS},
    }


def _library() -> Any:
    try:
        return import_module("pyarrow")
    except ImportError as error:
        hint = msg("install-cluster")
        raise BadInput(Problem(msg("tables.library"), key="--parquet", hint=hint)) from error
