"""Findings about mail, which must survive whatever the website does."""

from __future__ import annotations

from homepath.core.findings.kind import Kind

KINDS = (
    Kind(
        "mail-at-cname-name",
        "blocker",
        "RFC 2181 section 10.3, RFC 1034 section 3.6.2",
        "Mail depends on a name that is to become a CNAME.",
        "Mail is lost or refused from the moment of the change.",
        "Free the name of mail first.",
        clash=True,
    ),
    Kind(
        "mail-left-behind",
        "blocker",
        "RFC 5321 section 5.1",
        "Mail follows a name whose address the website takes, or a zone that is about to change hands.",
        "Mail is delivered to the builder's servers, which refuse it, or to nobody.",
        "Give mail a name and an address of its own first.",
        about_domain=True,
    ),
    Kind(
        "spf-follows-website",
        "risk",
        "RFC 7208 sections 5.3, 5.4",
        "An SPF text allows the website's own host to send mail, and the plan gives that host other addresses.",
        "Mail sent from the old addresses may be refused, and the builder's machines may send in the domain's name.",
        "Name today's addresses themselves (ip4, ip6) in place of the host.",
    ),
    Kind(
        "spf-twice",
        "risk",
        "RFC 7208 section 3.2",
        "A name has more than one SPF text.",
        "Receivers treat that as an error, and mail may be refused.",
        "Join them into one.",
    ),
    Kind(
        "reserved-name",
        "blocker",
        "the builder's brief",
        "The website is to have a name that the builder reserves for itself, such as one it uses for mail.",
        "The builder refuses the name after all records are entered.",
        "Choose another label.",
        formerly="mail-name-as-redirect",
        place="here",
    ),
)
