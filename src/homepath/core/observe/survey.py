"""The survey: what the authoritative servers return when asked directly, merged with exports, and what the registry
says."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from homepath.core.dns.answers import Question, Trouble, Unanswered, cure_of, of_trouble
from homepath.core.dns.names import ROOT, Name, child, is_within, parent, shown
from homepath.core.dns.records import LED_TO, Key, RecordSet, Zone
from homepath.core.dns.soa import holds_zone, newest_first
from homepath.core.dns.walk import Cut
from homepath.core.dns.zone_answers import behind_others, contents_of, denied, sets_of
from homepath.core.message import Text, msg
from homepath.core.model.evidence import Content
from homepath.core.model.problems import CouldNotCheck
from homepath.core.model.survey import Chain, Delegation, Registration, Seen, ServerSeen, Survey
from homepath.core.observe.merging import (
    Export,
    dangling_targets,
    entered_only,
    found_elsewhere,
    led,
    merge,
    server_seen,
    surroundings,
    targets_of,
    transferred,
    wildcards,
    without_synthesised,
)
from homepath.core.observe.moved import moved_check
from homepath.core.observe.requests import (
    AskRegistry,
    Beside,
    CheckKeys,
    Exchange,
    LookUp,
    Request,
    asked,
    asked_by_name,
    found_zone,
    time,
)
from homepath.core.observe.zone_questions import (
    ask_servers,
    for_every_server,
    keys_around,
    keys_to_ask,
    keys_to_guess,
    with_mentioned,
)
from homepath.core.site.wanted import Wanted


@dataclass(frozen=True, slots=True)
class SurveyResult:
    """The survey, and what the journal is to keep: contents at the zone, at the parent, what only others than the
    servers tell, what servers give that are behind or that a label is handed to, and the survey's own list."""

    survey: Survey
    contents: tuple[RecordSet, ...]
    handed: tuple[RecordSet, ...]
    confirmed: tuple[RecordSet, ...] = ()
    behind: tuple[RecordSet, ...] = ()

    @property
    def listed(self) -> tuple[RecordSet, ...]:
        """What was entered, as far as is known: no record that a wildcard made up, and what an export knew."""
        return tuple(seen.record for seen in self.survey.records)


@dataclass(frozen=True, slots=True)
class Asked:
    """What a survey is to ask for beside the usual. `labels`: two that no one can have entered. `transfer`: also
    ask for the whole zone. `names`: those that the owner knows of. `whole`: everything now, instead of a part with
    each check. `differing`: what was seen to differ from the last check."""

    labels: tuple[str, str]
    exports: tuple[Export, ...] = ()
    transfer: bool = False
    names: tuple[Name, ...] = ()
    whole: bool = True
    differing: tuple[Key, ...] = ()


class NobodyHolds(CouldNotCheck):
    """The domain is delegated to servers of which none answers for it, or to none at all. `delegation`: who they are,
    and `handed`: what the parent returns; `servers`: what each said; `at`: when, Unix seconds."""

    def __init__(self, message: Text, hint: Text, cut: Cut, chain: Chain, servers: tuple[ServerSeen, ...], at: float):
        super().__init__(message, hint)
        self.delegation, self.handed = _delegation(cut, chain), _handed(cut, chain)
        self.servers, self.at = servers, at

    @property
    def silent(self) -> bool:
        """Whether one of the servers kept silent, so that it may hold the domain."""
        return any(each.kept_silent for each in self.servers)


def _delegation(cut: Cut, chain: Chain) -> Delegation:
    return Delegation(cut.above, tuple(sorted(cut.names)), cut.ttl, chain.signed, chain.signatures, chain.trouble)


def _handed(cut: Cut, chain: Chain) -> tuple[RecordSet, ...]:
    """What the parent returns; where it has no DS record any more, caches forget that from now on."""
    servers = RecordSet(cut.zone, "NS", cut.ttl, cut.names)
    return (servers,) if chain.signed is not False else (servers, RecordSet(cut.zone, "DS", 0, ()))


