"""Host fields as pages write them (`@ (root)`, `leave blank`, `your domain`, in full), and which domain is meant."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Iterable, Sequence

from homepath.core.page_reader.kinds import clean, is_fqdn, is_sure_host, is_usual_label, type_of
from homepath.core.page_reader.moods import events
from homepath.core.page_reader.prose.atoms import Atom, atoms_of
from homepath.core.page_reader.rows import Row
from homepath.core.page_reader.wordlists.moods import SUBDOMAIN
from homepath.core.page_reader.words import UNSPACED, bare, fold, is_phrase, phrases_of

Registrable = Callable[[str], str | None]
"""Returns the registrable domain of a host name, by the public suffix list."""


def last_two(host: str) -> str | None:
    """A stand-in for the public suffix list: the last two labels."""
    parts = host.strip(".").split(".")
    return ".".join(parts[-2:]) if len(parts) > 1 else None


def stands_for_own(text: str, own: Sequence[str] = ()) -> bool:
    """Whether a full name is a page's example for the reader's own domain, or is in the domain given."""
    plain = clean(text).lower().rstrip(".")
    if any(plain == each or plain.endswith(f".{each}") for each in own):
        return True
    parts = plain.split(".")
    if "{" in plain:
        return any(re.fullmatch(r"\{(?:[a-z_]*domain[a-z_]*)\}", part) for part in parts)
    return len(parts) > 1 and any(bare(part) in phrases_of("OWN_DOMAIN") for part in parts[-3:-1])


def plain_host(text: str) -> str | None:
    """The host that a field's words mean: `@` for the domain itself, a label, or a full name; None where they mean
    none that can be told."""
    words = clean(text)
    if not words:
        return "@"
    if is_phrase("BLANK", words) or is_phrase("APEX", words):
        return "@"
    if words in ("@", "*"):
        return words
    inside = re.match(r"^(.+?)\s*[(（\[](.+?)[)）\]]\s*$", words)
    if inside:
        outer, inner = plain_host(inside[1]), plain_host(inside[2])
        if outer == "@" or inner is None or outer == inner or not re.search(r"\s", inside[1].strip()):
            return outer
        return outer or inner
    parts = [
        part
        for part in re.split(
            r"\s*(?:/|,|\bor\b|\boder\b|\bou\b|\bo\b|\bof\b|\beller\b|\blub\b|\bnebo\b|\bили\b|または|或|또는)\s*",
            words,
        )
        if part
    ]
    if len(parts) > 1:
        hosts = {plain_host(part) for part in parts}
        return hosts.pop() if len(hosts) == 1 else None
    if re.search(r"\s", words):
        return None
    lower = words.lower().rstrip(".")
    if re.fullmatch(r"\{[a-z_]*domain[a-z_]*\}", lower):
        return "@"
    if tail := re.fullmatch(r"(.+)\.\{[a-z_]*domain[a-z_]*\}", lower):
        return tail[1]
    return lower


_AND = re.compile(
    r"\s*(?:,|&|\band\b|\bund\b|\bet\b|\by\b|\be\b|\ben\b|\boch\b|\bog\b|\bja\b|\boraz\b|\bve\b|と|和)\s*"
)


def several_hosts(text: str) -> list[str]:
    """The names that a field lists: `@, www`; the text alone where it is anything else."""
    parts = _AND.split(clean(text)) if len(text) <= 200 else [text]
    return parts if len(parts) > 1 and all(map(is_usual_label, parts)) else [text]


def own_domains(hosts: Iterable[str], given: str | None, registrable: Registrable) -> tuple[list[str], list[str]]:
    """The domains among full names that are the reader's own, surest first; and those that are only likely."""
    sure = [given.lower().strip(".")] if given else []
    full = [host for host in hosts if "." in host and not is_sure_host_only(host)]
    tails: Counter[str] = Counter()
    for host in full:
        tail = _tail(host, registrable)
        if tail:
            tails[tail] += 1
    likely: list[str] = []
    for tail, _ in tails.most_common():
        if any(tail == each or tail.endswith(f".{each}") or each.endswith(f".{tail}") for each in sure):
            continue
        if stands_for_own(tail) or tail in full or f"www.{tail}" in full:
            sure.append(tail)
        else:
            likely.append(tail)
    return sure, likely


