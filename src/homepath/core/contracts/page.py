"""`homepath.page/1`: a builder's page as it was read."""

from __future__ import annotations

from homepath.core.contracts.assessment import Json
from homepath.core.page_reader.brief_text import BriefText
from homepath.core.page_reader.page import Page, PastedRecord, reason_of
from homepath.core.wording.say import say


def page_json(page: Page, found: BriefText | None) -> Json:
    """Every record with its lines and the part of the brief that it became; every line with what it was read as."""
    rows = {id(row.record): row for row in found.rows} if found else {}
    taken = [row.record for row in found.rows] if found else list(page.records)
    doubts = found.doubts if found else ()
    return {
        "format": "homepath.page/1",
        "verdict": "nothing" if not page.items else "doubtful" if doubts or page.others else "read",
        "records": [_record(each, rows[id(each)].part if id(each) in rows else "") for each in taken],
        "nameservers": [
            {"name": f"{each.name}.", "line": each.line, "option": each.option} for each in page.wanted_servers
        ],
        "not_wanted": [{**_record(each, ""), "said": each.mood} for each in page.away],
        "others": [{**_record(each, ""), "why": each.why, "said": say(reason_of(each))} for each in page.others],
        "table": [
            {
                "number": item.number,
                "bin": item.bin,
                "type": item.record.type,
                "host": item.record.host,
                "value": item.record.value,
                "lines": sorted(set(item.record.lines)),
            }
            for item in page.items
        ],
        "primary": page.primary,
        "own_domains": list(page.own),
        "values": found.values if found else {},
        "options": list(found.options) if found else [],
        "doubts": [say(each) for each in doubts],
        "notes": [say(each) for each in (found.notes if found else page.notes)],
        "lines": [{"line": each.number, "as": each.use, "text": each.text} for each in page.lines],
        "brief": found.text if found else None,
    }


def _record(each: PastedRecord, part: str) -> Json:
    return {
        "type": each.type,
        "host": each.host,
        "value": each.value,
        "ttl": each.ttl,
        "optional": each.mood == "optional",
        "option": each.option,
        "part": part,
        "lines": sorted(set(each.lines)),
    }
