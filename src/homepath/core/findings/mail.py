"""Findings about mail and all else that must survive whatever the website does: the guard's are here too."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from fnmatch import fnmatch
from itertools import combinations

from homepath.core.dns.names import relative
from homepath.core.dns.policies import POLICIES, exclude, policy
from homepath.core.dns.records import RecordSet
from homepath.core.dns.values import meaning, target
from homepath.core.findings.kind import Kind, Rule, Sighting
from homepath.core.message import msg
from homepath.core.model.evidence import new_side_zone
from homepath.core.site.case import Case
from homepath.core.site.zone_facts import former_addresses, handed_over, spf_without_website

KINDS = (
    Kind("kept-record-gone", "blocker", "the journal", fixed_by="put-back"),
    Kind("kept-record-changed", "blocker", "the journal", fixed_by="put-back"),
    Kind(
        "mail-at-cname-name", "blocker", "RFC 2181 section 10.3, RFC 1034 section 3.6.2", clash=True, offers=("drop",)
    ),
    Kind("mail-left-behind", "blocker", "RFC 5321 section 5.1", about_domain=True, said_by="carry"),
    Kind("spf-follows-website", "risk", "RFC 7208 sections 5.3, 5.4", fixed_by="enter"),
    Kind("spf-twice", "risk", "RFC 7208 section 3.2", fixed_by="enter", faulty=True, about_domain=True),
    Kind(
        "policy-twice",
        "risk",
        "RFC 7489 section 6.6.3, RFC 8461 section 3.1, RFC 8460 section 3",
        said_by="put-back",
        faulty=True,
        about_domain=True,
    ),
    Kind("null-mx-not-alone", "risk", "RFC 7505 section 3", said_by="put-back", faulty=True, about_domain=True),
    Kind("reserved-name", "blocker", "the builder's brief", formerly="mail-name-as-redirect", place="here"),
)


def _mail_at_cname_name(case: Case) -> Iterator[Sighting]:
    for want in case.wanted.wants:
        if want.record.type != "CNAME":
            continue
        name = want.record.name
        if case.zone.get(name, "MX"):
            yield Sighting(
                name,
                "MX",
                msg("mail-at-cname-name", name=name),
                msg("mail-at-cname-name.cure", relative=relative(name, case.domain)),
            )
        for mx in (each for each in case.zone if each.type == "MX" and each.name != name):
            if any(target("MX", value) == name for value in mx.values):
                yield Sighting(
                    mx.name,
                    "MX",
                    msg("mail-at-cname-name-2", name=mx.name, name2=name),
                    msg("mail-at-cname-name.cure-2", name=name),
                )


def _mail_left_behind(case: Case) -> Iterator[Sighting]:
    """Mail that follows an address which the website is about to take."""
    for name in (*case.wanted.web_names, *case.wanted.forwarded):
        former = former_addresses(case, name)
        if not former:
            continue
        for mx in (each for each in case.zone if each.type == "MX"):
            if any(target("MX", value) == name for value in mx.values):
                yield Sighting(
                    mx.name,
                    "MX",
                    msg("mail-left-behind", name=mx.name, name2=name),
                    msg("mail-left-behind.cure", values=former),
                )
    if case.wanted.hand_over and not handed_over(case) and _left_to_copy(case):
        yield Sighting(case.domain, "MX", msg("mail-left-behind-2"), msg("mail-left-behind.cure-2"), "risk")


def _left_to_copy(case: Case) -> bool:
    """Whether the new nameservers lack record sets of a domain with mail, as far as they were asked."""
    there = new_side_zone(case.domain, case.history)
    mail = [each for each in case.zone if "mail" in case.purpose(each)[0]]
    return any(each.type == "MX" for each in mail) and any(there.get(*each.key) is None for each in mail)


def _spf_follows_website(case: Case) -> Iterator[Sighting]:
    for record in case.zone:
        for value in record.values if record.type == "TXT" else ():
            text = spf_without_website(case, record.name, value)
            if text is not None:
                yield Sighting(
                    record.name,
                    "TXT",
                    msg("spf-follows-website", name=record.name),
                    msg("spf-follows-website.cure", text=text),
                )


def _texts_of(record: RecordSet) -> Counter[str]:
    """How many texts of each policy a set has; of each there may be one."""
    found = (policy(meaning("TXT", value)) for value in record.values if record.type == "TXT")
    return Counter(each for each in found if each is not None)


def _spf_twice(case: Case) -> Iterator[Sighting]:
    for record in case.zone:
        if (count := _texts_of(record)["v=spf1"]) > 1:
            said = msg("spf-twice", name=record.name, count_policies=count)
            yield Sighting(record.name, "TXT", said, msg("spf-twice.cure"))


def _policy_twice(case: Case) -> Iterator[Sighting]:
    for record in case.zone:
        for version, count in _texts_of(record).items():
            if count > 1 and version != "v=spf1":
                what = POLICIES[version]
                said = msg("policy-twice", name=record.name, count_policies=count, policy=what)
                yield Sighting(record.name, "TXT", said, msg("policy-twice.cure", policy=what))


def _null_mx_not_alone(case: Case) -> Iterator[Sighting]:
    for record in case.zone:
        if record.type == "MX" and any(exclude("MX", *pair) for pair in combinations(record.values, 2)):
            said = msg("null-mx-not-alone", name=record.name)
            yield Sighting(record.name, "MX", said, msg("null-mx-not-alone.cure"))


def _reserved_name(case: Case) -> Iterator[Sighting]:
    for name in case.wanted.names:
        label = relative(name, case.domain)
        reserved = next((each for each in case.wanted.reserved if fnmatch(label, each.pattern)), None)
        if reserved:
            why = f": {reserved.reason.rstrip('.')}." if reserved.reason else "."
            yield Sighting(
                name,
                "",
                msg("reserved-name", builder=case.wanted.builder, name=name, why=why),
                msg("reserved-name.cure"),
            )


RULES = (
    Rule("mail-at-cname-name", _mail_at_cname_name),
    Rule("mail-left-behind", _mail_left_behind),
    Rule("spf-follows-website", _spf_follows_website),
    Rule("spf-twice", _spf_twice),
    Rule("policy-twice", _policy_twice),
    Rule("null-mx-not-alone", _null_mx_not_alone),
    Rule("reserved-name", _reserved_name),
)
