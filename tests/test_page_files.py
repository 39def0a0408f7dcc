"""Pages in the files that people have."""

from __future__ import annotations

import io
import zipfile
from email.message import EmailMessage

import docx
import pytest

from homepath.app.page_files import page_text
from homepath.core.model.problems import BadInput
from homepath.core.page_reader.judge import read_page
from tests.refusals import refused

PAGE = "Für Ihre Domain\nType\tHost\tValue\nA\t@\t192.0.2.10\nCNAME\twww\tsite-20817.edge.bricklark.example\n"
WANTED = [("A", "@", "192.0.2.10"), ("CNAME", "www", "site-20817.edge.bricklark.example.")]
ROWS = [line.split("\t") for line in PAGE.splitlines()[1:]]


def mail(kind: str) -> bytes:
    message = EmailMessage()
    message["From"], message["To"], message["Subject"] = "help@bricklark.example", "you@own.test", "A @ 203.0.113.1"
    message.set_content(PAGE)
    if kind == "both":
        message.add_alternative(f"<pre>{PAGE}</pre>", subtype="html")
    return message.as_bytes()


def word() -> bytes:
    document, held = docx.Document(), io.BytesIO()
    document.add_paragraph("Für Ihre Domain")
    table = document.add_table(rows=0, cols=3)
    for row in ROWS:
        for cell, text in zip(table.add_row().cells, row, strict=True):
            cell.text = text
    document.save(held)
    return held.getvalue()


def rich() -> bytes:
    rows = "".join("\\trowd " + "".join(f"{cell}\\cell " for cell in row) + "\\row\n" for row in ROWS)
    return ("{\\rtf1\\ansi F\\'fcr Ihre Domain\\par\n" + rows + "}").encode("ascii")


def paper() -> bytes:
    """The smallest PDF that shows these rows."""
    shown = "".join(
        f"BT /F1 10 Tf {40 + 120 * column} {700 - 20 * line} Td ({cell}) Tj ET\n"
        for line, row in enumerate(ROWS)
        for column, cell in enumerate(row)
    )
    parts = [
        "<</Type/Catalog/Pages 2 0 R>>", "<</Type/Pages/Kids[3 0 R]/Count 1>>",
        "<</Type/Page/Parent 2 0 R/MediaBox[0 0 612 792]/Contents 4 0 R/Resources<</Font<</F1 5 0 R>>>>>>",
        f"<</Length {len(shown)}>>\nstream\n{shown}endstream", "<</Type/Font/Subtype/Type1/BaseFont/Courier>>",
    ]  # fmt: skip
    body, places = "%PDF-1.4\n", []
    for number, part in enumerate(parts, 1):
        places.append(len(body))
        body += f"{number} 0 obj\n{part}\nendobj\n"
    table = "".join(f"{place:010} 00000 n \n" for place in places)
    end = f"trailer<</Size 6/Root 1 0 R>>\nstartxref\n{len(body)}\n%%EOF"
    return f"{body}xref\n0 6\n0000000000 65535 f \n{table}{end}".encode()


FILES = {
    "utf-8": PAGE.encode(), "utf-8 with its mark": PAGE.encode("utf-8-sig"), "utf-16": PAGE.encode("utf-16"),
    "utf-16 without its mark": PAGE.encode("utf-16-be"), "windows": PAGE.encode("cp1252"),
    "mail": mail("plain"), "mail in two forms": mail("both"), "word": word(), "rtf": rich(), "pdf": paper(),
}  # fmt: skip


@pytest.mark.parametrize("kind", FILES)
def test_the_same_page_in_every_file(kind: str) -> None:
    page = read_page(page_text(FILES[kind], "page"))
    assert [(each.type, each.host, each.value) for each in page.records] == WANTED
    assert page.others == ()


def packed(name: str, octets: bytes) -> bytes:
    held = io.BytesIO()
    with zipfile.ZipFile(held, "w", zipfile.ZIP_DEFLATED) as file:
        file.writestr(name, octets)
    return held.getvalue()


@pytest.mark.parametrize(
    ("octets", "said"),
    [
        (b"\x89PNG\r\n\x1a\n", "picture"),
        (b"\xff\xd8\xff\xe0", "picture"),
        (b"%PDF-1.4 nothing more", "cannot be opened"),
        (b"PK\x03\x04 nothing more", "cannot be opened"),
        (packed("other.txt", b"x"), "not a document"),
        (packed("word/document.xml", b"0" * 30_000_000), "cannot be opened"),
        (b"{\\rtf1 }", "contains no text"),
        (bytes(range(128, 256)) * 4, "not text, and not a document"),
    ],
)
def test_what_holds_no_text_is_refused_with_what_to_do(octets: bytes, said: str) -> None:
    with refused(BadInput, said):
        page_text(octets, "file")
