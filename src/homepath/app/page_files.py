"""Pages as people have them: text in any usual encoding, mail, documents. What is in them becomes text."""

from __future__ import annotations

import email
import email.policy
import io
import re
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

from homepath.core.message import msg
from homepath.core.model.problems import BadInput, Problem
from homepath.files import read_octets

MOST_UNPACKED = 20_000_000
"""Octets of a packed document."""
MOST_SHEETS = 40
"""Pages of a PDF that are read."""
_PICTURES = (b"\x89PNG", b"\xff\xd8\xff", b"GIF8", b"BM", b"II*\0", b"MM\0*")
_HEADERS = re.compile(rb"(?:[A-Za-z][A-Za-z0-9-]{1,40}:[^\n]*\n(?:[ \t][^\n]*\n)*){3,}\r?\n")
_OF_MAIL = re.compile(rb"^(?:from|mime-version|message-id|received|content-type):", re.I | re.M)


def read_page_file(path: Path) -> str:
    """The text of a page in a file. Raises BadInput, which says how to get at the text, where there is none."""
    return page_text(read_octets(path, msg("file.page"), msg("page-file.missing")), str(path))


def page_text(octets: bytes, name: str) -> str:
    """The text that octets hold: plain, or of a PDF, a Word document, RTF or a mail. Raises BadInput."""
    if octets.startswith(_PICTURES) or (octets[:4] == b"RIFF" and octets[8:12] == b"WEBP"):
        raise BadInput(Problem(msg("page-file.picture"), name, hint=msg("page-file.picture.hint")))
    readers: tuple[tuple[bytes, Callable[[bytes], str]], ...] = (
        (b"%PDF-", _pdf), (b"{\\rtf", _rtf), (b"PK\x03\x04", _docx)
    )  # fmt: skip
    for begin, reader in readers:
        if octets.startswith(begin):
            return _by(reader, octets, name)
    if _is_mail(octets):
        return _mail(octets, name)
    return _decoded(octets, name)


def _by(reader: Callable[[bytes], str], octets: bytes, name: str) -> str:
    """What a library makes of a document; whatever it trips over, the document cannot be read."""
    try:
        text = reader(octets)
    except ImportError as error:
        raise BadInput(Problem(msg("page-file.extra"), name, hint=msg("page-file.extra.hint"))) from error
    except BadInput:
        raise
    except Exception as error:  # hostile documents make these libraries raise nearly anything
        raise BadInput(Problem(msg("page-file.damaged"), name, hint=msg("page-file.copy"))) from error
    if not text.strip():
        raise BadInput(Problem(msg("page-file.no-text"), name, hint=msg("page-file.picture.hint")))
    return text


def _pdf(octets: bytes) -> str:
    import logging

    import pypdf

    logging.getLogger("pypdf").setLevel(logging.CRITICAL)  # its warnings would go to the terminal
    sheets = pypdf.PdfReader(io.BytesIO(octets)).pages[:MOST_SHEETS]
    return "\n\n".join(sheet.extract_text(extraction_mode="layout") for sheet in sheets)


def _rtf(octets: bytes) -> str:
    from striprtf.striprtf import rtf_to_text

    text = rtf_to_text(octets.decode("latin-1"), errors="ignore")  # type: ignore[no-untyped-call]
    return str(text).replace("|", "\t")


def _docx(octets: bytes) -> str:
    """Paragraphs and tables in their order."""
    with zipfile.ZipFile(io.BytesIO(octets)) as packed:
        if "word/document.xml" not in packed.namelist():
            raise BadInput(Problem(msg("page-file.unknown"), hint=msg("page-file.copy")))
        if sum(each.file_size for each in packed.infolist()) > MOST_UNPACKED:
            raise BadInput(Problem(msg("page-file.damaged"), hint=msg("page-file.copy")))
    import docx
    from docx.table import Table

    lines: list[str] = []
    document: Any = docx.Document(io.BytesIO(octets))
    for part in document.iter_inner_content():
        if isinstance(part, Table):
            lines += ["\t".join(" ".join(cell.text.split()) for cell in row.cells) for row in part.rows] + [""]
        else:
            lines.append(part.text)
    return "\n".join(lines)


def _is_mail(octets: bytes) -> bool:
    begun = octets[:20_000].replace(b"\r\n", b"\n")
    match = _HEADERS.match(begun)
    return match is not None and len(set(_OF_MAIL.findall(match[0].lower()))) >= 2


def _mail(octets: bytes, name: str) -> str:
    """The body of a mail; its headers are not the page."""
    message: Any = email.message_from_bytes(octets, policy=email.policy.default)
    body = message.get_body(preferencelist=("plain", "html"))
    if body is None:
        raise BadInput(Problem(msg("page-file.no-text"), name, hint=msg("page-file.copy")))
    try:
        return str(body.get_content())
    except (LookupError, ValueError):  # an unknown encoding
        return _decoded(body.get_payload(decode=True) or b"", name)


def _decoded(octets: bytes, name: str) -> str:
    """Text in UTF-8, UTF-16 with or without its mark, or Windows-1252."""
    if octets.startswith((b"\xff\xfe", b"\xfe\xff")):
        return octets.decode("utf-16", "replace")
    some = octets[:2000]
    for at, encoding in ((1, "utf-16-le"), (0, "utf-16-be")):
        zeros = some[at::2].count(0)
        if len(some) >= 8 and zeros * 3 > len(some) and some[1 - at :: 2].count(0) * 10 < zeros:
            return octets.decode(encoding, "replace")
    try:
        return octets.decode("utf-8-sig")
    except UnicodeDecodeError:
        pass
    try:
        return octets.decode("cp1252")
    except UnicodeDecodeError as error:
        raise BadInput(Problem(msg("page-file.unknown"), name, hint=msg("page-file.copy"))) from error
