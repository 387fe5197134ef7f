"""Answers to enquiries, as a price desk offers them over HTTP at an address that whoever runs the application
names. In the demonstration a stand-in stands there."""

from __future__ import annotations

import json
from datetime import date
from decimal import Decimal
from typing import Any
from urllib.parse import quote

from ...core.refusals import Refusal
from ...settings import price_desk
from ...store.models import Enquiry
from ..keeping.outside import fetched

_LARGEST = 4 * 1024 * 1024
_MOST = 5_000


def reference_of(enquiry: Enquiry) -> str:
    """What an enquiry is called in letters, and at the price desk."""
    return f"SS-{enquiry.project_id}-{enquiry.number}"


def answers_to(enquiry: Enquiry) -> tuple[list[dict[str, Any]], int]:
    """What was answered to an enquiry so far: of each its supplier's ``email``, the ``line`` it is for, and
    the fields of an answer; and how many answers tell what can't be, which are left out.

    Raises:
        Refusal: there is no price desk, it can't be reached, or says what can't be read.
    """
    if not price_desk():
        raise Refusal(
            "No price desk is known here.",
            remedy="Whoever runs the application sets SANDSCALE_PRICE_DESK; or take quotes in from a file.",
        )
    path = f"answers?enquiry={quote(reference_of(enquiry))}"
    try:
        told = json.loads(fetched(price_desk(), path, _LARGEST, "price desk"))
        found = [_answer(each) for each in told[:_MOST]]
    except (ValueError, TypeError, KeyError, RecursionError, ArithmeticError):
        raise Refusal(
            "The price desk says nothing that can be read.",
            remedy="Try again, or take quotes in from a file.",
        ) from None
    answers = [each for each in found if each is not None]
    return answers, len(found) - len(answers)


def _answer(told: Any) -> dict[str, Any] | None:
    price, least = Decimal(str(told["price"])), told.get("least")
    least = None if least is None else Decimal(str(least))
    if not (price.is_finite() and 0 <= price < Decimal("1e9")):
        return None
    if least is not None and not (least.is_finite() and 0 < least < Decimal("1e9")):
        return None
    day, end = date.fromisoformat(told["quoted_on"]), told.get("valid_to")
    valid_to = date.fromisoformat(end) if end else None
    if valid_to is not None and valid_to < day:
        return None
    words = {name: " ".join(str(told[name]).split())[:120].replace("\0", "") for name in ("unit", "source")}
    return {
        "email": str(told["supplier"]).lower(), "line": int(told["line"]),
        "price": price.quantize(Decimal("0.0001")),
        "least": least, "quoted_on": day, "valid_to": valid_to,
        "came_on": date.fromisoformat(told["came_on"]), **words,
    }  # fmt: skip
