"""Looks words up: which field a phrase names, what a stem says is to happen, how long a TTL is."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable, Iterator, Mapping, Sequence
from functools import cache, lru_cache

from homepath.core.page_reader.wordlists import fields, moods, phrases, prose

_MARKS = {"’": "'", "ʼ": "'", "`": "'", "ı": "i", "\u0307": ""}
UNSPACED = re.compile(r"[\u0e00-\u0e7f\u3040-\u30ff\u3400-\u9fff\uac00-\ud7af\uff66-\uff9f]")
"""Scripts whose words carry particles behind without a space, or have no spaces at all."""
PARTICLES = re.compile(r"[\u0900-\u097f\u0590-\u07ff]|" + UNSPACED.pattern)
"""All these, and the scripts whose words carry others in front or behind."""
PREFIXED = re.compile(r"[\u0590-\u07ff]")
"""Scripts that write `and`, `the`, `to` as a letter in front of a word."""

_LETTER = r"(?:[^\W_]|[\u0900-\u0963\u0300-\u036f\u064b-\u065f\u05b0-\u05c7])"
_WORD = re.compile(rf"{_LETTER}+(?:['’-]{_LETTER}+)*")


@lru_cache(maxsize=16384)
def fold(text: str) -> str:
    """One spelling for comparison: small letters, one kind of apostrophe, single spaces."""
    if text.isascii():
        return " ".join(text.lower().split())
    folded = unicodedata.normalize("NFC", text).casefold()
    return " ".join("".join(_MARKS.get(char, char) for char in folded).split())


@lru_cache(maxsize=16384)
def bare(text: str) -> str:
    """Folded and without accents: people leave them out."""
    folded = fold(text)
    if folded.isascii():
        return folded
    parts = unicodedata.normalize("NFKD", folded)
    return unicodedata.normalize("NFC", "".join(char for char in parts if unicodedata.category(char) != "Mn"))


@lru_cache(maxsize=4096)
def bare_places(text: str) -> tuple[str, Sequence[int]]:
    """The text as `bare` has it, and where in the text each of its characters comes from, and where it ends."""
    plain = bare(text)
    if len(plain) == len(text):
        return plain, range(len(text) + 1)
    chars, places = list[str](), list[int]()
    for at, char in enumerate(text):
        if not char.isspace() or (chars and chars[-1] != " "):
            folded = " " if char.isspace() else bare(char)
            chars += folded
            places += [at] * len(folded)
    return "".join(chars), [*places, len(text)]


def _split(table: str) -> Iterator[str]:
    for phrase in re.split(r"\s*[|\n]\s*", table.strip()):
        if phrase:
            yield phrase


@cache
def phrases_of(name: str) -> frozenset[str]:
    """The phrases of one table, without accents."""
    table = next(found for module in (phrases, fields, prose, moods) if (found := getattr(module, name, None)))
    return frozenset(bare(each) for each in _split(table))


def any_word(words: Iterable[str], ending: str = "") -> re.Pattern[str]:
    """A pattern of these words, the longest first: whole ones, but anywhere in scripts that have no spaces."""
    longest = sorted(words, key=len, reverse=True)
    spaced = "|".join(re.escape(word) for word in longest if not PARTICLES.search(word))
    free = "".join(f"|{re.escape(word)}" for word in longest if PARTICLES.search(word))
    return re.compile(rf"(?<!\w)(?:{spaced}){ending}(?!\w){free}")


def is_phrase(name: str, text: str) -> bool:
    """Whether the whole text is one of the table's phrases; brackets and punctuation around it do not count."""
    plain = bare(text).strip(" .,:;!?*()[]{}<>\"'“”„«»‹›「」『』–—-→←•·✓✔✗✘+")
    return (plain or bare(text).strip()) in phrases_of(name)


def answer_of(text: str) -> str:
    """`yes` or `no`, in any of the languages; empty for anything else."""
    return "yes" if is_phrase("YES", text) else "no" if is_phrase("NO", text) else ""


FIELD_ROLES = (
    "type", "host", "value", "ttl", "priority", "weight", "port", "flag", "tag", "service", "protocol", "nameserver",
    "other",
)  # fmt: skip


@cache
def field_words() -> Mapping[str, tuple[str, ...]]:
    """Each field's phrase with the roles that it may have, the likeliest first."""
    found: dict[str, tuple[str, ...]] = {}
    for role in FIELD_ROLES:
        for phrase in _split(getattr(fields, role.upper())):
            word = bare(phrase)
            if role not in found.get(word, ()):
                found[word] = (*found.get(word, ()), role)
    return found


def _is_in_name(folded: str, begin: int, end: int) -> bool:
    """Whether a word is a part of a host name, such as `old.tidewick.example` or `keep-5`: then it says nothing."""
    if _COUNTED.search(folded, begin, end) or _KEY_OF.match(folded, end):
        return True
    if folded[end : end + 1] not in _JOINTS and folded[begin - 1 : begin] not in _JOINTS:
        return False
    around = folded[max(0, begin - 80) : begin].rpartition(" ")[2] + folded[begin : end + 80].partition(" ")[0]
    name = around.rstrip(".")
    return name.count(".") > 1 or ("." in name and "-" in name) or _COUNTED.search(name) is not None


