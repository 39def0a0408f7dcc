"""Findings about what cannot stand where it is, or is wanted: aliases, wildcards, delegations, protected records."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.dns.names import Name, ancestors, is_within, relative, shown
from homepath.core.dns.records import ADDRESS_TYPES, SIGNING, WEB_TYPES, RecordSet
from homepath.core.findings.kind import Kind, Rule, Sighting
from homepath.core.site.case import Case
from homepath.core.site.wanted import Want
from homepath.core.site.zone_facts import alias_wants, foreign_at_alias, unfinished_targets

KINDS = (
    Kind(
        "cname-at-apex",
        "risk",
        "RFC 1034 section 3.6.2",
        "A CNAME stands at the registered domain itself, where SOA and NS records must stand too.",
        "Servers may refuse the zone, or hide mail and proofs behind the alias.",
        "Enter addresses (A, AAAA) at the apex, or use the DNS host's own kind of alias if it has one.",
        explains=True,
        fixed_by="enter",
        clash=True,
    ),
    Kind(
        "cname-not-alone",
        "blocker",
        "RFC 1034 section 3.6.2, RFC 2181 section 10.1",
        "A CNAME and other records are wanted, or found, at one name.",
        "A server refuses or silently drops one of them, so the website or the other service stops.",
        "Keep one of the two: move the other records to another name, or use addresses instead of the CNAME.",
        explains=True,
        clash=True,
        offers=("drop",),
    ),
    Kind(
        "cname-twice",
        "risk",
        "RFC 2181 section 10.1",
        "A name has more than one CNAME.",
        "Servers refuse the zone or give one of them at random.",
        "Keep one CNAME.",
        explains=True,
        fixed_by="enter",
        clash=True,
    ),
    Kind(
        "alias-unsupported",
        "blocker",
        "RFC 1034 section 3.6.2",
        "The builder gives no address for the apex, and the DNS host has nothing that could stand there instead.",
        "The domain without www leads nowhere.",
        "Forward the apex, or use a DNS host that has an alias at the apex, or the builder's name servers.",
        who="dns-host",
        offers=("hand-over",),
    ),
    Kind(
        "apex-way-unknown",
        "blocker",
        "RFC 1034 section 3.6.2",
        "The builder gives no address for the apex, and nobody has said what the DNS host has for that.",
        "A CNAME cannot stand at the apex, so what to enter there depends on what the form offers.",
        "Look into the form, and answer the question of `homepath next`; or write a notation file.",
        offers=("apex-way", "hand-over"),
    ),
    Kind(
        "wildcard-answers",
        "note",
        "RFC 4592 section 2.2.1",
        "A wanted name exists only through a wildcard record.",
        "Once the name has a record of its own, the wildcard no longer answers for it, for no type at all.",
        "Enter what the wildcard gave there as well, if it is still needed.",
        fixed_by="enter",
        holds_up_builder=True,
    ),
    Kind(
        "delegated-away",
        "blocker",
        "RFC 1034 section 4.2.1, RFC 6672",
        "A wanted name lies in a part of the domain that other servers answer for.",
        "Records entered here are never seen.",
        "Enter them at the servers named, or take the delegation away.",
        clash=True,
        offers=("take-back",),
    ),
    Kind(
        "dangling-target",
        "risk",
        "RFC 1034 section 3.6.2",
        "An alias points to a name that does not exist.",
        "Somebody else may claim the target and show pages under your name.",
        "Remove the alias, or point it where it belongs.",
        fixed_by="enter",
    ),
    Kind(
        "protected-record",
        "blocker",
        "the site file, [keep]",
        "The website needs a change of a record that the owner protects.",
        "Without the change the website is not reached; with it the owner's word would be broken.",
        "Decide which of the two holds, and change the site file.",
        place="here",
        offers=("unprotect",),
    ),
)


def _cname_not_alone(case: Case) -> Iterator[Sighting]:
    spoken = set()
    for want in alias_wants(case):
        name = want.record.name
        for other in foreign_at_alias(case, name):
            if other.type == "MX":
                continue  # mail-at-cname-name says it better
            spoken.add(name)
            yield Sighting(
                name,
                other.type,
                f"{shown(name)} has a {other.type} record, and a CNAME cannot stand beside it.",
                f"Decide what the {other.type} record is for and move it to another name; or, if nobody needs it, "
                f'write into homepath.toml under [purposes]: "{relative(name, case.domain)} {other.type}" = "website"',
            )
    for alias in (each for each in case.zone if each.type == "CNAME" and each.name not in spoken):
        others = [e.type for e in case.zone.at(alias.name) if e.type not in ("CNAME", *SIGNING)]
        if others and alias.name != case.domain:
            yield Sighting(
                alias.name,
                "CNAME",
                f"{shown(alias.name)} has a CNAME and also {', '.join(sorted(others))}; servers answer with only one.",
                "Keep either the CNAME or the others; the plan says which where the website needs it.",
                "risk",
            )


def _cname_at_apex(case: Case) -> Iterator[Sighting]:
    found = case.zone.get(case.domain, "CNAME")
    if found:
        yield Sighting(
            case.domain,
            "CNAME",
            f"{shown(case.domain)} itself is a CNAME to {shown(found.values[0])}; "
            "beside SOA and NS that is not allowed.",
            "Remove the CNAME at the apex and enter the builder's addresses there.",
        )


def _cname_twice(case: Case) -> Iterator[Sighting]:
    for record in case.zone:
        if record.type == "CNAME" and len(record.values) > 1:
            yield Sighting(
                record.name,
                "CNAME",
                f"{shown(record.name)} has {len(record.values)} CNAMEs: {', '.join(map(shown, record.values))}.",
                "Keep one; a name can be an alias of one other name only.",
            )


def _alias_unsupported(case: Case) -> Iterator[Sighting]:
    if case.wanted.choice.apex == "none" and case.wanted.choice.by_records:
        yield Sighting(
            case.domain,
            "ALIAS",
            f"{case.wanted.builder} gives only a host name for {shown(case.domain)}, and {case.notation.host} "
            "has neither an alias for the apex nor forwarding.",
            "Make www the primary address and forward the apex elsewhere, or move to a DNS host "
            "that has such an alias; never enter a CNAME there.",
        )


def _apex_way_unknown(case: Case) -> Iterator[Sighting]:
    if case.wanted.choice.apex == "unknown" and case.wanted.choice.by_records:
        yield Sighting(
            case.domain,
            "ALIAS",
            f"{case.wanted.builder} gives only a host name for {shown(case.domain)}, and what {case.notation.host} can "
            "do with that is not known.",
            "Look into the DNS host's form: has it a type for an alias at the name @ (often ALIAS or ANAME), or a "
            "page that forwards the domain?",
        )


def _wildcard_answers(case: Case) -> Iterator[Sighting]:
    for want in case.wanted.wants:
        name = want.record.name
        wild = _wildcard_for(case, name)
        if wild:
            types = ", ".join(sorted({each.type for each in wild}))
            yield Sighting(
                name,
                want.record.type,
                f"{shown(name)} is answered by a wildcard today ({shown(wild[0].name)} {types}).",
                f"The new record ends that for {shown(name)}: what the wildcard gave there, "
                "of every type, is gone then.",
            )
        for at in ancestors(name)[1:]:
            if at == case.domain or not at.endswith(case.domain):
                break
            if between := _wildcard_for(case, at):
                yield Sighting(
                    at,
                    between[0].type,
                    f"{shown(at)} is answered by a wildcard today; the new record below it, {shown(name)}, ends that.",
                    f"If {shown(at)} is used, enter there what the wildcard gave.",
                )


def _wildcard_for(case: Case, name: Name) -> list[RecordSet]:
    """The wildcard's sets that answer for `name` today: it does not exist, nor does anything below it (RFC 4592)."""
    exists = case.zone.at(name) or any(each.name.endswith(f".{name}") for each in case.zone)
    if name == case.domain or name.startswith("*.") or exists:
        return []
    above = (case.zone.at(f"*.{at}") for at in ancestors(name)[1:] if at != "." and at.endswith(case.domain))
    return next((found for found in above if found), [])