def survey_check(wanted: Wanted, history: Sequence[Content], extra: Asked) -> Exchange[SurveyResult]:
    """Raises CouldNotCheck when the domain's servers cannot be found, NobodyHolds when none answers."""
    cut = yield from domain_cut(wanted.domain)
    begun = yield from time()
    keys = list(dict.fromkeys([*keys_to_ask(wanted, history, extra.names), *extra.differing]))
    guesses = [key for key in keys_to_guess(wanted, history, begun, extra.whole) if key not in set(keys)]
    if not extra.whole and not history and wanted.hand_over is None:
        every = for_every_server(wanted)
        guesses = [*(key for key in keys if key not in every), *guesses]
        keys = [key for key in keys if key in every]
    ask = ask_servers(cut, keys, guesses, whole=wanted.hand_over is not None)
    # what the builder's names point to is looked up meanwhile; further below the answers are at hand
    rounds, *_ = yield [Beside(ask), *(LookUp(name, (rrtype,)) for name, rrtype in keys_around(wanted))]
    keys += guesses
    if not any(holds_zone(each, cut.zone) for each in rounds.values()):
        names = ", ".join(dict.fromkeys(shown(server.name) for server in cut.servers))
        (chain,) = yield [CheckKeys(cut)]
        at = yield from time()
        raise NobodyHolds(
            msg("survey.survey-look", domain=wanted.domain, names=names),
            msg("survey.survey-look-2"),
            cut,
            chain,
            tuple(server_seen(server, each, each) for server, each in rounds.items()),
            at,
        )
    order = newest_first(rounds, cut.zone)
    best = order[0]
    answers, unknown, keys = yield from with_mentioned(wanted.domain, rounds, order, keys)
    spots: list[Text] = []
    exports = list(extra.exports)
    if extra.transfer:
        exports += yield from transferred(wanted.domain, rounds, spots)
    merged = merge(rounds, answers, exports, wanted.domain)
    confirmed = _confirmed(unknown, merged.seen, exports, history)
    unknown = tuple(each for each in unknown if each.key not in confirmed)
    seen = (*merged.seen, *(each for each in confirmed.values() if each.record.values and each not in merged.seen))
    around = keys_around(wanted)
    targets = targets_of([each.record for each in seen])
    random = [child(label, wanted.domain) for label in extra.labels]
    wild_asks, again = (tuple((Question(name, t), best) for t in WILDCARD_TYPES) for name in random)
    signing = ((Question(wanted.domain, "DNSKEY"), best),) if wanted.sign else ()
    requests: list[Request] = [
        CheckKeys(cut),
        AskRegistry(wanted.domain),
        Beside(asked_by_name((*wild_asks, *signing), cut.zone)),
    ]
    requests += [LookUp(name, (rrtype,)) for name, rrtype in around]
    requests += [LookUp(target, ("A",)) for target in targets]
    handed_on = _handed_on(wanted, seen)
    requests += [LookUp(name, LED_TO) for name in handed_on]
    replies = yield requests
    elsewhere = replies[len(replies) - len(handed_on) :] if handed_on else []
    replies = replies[: len(replies) - len(handed_on)]
    chain, (registration, silence), wild_answers = replies[:3]
    if chain.unanswered is not None:  # the person's word may settle it
        unseen = Unanswered(wanted.domain, "DS", chain.unanswered)
        ds_set = _confirmed((unseen,), (), (), history).get(unseen.key)
        chain = replace(chain, signed=bool(ds_set.record.values) if ds_set else None)
        unknown = unknown if ds_set else (*unknown, unseen)
    if registration is not None and registration.missing:  # it is delegated, so this registry only does not tell
        registration, silence = None, msg("registration.missing", domain=wanted.domain)
    own_keys = wild_answers[-1].found(wanted.domain, "DNSKEY") if signing else None
    wild_answers = wild_answers[: len(wild_asks)]
    outside, dark = surroundings(around, replies[3 : 3 + len(around)])
    dangling = dangling_targets(targets, replies[3 + len(around) :])
    if sets_of(wild_answers):  # a name that no one entered exists: is it a wildcard, or made up each time?
        wild_answers += yield from asked(again)
    wild = wildcards(random, wild_answers, wanted.domain)
    there = {each.record.key: each.record for each in seen}
    right = {want.record.name for want in wanted.wants if want.met_by(there.get(want.record.key))}
    own = without_synthesised(seen, [each.record for each in wild], wanted.domain, right)
    known = {each.record.key for each in own}
    spots += [
        *merged.blind,
        *dark,
        *([msg("sentence", message=silence)] if silence else []),
        *_blind_words(bool(extra.exports)),
    ]
    outdated = yield from moved_check(wanted, Zone.of(wanted.domain, (each.record for each in outside)))
    at = yield from time()
    found = Survey(
        wanted.domain,
        at,
        tuple(server_seen(server, each, rounds[best]) for server, each in rounds.items()),
        _delegation(cut, chain),
        (*own, *(each for each in wild if each.record.key not in known)),
        tuple(outside),
        tuple(spots),
        registration,
        merged.contradicted,
        dangling,
        unknown,
        tuple(dict.fromkeys(answer.question.name for answer in answers if answer.uneven)),
        tuple(denied(answers)),
        tuple(led(targets, replies[3 + len(around) :])),
        tuple(own_keys.values) if own_keys is not None else (),
        outdated,
    )
    entered = {wanted.domain, *right, *(each.record.name for each in own)}
    contents = entered_only(contents_of(answers, keys), [each.record for each in wild], entered)
    counted = {record.key: record for record in contents}
    others = (answer for each in rounds.values() for answer in each)
    behind = {**behind_others(others, counted), **found_elsewhere(elsewhere)}
    confirmed_sets = tuple(each.record for each in confirmed.values())
    return SurveyResult(found, tuple(contents), _handed(cut, chain), confirmed_sets, tuple(behind.values()))


