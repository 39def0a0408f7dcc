"""Values as a brief writes them, and what is wrong with one."""

from __future__ import annotations

import base64
import re
import unicodedata
from collections.abc import Mapping, Sequence

from homepath.core.dns.values import BadValue, canonical, check_host_target, strings, text_value
from homepath.core.message import Text, msg, reason
from homepath.core.model.visible import visible
from homepath.core.page_reader.hosts import plain_host
from homepath.core.page_reader.kinds import clean, is_fqdn, type_by_value, type_of


def _joined(text: str) -> str:
    """A text in several strings as one (RFC 7208 section 3.3); outer quotes belong to the page."""
    text = text.strip()
    if text.count('"') >= 4 and text[0] == '"' == text[-1]:
        try:
            return "".join(strings(text))
        except BadValue:
            return clean(text)
    return clean(text)


def value_of(rrtype: str, text: str, own: Sequence[str]) -> str:
    """A value as a brief writes it: names in small letters with their final dot, the reader's own as `{domain}.`."""
    value = clean(text).replace("\t", " ")
    if rrtype in ("CAA", "HTTPS"):
        return re.sub("[“”„]", '"', value)
    if rrtype == "TXT":
        joined = _joined(text)
        return joined.removesuffix(".") if joined.startswith("v=") else joined  # the dot ends the sentence
    if rrtype in ("CNAME", "ALIAS", "NS"):
        plain = value.lower().rstrip(".")
        if plain == "@" or plain in own or plain_host(value) == "@":
            return "{domain}."
        return f"{plain}."
    if rrtype in ("MX", "SRV") and value.split() and is_fqdn(value.split()[-1]):
        return f"{value.rstrip('.').lower()}."
    return value


_PLACE = re.compile(r"\{[a-z_0-9]+\}")


def trouble_of(rrtype: str, value: str) -> Text | None:
    """Why a text is no value of its type; None where it is one."""
    example = _PLACE.sub("x1", value)
    try:
        if rrtype == "TXT":
            canonical(rrtype, text_value(example))
        else:
            read = canonical("CNAME" if rrtype == "ALIAS" else rrtype, example, "x.")
            target = read.split()[-1] if rrtype in ("CNAME", "ALIAS", "MX", "SRV") else ""
            if target not in ("", ".") and not value.endswith("{domain}."):
                check_host_target(target)
    except BadValue as error:
        return reason(error)
    return None


_KEY = re.compile(r"^v=DKIM1;(?:.*;)?\s*p=([^;]*)")


def has_whole_key(value: str) -> bool:
    """False for a DKIM text whose key is cut off or not base64 (RFC 6376 section 3.6.1)."""
    key = _KEY.search(value)
    if key is None:
        return True
    try:
        base64.b64decode("".join(key[1].split()), validate=True)
    except ValueError:
        return bool(re.fullmatch(r"\{[a-z_]+\}", key[1]))
    return True


def mixed_alphabets(names: Sequence[str]) -> str:
    """A name that mixes alphabets inside one label: such letters look alike and lead elsewhere."""
    for name in names:
        for label in name.split("."):
            scripts = {unicodedata.name(char, "?").split()[0] for char in label if char.isalpha()}
            if len(scripts & {"LATIN", "CYRILLIC", "GREEK", "ARMENIAN", "CHEROKEE"}) > 1:
                return visible(name)
    return ""


def settled_type(types: tuple[str, ...], value: str, here: bool) -> tuple[str | None, Text]:
    """The type of a value, and what is wrong between them. `here`: the type is in the record itself, not in a
    heading."""
    own = type_by_value(value)
    if types == ("TXT",) and value.isupper() and type_of(value):
        return "TXT", msg("page.trouble.not-of-type", value=value, types="TXT")  # the type of another record
    if not types or (own and own in types):
        return own, ""
    if own in ("A", "AAAA"):
        wrong = msg("page.trouble.not-of-type", value=value, types="/".join(types))
        return ("TXT", "") if types == ("TXT",) and here else (own, wrong)
    if len(types) > 1:
        full = is_fqdn(value)
        other = {"A", "AAAA", "TXT" if full else "CNAME"}
        fitting = [each for each in types if each not in other]
        return (fitting[0], "") if len(fitting) == 1 else (None, msg("page.trouble.types", value=value, types=types))
    rrtype = types[0]
    if rrtype in ("A", "AAAA"):
        return rrtype, msg("page.trouble.no-address", value=value)
    if own and own != "TXT":
        return own, msg("page.trouble.not-of-type", value=value, types=rrtype)
    target = rrtype in ("CNAME", "NS", "ALIAS") or (rrtype == "HTTPS" and len(value.split()) == 1 and value != ".")
    if target and not is_fqdn(value) and plain_host(value) != "@":
        return rrtype, msg("page.trouble.no-name", value=value)
    return rrtype, ""


_RANKED = re.compile(r"([\w.-]+\.[\w.-]+)\s*[(\[,;]\s*[^\W\d_]+[\s:=]*([0-9]{1,5})\s*[)\]]?")
"""`mx1.post.example (priority 10)`"""


def whole_value(rrtype: str | None, value: str, extras: Mapping[str, str]) -> str:
    """The value with the numbers that a form keeps in fields of their own."""
    parts = value.split()
    if rrtype == "MX" and "priority" in extras and len(parts) == 1:
        return f"{int(clean(extras['priority']))} {value}"
    if rrtype == "MX" and (ranked := _RANKED.fullmatch(value)):
        return f"{int(ranked[2])} {ranked[1]}"
    if rrtype == "SRV" and len(parts) < 4:
        front = [clean(extras[name]) for name in ("priority", "weight", "port") if name in extras]
        return " ".join([*front[: 4 - len(parts)], value])
    if rrtype == "CAA" and len(parts) == 1 and "tag" in extras:
        return f'{extras.get("flag", "0")} {extras["tag"]} "{value}"'
    if rrtype == "HTTPS":
        front = [extras["priority"]] if "priority" in extras and parts and not parts[0].isdecimal() else []
        return " ".join([*front, value, *([extras["params"]] if "params" in extras else [])])
    return value


def service_name(service: str, protocol: str, host: str | None) -> str:
    """The owner of an SRV record from a form that keeps service and protocol in fields of their own (RFC 2782)."""
    front = ".".join(f"_{part.strip().strip('._').lower()}" for part in (service, protocol))
    return front if host is None or plain_host(host) == "@" else f"{front}.{host}"
