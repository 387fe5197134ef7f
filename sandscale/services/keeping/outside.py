"""What is fetched over HTTP from services that whoever runs the application names."""

from __future__ import annotations

from urllib.error import URLError
from urllib.request import Request, urlopen

from ...core.refusals import Refusal

PATIENCE = 10.0  # seconds


def fetched(address: str, path: str, most: int, name: str) -> bytes:
    """The bytes at an address.

    Args:
        address: of the service.
        path: there, quoted.
        most: bytes that are taken.
        name: what it is called in sentences.

    Raises:
        Refusal: it can't be reached, or sends more.
    """
    request = Request(f"{address.rstrip('/')}/{path}", headers={"User-Agent": "sandscale"})
    try:
        with urlopen(request, timeout=PATIENCE) as answer:
            content = bytes(answer.read(most + 1))
    except (URLError, OSError, ValueError):
        raise away(name, "can't be reached") from None
    if len(content) > most:
        raise away(name, "sent more than is taken")
    return content


def away(name: str, why: str) -> Refusal:
    """That a service doesn't serve."""
    return Refusal(f"The {name} {why}.", remedy="Try again, or bring the file in by hand.")
