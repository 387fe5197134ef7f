"""The command line of those who run the application: python -m sandscale."""

from __future__ import annotations

import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import click

from . import settings
from .core.refusals import Refusal
from .services.keeping import backup as keeping_backup
from .services.keeping import health, upgrade, worker
from .services.people import accounts as people
from .store.database import connect, connected


@click.group(context_settings={"help_option_names": ["-h", "--help"]})
def main() -> None:
    """Sand Scale: measuring, pricing and billing. The README tells how these work together on several
    machines."""
    try:
        connect()
    except RuntimeError as error:
        raise click.ClickException(str(error)) from None


@contextmanager
def told() -> Iterator[None]:
    """A refusal is told as the command line tells its errors."""
    try:
        yield
    except Refusal as refusal:
        raise click.ClickException(str(refusal)) from None


@main.command()
def migrate() -> None:
    """Make the database's tables, or bring them and what they hold up to date."""
    done = upgrade.upgrade()
    click.echo("\n".join(done) if done else "The database is up to date.")


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
def backup(file: Path) -> None:
    """Write all that the database holds into FILE."""
    with told():
        size = keeping_backup.back_up(file)
    click.echo(f"{file}: {size / 1e6:.1f} MB.")


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
def restore(file: Path) -> None:
    """Bring a backup back into an empty database."""
    with told():
        done = keeping_backup.restore(file)
    click.echo("\n".join([f"{file} is restored.", *done]))


@main.command("add-person")
@click.argument("name")
@click.argument("email")
@click.password_option(help="Asked for when it isn't given, so that it stays out of the list of processes.")
def add_person(name: str, email: str, password: str) -> None:
    """Make an account that can sign in."""
    with told(), connected():
        person = people.add_person(name, email, password)
    click.echo(f"{person.name} can sign in as {person.email}.")


@main.command("remove-person")
@click.argument("email")
@click.confirmation_option(prompt="Their own projects and shelves go too. Remove them?")
def remove_person(email: str) -> None:
    """Take an account away, with the projects and shelves nobody else belongs to."""
    with told(), connected():
        people.remove_person(people.person_of(email))
    click.echo(f"{email} is gone.")


@main.command()
def serve() -> None:
    """Serve the application at SANDSCALE_ADDRESS until stopped."""
    from .web import server

    address = settings.address()
    if settings.demonstration() and not settings.is_loopback(address):
        raise click.ClickException(
            f"The demonstration's sign-in is published; it is not served at {address}. "
            f"Serve it on 127.0.0.1, or without {settings.DEMONSTRATION}."
        )
    server.serve(address, settings.web_processes())


@main.command()
def work() -> None:
    """Do the long work of the queue until stopped."""
    worker.work_until_told()


@main.command()
def check() -> None:
    """Tell whether the database answers and is up to date, and whether anyone does the long work."""
    with connected():
        found = health.health()
    for name, state in found.model_dump().items():
        click.echo(f"{name}: {state}")
    sys.exit(0 if found.well else 1)


if __name__ == "__main__":
    main()