_JOINTS = frozenset(".-_")
_COUNTED = re.compile(r"[^\W\d]-\d")
_KEY_OF = re.compile(r"=(?![0-9]{1,3}\.)\S")
"""`keep=8h2k1` is a text, and no order."""


_IN_THE = re.compile(
    r"\s(?:campo|nome|host|valor|tipo|painel|menu|seu|teu|dom[ií]nio|registro|registrador|provedor|site|final|topo|dns)\b"
)


class Stems:
    """Stems of one kind of word; finds where in a text they begin."""

    def __init__(self, table: str) -> None:
        self.whole: dict[str, list[str]] = {}
        self.begins: dict[int, set[str]] = {}
        self.longer: dict[str, list[str]] = {}
        self.anywhere: list[str] = []
        for raw in _split(table):
            stem = fold(raw)
            if UNSPACED.search(stem):
                self.anywhere.append(stem.rstrip("."))
            elif " " in stem:
                first = stem.split(" ", 1)[0].rstrip(".")
                self.longer.setdefault(first, []).append(stem.replace(".", ""))
            elif stem.endswith("."):
                self.whole.setdefault(stem.rstrip("."), []).append(stem)
            else:
                self.begins.setdefault(len(stem), set()).add(stem)
        self.known: dict[str, bool] = {}
        self.pattern = re.compile("|".join(map(re.escape, sorted(self.anywhere, key=len, reverse=True))) or r"(?!)")

    def find(self, folded: str) -> list[tuple[int, int]]:
        """Where the words begin and end, in a folded text."""
        found = []
        for match in _WORD.finditer(folded):
            word = match[0]
            if _is_in_name(folded, match.start(), match.end()):
                continue
            if word == "no" and _IN_THE.match(folded, match.end()):
                continue  # Portuguese for `in the`
            if "'" in word and not self._hits(word):  # `n'utilisez`
                size = word.rindex("'") + 1
                found += [(match.start(), match.start() + size)] if self._hits(word[:size]) else []
                found += [(match.start() + size, match.end())] if self._hits(word[size:]) else []
            if self._hits(word) or (PREFIXED.match(word) and (self._hits(word[1:]) or self._hits(word[2:]))):
                found.append((match.start(), match.end()))
            elif word in self.longer:
                rest = folded[match.start() :]
                if phrase := next((each for each in self.longer[word] if rest.startswith(each)), None):
                    found.append((match.start(), match.start() + len(phrase)))
        if not folded.isascii() and UNSPACED.search(folded):
            found += [(match.start(), match.end()) for match in self.pattern.finditer(folded)]
        return sorted(found)

    def _hits(self, word: str) -> bool:
        found = self.known.get(word)
        if found is None:
            found = word in self.whole or self._begins(word)
            if len(self.known) < 20_000:
                self.known[word] = found
        return found

    def _begins(self, word: str) -> bool:
        return any(word[:size] in stems for size, stems in self.begins.items() if len(word) >= size)


@cache
def stems(name: str) -> Stems:
    return Stems(getattr(moods, name))


@cache
def _units() -> tuple[Mapping[str, int], re.Pattern[str]]:
    table = {bare(word).rstrip("."): seconds for seconds, words in phrases.UNITS.items() for word in words.split()}
    return table, re.compile("|".join(sorted(map(re.escape, table), key=len, reverse=True)))


_TIME = re.compile(r"([0-9][0-9., ]*)\s*([^\W\d_]*)\.?", re.U)
LONGEST_TTL = 2147483647
"""Seconds (RFC 2181 section 8)."""


def ttl_seconds(text: str) -> int | None:
    """The seconds that a TTL names in any of the languages; None for `automatic` and what is no time."""
    plain = bare(re.sub(r"\(.*?\)|（.*?）", "", text)).strip(" .,;*").removeprefix("ttl ")
    if not plain or not any(char.isdecimal() for char in plain) or len(plain) > 60:
        return None
    total, at = 0, 0
    for match in _TIME.finditer(plain):
        if plain[at : match.start()].strip(" ,"):
            return None
        digits = match[1].strip(" .,")
        unit = match[2]
        seconds = _units()[0].get(unit) if unit else 1
        if seconds is None:
            begun = _units()[1].match(unit)
            seconds = _units()[0][begun[0]] if begun and UNSPACED.search(unit) else None
        if seconds is None or not re.fullmatch(r"[0-9]{1,3}(?:[., ]?[0-9]{3})*|[0-9]+", digits):
            return None
        total += int(re.sub(r"[^0-9]", "", digits)) * seconds
        at = match.end()
    if plain[at:].strip(" ,") or not 0 <= total <= LONGEST_TTL:
        return None
    return total


def is_ttl(text: str) -> bool:
    """A cell that holds a TTL, or the word for the automatic one."""
    return is_phrase("AUTO_TTL", text) or ttl_seconds(text) is not None
