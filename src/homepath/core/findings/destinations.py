"""Findings about where the website's names lead: parked, elsewhere, incomplete."""

from __future__ import annotations

from homepath.core.findings.kind import Kind

KINDS = (
    Kind(
        "parked",
        "note",
        "RFC 1034 section 3.6",
        "The name leads to the page that a DNS host shows for domains without a site.",
        "New addresses entered beside the parking address send a share of the visitors to the parking page.",
        "Replace the parking entry.",
    ),
    Kind(
        "address-elsewhere",
        "risk",
        "RFC 1034 section 3.6, RFC 2181 section 5",
        "A name of the website has addresses or an alias that the builder did not give.",
        "Visitors reach the old or a foreign server, some or all of the time, and the certificate may not come.",
        "Replace the values; all values of a set are used in turn, so none may be left over.",
    ),
    Kind(
        "ipv6-elsewhere",
        "risk",
        "RFC 8305",
        "An AAAA record is left at a name of the website although the builder gave no IPv6 address.",
        "Browsers prefer IPv6, so many visitors stay on the old server; certificate authorities prefer it too.",
        "Remove the AAAA record.",
    ),
    Kind(
        "address-set-incomplete",
        "risk",
        "RFC 2181 section 5",
        "Only some of the builder's addresses are there.",
        "The site works until one of the servers behind the missing addresses has to take over.",
        "Enter all addresses, each as an entry of its own.",
    ),
    Kind(
        "service-binding-elsewhere",
        "risk",
        "RFC 9460 section 3",
        "An HTTPS or SVCB record is left at a name of the website.",
        "Browsers that understand it go to the old place although the addresses are right.",
        "Remove it.",
    ),
    Kind(
        "private-address",
        "risk",
        "RFC 1918, RFC 4193",
        "An address that is not reachable from the Internet stands at a name of the website.",
        "Visitors reach nothing, or a machine in their own network.",
        "Replace it by the builder's address.",
    ),
    Kind(
        "forwarding-entry",
        "note",
        "RFC 9110 section 15.4",
        "The DNS host forwards the name by an entry of its own.",
        "As long as the entry stands, the host may put its own address back.",
        "Delete the forwarding entry.",
    ),
    Kind(
        "brief-outdated",
        "blocker",
        "RFC 1034 section 3.6.2",
        "The brief's addresses serve nothing, and the builder's own host name leads elsewhere: the builder has moved.",
        "Whoever enters these addresses leads visitors to nowhere, and no certificate ever comes there.",
        "Copy the builder's page again and read it: `homepath start DOMAIN --page FILE`.",
    ),
    Kind(
        "old-key",
        "note",
        "the reference of files",
        "The brief uses a key that has another name today.",
        "It is still read. A later version may stop reading it.",
        "Write the new key in its place.",
    ),
    Kind(
        "asked-to-delete",
        "note",
        "RFC 2181 section 5",
        "The builder's page says to delete a record that is there, and that the website does not need gone.",
        "It may be a leftover that hinders, or something that another service needs.",
        "Delete it in the DNS host's form if nobody needs it.",
    ),
)
