"""What mail and chat put around the words: heads of mails, signs of a quotation, the time and name before a message."""

from __future__ import annotations

import re
from collections.abc import Iterator

QUOTED = re.compile(r"^\s{0,3}(?:>\s?)+")
_STAMP = r"[0-9]{1,2}:[0-9]{2}(?::[0-9]{2})?(?:\s?[AaPp]\.?[Mm]\.?)?"
_DATE = r"[0-9]{1,4}[./-][0-9]{1,2}[./-][0-9]{1,4}"
_CHAT = re.compile(
    rf"^\s*(?:[\[(]\s*(?:{_DATE}[,\s]*)?{_STAMP}(?:[,\s]*{_DATE})?\s*[\])]|(?:{_DATE}[,\sT]*)?{_STAMP}(?=[\s,–-]))"
    r"\s*[-–|,]?\s*(?:<?(?P<who>[^\W\d_][\w .'-]{0,30}?)>?\s*:(?=\s|$))?\s*"
)
_CHAT_AFTER = re.compile(
    rf"^\s*[^\W\d_](?:[^\W\d_]|[ '-]){{0,30}}?[\s,]*[\[(]?(?:{_DATE}[,\s]*)?{_STAMP}[\])]?\s*(?::\s+|$)"
)
_SPEAKER = re.compile(r"^\s*<(?!(?:[a-z]+[ _-])?domain)(?P<who>[^\W\d_][\w .'-]{0,30})>\s+")


def mail_heads(lines: list[str]) -> Iterator[int]:
    """The heads of mails that were pasted with them: three fields and more, with an address in one or a subject."""
    at = 0
    while at < len(lines):
        end = at
        while end < len(lines) and _MAIL_FIELD.match(lines[end]):
            end += 1
        if end - at >= 3 and any(re.search(r"\w@\w", line) or _SUBJECT.match(line) for line in lines[at:end]):
            yield from range(at, end)
        at = end + 1


_SUBJECT = re.compile(
    r"[ \t>*]{0,6}(?:subject|betreff|objet|asunto|assunto|oggetto|onderwerp|ämne|emne|aihe|temat|předmět|тема)\s{0,3}:",
    re.I,
)
_MAIL_FIELD = re.compile(
    r"[ \t>*]{0,6}(?:from|to|cc|bcc|subject|date|sent|reply-to|von|an|betreff|datum|gesendet|de|à|a|para|objet|asunto"
    r"|envoyé|fecha|enviado|da|oggetto|data|inviato|van|aan|onderwerp|verzonden|från|till|ämne|skickat|od|do|temat|předmět)\s{0,3}:",
    re.I,
)


def without_stamp(line: str) -> str:
    for pattern in (_CHAT, _SPEAKER, _CHAT_AFTER):
        match = pattern.match(line)
        if match and match.end():
            return line[match.end() :] if line[match.end() :].strip() else ""
    return line
