"""Writes docs/reference/forecast-check.md: what was forecast beside what real caches and practice resolvers gave.

Needs BIND and Unbound and a network namespace of its own: run it as `unshare -n sh -c 'ip link set lo up; ...'`.
It takes about two minutes, because real caches count real seconds.
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from collections.abc import Sequence
from pathlib import Path

HERE = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(HERE))
os.environ["PATH"] += ":/usr/sbin:/sbin"

from tests.practice.forecast_seen import (  # noqa: E402
    NAMES,
    PER_SECOND,
    TTL,
    Bucket,
    compare,
    practice_visits,
    unbound_expectation,
    unbound_visits,
)
from tests.real import servers  # noqa: E402

from homepath.core.model.forecast import Busy, Caches, Phase  # noqa: E402

servers.CACHES = tuple(f"127.0.53.{101 + at}" for at in range(6))
PAGE = HERE / "docs" / "reference" / "forecast-check.md"
ORDERS = {
    "replace": [Phase(0, "old", 1800), Phase(0, "new", 300)],
    "remove, add 10 min later": [Phase(0, "old", 1800), Phase(0, "nothing", 900), Phase(600, "new", 300)],
    "lower the TTL, wait 15 min, replace": [Phase(0, "old", 1800), Phase(0, "old", 300), Phase(900, "new", 300)],
}
HABITS = {
    "plain": (0, Caches((Busy(1.0, 12.0),))),
    "clamping": (5400, Caches((Busy(1.0, 12.0),), clamped=1.0, floor=5400)),
    "stale-serving": (0, Caches((Busy(1.0, 12.0),), stale=1.0)),
}


def table(buckets: Sequence[Bucket], unit: float, name: str) -> str:
    lines = [
        f"| {name} | visitors | new: forecast | seen | old: forecast | seen | nothing: forecast | seen |",
        "|---|---|---|---|---|---|---|---|",
    ]
    for each in buckets:
        shares = [f"{100 * share:.1f} %" for pair in zip(each.predicted, each.seen, strict=True) for share in pair]
        span = f"{each.begin / unit:g} to {each.end / unit:g}"
        lines.append(f"| {span} | {each.visitors} | {' | '.join(shares)} |")
    apart = [abs(a - b) for each in buckets for a, b in zip(each.seen, each.predicted, strict=True)]
    lines.append("")
    lines.append(f"Mean difference {100 * sum(apart) / len(apart):.2f} points, largest {100 * max(apart):.2f}.")
    return "\n".join(lines)


def real() -> str:
    phases, caches = unbound_expectation()
    visits: list[tuple[float, str]] = []
    rounds = 3
    for _ in range(rounds):
        with tempfile.TemporaryDirectory() as name, servers.running(Path(name), time.time()):
            visits += unbound_visits(Path(name), servers.CACHES, TTL + 2.0)
    buckets = compare(visits, phases, caches, [float(at) for at in range(TTL + 2)])
    return (
        f"{len(servers.CACHES)} Unbound caches in front of BIND, {NAMES} names in each, TTL {TTL} s,\neach name asked "
        f"{PER_SECOND:g} times a second at random moments;\nall names are changed by one signed update at second 0. "
        f"{rounds} runs together. Unbound counts\nwhole seconds, so a copy lives up to a second more or less.\n\n"
        f"{table(buckets, 1, 'seconds')}"
    )


def practice() -> str:
    parts = []
    for habit, (limit, caches) in HABITS.items():
        for title, phases in ORDERS.items():
            visits = practice_visits(phases, 12.0, habit, limit, 4000, 4800)
            buckets = compare(visits, phases, caches, range(0, 4801, 600))
            parts.append(f"### {habit} resolvers: {title}\n\n{table(buckets, 60, 'minutes')}")
    return "\n\n".join(parts)


def main() -> None:
    text = f"""# The forecast, checked

Written by `scripts/check_forecast.py`; not edited by hand. Each visitor is one request; shares are those of the
visitors in each span of time.

## Real caches

{real()}

## Resolvers of the practice world

4000 resolvers of each habit, each asked 12 times an hour at random moments; old TTL 30 min, new TTL 5 min,
absence kept 15 min.

{practice()}
"""
    PAGE.write_text(text, encoding="utf-8")
    sys.stdout.write(f"{PAGE.relative_to(HERE)} written\n")


if __name__ == "__main__":
    main()
