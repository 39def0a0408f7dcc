"""The counts of a list for a monitoring system, in the open text format of the IETF draft
draft-richih-opsawg-openmetrics-00."""

from __future__ import annotations

from collections import Counter
from pathlib import Path
from typing import get_args

from homepath.bulk.site_state import Run
from homepath.bulk.state import State
from homepath.core.contracts.many import Verdict
from homepath.files import write_text


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
