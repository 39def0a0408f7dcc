"""The journal: one SQLite file beside the site file.

`looks` holds each check in a format of the journal's own, `heard` every answer of a watch, `contents` what the
authoritative servers returned over time, `verdicts` each change of a verdict, `changes` what was sent.

Its size is bounded: see `MOST_HEARD`, `MOST_VALUES` and `MOST_CONTENTS`. Verdict changes, changes and the lines of
looks are kept for good; they are short.
"""

from __future__ import annotations

import json
import sqlite3
from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Any, TypeVar, cast

from homepath.core.dns.names import Name
from homepath.core.dns.records import Key, RecordSet
from homepath.core.message import Message, msg, reason
from homepath.core.model.acts import SendState, Update
from homepath.core.model.evidence import Content, Observation, Source, VerdictChange
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.steps import Step
from homepath.core.model.survey import Role
from homepath.journal.schema import FILE, connected, transaction
from homepath.journal.storage import (
    NewerShape,
    answer_from,
    answer_text,
    content,
    key_of,
    moment,
    one_of,
    restored,
    stored,
    text_of,
    update,
    verdict,
)

__all__ = ["FILE", "Entry", "Journal", "VerdictChange", "open_journal"]

T = TypeVar("T")

MOST_HEARD = 100_000
"""Answers kept, the newest; about 30 MB."""
MOST_READ = 20_000
"""Answers read back at once."""
MOST_VALUES = 500
"""Checks of one kind that are kept whole; older ones keep their line."""
MOST_OF = {"compare": 20}
"""Kinds of checks that are larger, of which fewer are kept whole."""
MOST_BAD = 20
"""Checks that cannot be read, after which no earlier one is tried."""
MOST_CONTENTS = 1000
"""Contents kept of one record set: the first, and the newest."""


@dataclass(frozen=True, slots=True)
class Entry:
    """One line of the log."""

    at: float
    kind: str
    domain: Name
    words: str


