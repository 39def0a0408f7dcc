"""A question to a DNS host's support desk: everything that its form has not said, and that this plan depends on."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from homepath.core.dns.names import Name, shown
from homepath.core.model.brief import NO_NOTATION, Notation
from homepath.core.model.visible import visible

LOOK_FOR = {
    "apex": "how an entry for the domain itself is written: name @, an empty name, or the whole domain",
    "names": "whether names are typed with or without the domain behind them: after saving, read the entry once",
    "final_dot": "whether a target needs the dot at its end: if the form adds your domain behind it, it does",
    "quotes": "whether texts are typed with quotes: usually without",
    "ttl": "which keeping times (TTL) it offers: take the nearest",
}
"""What to look for in a form of which nobody wrote down how it wants entries."""


LEARNED = {
    "names": "This form adds your domain to every name: type the name without it.",
    "final_dot": "This form adds your domain to a target that does not end with a dot: type the dot.",
}
"""What a typing mistake showed of such a form."""


def question_to_host(
    domain: Name, types: Iterable[str], alias: bool, forwards: Sequence[Name], notation: Notation
) -> str:
    """Plain text to send. `types`: of the entries to make; `alias`: the domain itself needs one; `forwards`: names that
    would have to be forwarded."""
    host = "" if notation.host == NO_NOTATION.host else f" of {visible(notation.host)}"
    lines = [
        f"To the support desk{host}",
        "",
        f"Subject: questions about the DNS entries of {shown(domain)}",
        "",
        f"I am about to connect {shown(domain)} to a website builder and want to make no mistake in your form.",
        "Please tell me:",
        "",
        f"1. Can I make entries of these types myself: {', '.join(sorted(set(types)))}? Which of them are missing?",
        f"2. What do I type as the name for {shown(domain)} itself: @, nothing, or the whole domain?",
        "3. Do targets (CNAME, MX) end with a dot in your form, and do texts (TXT) stand in quotes?",
        "4. Which keeping times (TTL) can I choose, and which is the shortest?",
    ]
    number = 5
    if alias:
        lines.append(
            f"{number}. Is there an alias for {shown(domain)} itself (ALIAS, ANAME, CNAME flattening), so that it can "
            "follow a host name?"
        )
        number += 1
    asked = " and ".join(shown(name) for name in forwards) or shown(domain)
    lines += [
        f"{number}. Can you forward {asked} to another address, permanently (301) and with the path kept?",
        "   Does the forwarding also answer https, with a certificate for that name?",
        f"{number + 1}. Does any setting of yours (parking, forwarding, mail) put entries back that I delete?",
        "",
        "Thank you.",
        "",
    ]
    return "\n".join(lines)
