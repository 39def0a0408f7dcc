"""A brief read from a page again: the page says which records, and what only the brief before knew is kept."""

from __future__ import annotations

from typing import Any

_FROM_PAGE = ("format", "builder", "ownership", "further", "deletes", "routes", "values")


def renewed(text: str, before: str) -> str:
    """The new brief's text with everything of the old one that a page does not say: waits, steps, limits, redirects; a
    proof and nameservers too, where the page shows none."""
    import tomlkit

    new: Any = tomlkit.parse(text)
    old: Any = tomlkit.parse(before)
    for key, value in old.items():
        if key not in _FROM_PAGE and key not in new:
            new[key] = value
    if "ownership" not in new and "ownership" in old:
        new["ownership"] = old["ownership"]
    servers = old.get("routes", {}).get("nameservers")
    if servers is not None and "nameservers" not in new.get("routes", {}):
        new.setdefault("routes", tomlkit.table(is_super_table=True))["nameservers"] = servers
    for name, asked in old.get("values", {}).items():
        if name not in new.get("values", {}):
            new.setdefault("values", tomlkit.table(is_super_table=True))[name] = asked
    return tomlkit.dumps(new)
