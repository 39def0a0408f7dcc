"""Lines of many domains in words."""

from __future__ import annotations

from typing import Any

from homepath.core.dns.names import shown

STANDS = {"as-wanted": "arrived", "wrong": "to mend", "unknown": "unknown", "bad-input": "unusable"}
STANDS_ORDER = ("to mend", "unknown", "unusable", "to do", "waiting", "arrived")
"""Those that need a person first."""
NEEDS_A_PERSON = STANDS_ORDER[:4]
_WAITS = {
    "caches": "old answers are forgotten",
    "absence": "it is forgotten that nothing was there",
    "parent": "the new name servers are known everywhere",
    "certificate": "the padlock (certificate) comes",
    "builder": "the builder has seen it",
}


def stands(line: dict[str, Any]) -> str:
    """A word for where a domain stands."""
    act = line["act"] or {}
    return STANDS.get(line["verdict"], "waiting" if act.get("kind") == "wait" else "to do")


def what_next(line: dict[str, Any]) -> str:
    """The one thing that comes next, in few words, with its code last."""
    act = line["act"] or {}
    if line["trouble"]:
        return str(line["trouble"])
    if act.get("kind") == "wait":
        until = str(line["wait_until"]).replace("T", " ").removesuffix("Z")[:16]
        return f"Wait until {until} UTC: {_WAITS.get(act['for'], act['for'])}."
    if act.get("kind") == "tell-builder":  # the line names the domain already
        return f"Connect it at the builder, primary {shown(act['primary'])}."
    worst = line["worst"]
    code = f" ({worst['code']})" if worst and worst["level"] == "blocker" else ""
    if act.get("kind") == "none":
        return f"Nothing.{code}"
    return f"{line['do']}{code}"
