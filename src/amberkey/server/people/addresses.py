"""From which address a request really comes."""

import ipaddress
from collections.abc import Sequence

from django.conf import settings
from django.http import HttpRequest

Network = ipaddress.IPv4Network | ipaddress.IPv6Network


def networks(text: str) -> tuple[Network, ...]:
    """Addresses and networks, with commas between. Raises ValueError for one that is none."""
    return tuple(ipaddress.ip_network(part.strip(), strict=False) for part in text.split(",") if part.strip())


def address_of(request: HttpRequest, credentials: object = None) -> str:
    """The address of who asks. What a proxy says of it counts only where the proxy is one of ours (AMBERKEY_PROXIES).

    A proxy appends the address that it was asked from to X-Forwarded-For, so the last one there that is no proxy of ours is
    the nearest that can't be made up.
    """
    proxies: Sequence[Network] = settings.PROXIES
    asked_from = str(request.META.get("REMOTE_ADDR", ""))
    said = [part.strip() for part in request.headers.get("X-Forwarded-For", "").split(",")]
    while said and _among(asked_from, proxies):
        nearest = said.pop()
        if not _is_address(nearest):
            break
        asked_from = nearest
    return asked_from


def _is_address(text: str) -> bool:
    try:
        ipaddress.ip_address(text)
    except ValueError:
        return False
    return True


def _among(address: str, proxies: Sequence[Network]) -> bool:
    return _is_address(address) and any(ipaddress.ip_address(address) in proxy for proxy in proxies)
