"""What a client's requests and connections are counted under."""

import ipaddress


def counted_address(told: str | None) -> str:
    """An address; of IPv6 the network that one device has to itself, or it would have more than can be counted.

    >>> counted_address("192.168.1.7"), counted_address("::ffff:192.168.1.7")
    ('192.168.1.7', '192.168.1.7')
    >>> counted_address("2001:db8:1:2:3:4:5:6"), counted_address(None)
    ('2001:db8:1:2::/64', 'unknown')
    """
    try:
        plain = ipaddress.ip_address((told or "").split("%")[0])
    except ValueError:
        return "unknown"
    if isinstance(plain, ipaddress.IPv4Address):
        return str(plain)
    if plain.ipv4_mapped is not None:
        return str(plain.ipv4_mapped)
    return str(ipaddress.ip_network((plain, 64), strict=False))
