"""Words in a sentence that mean the domain itself: `Hauptdomain`, `A record of your domain`."""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import cache

from homepath.core.page_reader.words import PARTICLES, any_word, bare_places, phrases_of, stems


@cache
def apex_pattern() -> re.Pattern[str]:
    pattern = any_word(
        word
        for word in phrases_of("APEX") - {"your domain", "the domain", "your domain name"}
        if word in phrases_of("APEX_WORDS")
        or (" " in word and len(word) > (3 if word.isascii() else 1))
        or (PARTICLES.search(word) and len(word) > 2)
    )
    alone = "|".join(re.escape(word) for word in phrases_of("APEX") if any(char.isalpha() for char in word))
    return re.compile("|".join((pattern.pattern, _YOUR_DOMAIN, rf"(?<=\()(?:{alone})(?=\))", *_main_domain())))


def _words_of(table: str, free: bool) -> str:
    """The words of a table of which scripts without spaces have some (`free`), or the others have."""
    words = (word for word in phrases_of(table) if bool(PARTICLES.search(word)) is free)
    return f"(?:{'|'.join(sorted(words, key=len, reverse=True))})"


def _main_domain() -> Iterator[str]:
    """`Hauptdomain`, `domeny głównej`, `根域名`: a word for what is main and one for a domain, in either order. Words
    in spaced scripts have endings."""
    main, domain = _words_of("MAIN", True), _words_of("DOMAIN", True)
    yield f"{main} ?{domain}|{domain}[^\\W\\d_]{{0,2}} ?(?:ال|ה)?{main}"
    main, domain = rf"{_words_of('MAIN', False)}[^\W\d_]{{0,4}}", rf"{_words_of('DOMAIN', False)}[^\W\d_]{{0,8}}"
    yield rf"(?<!\w)(?:{main}[ -]?{domain}|{domain} {main})(?!\w)"


_YOUR_DOMAIN = r"your domain(?=:)|(?:your|the) domain(?= (?:must|should|needs to|has to) have )"


@cache
def _domain_of_type() -> tuple[re.Pattern[str], re.Pattern[str]]:
    """What is before and behind a type: `your domain's A`, `ドメインのA`; `A record of your domain`, `A domeny`."""
    spaced, free = rf"(?<![\w-])({_words_of('DOMAIN', False)}[^\W\d_]{{0,8}})", _words_of("DOMAIN", True)
    before = rf"(?:{spaced}(?:['’]s)?[ -]?|(?<!サブ)(?<!子)(?<!하위 )(?<!서브)({free}) ?(?:의|の|的|का|क)? ?)$"
    behind = rf"[ -]?(?:{_words_of('RECORD', False)} )?(?:[^\W\d_]{{1,6}} ){{0,2}}{spaced}(?![\w-])(.{{0,30}})"
    return re.compile(before), re.compile(behind)


def of_domain(text: str, at: int, end: int) -> Iterator[tuple[int, int]]:
    """The domain itself as that whose record of a type it is; not where its word goes on: `your domain provider`."""
    before, behind = _domain_of_type()
    begin = max(0, at - 30)
    plain, places = bare_places(text[begin:at])
    if match := before.search(plain):
        first, last = match.span(1 if match[1] else 2)
        yield begin + places[first], begin + places[last]
    plain, places = bare_places(text[end : end + 80])
    if match := behind.match(plain):
        ahead = re.findall(r"[^\W\d_]+", re.split(r"[^\w\s\"'“”»]", match[2], maxsplit=1)[0])[:2]
        leading = phrases_of("VALUE_BEFORE") | phrases_of("FROM") | phrases_of("POINTS_NOW")
        leads = any(word in leading for word in ahead) or (bool(ahead) and bool(stems("REQUIRED").find(ahead[0])))
        if not ahead or leads or (len(ahead[0]) < 4 and ahead[0] not in phrases_of("NAMED")):
            yield end + places[match.start(1)], end + places[match.end(1)]
