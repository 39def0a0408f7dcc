"""Words shared by screens and contracts: acts, places, stages, troubles, counts."""

from __future__ import annotations

import re
from collections.abc import Sequence
from datetime import UTC, datetime
from typing import Any

from homepath.core.dns.names import Name, shown
from homepath.core.dns.trouble import Trouble, TroubleCause
from homepath.core.model.acts import (
    Act,
    AddDs,
    BuilderStep,
    CheckAgain,
    Decide,
    Enter,
    Forward,
    HttpsOnly,
    NameServers,
    Nothing,
    PublishAgain,
    RemoveDs,
    TellBuilder,
    Wait,
)
from homepath.core.model.findings import Finding
from homepath.core.model.plan import Place, Purpose
from homepath.core.model.steps import Assessment, Stage, StepKind
from homepath.core.model.times import bounded, lasting

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


def _utc(at: float) -> datetime:
    return datetime.fromtimestamp(bounded(at), UTC)


def clock_words(at: float) -> str:
    """Such as `Wed 4 Mar 10:00 UTC`."""
    return f"{_utc(at):%a} {_utc(at).day} {_utc(at):%b %H:%M} UTC"


def clock_time(at: float, now: float) -> str:
    """`14:20 UTC`, or `Tue 24 Nov 14:20 UTC` on another day."""
    return f"{_utc(at):%H:%M} UTC" if _utc(at).date() == _utc(now).date() else clock_words(at)


def until(at: float | None, now: float) -> str:
    """`until 14:20 UTC at the latest (in 35 min)`."""
    if at is None:
        return "no end is known"
    return f"until {clock_time(at, now)} at the latest (in {lasting(at - now)})"


def utc_words(at: float) -> str:
    """`2026-03-02 14:05 UTC`."""
    return f"{_utc(at):%Y-%m-%d %H:%M} UTC"


_WHAT: dict[Purpose, str] = {
    "website": "where {name} leads",
    "proof of ownership": "the proof{builder} that {name} is yours",
    "mail": "your mail at {name}",
    "mail authentication": "your mail at {name}",
    "certificates": "who may give certificates (padlocks) for {name}",
    "delegation": "who runs {name}",
    "other": "{name}",
}


HEADINGS: dict[Purpose, str] = {
    "website": "Website",
    "mail": "Your mail",
    "mail authentication": "Your mail (who may send)",
    "proof of ownership": "Verification records",
    "certificates": "Certificates",
    "delegation": "Nameservers",
    "other": "The rest",
}
"""Over the records of one purpose, in every list."""


def what_it_is_for(purpose: Purpose, name: Name, builder: str = "") -> str:
    """For the headline of a record set at `name`; `builder`: to whom a proof is given."""
    return _WHAT[purpose].format(name=shown(name), builder=f" to {builder}" if builder else "")


TITLES = {"blocker": "In the way", "risk": "To mend", "note": "Worth knowing"}


def by_cause(findings: Sequence[Finding]) -> list[tuple[str, list[Finding]]]:
    """One cause is said once, for all names that show it."""
    groups: dict[tuple[str, str], list[Finding]] = {}
    for finding in findings:
        groups.setdefault((finding.code, finding.cure), []).append(finding)
    return [(code, group) for (code, _), group in groups.items()]


def said(group: Sequence[Finding]) -> str:
    """What was seen, and the other names where the same was."""
    first, *more = group
    names = [shown(finding.name) for finding in more if finding.name != first.name]
    return first.message + (f" The same at {' and '.join(dict.fromkeys(names))}." if names else "")


_STAGES: dict[StepKind, Stage] = {
    "put-back": "mend",
    "mend": "mend",
    "decide": "decide",
    "claim": "claim",
    "take-back-hsts": "decide",
    "inventory": "decide",
    "compare": "look",
    "old-zone": "spread",
    "left": "look",
    "spread": "spread",
    "wait-ttl": "spread",
    "wait-ds": "spread",
    "check-again": "secure",
    "certificate": "secure",
    "https-only": "web",
    "visit": "web",
    "builder-step": "claim",
}


def stage(assessment: Assessment) -> Stage:
    """A word for the whole, for lists; the step says it exactly."""
    if assessment.step is None:
        return "arrived"
    found = _STAGES.get(assessment.step.kind, "enter")
    return "mend" if found == "enter" and assessment.blocked else found


def where(assessment: Assessment) -> Place:
    """Where the act is done."""
    return assessment.step.place if assessment.step and not isinstance(assessment.act, Wait) else "here"


ENDS = {
    "there": "Nothing: every address leads to your site.",
    "back": "Nothing: all of it is as it was before.",
    "away": "Nothing: no entry leads to the builder any more.",
}


def site_words(found: Assessment) -> str:
    """Whether the site is up, in one sentence; empty where it is being taken back or left."""
    url = found.primary_url
    if found.going != "there":
        return ""
    if found.site_up:
        return f"Your site is up at {url}"
    if found.site_up is None:
        return f"Whether your site is up at {url} is not known yet."
    arrived = any(each.kind == "visit" and each.state in ("done", "undone") for each in found.steps)
    return f"Your site is down: visitors do not reach it at {url}" if arrived else f"Your site is not up yet at {url}"


