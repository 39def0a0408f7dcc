"""Findings about mail, which must survive whatever the website does."""

from __future__ import annotations

from collections.abc import Iterator
from fnmatch import fnmatch

from homepath.core.dns.names import relative, shown
from homepath.core.dns.values import strings, target
from homepath.core.findings.kind import Kind, Rule, Sighting
from homepath.core.site.case import Case
from homepath.core.site.zone_facts import handed_over, spf_without_website

KINDS = (
    Kind(
        "mail-at-cname-name",
        "blocker",
        "RFC 2181 section 10.3, RFC 1034 section 3.6.2",
        "Mail depends on a name that is to become a CNAME.",
        "Mail is lost or refused from the moment of the change.",
        "Free the name of mail first.",
        clash=True,
        offers=("drop",),
    ),
    Kind(
        "mail-left-behind",
        "blocker",
        "RFC 5321 section 5.1",
        "Mail follows a name whose address the website takes, or a zone that is about to change hands.",
        "Mail is delivered to the builder's servers, which refuse it, or to nobody.",
        "Give mail a name and an address of its own first.",
        about_domain=True,
    ),
    Kind(
        "spf-follows-website",
        "risk",
        "RFC 7208 sections 5.3, 5.4",
        "An SPF text allows the website's own host to send mail, and the plan gives that host other addresses.",
        "Mail sent from the old addresses may be refused, and the builder's machines may send in the domain's name.",
        "Name today's addresses themselves (ip4, ip6) in place of the host.",
    ),
    Kind(
        "spf-twice",
        "risk",
        "RFC 7208 section 3.2",
        "A name has more than one SPF text.",
        "Receivers treat that as an error, and mail may be refused.",
        "Join them into one.",
    ),
    Kind(
        "reserved-name",
        "blocker",
        "the builder's brief",
        "The website is to have a name that the builder reserves for itself, such as one it uses for mail.",
        "The builder refuses the name after all records are entered.",
        "Choose another label.",
        formerly="mail-name-as-redirect",
        place="here",
    ),
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
                f"Mail is delivered to {shown(name)} (MX), and a CNAME there would switch it off.",
                "Move the mail addresses to the main domain, or choose another name for the website. If nobody writes "
                f'there, write into homepath.toml under [purposes]: "{relative(name, case.domain)} MX" = "website"',
            )
        for mx in (each for each in case.zone if each.type == "MX" and each.name != name):
            if any(target("MX", value) == name for value in mx.values):
                yield Sighting(
                    mx.name,
                    "MX",
                    f"Mail for {shown(mx.name)} goes to {shown(name)}, which is to become a CNAME.",
                    f"Give the mail server a name of its own and let the MX record point there, not to {shown(name)}.",
                )


def _mail_left_behind(case: Case) -> Iterator[Sighting]:
    """Mail that follows an address which the website is about to take."""
    for name in case.wanted.web_names:
        change = any(
            (want := case.wanted.get(name, rrtype)) and not want.met_by(case.zone.get(name, rrtype))
            for rrtype in ("A", "AAAA")
        )
        if not change or not (case.zone.get(name, "A") or case.zone.get(name, "AAAA")):
            continue
        for mx in (each for each in case.zone if each.type == "MX"):
            if any(target("MX", value) == name for value in mx.values):
                yield Sighting(
                    mx.name,
                    "MX",
                    f"Mail for {shown(mx.name)} is delivered to {shown(name)}, whose address is about to become the "
                    "builder's, and builders take no mail.",
                    f"Give the mail server a name of its own with its present address "
                    f"({', '.join(case.zone.values(name, 'A'))}) and let the MX record point there first.",
                )
    if case.wanted.hand_over and not handed_over(case) and any(each.type == "MX" for each in case.zone):
        yield Sighting(
            case.domain,
            "MX",
            "Mail is in use, and new name servers know nothing of it unless they are told.",
            "Before the switch, enter all mail records at the new name servers: MX, SPF, DKIM, DMARC, and the "
            "addresses of the mail servers.",
            "risk",
        )


def _spf_follows_website(case: Case) -> Iterator[Sighting]:
    for record in case.zone:
        for value in record.values if record.type == "TXT" else ():
            text = spf_without_website(case, record.name, value)
            if text is not None:
                yield Sighting(
                    record.name,
                    "TXT",
                    f"The SPF text at {shown(record.name)} names the website's own host, whose addresses change: "
                    "whoever sends mail from the old ones would no longer be allowed, and the builder would be.",
                    f"Before the change, replace that text by: {text}",
                )


def _spf_twice(case: Case) -> Iterator[Sighting]:
    for record in case.zone:
        if record.type != "TXT":
            continue
        policies = [v for v in record.values if "".join(strings(v)).lower().split(" ")[0] == "v=spf1"]
        if len(policies) > 1:
            yield Sighting(
                record.name,
                "TXT",
                f"{shown(record.name)} has {len(policies)} SPF texts; mail servers then ignore them all.",
                "Join them into one text that names every sender.",
            )


def _reserved_name(case: Case) -> Iterator[Sighting]:
    for name in case.wanted.names:
        label = relative(name, case.domain)
        kept = next((each for each in case.wanted.reserved if fnmatch(label, each.pattern)), None)
        if kept:
            why = f": {kept.reason.rstrip('.')}." if kept.reason else "."
            yield Sighting(
                name,
                "",
                f"{case.wanted.builder} reserves {shown(name)} for itself{why}",
                "Choose another label for the website.",
            )


RULES = (
    Rule("mail-at-cname-name", _mail_at_cname_name),
    Rule("mail-left-behind", _mail_left_behind),
    Rule("spf-follows-website", _spf_follows_website),
    Rule("spf-twice", _spf_twice),
    Rule("reserved-name", _reserved_name),
)