def is_sure_host_only(host: str) -> bool:
    """A relative name with dots that belongs to mail or services and has no domain behind it."""
    last = host.rpartition(".")[2]
    return last.startswith("_") or not is_fqdn(host)


def _tail(host: str, registrable: Registrable) -> str | None:
    parts = host.split(".")
    while parts and parts[0].startswith(("_", "*")):
        parts = parts[1:]
    if len(parts) < 2 or is_sure_host(parts[-1]):
        return None
    return registrable(".".join(parts)) or last_two(".".join(parts))


def relative_host(host: str, own: Sequence[str]) -> str:
    """The host without the domain that means the reader's own."""
    for each in own:
        if host == each:
            return "@"
        if host.endswith(f".{each}"):
            return host[: -len(each) - 1]
    return host


def is_sole_address(rows: Sequence[Row], row: Row, value: str) -> bool:
    """Whether the row gives the address of the one A record and no name: `Your A record should be 192.0.2.10` is about
    the domain itself. Not below a lone word or behind `till:`, which may be its name."""
    above = next((each.text for each in reversed(rows) if each.line < row.line and each.cells), "")
    head, mark, _ = row.text.partition(":")
    speaker = sum(each.text.startswith(f"{head}:") for each in rows) > 1  # `Agent:`
    if (above and " " not in above) or (mark and " " not in head and not speaker and not type_of(head)):
        return False
    sentences = _SENTENCE.split(row.text)
    at = next((at for at, each in enumerate(sentences) if value in each), None)
    if at is None or len(sentences[at]) > 400:
        return False
    goes_on = bare(sentences[at]).split()[:2]  # `Update it to 192.0.2.10.`
    text = " ".join(sentences[max(0, at - 1) : at + 1]) if {*goes_on} & phrases_of("THIS") else sentences[at]
    return _is_sole(text)


def _is_sole(text: str) -> bool:
    atoms, found, rest = atoms_of(text), events(text), fold(text)
    for event in found:  # `at the moment` is no place
        rest = rest[: event.at] + " " * (event.end - event.at) + rest[event.end :]
    named = bool(set(re.findall(r"[^\W\d_]+", bare(rest))) & phrases_of("FOR") or re.search(SUBDOMAIN, text, re.I))
    named = named or any(atom.kind in ("host", "apex", "fqdn", "quoted") for atom in atoms)
    asks = any(event.kind in ("ADD", "REQUIRED", "REPLACE") for event in found)
    return asks and not named and any(atom.kind == "type" and _is_definite(text, atom) for atom in atoms)


_SENTENCE = re.compile(r"(?<=[.!?。！？])\s*(?=\D)")


def _is_definite(text: str, rrtype: Atom) -> bool:
    """Whether the record of a type is the subject or the object, without a name: `your A record is`."""
    ahead = re.split(r"[:;,.(。，：]", text[: rrtype.at])[-1]
    before = [word for word in re.findall(r"[^\W\d_]+", bare(ahead)) if word not in phrases_of("RECORD")]
    behind = re.findall(r"[^\W\d_]+|[:=0-9]", bare(text[rrtype.end : rrtype.end + 60]))
    behind = [word for word in behind if word not in phrases_of("RECORD")]
    if (before and before[-1] not in phrases_of("DEFINITE")) or not behind:
        return False
    word = behind[0]
    leads = phrases_of("VALUE_BEFORE") | phrases_of("FROM") | phrases_of("POINTS_NOW") | phrases_of("BE")
    return word in leads or word in ":=0123456789" or bool(events(word)) or bool(UNSPACED.search(word))
