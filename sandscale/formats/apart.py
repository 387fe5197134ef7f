"""Files are read in processes of their own, with limits of time and memory.

A drawing may be made to hang its reader, or to swell. What reads it is then killed and the sender told;
whoever asks for something of another file doesn't wait for it. A process keeps the last files it was given,
so that a tile after the first costs no reading.
"""

from __future__ import annotations

import atexit
import hashlib
import os
import socket
import subprocess
import sys
import threading
import time
from collections import Counter, OrderedDict
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from multiprocessing.connection import Connection
from typing import Any, Generic, TypeVar

from ..core.refusals import Refusal
from .page import UnreadableDrawing

R = TypeVar("R")
READERS = 3  # processes at work at once; those that are stuck don't count
MOST_READERS = 8
STUCK_AFTER = 1.0  # seconds
MOST_CALLS_OF_A_FILE = 8  # at work and waiting
GIVEN_UP_FOR = 600.0  # seconds
PATIENCE = 60.0  # seconds for a process to start
BUSY = 6  # times as long as it should take, where others take the processor


@dataclass(frozen=True)
class Limits:
    """What one call may take: seconds, and megabytes of memory beyond what the reader needs anyway; and how
    many such calls may be at work or wait, so that those that take long leave room for the others."""

    seconds: float
    megabytes: int
    calls: int


DRAWING = Limits(5, 700, calls=12)
READING = Limits(30, 1600, calls=5)
DRAWN_ANEW = Limits(120, 3000, calls=3)  # a DXF of hundreds of thousands of lines


class Busy(Refusal):
    """So many files are being read just now that this one has to wait outside."""


@dataclass(frozen=True)
class Call(Generic[R]):
    """A function asked for of a file: ``function(content, *arguments)``.

    Args:
        fetch: gives the file's content, asked for when the process hasn't got it.
        key: what it is known by, such as its hash.
        page: which page is read, so that a hostile one is not tried again and again.
        told: is told how far it is, by a function that tells; what it raises ends the reading.
    """

    function: Callable[..., R]
    fetch: Callable[[], bytes]
    key: str
    arguments: tuple[Any, ...]
    limits: Limits
    page: int | None
    told: Callable[[float], None] | None = None


class Reader:
    """One process that reads; it ends with this one."""

    def __init__(self) -> None:
        ours, its = socket.socketpair()
        with its:
            command = [sys.executable, "-m", "sandscale.formats.reader", str(its.fileno())]
            self.process = subprocess.Popen(command, pass_fds=[its.fileno()], stdin=subprocess.DEVNULL)
        self.line = Connection(ours.detach())
        self.key, self.since = "", 0.0
        self.dead = self.stuck = False

    def take(self, call: Call[R]) -> R:
        """What a function makes of a file.

        Raises:
            TimeoutError: it took too long; the process is dead.
            EOFError, OSError: the process died, for want of memory or by a fault.
        """
        self._hear(PATIENCE)  # that it has started, or done with what went before
        self.line.send((call.function, call.key, call.arguments, call.limits.megabytes))
        what, value = self._hear(call.limits.seconds)
        if what == "wanted":
            try:
                content = call.fetch()
            except BaseException:
                self.end()  # it waits for a file that doesn't come
                raise
            self.line.send_bytes(content)
            what, value = self._hear(call.limits.seconds)
        while what == "so far":
            try:
                if call.told:
                    call.told(value)
            except BaseException:
                self.end()  # it is in the middle of its work
                raise
            what, value = self._hear(call.limits.seconds)
        if what == "raised":
            raise value
        return value  # type: ignore[no-any-return]

    def _hear(self, seconds: float) -> tuple[str, Any]:
        """What it says, within so many seconds of a processor's time: longer, on a busy machine."""
        begun, worked = time.monotonic(), self._worked()
        while not self.line.poll(0.2):
            if self._worked() - worked > seconds or time.monotonic() - begun > BUSY * seconds:
                raise TimeoutError
        told: tuple[str, Any] = self.line.recv()
        return told

    def _worked(self) -> float:
        """The processor's time it has taken, in seconds."""
        try:
            with open(f"/proc/{self.process.pid}/stat") as told:
                spent = told.read().rpartition(")")[2].split()[11:13]
        except OSError:
            return 0.0
        return sum(map(int, spent)) / os.sysconf("SC_CLK_TCK")

    def is_stuck(self) -> bool:
        """Whether it has been at one call for long. It then gives way to everything else on the machine."""
        if not self.stuck and self.since and time.monotonic() - self.since >= STUCK_AFTER:
            self._go_on(stuck=True)
        return self.stuck

    def done(self) -> None:
        """A call is over; what it kept of the file is worth keeping, though it took long."""
        self.since = 0.0
        if self.stuck and not self.dead:
            self._go_on(stuck=False)

    def _go_on(self, *, stuck: bool) -> None:
        self.stuck = stuck
        with suppress(OSError):  # only root may raise a priority again
            os.setpriority(os.PRIO_PROCESS, self.process.pid, 15 if stuck else 0)

    def end(self) -> None:
        """Kill it."""
        self.dead = True
        self.process.kill()
        self.line.close()
        self.process.wait()


