"""Findings about records that cannot be where they are, or are wanted: aliases, wildcards, delegations, protected
records."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.dns.names import Name, ancestors, is_within, relative
from homepath.core.dns.records import ADDRESS_TYPES, JOINED_TYPES, WEB_TYPES, RecordSet
from homepath.core.findings.kind import Kind, Rule, Sighting
from homepath.core.message import Text, msg
from homepath.core.model.findings import Level
from homepath.core.site.case import Case
from homepath.core.site.purposes import is_of_server
from homepath.core.site.slips import unfinished_targets
from homepath.core.site.wanted import Want
from homepath.core.site.zone_facts import alias_wants, foreign_at_alias

KINDS = (
    Kind("second-folder", "risk", "the site file", place="here"),
    Kind("cname-at-apex", "risk", "RFC 1034 section 3.6.2", explains=True, fixed_by="enter", clash=True),
    Kind(
        "cname-not-alone",
        "blocker",
        "RFC 1034 section 3.6.2, RFC 2181 section 10.1",
        explains=True,
        clash=True,
        offers=("drop",),
    ),
    Kind("cname-twice", "risk", "RFC 2181 section 10.1", explains=True, fixed_by="enter", clash=True),
    Kind("alias-unsupported", "blocker", "RFC 1034 section 3.6.2", who="dns-host", offers=("hand-over",)),
    Kind("apex-way-unknown", "blocker", "RFC 1034 section 3.6.2", offers=("apex-way", "hand-over")),
    Kind("wildcard-answers", "note", "RFC 4592 section 2.2.1", fixed_by="enter", holds_up_builder=True),
    Kind("wildcard-added", "risk", "RFC 4592 section 2.2.1"),
    Kind("delegated-away", "blocker", "RFC 1034 section 4.2.1, RFC 6672", clash=True, offers=("take-back",)),
    Kind("dangling-target", "risk", "RFC 1034 section 3.6.2", fixed_by="enter", faulty=True),
    Kind("protected-record", "blocker", "the site file, [keep]", place="here", offers=("unprotect",)),
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
                msg("cname-not-alone", name=name, type=other.type),
                msg("cname-not-alone.cure", type=other.type, relative=relative(name, case.domain)),
            )
    for alias in (each for each in case.zone if each.type == "CNAME" and each.name not in spoken):
        others = [e.type for e in case.zone.at(alias.name) if e.type != "CNAME" and not is_of_server(e.type)]
        if others and alias.name != case.domain:
            yield Sighting(
                alias.name,
                "CNAME",
                msg("cname-not-alone-2", name=alias.name, others=tuple(sorted(others))),
                msg("cname-not-alone.cure-2"),
                "risk",
            )


def _cname_at_apex(case: Case) -> Iterator[Sighting]:
    found = case.zone.get(case.domain, "CNAME")
    if found:
        yield Sighting(
            case.domain,
            "CNAME",
            msg("cname-at-apex", domain=case.domain, values=found.values[0]),
            msg("cname-at-apex.cure"),
        )


def _cname_twice(case: Case) -> Iterator[Sighting]:
    for record in case.zone:
        if record.type == "CNAME" and len(record.values) > 1:
            yield Sighting(
                record.name,
                "CNAME",
                msg("cname-twice", name=record.name, count_values=len(record.values), values=tuple(record.values)),
                msg("cname-twice.cure"),
            )


def _alias_unsupported(case: Case) -> Iterator[Sighting]:
    if case.wanted.choice.apex == "none" and case.wanted.choice.by_records:
        yield Sighting(
            case.domain,
            "ALIAS",
            msg("alias-unsupported", builder=case.wanted.builder, domain=case.domain, host=case.notation.host),
            msg("alias-unsupported.cure"),
        )


def _apex_way_unknown(case: Case) -> Iterator[Sighting]:
    if case.wanted.choice.apex == "unknown" and case.wanted.choice.by_records:
        yield Sighting(
            case.domain,
            "ALIAS",
            msg("apex-way-unknown", builder=case.wanted.builder, domain=case.domain, host=case.notation.host),
            msg("apex-way-unknown.cure"),
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
                msg("wildcard-answers", name=name, name2=wild[0].name, types=types),
                msg("wildcard-answers.cure", name=name),
            )
        for at in ancestors(name)[1:]:
            if at == case.domain or not at.endswith(case.domain):
                break
            if between := _wildcard_for(case, at):
                yield Sighting(
                    at,
                    between[0].type,
                    msg("wildcard-answers-2", at=at, name=name),
                    msg("wildcard-answers.cure-2", at=at),
                )


def _wildcard_added(case: Case) -> Iterator[Sighting]:
    """A wildcard that came after the first check: from then on every name answers that no one ever entered."""
    seen = [each for each in case.history if each.source == "survey"]
    begin = min((each.first_at for each in seen), default=0.0)
    for record in case.zone:
        mine = [each.first_at for each in seen if each.record.key == record.key]
        wanted = case.wanted.get(*record.key) is not None or case.wanted.accepted.get(record.key) == record.values
        if record.name.startswith("*.") and mine and min(mine) > begin and not wanted:
            word = case.word_for(*record.key)
            message = msg("wildcard-added", name=record.name, type=record.type, values=record.values)
            yield Sighting(record.name, record.type, message, msg("wildcard-added.cure", word=word))


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
                what = msg("delegated-away.what") if cut else msg("delegated-away.what-2")
                yield Sighting(
                    want.record.name,
                    found.type,
                    msg("delegated-away", at=at, what=what, values=tuple(found.values), name=want.record.name),
                    _delegated_cure(case, want, found),
                )
                break


def _delegated_cure(case: Case, want: Want, found: RecordSet) -> Text:
    """A CNAME cannot be at the apex of the other servers' zone, beside its SOA (RFC 1034 section 3.6.2)."""
    word = case.word_for(*found.key)
    back = msg("delegated-cure.back", type=found.type, name=found.name, word=word)
    if want.record.type != "CNAME" or want.record.name != found.name or found.type != "NS":
        return msg("delegated-cure", back=back)
    values = next((w.record.values for w in case.wanted.wants if w.record.type in ADDRESS_TYPES), ())
    addresses = msg("delegated-cure.addresses", values=tuple(values)) if values else msg("delegated-cure.addresses-2")
    return msg("delegated-cure-2", addresses=addresses, back=back)


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
                msg("dangling-target", name=record.name, values=record.values[0]),
                msg("dangling-target.cure"),
            )
        else:
            yield Sighting(
                record.name,
                "CNAME",
                msg("dangling-target-2", name=record.name, values=record.values[0]),
                msg("dangling-target.cure-2"),
            )


