"""`homepath.sheet/1`: what to type now, in the spelling of the form."""

from __future__ import annotations

from collections.abc import Iterable

from homepath.core.contracts.steps import Json
from homepath.core.dns.names import Name
from homepath.core.files.sheet import Job, Line
from homepath.core.model.times import moment
from homepath.core.wording.say import say


def sheet_json(domain: Name, host: str, where: str, jobs: Iterable[tuple[str, Job]], wait: float | None) -> Json:
    """`jobs` with the id of the step that each belongs to; `not_before`: until when not to type yet, Unix seconds."""
    return {
        "format": "homepath.sheet/1",
        "domain": domain,
        "host": host,
        "where": where,
        "not_before": moment(wait),
        "jobs": [
            {
                "step": step,
                "name": job.at,
                "title": say(job.title),
                "only_ttl": job.retimed,
                "delete": [_line(each) for each in job.deeds("delete")],
                "enter": [{**_line(each), "ttl": each.ttl} for each in job.deeds("enter")],
                "stays": list(job.stays),
            }
            for step, job in jobs
        ],
    }


def _line(line: Line) -> Json:
    """A record as the form wants it: name and value in its spelling."""
    return {"type": line.type, "name": line.name, "value": line.value}
