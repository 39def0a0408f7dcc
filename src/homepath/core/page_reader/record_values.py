"""Values as a brief writes them, and what is wrong with one."""

from __future__ import annotations

import base64
import re
import unicodedata
from collections.abc import Sequence

from homepath.core.dns.values import BadValue, canonical, check_host_target, strings, text_value
from homepath.core.message import Text, reason
from homepath.core.model.visible import visible
from homepath.core.page_reader.hosts import plain_host
from homepath.core.page_reader.kinds import clean, is_fqdn


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