def _protected_record(case: Case) -> Iterator[Sighting]:
    for name, rrtype in sorted(case.wanted.protected):
        record = case.zone.get(name, rrtype)
        want = case.wanted.get(name, rrtype)
        in_the_way = rrtype in WEB_TYPES and name in case.wanted.web_names
        if record and in_the_way and (want is None or not want.met_by(record)):
            yield Sighting(
                name, rrtype, msg("protected-record", name=name, rrtype=rrtype), msg("protected-record.cure")
            )


def _second_folder(case: Case) -> Iterator[Sighting]:
    """The owner began twice: what one folder plans would take apart what the other one wants."""
    mine = {want.record.key: want for want in case.wanted.wants}
    for each in case.neighbours:
        own = {key: want.desired.meanings for key, want in mine.items()}
        there = [r for r in case.zone if each.wants_here(r, own.get(r.key, frozenset()))]
        if not there:
            continue  # nothing of it is in the zone, so neither is in the other's way
        clash = [r for r in there if r.type not in JOINED_TYPES and (r.key in mine or r.name in case.wanted.web_names)]
        level: Level = "blocker" if clash else "risk"
        message = msg("second-folder", folder=each.folder, domain=case.domain)
        yield Sighting(case.domain, "", message, msg("second-folder.cure", folder=each.folder), level)


RULES = (
    Rule("second-folder", _second_folder),
    Rule("cname-at-apex", _cname_at_apex),
    Rule("cname-not-alone", _cname_not_alone),
    Rule("cname-twice", _cname_twice),
    Rule("alias-unsupported", _alias_unsupported),
    Rule("apex-way-unknown", _apex_way_unknown),
    Rule("wildcard-answers", _wildcard_answers),
    Rule("wildcard-added", _wildcard_added),
    Rule("delegated-away", _delegated_away),
    Rule("dangling-target", _dangling_target),
    Rule("protected-record", _protected_record),
)
