"""Backup and restore of the whole database, by PostgreSQL's own programs."""

from __future__ import annotations

import glob
import os
import shutil
import subprocess
from pathlib import Path
from urllib.parse import unquote, urlsplit, urlunsplit

from ...core.refusals import Refusal
from ...settings import database_address
from ...store.database import connected, database
from .upgrade import upgrade


class BackupFailed(Refusal):
    """A backup could not be written, or not be brought back."""


def back_up(file: Path) -> int:
    """Write all that the database holds into a file, as it is at one moment; gives its size in bytes.

    It stands under its name only once it is whole.

    Raises:
        BackupFailed: there is such a file already, or it can't be written.
    """
    if file.exists():
        raise BackupFailed(f"{file} is there already.", remedy="Choose another name.")
    begun = file.with_name(f"{file.name}.part")
    try:
        begun.touch(0o600)
        _run("pg_dump", "--format=custom", "--no-owner", "--no-privileges", f"--file={begun}")
        with begun.open("rb") as written:
            os.fsync(written.fileno())
        begun.rename(file)
    except OSError as error:
        raise BackupFailed(f"{file} can't be written: {error.strerror}.") from None
    finally:
        begun.unlink(missing_ok=True)
    return file.stat().st_size


def restore(file: Path) -> list[str]:
    """Bring a backup back into a database that is empty, and up to date; gives the migrations run.

    Raises:
        BackupFailed: the file isn't one, or the database holds something; it is left as it was.
    """
    if not file.is_file():
        raise BackupFailed(f"There is no file {file}.")
    with connected():
        if database.get_tables():
            raise BackupFailed(
                "The database isn't empty.", remedy="Restore into a new one: CREATE DATABASE name OWNER role."
            )
    _run("pg_restore", "--no-owner", "--no-privileges", "--exit-on-error", "--single-transaction", str(file))
    return upgrade()


def _run(program: str, *arguments: str) -> None:
    """Run a program on the database; the password goes in the environment, where nobody reads along."""
    address = urlsplit(database_address())
    place = f"{address.username}@{address.hostname}:{address.port or 5432}"
    known = {"PGPASSWORD": unquote(address.password or ""), "LC_ALL": "C.UTF-8"}
    command = [_found(program), *arguments, f"--dbname={urlunsplit(address._replace(netloc=place))}"]
    done = subprocess.run(command, env={**os.environ, **known}, capture_output=True, text=True, check=False)
    if done.returncode:
        said = done.stderr.strip().splitlines()
        raise BackupFailed(f"{program} failed: {said[-1] if said else done.returncode}")


def _found(program: str) -> str:
    versions = sorted(glob.glob(f"/usr/lib/postgresql/*/bin/{program}"), key=lambda p: int(p.split("/")[4]))
    found = versions[-1] if versions else shutil.which(program)
    if found is None:
        raise BackupFailed(f"{program} is missing.", remedy="Install postgresql-client.")
    return found