WILDCARD_TYPES = ("A", "AAAA", "TXT", "MX")


def _handed_on(wanted: Wanted, seen: Sequence[Seen]) -> list[Name]:
    """The names of the website that lie in a part of the domain that other servers answer for."""
    cuts = [each.record.name for each in seen if each.record.type == "NS" and each.record.name != wanted.domain]
    return [name for name in wanted.names if any(is_within(name, cut) for cut in cuts)]


ABSENT = 900
"""Seconds for which caches may remember a missing delegation, where the SOA of the parent zone was not read."""


def _confirmed(
    unknown: Sequence[Unanswered], seen: Sequence[Seen], exports: Sequence[Export], history: Sequence[Content]
) -> dict[Key, Seen]:
    """Of what no server answers: what an export says of it, now or at an earlier check, or the person said."""
    before = {each.record.key: each.record for each in history if each.source == "told"}
    supplied = {each.record.key: each for each in seen}
    found = {}
    for each in unknown:
        if each.key in supplied:
            found[each.key] = supplied[each.key]
        elif exports:
            found[each.key] = Seen(RecordSet(*each.key, 0, ()), (exports[0].source,))
        elif each.key in before:
            found[each.key] = Seen(before[each.key], (msg("source.told"),))
    return found


def _blind_words(with_file: bool) -> tuple[Text, ...]:
    if with_file:
        return (msg("survey.blind-words"),)
    return (msg("survey.blind-words-2"),)


def registration_check(domain: Name) -> Exchange[Registration | None]:
    """What the registry says of a domain that DNS tells nothing of; None where it was not answered."""
    ((registration, _),) = yield [AskRegistry(domain)]
    return registration if isinstance(registration, Registration) else None


def domain_cut(domain: Name) -> Exchange[Cut]:
    """The domain's own zone cut. Raises CouldNotCheck; NobodyHolds where the parent zone has no delegation."""
    cut = yield from found_zone(domain)
    if isinstance(cut, Trouble):
        if cut.cause == "no-address":
            yield from _nobody_there(domain, cut)
        raise CouldNotCheck(of_trouble(cut), cure_of(cut))
    if cut.zone != domain:
        above = shown(cut.zone) if cut.zone != ROOT else msg("survey.domain-cut.above")
        at = yield from time()
        nowhere, unsigned = Cut(domain, (), (), cut.zone, ABSENT, cut.servers), Chain("none", False, "")
        message = msg("survey.domain-cut-2", above=above, domain=domain)
        raise NobodyHolds(message, msg("survey.domain-cut-3"), nowhere, unsigned, (), at)
    return cut


def _nobody_there(domain: Name, trouble: Trouble) -> Exchange[None]:
    """None of the names at the parent has an address, as when all were mistyped. Raises NobodyHolds for those."""
    above = yield from found_zone(parent(domain))
    if isinstance(above, Trouble):
        return
    answers = yield from asked([(Question(domain, "NS"), server) for server in above.servers[:1]])
    sets = [each for answer in answers for each in (*answer.answer, *answer.authority)]
    named = next((each for each in sets if each.key == (domain, "NS")), None)
    if named is None:
        return
    at = yield from time()
    seen = tuple(ServerSeen(name, "", "silent", None, msg("survey.nobody-there")) for name in named.values)
    cut = Cut(domain, named.values, (), above.zone, named.ttl, above.servers)
    (chain,) = yield [CheckKeys(cut)]
    raise NobodyHolds(of_trouble(trouble), msg("survey.nobody-there.hint"), cut, chain, seen, at)
