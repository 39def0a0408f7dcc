"""Words shared by screens and contracts: acts, places, stages, troubles, counts."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from homepath.core.dns.names import shown
from homepath.core.message import Text, msg
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
from homepath.core.wording.say import say
from homepath.core.wording.times import anded, clock_words, sentence_start

STATES = {
    "wrong": "to fix",
    "unknown": "unknown",
    "bad-input": "unusable",
    "not-yet": "to do",
    "waiting": "waiting",
    "as-wanted": "arrived",
}
"""The states of a domain in a list, with their words; those that need a person first."""
STATE_ORDER = tuple(STATES.values())
NEEDS_A_PERSON = STATE_ORDER[:4]
_WAITS = {
    "caches": "old records expire from caches",
    "absence": "caches forget that there was no record",
    "parent": "all resolvers use the new nameservers",
    "certificate": "the certificate arrives",
    "builder": "the builder checks it",
}


def state_of(verdict: str, act: str | None) -> str:
    """The state of a domain: its verdict, and `waiting` where only a wait is left now."""
    return "waiting" if verdict == "not-yet" and act == "wait" else verdict


def state_word(line: dict[str, Any]) -> str:
    """A word for the state of a domain."""
    return STATES[state_of(line["verdict"], (line["act"] or {}).get("kind"))]


def what_next(line: dict[str, Any]) -> str:
    """The one thing that comes next, in few words, with its code last."""
    act = line["act"] or {}
    if line["trouble"]:
        return sentence_start(str(line["trouble"]))
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


def cause_words(code: str, at: str, unchecked: str) -> str:
    """What several domains have in common that broke together. `unchecked`: why they could not be checked."""
    what = unchecked or f"{say(msg(f'{code}.means')).removesuffix('.')} ({code})"
    return f"{at}: {what}" if at else what


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


TITLES = {"blocker": "In the way", "risk": "To fix", "note": "Worth knowing"}


def by_cause(findings: Sequence[Finding]) -> list[tuple[str, list[Finding]]]:
    """One cause is one sentence, for all names that show it."""
    groups: dict[tuple[str, Text], list[Finding]] = {}
    for finding in findings:
        groups.setdefault((finding.code, finding.cure), []).append(finding)
    return [(code, group) for (code, _), group in groups.items()]


def sentence_of(group: Sequence[Finding]) -> str:
    """What was seen, and the other names where the same was."""
    first, *more = group
    names = [shown(finding.name) for finding in more if finding.name != first.name]
    return say(first.message) + (f" The same at {' and '.join(dict.fromkeys(names))}." if names else "")


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
    "there": "Nothing: every address ends at your site.",
    "back": "Nothing: all records are as before.",
    "away": "Nothing: no record points to the builder any more.",
}


STALE = 86400.0
"""Seconds after which a visit no longer says that the site is up now: it only was."""


def site_words(found: Assessment) -> str:
    """Whether the site is up, in one sentence; empty where it is being taken back or left."""
    url = found.primary_url
    if found.going != "there":
        return ""
    if found.site_up and found.visited_at is not None and found.at - found.visited_at > STALE:
        return f"Your site was up at {url} when it was last visited, on {clock_words(found.visited_at)}."
    if found.site_up:
        since = next((each.since for each in found.steps if each.kind == "visit" and each.state == "done"), None)
        return f"Your site is up at {url}" + (f" since {clock_words(since)}." if since is not None else "")
    if found.site_up is None:
        return f"Whether your site is up at {url} is not known yet."
    down = f"Your site is down: visitors do not reach it at {url}"
    return down if found.had_arrived else f"Your site is not up yet at {url}"


def about(assessment: Assessment, command: str) -> str:
    """The command for the domain of the site that the act is about."""
    return f"{command} --domain {shown(assessment.further)}" if assessment.further else command


def sentence(assessment: Assessment) -> str:
    """The one thing to do now."""
    match assessment.act:
        case Nothing():
            return ENDS[assessment.going]
        case Enter(where=place):
            at = "the new nameservers" if place == "new DNS host" else "the DNS host"
            return f"At {at}, {to_enter(*assessment.act.counts)}: {about(assessment, 'homepath sheet')}"
        case TellBuilder(names, primary):
            listed = anded(shown(name) for name in names)
            main = f", and make {shown(primary)} the primary address" if len(names) > 1 else ""
            return f"In the settings of your site, connect {listed}{main}."
        case CheckAgain():
            return "Press the builder's check button once."
        case PublishAgain():
            return "Publish the site again."
        case HttpsOnly():
            return 'Turn on "HTTPS only".'
        case NameServers(servers):
            exactly = ", ".join(map(shown, servers))
            return f"At the registrar, replace all nameservers with exactly these: {exactly}."
        case RemoveDs():
            return "At the registrar, remove the DS record (turn DNSSEC off)."
        case AddDs(values):
            return f"At the registrar, enter as DS: {'; '.join(values)}"
        case Forward(name, to):
            return f"In the DNS host's forwarding page, forward {shown(name)} to {to}"
        case BuilderStep(title, instruction, _):
            return say(title) if title == instruction else f"{say(title).removesuffix('.')}. {say(instruction)}"
        case Wait():
            return "Wait. There is nothing to do."
        case Decide(question, _):
            return say(question)


UNNAMED_BUILDER = "the builder"
"""The name of a builder that was given none."""


def only_confirmed(act: Act) -> bool:
    """Whether no check can show that an act was done, so that the person has to say so."""
    if isinstance(act, BuilderStep):
        return not act.seen
    return isinstance(act, TellBuilder | CheckAgain | PublishAgain)


def to_enter(delete: int, add: int, retimed: int = 0) -> str:
    """`delete 2 records and add 4`: what a person does. `retimed`: how many get another TTL only."""
    counts = (("delete", delete), ("add", add), ("change only the TTL of", retimed))
    deeds = [f"{verb} {count}" for verb, count in counts if count]
    first = next((count for _, count in counts if count), 0)
    deeds[0] += f" record{'s' * (first != 1)}"
    return anded(deeds)