def _delegated_away(case: Case) -> Iterator[Sighting]:
    for want in case.wanted.wants:
        for at in ancestors(want.record.name):
            cut = case.zone.get(at, "NS") if at != case.domain else None
            moved = case.zone.get(at, "DNAME") if at != want.record.name else None
            found = cut or moved
            if at == "." or not at.endswith(case.domain):
                break
            if found:
                what = "handed to other name servers" if cut else "redirected as a whole (DNAME)"
                yield Sighting(
                    want.record.name,
                    found.type,
                    f"{shown(at)} is {what}: {', '.join(map(shown, found.values))}; "
                    f"a record for {shown(want.record.name)} entered here is never asked for.",
                    _delegated_cure(case, want, found),
                )
                break


def _delegated_cure(case: Case, want: Want, found: RecordSet) -> str:
    """A CNAME cannot stand where the other servers' zone begins, beside its SOA (RFC 1034 section 3.6.2)."""
    word = f"{relative(found.name, case.domain)} {found.type}"
    back = f'take the {found.type} records of {shown(found.name)} out here ([purposes] "{word}" = "website" plans that)'
    if want.record.type != "CNAME" or want.record.name != found.name or found.type != "NS":
        return f"Enter it at those servers, or {back}."
    values = next((w.record.values for w in case.wanted.wants if w.record.type in ADDRESS_TYPES), ())
    addresses = f"addresses ({', '.join(values)})" if values else "the builder's addresses"
    return f"A CNAME cannot be entered there, where their zone begins: enter {addresses} at those servers, or {back}."


