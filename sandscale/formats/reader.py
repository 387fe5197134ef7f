"""A process that reads files for another one (see :mod:`.apart`): ``python -m sandscale.formats.reader
FD``."""

from __future__ import annotations

import os
import resource
import sys
import threading
import time
import traceback
from collections import OrderedDict
from collections.abc import Generator
from multiprocessing.connection import Connection
from typing import Any

from ..core.refusals import Refusal
from . import drawing_file
from .page import UnreadableDrawing

KEPT_BYTES = 160 * 1024 * 1024


def main() -> None:
    """Read until the other end is gone."""
    line = Connection(int(sys.argv[1]))
    threading.Thread(target=_end_with, args=(os.getppid(),), daemon=True).start()
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    needed = _size()
    files: OrderedDict[str, bytes] = OrderedDict()
    while True:
        try:
            line.send(("ready", None))
            function, key, arguments, megabytes = line.recv()
            if key not in files:
                line.send(("wanted", None))
                files[key] = line.recv_bytes()
        except (EOFError, OSError):
            return
        files.move_to_end(key)
        while len(files) > 1 and sum(map(len, files.values())) > KEPT_BYTES:
            gone, _ = files.popitem(last=False)
            drawing_file.let_go(gone)
        limit = needed + sum(map(len, files.values())) + megabytes * 1024 * 1024
        resource.setrlimit(resource.RLIMIT_AS, (limit, resource.RLIM_INFINITY))
        try:
            line.send(("made", _made(function(files[key], *arguments), line)))
        except Refusal as refusal:
            line.send(("raised", refusal))
        except MemoryError:
            return  # what was kept of the file is not to be trusted
        except Exception:
            traceback.print_exc()
            line.send(("raised", UnreadableDrawing("The drawing is broken and can't be read.", field="file")))


def _made(work: Any, line: Connection) -> Any:
    """What a function made; of one that tells on the way how far it is, that is told on."""
    if not isinstance(work, Generator):
        return work
    while True:
        try:
            line.send(("so far", next(work)))
        except StopIteration as end:
            return end.value


def _size() -> int:
    with open("/proc/self/statm") as told:
        return int(told.read().split()[0]) * resource.getpagesize()


def _end_with(parent: int) -> None:
    """End when the process that this one reads for has, also in the middle of a page."""
    while os.getppid() == parent:
        time.sleep(0.5)
    os._exit(1)


if __name__ == "__main__":
    main()
