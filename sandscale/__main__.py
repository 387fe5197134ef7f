"""The command line of those who run the application: python -m sandscale."""

from __future__ import annotations

import sys

import click

from . import settings
from .core.refusals import Refusal
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


@main.command()
def migrate() -> None:
    """Make the database's tables, or bring them and what they hold up to date."""
    done = upgrade.upgrade()
    click.echo("\n".join(done) if done else "The database is up to date.")


@main.command("add-person")
@click.argument("name")
@click.argument("email")
@click.password_option(help="Asked for when it isn't given, so that it stays out of the list of processes.")
def add_person(name: str, email: str, password: str) -> None:
    """Make an account that can sign in."""
    try:
        with connected():
            person = people.add_person(name, email, password)
    except Refusal as refusal:
        raise click.ClickException(str(refusal)) from None
    click.echo(f"{person.name} can sign in as {person.email}.")


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