def sentence(assessment: Assessment) -> str:
    """The one thing to do now."""
    step = assessment.step
    match assessment.act:
        case Nothing():
            return ENDS[assessment.going]
        case Enter(delete, enter, place):
            verb = "Only the TTL changes: " if step and step.kind in ("lower-ttl", "raise-ttl") else ""
            at = "the new name servers" if place == "new DNS host" else "the DNS host"
            return f"{verb}At {at}, {counted(len(delete), 'delete')}, {counted(len(enter), 'type')}: homepath sheet"
        case TellBuilder(names, primary):
            listed = " and ".join(shown(name) for name in names)
            main = f", and make {shown(primary)} the main address" if len(names) > 1 else ""
            return f"In the settings of your site, connect {listed}{main}."
        case CheckAgain():
            return "Press the builder's check button once."
        case PublishAgain():
            return "Publish the site again."
        case HttpsOnly():
            return 'Switch on "HTTPS only".'
        case NameServers(servers):
            exactly = ", ".join(map(shown, servers))
            return f"At the registrar, replace all name servers by exactly these: {exactly}."
        case RemoveDs():
            return "At the registrar, take the DS record away (switch DNSSEC off)."
        case AddDs(values):
            return f"At the registrar, enter as DS: {'; '.join(values)}"
        case Forward(name, to):
            return f"In the DNS host's forwarding page, forward {shown(name)} to {to}"
        case BuilderStep(title, instruction):
            return title if title == instruction else f"{title.removesuffix('.')}. {instruction}"
        case Wait():
            return "Wait; nothing has to be done."
        case Decide(question, _):
            return question


def only_told(act: Act) -> bool:
    """Whether the doing of an act cannot be seen from outside, so that the person's word is asked for."""
    return isinstance(act, TellBuilder | CheckAgain | PublishAgain | BuilderStep)


SERVER_STATES = {
    "agrees": "agrees",
    "differs": "returns other answers",
    "behind": "returns other answers",
    "slow": "answers slowly",
    "holds": "holds the domain",
    "present": "is one of the present ones",
    "no-such-server": "does not exist",
    "silent": "does not answer",
    "refusing": "refuses to answer",
    "lame": "does not hold the domain",
    "recursive": "is not a nameserver of its own, but a resolver",
    "broken": "fails",
}
"""What a nameserver does, of every state that it can be in."""
_NUMBERS = {0: "no", 1: "one", 2: "two", 3: "three", 4: "four", 5: "five", 6: "six", 7: "seven", 8: "eight"}


def many(count: int, one: str, more: str) -> str:
    """`one entry`, `six entries`."""
    return f"{spelled(count)} {one if count == 1 else more}"


def sentence_start(text: str) -> str:
    """With a capital, unless the first word is a host name, a command or an option: those keep their spelling."""
    word = text.split(" ", 1)[0].rstrip(".,:;")
    return text[:1].upper() + text[1:] if re.fullmatch(r"[^\W\d_]+([-'][^\W\d_]+)*", word) else text


def spelled(count: int) -> str:
    """`six`; from nine on, `9`."""
    return _NUMBERS.get(count, str(count))


def counted(count: int, deed: str) -> str:
    """`two entries to delete`: what a person does."""
    return f"{many(count, 'entry', 'entries')} to {deed}"


_TROUBLES: dict[TroubleCause, str] = {
    "silent": "{who} does not answer",
    "refused": "{who} refuses to answer",
    "no-connection": "nobody listens at {who}",
    "connection-lost": "{who} broke the connection off",
    "off-limits": "{who} is an address that is never contacted",
    "not-dns": "{who} sends something that is no DNS answer",
    "failed": "{who} failed itself",
    "bogus": "{who} refuses the domain: its check of the signatures failed",
    "lame": "{who} does not hold the zone",
    "no-server": "no server of {who} answers",
    "no-address": "{who} has no address",
    "no-such-name": "{who} does not exist",
    "too-long": "{who} leads on and on",
    "goes-round": "the aliases from {who} lead round in a circle",
    "not-http": "{who} sends something that is no HTTP answer",
    "tls": "no secure connection to {who} could be made",
    "untrusted": "the certificate of {who} is not trusted",
    "too-large": "{who} sends too much",
    "unreadable": "what {who} sends cannot be read",
    "not-allowed": "{who} does not give it",
    "unsigned": "{who} answers without a signature",
    "no-time": "there was no time left to ask {who}",
    "unknown": "{who} could not be asked",
}


def trouble_words(trouble: Trouble) -> str:
    """A clause, such as `ns1.mossgate.example (203.0.113.53) does not answer`."""
    name = ("the root zone" if trouble.server == "." else shown(trouble.server)) if trouble.server else ""
    both = name and trouble.address and name != trouble.address
    who = f"{name} ({trouble.address})" if both else name or trouble.address or "it"
    said = f" ({trouble.said})" if trouble.said else ""
    each = "; ".join(trouble_words(because) for because in trouble.because)
    return _TROUBLES[trouble.cause].format(who=who) + said + (f": {each}" if each else "")
