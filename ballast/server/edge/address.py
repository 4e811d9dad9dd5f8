"""Where a request comes from, behind proxies that are trusted and no others."""

import ipaddress

from django.conf import settings
from django.http import HttpRequest

# Whoever has one address of a household's sixth version has all of them.
_HOUSEHOLD = 64


def _read(address: str) -> ipaddress.IPv4Address | ipaddress.IPv6Address | None:
    """An address; of the fourth version also where it is written as one of the sixth. None where it is none."""
    try:
        ip = ipaddress.ip_address(address)
    except ValueError:
        return None
    return (ip.ipv4_mapped or ip) if isinstance(ip, ipaddress.IPv6Address) else ip


def _trusted(address: str) -> bool:
    ip = _read(address)
    return ip is not None and any(ip in network for network in settings.TRUSTED_PROXIES)


def address_of(request: HttpRequest) -> str:
    """The address that a request comes from; of the sixth version its network. Empty where it is none.

    What a proxy says of the one before it is believed of `TRUSTED_PROXIES` alone, from the nearest on.
    """
    address = str(request.META.get("REMOTE_ADDR", ""))
    said = [part.strip() for part in str(request.META.get("HTTP_X_FORWARDED_FOR", "")).split(",") if part.strip()]
    while said and _trusted(address):
        address = said.pop()
    ip = _read(address)
    if isinstance(ip, ipaddress.IPv6Address):
        return str(ipaddress.IPv6Network((ip, _HOUSEHOLD), strict=False).network_address)
    return str(ip or "")