class Readers:
    """The processes that read for this one; a file is read by one of them at a time."""

    def __init__(self) -> None:
        self.all: list[Reader] = []
        self.waiting: Counter[str | Limits] = Counter()
        self.given_up: OrderedDict[tuple[str, Any], float] = OrderedDict()
        self.died: set[tuple[str, Any]] = set()  # those at which a process died once
        self.turn = threading.Condition()

    def call(
        self,
        function: Callable[..., R],
        fetch: Callable[[], bytes],
        key: str,
        *arguments: Any,
        limits: Limits,
        page: int | None = None,
        told: Callable[[float], None] | None = None,
    ) -> R:
        """What a function makes of a file, in a process apart (see :class:`Call`).

        Raises:
            UnreadableDrawing: it took too long or too much memory.
            Busy: too many wait already.
        """
        call = Call(function, fetch, key, arguments, limits, page, told)
        with self._place(key, limits):
            try:
                return self._tried(call)
            except (EOFError, OSError):  # it may have died of something else: once more
                try:
                    return self._tried(call)
                except (EOFError, OSError):
                    self._give_up(call)
                    raise _too_much(limits) from None

    def _tried(self, call: Call[R]) -> R:
        with self._reader(call.key) as reader:
            if time.monotonic() < self.given_up.get((call.key, call.page), 0.0):
                raise _too_much(call.limits)
            try:
                made = reader.take(call)
            except TimeoutError:
                reader.end()
                self._give_up(call)
                raise _too_much(call.limits) from None
            except (EOFError, OSError):
                reader.end()
                if (call.key, call.page) in self.died:  # whoever asked the first time: twice is enough
                    self._give_up(call)
                    raise _too_much(call.limits) from None
                self.died.add((call.key, call.page))
                raise
            self.died.discard((call.key, call.page))
            return made

    def _give_up(self, call: Call[Any]) -> None:
        self.given_up[call.key, call.page] = time.monotonic() + GIVEN_UP_FOR
        self.died.discard((call.key, call.page))
        if len(self.given_up) > 1000:
            self.given_up.popitem(last=False)

    @contextmanager
    def _place(self, key: str, limits: Limits) -> Iterator[None]:
        with self.turn:
            if self.waiting[key] >= MOST_CALLS_OF_A_FILE or self.waiting[limits] >= limits.calls:
                raise Busy("Many drawings are being read just now.", remedy="Try again in a moment.")
            self.waiting.update((key, limits))
        try:
            yield
        finally:
            with self.turn:
                self.waiting.subtract((key, limits))
                self.waiting = +self.waiting

    @contextmanager
    def _reader(self, key: str) -> Iterator[Reader]:
        with self.turn:
            while (reader := self._free(key)) is None:
                self.turn.wait(0.2)
            reader.since = time.monotonic()
        try:
            yield reader
        finally:
            with self.turn:
                reader.done()
                if reader.dead or reader.process.poll() is not None:
                    self.all.remove(reader)
                self.turn.notify_all()

    def _free(self, key: str) -> Reader | None:
        """A reader for a file: the one that read it last, an idle one, or a new one; none while it is being
        read, or while as many are at work as may be."""
        self.all = [each for each in self.all if each.since or each.process.poll() is None]
        if any(each.since and each.key == key for each in self.all):
            return None
        idle = [each for each in self.all if not each.since]
        reader = next((each for each in idle if each.key == key), None)
        if reader is None:
            at_work = sum(1 for each in self.all if each.since and not each.is_stuck())
            if at_work >= READERS:
                return None
            if len(self.all) < READERS or (not idle and len(self.all) < MOST_READERS):
                self.all.append(reader := Reader())
            elif idle:
                reader = idle[0]
            else:
                return None
        self.all.remove(reader)
        self.all.append(reader)  # the one idle longest stands first
        reader.key = key
        return reader

    def warm(self) -> None:
        """Begin the first process, so that the first drawing doesn't wait for it."""
        with self.turn:
            if not self.all:
                self.all.append(Reader())

    def end(self) -> None:
        """Kill them all."""
        for each in self.all:
            each.end()


def _too_much(limits: Limits) -> UnreadableDrawing:
    return UnreadableDrawing(
        f"The drawing takes more than {limits.seconds:g} seconds or {limits.megabytes} MB to be read.",
        field="file", remedy="Print it to a new PDF, or save it as a picture.", code="drawing-too-heavy",
    )  # fmt: skip


readers = Readers()
atexit.register(readers.end)


def read(
    function: Callable[..., R],
    content: bytes,
    *arguments: Any,
    limits: Limits = READING,
    page: int | None = None,
    told: Callable[[float], None] | None = None,
) -> R:
    """What a function makes of a file at hand, in a process apart (see :meth:`Readers.call`)."""
    key = hashlib.sha256(content).hexdigest()
    return readers.call(function, lambda: content, key, *arguments, limits=limits, page=page, told=told)
