"""Reading pasted pages: the time grows with the text and no faster, and a hostile megabyte ends soon."""

from __future__ import annotations

import contextlib
import random
import time

from homepath.core.model.problems import BadInput
from homepath.core.page_reader.judge import read_page


def _page(records: int, seed: int) -> str:
    """A page of so many records; another seed gives other names, so that nothing is remembered from run to run."""
    rows = [f"CNAME\tw{seed}n{at}\ttidewick{at}.bricklark.example\t1 hour" for at in range(records)]
    return "Please add these records:\nType\tHost\tValue\tTTL\n" + "\n".join(rows)


def _seconds(text: str) -> float:
    begins = time.perf_counter()
    with contextlib.suppress(BadInput):
        read_page(text)
    return time.perf_counter() - begins


def hostile(size: int = 1_000_000) -> dict[str, str]:
    """Texts of one megabyte, or of the 100,000 characters that a page may have, each against another part of the
    reader."""
    dice = random.Random(4471)
    return {
        "rows": ("A @ 192.0.2.1\n" * (size // 14)),
        "one line": "A " * (size // 2),
        "spaces": (" " * 2400 + "a\n") * (size // 2402),
        "equals": ("a=b " * 600 + "\n") * (size // 2401),
        "values on a line": ("from 192.0.2.1 to 192.0.2.2 " * 85 + "\n") * 39,
        "a word without an end": ("maindomain" * 240 + "\n") * 39,
        "nested JSON": "[" * (size // 2) + "]" * (size // 2),
        "nested HTML": "<div>" * (size // 11) + "x" + "</div>" * (size // 11),
        "a table": "<table>" + "<tr><td>A</td><td>@</td><td>192.0.2.1</td></tr>" * (size // 50) + "</table>",
        "brackets of a zone": "a IN TXT (\n" * (size // 11),
        "words": ("delete the following current records and add these: " * 40 + "\n") * (size // 2100),
        "noise": "".join(dice.choice("A CNAME TXT @ www.:\t|,192.0.2.1-=\"'<>{}\n") for _ in range(size)),
    }


def report() -> None:
    """The figures, each beside what it may be."""
    _seconds(_page(20, 0))
    once, twice = sorted((_seconds(_page(400, seed)), _seconds(_page(800, seed + 50))) for seed in range(1, 6))[2]
    print(f"reading pages      800 records against 400: {twice / once:.2f} times as long (2.0 is linear; at most 2.4)")
    worst = max(((_seconds(text)), name) for name, text in hostile().items())
    print(f"reading pages      1 MB of hostile text, the worst of twelve ({worst[1]}): {worst[0]:.2f} s (at most 2 s)")


if __name__ == "__main__":
    report()
