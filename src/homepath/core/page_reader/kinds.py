"""What a cell or a word can be: a type, an address, a host name, a text for TXT, a time, a button."""

from __future__ import annotations

import re
from collections.abc import Mapping
from functools import cache, lru_cache
from ipaddress import ip_address

from homepath.core.page_reader.wordlists.moods import LABELS
from homepath.core.page_reader.words import UNSPACED, bare, field_words, is_phrase, phrases_of

RECORD_TYPES = ("A", "AAAA", "CNAME", "TXT", "MX", "CAA", "SRV", "NS", "HTTPS", "ALIAS")
"""Types that are read into records; ALIAS means whatever a form calls an alias beside other records."""
OTHER_TYPES = ("SVCB", "PTR", "SOA", "DS", "TLSA", "NAPTR", "DNAME", "SSHFP", "DNSKEY", "LOC", "URI")
_SAME = {"ANAME": "ALIAS", "SPF": "TXT", "DKIM": "TXT", "DMARC": "TXT"}
_LOOKALIKE = str.maketrans("АВЕМНОРСТХ", "ABEMHOPCTX")
"""Cyrillic capitals that are typed for the Latin ones of a type."""

QUOTES = "\"'“”„‟‘’‚«»‹›`「」『』＂"
LABEL = r"[A-Za-z0-9_*{}](?:[A-Za-z0-9_{}-]*[A-Za-z0-9_{}])?"
FQDN = rf"(?:{LABEL}\.)+(?:xn--[A-Za-z0-9-]+|[A-Za-z]{{2,63}}|\{{[a-z_0-9]+\}})\.?"
_FQDN = re.compile(FQDN)
_FILE = re.compile(
    r"\.(?:html?|php|js|css|png|jpe?g|gif|svg|pdf|txt|csv|json|toml|ini|md|zip|exe|ya?ml|docx?|xlsx?)$", re.I
)
_HOST_LABELS = re.compile(rf"(?:{LABEL})(?:\.{LABEL})*\.?")


_ICONS = re.compile("^[\\s📋🗑✎✏⧉❐🔗✅❌⚠📄🖉\ufe0f]+|[\\s📋🗑✎✏⧉❐🔗✅❌⚠📄🖉\ufe0f]+$")
"""Emoji and symbols for buttons and states."""


def is_tags(text: str) -> bool:
    """Whether a text is a list such as a DMARC policy, whose last `;` belongs to it."""
    inner = text.rstrip('"”')
    return inner.endswith(";") and inner.count(";") > 1 and "=" in inner


@lru_cache(maxsize=16384)
def clean(text: str) -> str:
    """A cell without the quotes, the punctuation and the small signs around it."""
    text = _ICONS.sub("", text).strip()
    if text[-1:] in ",;，；、" and not is_tags(text):
        text = text[:-1].rstrip()
    if text[-1:] in ".。" and text[:1] in QUOTES and len(text) > 2:
        text = text[:-1]
    while len(text) > 1 and text[0] in QUOTES and text[-1] in QUOTES and _one_quote(text):
        text = text[1:-1].strip()
    return text


def _one_quote(text: str) -> bool:
    """Whether the quotes at both ends are of one quotation, not of two strings side by side."""
    return '"' not in text[1:-1] or text.count('"') % 2 == 1


@lru_cache(maxsize=4096)
def type_of(text: str) -> str | None:
    """The record type that a whole cell names: `CNAME`, `A record`, `TXT-Eintrag`, `Alias (CNAME)`."""
    if len(text) > 60 or not text:
        return None
    inside = re.findall(r"[(（\[]([^()（）\[\]]*)[)）\]]", text)
    outside = re.sub(r"[(（\[][^()（）\[\]]*[)）\]]", " ", text)
    found = _type_in(outside)
    wordy = len(outside.split()) <= 3 and not re.search(r"[0-9@.*]", outside)
    if wordy and (found is None or (found == "ALIAS" and inside)):
        named = [each for each in map(_type_in, inside) if each]
        found = named[0] if len(named) == 1 else found
    return found