def _dangling_target(case: Case) -> Iterator[Sighting]:
    dangling = set(case.survey.dangling) if case.survey else set()
    unfinished = {value for _, value, _ in unfinished_targets(case)}  # target-unfinished says what they are
    for record in case.zone:
        if record.type != "CNAME" or record.values[0] not in dangling or record.values[0] in unfinished:
            continue
        if is_within(record.values[0], case.domain):
            yield Sighting(
                record.name,
                "CNAME",
                f"{shown(record.name)} leads to {shown(record.values[0])}, a name of your own that does not exist.",
                "Point it at a name that exists, or remove it if nobody uses it.",
            )
        else:
            yield Sighting(
                record.name,
                "CNAME",
                f"{shown(record.name)} is an alias of {shown(record.values[0])}, which does not exist.",
                "Remove it if nobody uses it: whoever registers or claims that name takes over this one.",
            )


def _protected_record(case: Case) -> Iterator[Sighting]:
    for name, rrtype in sorted(case.wanted.protected):
        record = case.zone.get(name, rrtype)
        want = case.wanted.get(name, rrtype)
        in_the_way = rrtype in WEB_TYPES and name in case.wanted.web_names
        if record and in_the_way and (want is None or not want.met_by(record)):
            yield Sighting(
                name,
                rrtype,
                f"{shown(name)} {rrtype} is protected in the site file, but the website needs it changed.",
                "Take it out of [keep] in homepath.toml, or choose another primary address.",
            )


RULES = (
    Rule("cname-at-apex", _cname_at_apex),
    Rule("cname-not-alone", _cname_not_alone),
    Rule("cname-twice", _cname_twice),
    Rule("alias-unsupported", _alias_unsupported),
    Rule("apex-way-unknown", _apex_way_unknown),
    Rule("wildcard-answers", _wildcard_answers),
    Rule("delegated-away", _delegated_away),
    Rule("dangling-target", _dangling_target),
    Rule("protected-record", _protected_record),
)
