"""What a check asks for. It yields a list of requests and is sent their replies, in the same order.

The requests of one list are carried out at the same time.
"""

from __future__ import annotations

from collections.abc import Generator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, TypeAlias, TypeVar

from homepath.core.dns.answers import Answer, Question, Server, Trouble
from homepath.core.dns.names import Name
from homepath.core.dns.walk import Ask, Cut
from homepath.core.web.hops import Fetch

Result = TypeVar("Result")


@dataclass(frozen=True, slots=True)
class Questions:
    """Reply: an `Answer` for each, in their order. `unchecked`: without a check of signatures
    (RFC 4035 section 3.2.2). `at_once`: so many of them under way at one moment, None where it does not matter."""

    asks: tuple[Ask, ...]
    recurse: bool = False
    unchecked: bool = False
    at_once: int | None = None


@dataclass(frozen=True, slots=True)
class FindZone:
    """Reply: the `Cut` that holds a name, or a `Trouble`."""

    name: Name


@dataclass(frozen=True, slots=True)
class LookUp:
    """Reply: a `Found` from the authoritative servers, aliases followed, or a `Trouble`. `to_ask`: the addresses are
    those of servers to be asked, so one that this machine cannot use is left out where there are others."""

    name: Name
    types: tuple[str, ...]
    to_ask: bool = False


@dataclass(frozen=True, slots=True)
class CheckKeys:
    """Reply: a `Chain`, for the zone's keys against what its parent says (RFC 4035 section 5)."""

    cut: Cut


@dataclass(frozen=True, slots=True)
class AskRegistry:
    """Reply: `(Registration | None, words)` (RFC 9082)."""

    domain: Name


@dataclass(frozen=True, slots=True)
class Transfer:
    """Reply: the record sets of the whole zone (RFC 5936), or a `Trouble`."""

    domain: Name
    server: Server


@dataclass(frozen=True, slots=True)
class Follow:
    """Reply: the hops from a URL on. `fixed`: names that are not looked up, with the address they are asked at."""

    url: str
    fixed: Mapping[Name, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class FetchOnce:
    """Reply: the `Fetched` of one page at one address."""

    want: Fetch


@dataclass(frozen=True, slots=True)
class Addresses:
    """Reply: `(addresses, Found | None, Trouble | None)` of a name, as a visitor's own look-up returns them.

    `at_source`: what the authoritative servers say, whatever resolver visitors use.
    """

    name: Name
    at_source: bool = False


@dataclass(frozen=True, slots=True)
class Now:
    """Reply: the time, Unix seconds."""


@dataclass(frozen=True, slots=True)
class Beside:
    """A check that goes on by itself beside the other requests of its list. Reply: its result."""

    steps: Generator[Sequence[Any], Sequence[Any], Any]


Request: TypeAlias = (
    Questions | FindZone | LookUp | CheckKeys | AskRegistry | Transfer | Follow | FetchOnce | Addresses | Now | Beside
)
Exchange: TypeAlias = Generator[Sequence[Request], Sequence[Any], Result]


def asked(asks: Sequence[Ask], recurse: bool = False, unchecked: bool = False) -> Exchange[list[Answer]]:
    """The answers to `asks`, asked at the same time."""
    if not asks:
        return []
    (answers,) = yield [Questions(tuple(asks), recurse, unchecked)]
    return list(answers)


SETTLED_BY_AN_ALIAS = ("CNAME", "CAA", "SVCB", "NS", "DNAME")
"""Types that need no query where there is an alias. Addresses, mail and texts are queried all the same: some forms
accept them beside an alias, and some servers return them."""


def asked_by_name(asks: Sequence[Ask], zone: Name) -> Exchange[list[Answer]]:
    """The answers of authoritative servers to `asks`, with fewer questions: at a name below the apex each server is
    asked for the address first. Where that is an alias, or the name does not exist, this settles the other types
    (RFC 1034 section 3.6.2, RFC 8020 section 2)."""
    begun = {(question.name, server) for question, server in asks if question.type == "A" and question.name != zone}
    first = [each for each in asks if each[0].type == "A" or (each[0].name, each[1]) not in begun]
    answers = dict(zip(first, (yield from asked(first)), strict=True))
    rest = []
    for question, server in asks:
        if (question, server) in answers:
            continue
        address = answers[Question(question.name, "A"), server]
        if _settles(address, question.type):
            answers[question, server] = replace(address, question=question)
        else:
            rest.append((question, server))
    answers |= zip(rest, (yield from asked(rest)), strict=True)
    return [answers[each] for each in asks]


def _settles(address: Answer, rrtype: str) -> bool:
    if not address.usable or not address.authoritative:
        return False
    if address.rcode == "NXDOMAIN":
        return not address.answer
    names = {(each.name, each.type) for each in address.answer}
    return (address.question.name, "CNAME") in names and rrtype in SETTLED_BY_AN_ALIAS


def found_zone(name: Name) -> Exchange[Cut | Trouble]:
    (cut,) = yield [FindZone(name)]
    assert isinstance(cut, Cut | Trouble)
    return cut


def time() -> Exchange[float]:
    (at,) = yield [Now()]
    return float(at)