_SMALL = frozenset(("the", "a.", "an", "de", "di", "du", "un", "une", "dns", "host", "type", "typ", "tipo", "new"))
"""Words beside a type that mean nothing."""
_GLUED = re.compile(r"^([A-Z]{1,5})(?=[^\x00-\x7f])(.+?)[の을를]?$")


def _type_in(text: str) -> str | None:
    text = text.strip(" :.,;#*•·-–—\"'“”„«»「」『』`：。、")
    if found := _known_type(text):
        return found if text.isupper() or len(text) > 1 or text in "Aa" else None
    parts = [part for part in re.split(r"[\s-]+", text) if part]
    if not 1 <= len(parts) <= 4:
        return None
    records = phrases_of("RECORD")
    glued = _GLUED.match("".join(parts))
    if glued and bare(glued[2]) in records:
        return _type_in(glued[1])
    named = [part for part in parts if bare(part) not in records | _SMALL and not part.isdecimal()]
    return _known_type(named[0]) if len(named) == 1 and len(parts) > 1 else None


def _known_type(word: str) -> str | None:
    upper = word.translate(_LOOKALIKE).upper()
    return _SAME.get(upper, upper) if upper in RECORD_TYPES or upper in OTHER_TYPES or upper in _SAME else None


@lru_cache(maxsize=4096)
def addresses(text: str) -> tuple[str, ...]:
    """All the addresses that a cell consists of; none where it holds anything else."""
    parts = [part for part in re.split(r"[\s,;/、，；]+|\band\b|\bund\b|\bet\b|\by\b|\bor\b", clean(text)) if part]
    found = [address for part in parts if (address := address_of(part))]
    return tuple(found) if found and len(found) == len(parts) else ()


def address_of(text: str) -> str | None:
    """One address in its usual spelling."""
    plain = text.strip(QUOTES + "()[] ").rstrip(".,;")
    if not plain or not (plain[0].isdecimal() or ":" in plain) or len(plain) > 45:
        return None
    try:
        return str(ip_address(plain))
    except ValueError:
        return None


def digits_read(text: str) -> str | None:
    """The address that a text would be with letters read as digits: `198.51.1OO.2O4`."""
    digits = text.translate(str.maketrans("OoQDlI|iSsBZz", "0000111155822"))
    return address_of(digits) if digits != text and re.fullmatch(r"[0-9.]+", digits) else None


@lru_cache(maxsize=16384)
def is_fqdn(text: str) -> bool:
    """A host name of two labels or more, places to fill allowed."""
    text = clean(text)
    if not text.isascii():
        return _is_unicode_host(text)
    if not _FQDN.fullmatch(text) or _FILE.search(text) or len(text) > 254:
        return False
    parts = text.rstrip(".").split(".")
    return any(len(part) > 1 for part in parts[:-1]) or len(parts[-1]) > 3


def _is_unicode_host(text: str) -> bool:
    from homepath.core.dns.names import BadName, absolute

    if len(text) > 254 or " " in text or "." not in text.strip(".") or re.search(r"[^\w.{}*-]", text):
        return False
    last = text.rstrip(".").rpartition(".")[2]
    if not last.isalpha():
        return False
    try:
        return bool(absolute(re.sub(r"[{}*]", "x", text)))
    except BadName:
        return False


