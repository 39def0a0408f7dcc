"""Addresses that no public server has, so that nothing hostile makes this tool knock at somebody's own network.

Sources: the IANA registries of special-purpose addresses for IPv4 and IPv6 (RFC 6890, RFC 8190), and of multicast.
"""

from __future__ import annotations

from ipaddress import IPv4Address, IPv6Address, ip_address, ip_network

_TABLE = """
0.0.0.0/8            this network (RFC 791)
10.0.0.0/8           private use (RFC 1918)
100.64.0.0/10        shared address space (RFC 6598)
127.0.0.0/8          loopback (RFC 1122)
169.254.0.0/16       link local (RFC 3927)
172.16.0.0/12        private use (RFC 1918)
192.0.0.0/24         protocol assignments (RFC 6890)
192.0.2.0/24         documentation (RFC 5737)
192.88.99.0/24       former relay of 6to4 (RFC 7526)
192.168.0.0/16       private use (RFC 1918)
198.18.0.0/15        benchmarking (RFC 2544)
198.51.100.0/24      documentation (RFC 5737)
203.0.113.0/24       documentation (RFC 5737)
224.0.0.0/4          multicast (RFC 1112)
240.0.0.0/4          reserved (RFC 1112)
::/96                IPv4 embedded (RFC 4291)
::ffff:0:0/96        IPv4 mapped (RFC 4291)
64:ff9b::/96         IPv4 translated (RFC 6052)
64:ff9b:1::/48       IPv4 translated, local (RFC 8215)
100::/64             discarded (RFC 6666)
2001::/23            protocol assignments (RFC 2928)
2001:db8::/32        documentation (RFC 3849)
2002::/16            6to4, IPv4 embedded (RFC 3056)
3fff::/20            documentation (RFC 9637)
5f00::/16            segment routing (RFC 9602)
fc00::/7             unique local (RFC 4193)
fe80::/10            link local (RFC 4291)
fec0::/10            site local (RFC 3879)
ff00::/8             multicast (RFC 4291)
"""
_RANGES = tuple((ip_network(line.split()[0]), line.split(None, 1)[1].strip()) for line in _TABLE.strip().splitlines())


def not_public(address: str) -> str:
    """Why an address is none that a public server has; empty for one that may be contacted. A zone index is none."""
    if "%" in address:
        return "an interface of one machine (RFC 4007)"
    known: IPv4Address | IPv6Address = ip_address(address)
    return next((why for network, why in _RANGES if network.version == known.version and known in network), "")