class Journal:
    """Opened for one command. Each write is one transaction; two commands at once wait for each other."""

    def __init__(self, connection: sqlite3.Connection) -> None:
        self._db = connection
        self.left_out: list[Message] = []
        """Rows that could not be read and do not count."""
        self._writes: Counter[str] = Counter()
        self._others = 0
        self._kept: dict[tuple[Name, str], tuple[int, object]] = {}

    @contextmanager
    def _writing(self, subject: str) -> Iterator[None]:
        """One transaction, after which what was kept of the subject is read again."""
        self._writes[subject] += 1
        with transaction(self._db):
            yield

    def kept(self, domain: Name, subject: str, read: Callable[[], T]) -> T:
        """What `read` returns, read again only after a write of the subject. A subject is a kind of check, of which the
        last value is kept, or a table; empty: all of them, the writes of other commands included."""
        writes = self._writes[subject]
        if not subject:
            writes = self._writes.total()
            others = int(self._db.execute("pragma data_version").fetchone()[0])
            if others != self._others:
                self._others = others
                self._kept.clear()
        before, known = self._kept.get((domain, subject), (-1, None))
        if before != writes:
            known = read()
            self._kept[domain, subject] = writes, known
        return cast(T, known)

    def _sound(self, row_kind: str, rows: Iterable[Sequence[Any]], make: Callable[..., T]) -> list[T]:
        """The one place where rows are read: whatever one holds, it never stops a command; it is named and left out."""
        found = []
        for row in rows:
            try:
                found.append(make(*row))
            except NewerShape:
                raise
            except (ValueError, TypeError, LookupError, AttributeError, ArithmeticError, RecursionError) as error:
                self.left_out.append(msg("journal.left-out", row=row_kind, why=reason(error)))
        return found

    def record_check(self, at: float, kind: str, domain: Name, words: str, value: object) -> None:
        """Keep a check: one line of words for the log, and the value itself."""
        with self._writing(kind):
            self._add_check(at, kind, domain, words, value)
        self._kept[domain, kind] = self._writes[kind], value  # what would be read is the same

    def record_watch(
        self,
        at: float,
        domain: Name,
        verdict: str,
        value: object,
        observed: Sequence[Observation],
        verdicts: Iterable[VerdictChange],
    ) -> None:
        """Keep a check of `watch` whole: its value, every answer, and the verdicts that differ from before."""
        rows = [
            (each.answer.at, domain, *each.key, each.vantage, each.role, answer_text(each.answer)) for each in observed
        ]
        with self._writing("watch"):
            self._add_check(at, "watch", domain, verdict, value)
            self._db.executemany(
                "insert into heard (at, domain, name, type, vantage, role, answer) values (?, ?, ?, ?, ?, ?, ?)", rows
            )
            self._db.execute("delete from heard where id <= (select max(id) from heard) - ?", (MOST_HEARD,))
            for each in verdicts:
                last = self.last_verdict(domain, each.key)
                if last is None or last.verdict != each.verdict:
                    self._db.execute(
                        "insert into verdicts (at, domain, name, type, verdict, settled_by) values (?, ?, ?, ?, ?, ?)",
                        (each.at, domain, *each.key, each.verdict, each.settled_by),
                    )
        self._kept[domain, "watch"] = self._writes["watch"], value

    def _add_check(self, at: float, kind: str, domain: Name, words: str, value: object) -> None:
        self._db.execute(
            "insert into looks (at, kind, domain, verdict, body, stored) values (?, ?, ?, ?, '{}', ?)",
            (at, kind, domain, words, stored(value)),
        )
        self._db.execute(
            "update looks set stored = '', body = '{}' where kind = ? and domain = ? and (stored != '' or body != '{}')"
            " and id not in (select id from looks where kind = ? and domain = ? order by id desc limit ?)",
            (kind, domain, kind, domain, MOST_OF.get(kind, MOST_VALUES)),
        )

    def last_check(self, kind: str, domain: Name, shape: type[T]) -> T | None:
        """The last check of a kind that still has its value. Raises BadInput for one that a newer version wrote."""
        return next(self._values(kind, domain, shape, f"order by id desc limit {MOST_BAD:d}"), None)

    def looks(self, kind: str, domain: Name, shape: type[T], most: int = MOST_VALUES) -> list[T]:
        """The newest checks of one kind that still have their value, oldest of them first."""
        return list(self._values(kind, domain, shape, f"order by id desc limit {most:d}"))[::-1]

    def _values(self, kind: str, domain: Name, shape: type[T], order: str) -> Iterator[T]:
        rows = self._db.execute(
            f"select stored from looks where kind = ? and domain = ? and stored != '' {order}",  # noqa: S608 - ours
            (kind, domain),
        )
        try:
            for row in rows.fetchall():
                yield from self._sound(kind, [row], lambda text: restored(shape, text))
        except NewerShape as error:
            raise BadInput(Problem(msg("journal.values", kind=kind), FILE, hint=msg("journal.values.hint"))) from error

    def was_checked(self, kind: str, domain: Name) -> bool:
        """Whether there was ever a check of this kind."""
        return (
            self._db.execute("select 1 from looks where kind = ? and domain = ?", (kind, domain)).fetchone() is not None
        )

    def last_change_of(self, kind: str, domain: Name) -> tuple[float | None, str]:
        """When the last check of a kind was made, and its line; None and nothing where there is none."""
        rows = self._db.execute(
            "select at, verdict from looks where kind = ? and domain = ? order by id desc limit 1", (kind, domain)
        )
        found = self._sound("log", rows.fetchall(), lambda at, words: (moment(at), text_of(words)))
        return found[0] if found else (None, "")

    def record_told(self, at: float, domain: Name, step: str) -> None:
        """Keep that the person said a step is done."""
        with self._writing("told"):
            self._db.execute("insert into told (at, domain, step) values (?, ?, ?)", (at, domain, step))
            self._add_check(at, "done", domain, step, {})

    def confirmed(self, domain: Name) -> dict[str, float]:
        """What the person said is done, by step id, with the last time they said so."""
        rows = self._db.execute("select step, max(at) from told where domain = ? group by step", (domain,))
        return dict(self._sound("done", rows.fetchall(), lambda step, at: (text_of(step), moment(at))))

    def record_steps(self, domain: Name, steps: Iterable[Step]) -> None:
        """Store the state of each step."""
        with self._writing("steps"):
            self._db.executemany(
                "insert or replace into steps (domain, id, stored) values (?, ?, ?)",
                [(domain, step.id, stored(step)) for step in steps],
            )

    def steps(self, domain: Name) -> tuple[Step, ...]:
        """The steps at the last assessment, in the order in which they first appeared."""
        rows = self._db.execute("select stored from steps where domain = ? order by rowid", (domain,))
        try:
            return tuple(self._sound("step", rows.fetchall(), lambda text: restored(Step, text)))
        except NewerShape:
            return ()

    def observed(self, domain: Name, since: float) -> list[Observation]:
        """Every answer from `since` on, oldest first; of very many the newest."""
        rows = self._db.execute(
            "select at, name, type, vantage, role, answer from (select * from heard where domain = ? and at >= ?"
            " order by id desc limit ?) order by id",
            (domain, since, MOST_READ),
        )
        return self._sound(
            "answer",
            rows.fetchall(),
            lambda at, name, rrtype, vantage, role, text: Observation(
                key_of(name, rrtype), text_of(vantage), cast(Role, one_of(role, Role)), answer_from(text, moment(at))
            ),
        )

    def last_verdict(self, domain: Name, key: Key) -> VerdictChange | None:
        row = self._db.execute(
            "select at, verdict, settled_by from verdicts where domain = ? and name = ? and type = ?"
            " order by id desc limit 1",
            (domain, *key),
        ).fetchone()
        return next(iter(self._sound("verdict", [row] if row else [], partial(verdict, key))), None)

    def verdict_changes(self, domain: Name) -> list[VerdictChange]:
        """Each verdict that differed from the one before it, oldest first."""
        rows = self._db.execute(
            "select at, name, type, verdict, settled_by from verdicts where domain = ? order by id", (domain,)
        )
        return self._sound(
            "verdict", rows.fetchall(), lambda at, name, rrtype, word, by: verdict(key_of(name, rrtype), at, word, by)
        )

    def record_contents(self, at: float, sets: Iterable[RecordSet], source: Source = "zone") -> None:
        """Note what the authoritative servers give; a set that has not changed only gets a later end. A survey lists
        only what is there: what the one before did not list starts again."""
        sets = list(sets)
        with self._writing("contents"):
            listed = self._last_listed(sets) if source == "survey" else float("-inf")
            newest = self._db.execute(
                'select name, type, max(id), last_at, "values", ttl, count(*) from contents where source = ?'
                " group by name, type",
                (source,),
            )
            before = {(name, rrtype): rest for name, rrtype, *rest in newest.fetchall()}
            same = []
            for record in sets:
                values = json.dumps(record.values)
                number, last_at, *last, count = before.get(record.key, (0, 0.0, 0))
                if last == [values, record.ttl] and last_at >= listed:
                    same.append((at, number))
                    continue
                row = self._db.execute(
                    'insert into contents (name, type, ttl, "values", first_at, last_at, source)'
                    " values (?, ?, ?, ?, ?, ?, ?)",
                    (*record.key, record.ttl, values, at, at, source),
                )
                before[record.key] = [row.lastrowid or 0, at, values, record.ttl, count + 1]
                if count >= MOST_CONTENTS:
                    self._db.execute(
                        "delete from contents where id in (select id from contents where name = ? and type = ? and"
                        " source = ? and id > (select min(id) from contents where name = ? and type = ? and source = ?)"
                        " order by id desc limit -1 offset ?)",
                        (*record.key, source, *record.key, source, MOST_CONTENTS - 1),
                    )
            self._db.executemany("update contents set last_at = max(last_at, ?) where id = ?", same)

    def _last_listed(self, sets: Sequence[RecordSet]) -> float:
        """When the last survey was that listed any of these."""
        keys = json.dumps([f"{name} {rrtype}" for name, rrtype in (record.key for record in sets)])
        (at,) = self._db.execute(
            "select max(last_at) from contents where source = 'survey'"
            " and name || ' ' || type in (select value from json_each(?))",
            (keys,),
        ).fetchone()
        return at if isinstance(at, float) else float("-inf")

    def all_stood_until(self, at: float, domain: Name) -> None:
        """Note that a short check at `at` found every record set as the last survey did."""
        with self._writing("contents"):
            self._db.execute(
                "update contents set last_at = max(last_at, ?) where last_at >="
                " (select max(at) from looks where kind = 'survey' and domain = ?)",
                (at, domain),
            )

    def contents(self, domain: Name) -> list[Content]:
        """The past of every record set of `domain`, oldest first."""
        rows = self._db.execute(
            'select name, type, ttl, "values", first_at, last_at, source from contents'
            " where name = ? or substr(name, -length(?)) = ? order by id",
            (domain, f".{domain}", f".{domain}"),
        )
        return self._sound("content", rows.fetchall(), content)

    def begin_change(self, at: float, domain: Name, words: str, body: dict[str, Any]) -> int:
        """Note an update before it goes out, with what is there now; the number by which it is completed."""
        with self._writing("changes"):
            row = self._db.execute(
                "insert into changes (at, domain, words, body, state) values (?, ?, ?, ?, 'about')",
                (at, domain, words, json.dumps(body)),
            )
        return int(row.lastrowid or 0)

    def complete_change(self, number: int, state: SendState, words: str = "") -> None:
        """Note what became of an update."""
        with self._writing("changes"):
            self._db.execute(
                "update changes set state = ?, words = case when ? = '' then words else words || ': ' || ? end"
                " where id = ?",
                (state, words, words, number),
            )

    def changes(self, domain: Name, *states: SendState) -> list[Update]:
        """The updates in one of these states, oldest first."""
        rows = self._db.execute(
            "select id, at, words, body, state from changes where domain = ? order by id", (domain,)
        )
        return [each for each in self._sound("update", rows.fetchall(), update) if each.state in states]

    def sent(self, domain: Name) -> tuple[float, ...]:
        """When updates were sent, as far as is known."""
        rows = self._db.execute(
            "select at from changes where domain = ? and state in ('sent', 'partly') order by at", (domain,)
        )
        return tuple(self._sound("update", rows.fetchall(), moment))

    def entries(self, domain: Name) -> list[Entry]:
        """Everything recorded, oldest first."""
        rows = self._db.execute(
            "select at, kind, domain, verdict from looks where domain = ?"
            " and kind not in ('hsts', 'job', 'whole', 'world', 'arrived') union all"
            " select at, 'send', domain, words || case state when 'about' then ' (no answer noted)'"
            " when 'unknown' then ' (no answer came)' when 'not-done' then ' (not carried out)' else '' end"
            " from changes where domain = ? order by at",
            (domain, domain),
        )
        return self._sound(
            "log", rows.fetchall(), lambda at, kind, name, words: Entry(moment(at), text_of(kind), name, text_of(words))
        )


@contextmanager
def open_journal(folder: Path) -> Iterator[Journal]:
    """The journal of `folder`, made when missing. Raises BadInput when it cannot be used."""
    with connected(folder) as connection:
        yield Journal(connection)