_CAA = r"[0-9]{1,3}\s+(?:issue|issuewild|issuemail|iodef)\s+(?:\"[^\"]*\"|“[^”]*”|[^\s,;]+)"
_SRV = rf"[0-9]{{1,5}}\s+[0-9]{{1,5}}\s+[0-9]{{1,5}}\s+{FQDN}"
_SVCB = rf"[0-9]{{1,5}}\s+(?:\.|{FQDN})(?:\s+[a-z0-9-]+=(?:\"[^\"]*\"|[^\s\"]+))+"
SERVICE_PARAMS = ("alpn", "no-default-alpn", "ipv4hint", "ipv6hint", "ech", "mandatory")
"""Of an HTTPS record (RFC 9460 section 14.3.2), without `port`, which is also the name of a field."""
_MX = rf"[0-9]{{1,5}}\s+{FQDN}"
_VERSIONED = (
    r"v=spf1\b(?:[^\"“”\n]{0,900}?[-~?+]all(?![A-Za-z0-9_])|(?:\s+[-~?+]?(?:include|ip4|ip6|a|mx|exists|redirect|ptr)(?:[:=/][!#-+\--:<-~]*)?)+)"
    r"|v=[A-Za-z]{1,12}[0-9]{1,3}\s?;(?:\s?[A-Za-z]{1,12}=[!#-:<-~]*;?)*"
)
_KEY_VALUE = r"[A-Za-z0-9][A-Za-z0-9_.-]*[=:](?:(?![\"',;<>()])[!-~])*(?![\"',;<>().:!?])[!-~]"
SPECIAL = {
    "CAA": re.compile(_CAA), "SRV": re.compile(_SRV), "HTTPS": re.compile(_SVCB), "MX": re.compile(_MX),
    "TXT": re.compile(_VERSIONED, re.I),
}  # fmt: skip
"""Values of several words, by the type that alone has such."""


STRINGS = re.compile(r'"[^"]*"(?:\s+"[^"]*")+')
"""Several strings, which only a TXT record has (RFC 1035 section 3.3.14)."""


@lru_cache(maxsize=4096)
def special_type(text: str) -> str | None:
    """The type of which alone this can be a value, for values made of several words."""
    text = clean(text)
    for rrtype, pattern in SPECIAL.items():
        if rrtype != "MX" and pattern.fullmatch(text):
            return rrtype
    return "TXT" if text[:6].lower() == "v=spf1" or STRINGS.fullmatch(text) else None


def type_by_value(text: str) -> str | None:
    """The type of which alone this can be a value; None where several can have it."""
    found = addresses(text)
    return special_type(text) if not found else "AAAA" if ":" in found[0] else "A"


@lru_cache(maxsize=16384)
def is_textlike(text: str) -> bool:
    """Something that people would put into a TXT record: a mark with a code, or a long word with digits."""
    text = clean(text)
    if special_type(text) == "TXT":
        return True
    if re.search(r"\s", text) or len(text) < 6 or "://" in text or is_fqdn(text) or address_of(text):
        return False
    if re.fullmatch(_KEY_VALUE, text) and not re.fullmatch(r"[0-9:.]+", text) and text.isascii():
        name, mark, rest = re.split(r"([:=])", text, maxsplit=1)
        letter = len(name) == 1 and name.islower() and mark == "=" and not address_of(rest)  # `a=1b2c3d4`
        return letter or not (field_roles(name) or type_of(name))
    return len(text) >= 12 and bool(re.search(r"[0-9]", text)) and bool(re.fullmatch(r"[A-Za-z0-9_+/=~.-]+", text))


def is_host_label(text: str) -> bool:
    """A name as forms take it: `@`, `*`, `www`, `_dmarc`, `kiln1._domainkey`; no words with spaces."""
    text = clean(text)
    if text in ("@", "*"):
        return True
    if not text or len(text) > 200 or re.search(r"\s", text) or text.isdecimal() or address_of(text):
        return False
    if text.isascii():
        return bool(_HOST_LABELS.fullmatch(text))
    return not UNSPACED.search(text) and _is_unicode_host(f"{text}.x")  # words without spaces look like one label


def is_sure_host(text: str) -> bool:
    """A name that is nothing else, even without a word before it."""
    text = clean(text).lower()
    return text in ("@", "*", "www") or (" " not in text and (text.startswith(("_", "*.", "www.")) or "._" in text))


