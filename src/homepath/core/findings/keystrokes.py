"""Findings about how entries were typed: which keystroke went wrong, and what to type instead."""

from __future__ import annotations

from homepath.core.findings.kind import Kind

KINDS = (
    Kind(
        "alias-by-address",
        "risk",
        "RFC 1034 section 3.6.2",
        "The builder's addresses were entered at a name where it asks for an alias (CNAME).",
        "The name breaks on the day the builder changes an address, and a CNAME cannot be entered beside them.",
        "Delete the addresses and enter the alias.",
    ),
    Kind(
        "form-limit",
        "risk",
        "the DNS host's notation",
        "The DNS host's form takes fewer entries of a type at one name than are wanted.",
        "The last entries replace the first, or are refused.",
        "Ask the DNS host to enter them.",
    ),
    Kind(
        "near-miss",
        "risk",
        "RFC 1035 section 5.1",
        "A value differs from the wanted one by a single keystroke.",
        "Waiting does not help: the record is wrong at its source.",
        "Correct the character named.",
    ),
    Kind(
        "name-doubled",
        "risk",
        "RFC 1035 section 5.1",
        "The domain stands twice at the end of a record's name.",
        "The record answers at a name that nobody asks for, and the wanted name stays as it was.",
        "Delete the entry and type the name without the domain.",
    ),
    Kind(
        "target-unfinished",
        "risk",
        "RFC 1035 section 5.1",
        "A target was typed without its final dot, and the DNS host appended the domain to it.",
        "The alias points to a name that does not exist.",
        "Type the target with its final dot.",
    ),
    Kind(
        "pasted-quote",
        "risk",
        "RFC 1035 section 5.1",
        "Quote characters became part of a text.",
        "The builder compares the text as it is, and does not find its code.",
        "Type the text without quotes.",
    ),
    Kind(
        "wrong-name",
        "risk",
        "RFC 1035 section 5.1",
        "A wanted value was entered at another name.",
        "The wanted name stays as it was, however long one waits.",
        "Enter it at the name that is meant.",
    ),
    Kind(
        "text-too-long",
        "risk",
        "RFC 1035 section 3.3, RFC 7208 section 3.3",
        "A text is longer than the DNS host's form takes.",
        "The form cuts it, and the rest is missing.",
        "Let the DNS host enter it as several strings of one record.",
    ),
)
