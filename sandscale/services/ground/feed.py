"""Levels as an instrument sends them: files offered over HTTP at an address that whoever runs the application
names. In the demonstration a stand-in stands there."""

from __future__ import annotations

import json
import re
from datetime import datetime
from typing import Any
from urllib.parse import quote

from ...core.refusals import BadEntry
from ...formats.level_file import LARGEST_FILE
from ...formats.levels_in import How, Seen
from ...settings import survey_feed
from ..keeping.acting import Actor, require_writer
from ..keeping.outside import away, fetched
from ..keeping.views import Saved
from .actions.surveys import read_file, take_in
from .views import DeliveryView

_NAME_HERE = "survey feed"
_LARGEST_LIST = 1024 * 1024
_MOST_LISTED = 200
_NAME = re.compile(r"[\w][\w .()-]{0,119}")


def deliveries(_actor: Actor) -> list[DeliveryView]:
    """What the survey feed has sent, the newest first; nothing where there is no feed.

    Raises:
        Refusal: it can't be reached, or says what can't be read.
    """
    if not survey_feed():
        return []
    try:
        told = json.loads(_fetched("", _LARGEST_LIST))
        found = [_delivery(each) for each in told[:_MOST_LISTED]]
    except (ValueError, TypeError, KeyError, RecursionError):
        raise away(_NAME_HERE, "says nothing that can be read") from None
    return [each for each in found if each is not None]


def _delivery(told: Any) -> DeliveryView | None:
    name = str(told["name"])
    if not _NAME.fullmatch(name):
        return None
    return DeliveryView(name=name, made=datetime.fromisoformat(told["made"]), size=int(told["size"]))


def _fetched(path: str, most: int) -> bytes:
    return fetched(survey_feed(), quote(path), most, _NAME_HERE)


def content_of(name: str) -> bytes:
    """A file the feed has sent.

    Raises:
        BadEntry: it is no name of one.
        Refusal: the feed can't be reached.
    """
    if not survey_feed() or not _NAME.fullmatch(name):
        raise BadEntry("The survey feed has no such file.", field="name")
    return _fetched(name, LARGEST_FILE)


def read_delivery(actor: Actor, name: str, how: How) -> Seen:
    """What a file of the feed holds; nothing is kept.

    Raises:
        Refusal: it can't be read, or the feed not reached.
    """
    require_writer(actor)
    return read_file(actor, name, content_of(name), how)


def take_delivery(actor: Actor, name: str, how: How, unit: str, level_unit: str, *, surface: bool) -> Saved:
    """Take in a file of the feed.

    Raises:
        Refusal: it can't be read, or the feed not reached.
    """
    require_writer(actor)
    return take_in(
        actor, name, content_of(name), how, unit=unit, level_unit=level_unit, origin="feed", surface=surface
    )