_USUAL = re.compile(rf"(?:{LABELS})")


def is_usual_label(text: str) -> bool:
    """A name that is hardly a word of a sentence: `@`, `shop`, `kiln1._domainkey`, a full name."""
    plain = clean(text).lower()
    return is_sure_host(plain) or "." in plain or is_phrase("APEX", plain) or bool(_USUAL.fullmatch(plain))


def is_button(text: str) -> bool:
    return is_phrase("BUTTONS", text) or not any(char.isalnum() or char in "@*_" for char in text)


def is_status(text: str) -> bool:
    return is_phrase("STATUS", text)


def without_button(text: str, least: int = 1) -> str:
    """A cell without the words of a button at its end: `192.0.2.10 Copy`. Whole cells that are buttons stay, and so do
    buttons of fewer words than `least`."""
    for count in range(3, least - 1, -1):
        words = text.rsplit(None, count)
        if not all(any(char.isalnum() for char in word) for word in words[1:]):
            continue  # `→ remove` is no button
        if len(words) > count and is_phrase("BUTTONS", " ".join(words[1:])):
            return words[0]
    return text


_CAPITAL = re.compile(r"^(.*[a-z0-9.=_@-])([A-Z][a-z]+|[^\x00-\x7f]+)$")


def glued_button(text: str) -> str | None:
    """The text without a button's word that sticks to its end, such as `tk-4471Copy`; None where none does."""
    match = _CAPITAL.match(text.strip())
    return match[1] if match and is_phrase("BUTTONS", match[2]) else None


_MISREAD = str.maketrans("01|vl5s8bce", "oiiyissbboo")


@cache
def _fields_misread() -> Mapping[str, tuple[str, ...]]:
    return {_skeleton(word): roles for word, roles in field_words().items() if word.isascii() and len(word) > 3}


def _skeleton(word: str) -> str:
    """A word in which what a scanner mixes up looks alike."""
    return word.lower().replace("rn", "m").translate(_MISREAD)


def misread_field(text: str) -> tuple[str, ...]:
    """The fields that a name with letters misread by a scanner means: `Tvpe`, `H0st`, `Va1ue`."""
    word = text.strip(" *:").lower()
    if not word.isascii() or " " in word or len(word) < 4 or not any(char.isalpha() for char in word):
        return ()
    return _fields_misread().get(_skeleton(word), ())


_FIELD = re.compile(
    r"\s(?:field|box|column)$|^(?:feld|champ|campo|veld|falt|felt|pole|поле)\s|[-\s]?(?:feld|veld|falt|felt)$"
)
"""`Host field`"""


@lru_cache(maxsize=16384)
def field_roles(text: str) -> tuple[str, ...]:
    """The fields that a whole text can be the name of, the likeliest first."""
    plain = bare(re.sub(r"[(（\[].*?[)）\]]", " ", text)).strip(" *:：.=?-–—#>›•\"'“”「」")
    plain = _FIELD.sub("", plain) if plain not in field_words() else plain
    for lead in ("the ", "your ", "dns ", "enter "):
        if plain.startswith(lead) and plain not in field_words():
            plain = plain.removeprefix(lead)
    plain = " ".join(plain.replace("_", " ").split())
    inside = re.findall(r"[(（\[]([^()（）]*)[)）\]]", text)
    plain = plain or (bare(inside[0]) if inside else "")
    if plain in field_words():
        return field_words()[plain]
    parts = [part for part in re.split(r"\s*(?:/|\||,| or | oder | ou | o )\s*", plain) if part]
    named = [field_words().get(part, ()) for part in parts]
    if len(named) < 2 or not all(named):
        return ()
    return tuple(role for role in named[0] if all(role in each for each in named)) or named[0]


def is_value(text: str) -> bool:
    """Whether a text looks like a value at all."""
    return bool(type_by_value(text)) or is_fqdn(text) or is_textlike(text) or bool(SPECIAL["MX"].fullmatch(text))
