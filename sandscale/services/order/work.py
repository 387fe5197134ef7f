"""What jobs do for orders: write lists, and send letters."""

from __future__ import annotations

from ..keeping.jobs import Work
from .actions import LETTER
from .papers import letter_of, order_of, to_buy_of

KINDS: dict[str, Work] = {"to_buy": to_buy_of, "order_list": order_of, LETTER: letter_of}
