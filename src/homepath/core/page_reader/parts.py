"""What each record of a page is in a brief: for the domain, for www, a verification record, or further; which are
alternatives."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from homepath.core.dns.records import ADDRESS_TYPES, LED_TO
from homepath.core.message import Text, msg
from homepath.core.model.visible import visible
from homepath.core.page_reader.page import Page, PastedRecord, Server, where
from homepath.core.page_reader.words import bare

Part = Literal[
    "apex", "apex_alias", "www", "www_by_address", "label", "label_by_address", "ownership", "further", "name servers"
]

_PROOF = re.compile(r"verif|owner|proof|confirm|challenge|site-?code|claim|validat|auth(?!entic)", re.I)
_MAIL = re.compile(r"^v=(?:spf1|dkim1|dmarc1)\b", re.I)
_MAIL_HOST = re.compile(r"(?:^|\.)(?:_domainkey|_dmarc|_smtp|_mta-sts|_report)(?:\.|$)|^dkim", re.I)


_OF_MAIL = re.compile(
    r"(?<!\w)(?:e-?mails?|mails?|bounces?|newsletters?|return-path|courriels?|correos?|posta|poczt\w*|post[aoy]\w*|e-postas?|sahkopost\w*"
    r"|signatur\w* key|dkim|spf)(?!\w)|почт|пошт|ηλεκτρονικ|メール|邮件|郵件|이메일|메일|ईमेल|البريد|דואר"
)
"""Words in a row, without accents: its record is for mail."""


@dataclass(frozen=True, slots=True)
class Placed:
    """A record with the part of the brief that it belongs to, and what a further one is for."""

    record: PastedRecord
    part: Part
    purpose: str = "other"


@dataclass(frozen=True, slots=True)
class Parts:
    """All records placed; `doubts`: alternatives that a brief cannot hold, or that are none; `notes`: assumptions."""

    placed: tuple[Placed, ...]
    nameservers: tuple[Server, ...]
    doubts: tuple[Text, ...]
    notes: tuple[Text, ...]
    options: tuple[str, ...] = ()
    """The names of the page's alternatives, where some exclude each other."""

    def of(self, part: Part) -> list[PastedRecord]:
        return [each.record for each in self.placed if each.part == part]


@dataclass(slots=True)
class _Sorting:
    label: str
    lines: Mapping[int, str]
    placed: list[Placed] = field(default_factory=list)
    doubts: list[Text] = field(default_factory=list)
    notes: list[Text] = field(default_factory=list)
    clashing: set[str] = field(default_factory=set)


def parts_of(page: Page, label: str = "", option: str = "") -> Parts:
    """Place every record. `label`: the name at which the site is to live, where it is not the domain itself or www.
    `option`: only this alternative of the page, with what belongs to none."""
    records = [record for record in page.records if not option or record.option in ("", option)]
    servers = [server for server in page.wanted_servers if not option or server.option in ("", option)]
    sorting = _Sorting(label.lower(), {line.number: line.text for line in page.lines})
    proofs = []
    for record in records:
        if _is_proof(record, sorting.label):
            proofs.append(record)
        elif record.type != "NS":
            _place(sorting, record)
    _place_proofs(sorting, proofs)
    _clashes(sorting)
    found = tuple(dict.fromkeys(sorting.doubts))
    return Parts(tuple(sorting.placed), tuple(servers), found, tuple(sorting.notes), tuple(sorted(sorting.clashing)))


def _words(record: PastedRecord) -> str:
    return visible(f"{record.type} {record.host} {record.value}")


def _is_proof(record: PastedRecord, label: str) -> bool:
    if record.type not in ("TXT", "CNAME") or _MAIL.match(record.value) or _MAIL_HOST.search(record.host):
        return False
    if record.host in ("@", "www", "*", label) and record.type == "CNAME":
        return False
    if _PROOF.search(record.host) or _PROOF.search(record.value):
        return True
    if record.type == "TXT":
        return record.host == "@" or record.host.startswith("_")
    return bool(re.fullmatch(r"_?[a-z]*-?[0-9a-f]{6,}|_?[a-z]{2,3}-?[0-9]{3,}|_[a-z0-9-]{8,}", record.host))


def _place(sorting: _Sorting, record: PastedRecord) -> None:
    host, rrtype = record.host, record.type
    if host == "@" and rrtype in ADDRESS_TYPES:
        sorting.placed.append(Placed(record, "apex"))
    elif host == "@" and rrtype in ("ALIAS", "CNAME"):
        if rrtype == "CNAME":
            sorting.notes.append(msg("page.note.alias", where=where(record)))
        sorting.placed.append(Placed(record, "apex_alias"))
    elif host in ("www", sorting.label) and host and rrtype in LED_TO:
        sorting.placed.append(Placed(record, "www" if host == "www" else "label"))
    else:
        text = " ".join(sorting.lines.get(line, "") for line in record.lines)
        sorting.placed.append(Placed(record, "further", purpose := _purpose(record, text)))
        if rrtype in LED_TO and purpose == "other":
            sorting.notes.append(msg("page.note.purpose", where=where(record), host=visible(host)))


def _purpose(record: PastedRecord, text: str) -> str:
    """What a further record is for: by its type and name, else by what its row says of it."""
    if record.type == "MX":
        return "mail"
    if _MAIL.match(record.value) or _MAIL_HOST.search(record.host):
        return "mail authentication"
    rest = text.replace(record.value.rstrip("."), " ").replace(record.host, " ")
    return "mail authentication" if _OF_MAIL.search(bare(rest)) else "other"


def _place_proofs(sorting: _Sorting, proofs: Sequence[PastedRecord]) -> None:
    """Verification records of different alternatives replace each other; all others are wanted."""
    marks = list(dict.fromkeys(proof.option for proof in proofs if proof.option))
    first = proofs[:1]
    for proof in proofs:
        alternative = proof in first or (len(marks) > 1 and proof.option and proof.option != first[0].option)
        second = any(each.part == "ownership" and each.record.option == proof.option for each in sorting.placed)
        if alternative and not (second and proof not in first):
            sorting.placed.append(Placed(proof, "ownership"))
        else:
            sorting.placed.append(Placed(proof, "further", "proof of ownership"))


def _clashes(sorting: _Sorting) -> None:
    """Records that exclude each other: alternatives for one name, some of which a brief can hold."""
    for place, other in (("www", "www_by_address"), ("label", "label_by_address")):
        mine = [each for each in sorting.placed if each.part == place]
        kinds = {each.record.type == "CNAME" for each in mine}
        if len(kinds) == 2:
            told_apart = len({each.record.option for each in mine}) > 1
            if not told_apart:
                sorting.notes.append(msg("page.note.beside", records=tuple(_words(each.record) for each in mine[:3])))
            for at, each in enumerate(sorting.placed):
                if each.part == place and each.record.type != "CNAME":
                    sorting.placed[at] = Placed(each.record, other)  # type: ignore[arg-type]
    groups: dict[tuple[str, str], list[PastedRecord]] = {}
    for each in sorting.placed:
        if each.part != "ownership":
            groups.setdefault((each.record.host, each.record.type), []).append(each.record)
    for (host, rrtype), records in groups.items():
        marks = {record.option for record in records}
        single = rrtype in ("CNAME", "ALIAS") and len({record.value for record in records}) > 1
        if single or (len(marks) > 1 and "" not in marks and rrtype in (*LED_TO, "ALIAS")):
            sorting.clashing |= {mark for mark in marks if mark}
            ways = tuple(dict.fromkeys(_words(record) for record in records[:4]))
            sorting.doubts.append(msg("page.doubt.ways", host=visible(host), ways=ways))
