"""Packages: chosen documents written as at one moment, with a cover list, kept with the bill as it was."""

from __future__ import annotations

import io
import secrets
import zipfile
from collections.abc import Iterator, Mapping, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from contextvars import copy_context
from dataclasses import dataclass
from typing import Any

from peewee import fn

from ...core.numbers.working import shown
from ...core.refusals import BadEntry, Refusal
from ...reports import cover_pdf
from ...reports.cover_pdf import CoverRow
from ...settings import mail
from ...store.database import connected, database
from ...store.models import IssuedPackage, Job, Person, Project, StoredFile, now
from ..bill.bills import Frozen, keep_issued, own_as_it_is
from ..keeping import jobs
from ..keeping.acting import Actor, Missing, find, require_writer
from ..keeping.files import PACKAGE, keep_file
from ..keeping.jobs import Outcome, Progress, reader_of
from ..keeping.project_file import file_name
from ..keeping.recording import action, recording
from ..keeping.views import Saved
from ..people.accounts import address
from ..people.letters import send
from ..people.signing_in import role_in
from .choices import Document, documents, told
from .views import IssuedDocument

KIND, LETTER = "package", "package_letter"
COVER = "00 Cover list.pdf"
MOST_FILES = 400
MOST_TOLD = 24  # numbers of a document, so that a project file holds the list of a large package
LARGEST_LETTER = 15 * 1024 * 1024  # bytes of a package that goes along with one; relays take 25 MB at most
LOOK_EVERY = 0.3  # seconds


@dataclass(frozen=True)
class _Written:
    """A package as it was written: its file, its list, and the bill at that moment."""

    content: bytes
    listed: Sequence[IssuedDocument]
    bill: Frozen


def ask_for_package(
    actor: Actor, title: str, chosen: Mapping[str, Sequence[str]], recipient: str = "", note: str = ""
) -> Job:
    """Have a package written and issued.

    Args:
        title: what it is called.
        chosen: the forms of each document, by the document's key.
        recipient: the address a letter takes it to; nobody where it is empty.
        note: goes on the cover list and into the letter.

    Raises:
        BadEntry: it has no title, holds nothing, or something that isn't there; the address is none.
        Forbidden: the person may only look.
        Refusal: letters don't go out from here.
    """
    require_writer(actor)
    if not title.strip():
        raise BadEntry("A package needs a title.", field="title")
    known = {document.key: document for document in documents(actor)}
    for key, forms in chosen.items():
        if key not in known or not set(forms) <= set(known[key].writes):
            raise BadEntry(
                f"“{key[:40]}” as {', '.join(forms)[:60]} can't be in a package.", field="documents",
                remedy="Choose again among what the project has.",
            )  # fmt: skip
    if not 0 < sum(map(len, chosen.values())) <= MOST_FILES:
        raise BadEntry(f"A package holds 1 to {MOST_FILES} files.", field="documents", remedy="Choose some.")
    to = address(recipient) if recipient.strip() else ""
    if to and not mail():
        raise Refusal("Letters don't go out from this server.", remedy="Issue it without an address.")
    asked = {
        "title": title.strip()[:120], "chosen": {key: list(forms) for key, forms in chosen.items()},
        "recipient": to, "note": note.strip()[:500], "token": secrets.token_hex(16),
    }  # fmt: skip
    return jobs.ask_for(actor, KIND, asked)


def work_of(job: Job, progress: Progress) -> Outcome:
    """A job's work: write a package, and issue it once."""
    asked = job.arguments
    if IssuedPackage.select().where(IssuedPackage.token == asked["token"]).exists():
        return None  # this job's, kept just before its worker died
    written = _written_apart(job, progress)
    actor = Actor(job.person_id, job.project_id, role_in(job.person_id, job.project_id) or "viewer")
    _issue(actor, asked, written)
    return None


@action
def _issue(actor: Actor, asked: Mapping[str, Any], written: _Written) -> Saved:
    last = IssuedPackage.select(fn.MAX(IssuedPackage.number)).where(IssuedPackage.project == actor.project_id)
    number, today = (last.scalar() or 0) + 1, now().date()
    who = Person.get_by_id(actor.person_id).name
    project = Project.get_by_id(actor.project_id)
    name = f"{file_name(project.name + ' ' + asked['title'])}.zip"
    with recording(actor, f"Package {number}, {asked['title']}, issued") as log:
        bill = keep_issued(log, f"{asked['title']} (package {number})", today, written.bill)
        file = keep_file(project.id, name, PACKAGE, written.content)
        row = log.insert(
            IssuedPackage, number=number, title=asked["title"], note=asked["note"],
            recipient=asked["recipient"], issued_by=who, issued_on=today, bill=bill.id, file=file.id,
            token=asked["token"], contents=[each.model_dump() for each in written.listed],
        )  # fmt: skip
        if asked["recipient"]:
            jobs.begin(actor, LETTER, {"package": row.id})
    return log.saved(row)


@action
def delete_package(actor: Actor, package_id: int) -> Saved:
    """Take a package back; its bill stays among the issued ones."""
    row = find(IssuedPackage, actor, package_id)
    with recording(actor, f"Package {row.number}, {row.title}, taken back") as log:
        log.delete(row)
    return log.saved()


def content_of(actor: Actor, package_id: int) -> tuple[str, bytes]:
    """A package's file: its name and content."""
    file = StoredFile.get_by_id(find(IssuedPackage, actor, package_id).file_id)
    return file.name, bytes(file.content)


def _written_apart(job: Job, progress: Progress) -> _Written:
    """Write a package on a connection of its own, where everything is read as at one moment; how far it is
    stands in the job meanwhile."""
    share = [0.0]
    stopped = [False]

    def report(done: float) -> None:
        share[0] = done
        if stopped[0]:
            raise jobs.Stopped

    def apart() -> _Written:
        with connected(), database.atomic("REPEATABLE READ"):
            return _written(job, report)

    with ThreadPoolExecutor(1) as pool:
        writing: Future[_Written] = pool.submit(copy_context().run, apart)  # in the project's ways
        try:
            while not _ended(writing):
                progress(share[0])
        except BaseException:
            stopped[0] = True
            raise
        return writing.result()


def _ended(writing: Future[_Written]) -> bool:
    try:
        writing.exception(LOOK_EVERY)
    except TimeoutError:
        return False
    return True


def _written(job: Job, progress: Progress) -> _Written:
    actor, chosen = reader_of(job), job.arguments["chosen"]
    wanted = [document for document in documents(actor) if document.key in chosen]
    if missing := chosen.keys() - {document.key for document in wanted}:
        raise Missing(
            f"“{min(missing)}” is not in this project any more.", remedy="Choose the documents again."
        )
    out, listed = io.BytesIO(), list[IssuedDocument]()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        for at, document in enumerate(wanted):
            numbers, first = told(actor, document.key)[:MOST_TOLD], True
            for form, name, content in _files(
                job, document, chosen[document.key], _within(progress, at, wanted)
            ):
                name = f"{at + 1:02} {name}"
                packed.writestr(name, content)
                listed.append(
                    IssuedDocument(
                        title=document.title, form=form, name=name, bytes=len(content),
                        told=numbers if first else [],
                    )
                )  # fmt: skip
                first = False
        packed.writestr(COVER, _cover(job, listed))
    return _Written(out.getvalue(), listed, own_as_it_is(actor.project_id))


def _within(progress: Progress, at: int, wanted: Sequence[Document]) -> Progress:
    return lambda done: progress((at + done) / len(wanted))


def _files(
    job: Job, document: Document, forms: Sequence[str], progress: Progress
) -> Iterator[tuple[str, str, bytes]]:
    """The files of a document: their forms, names and contents. What is written as a package of its own is
    taken out of it."""
    done = dict[str, tuple[str, bytes]]()
    for form in forms:
        kind, arguments = document.writes[form]
        told_by = f"{kind} {sorted(arguments.items())}"
        progress(0.0)
        try:
            part = Job(project=job.project_id, person=job.person_id, kind=kind, arguments=arguments)
            if told_by not in done:
                done[told_by] = jobs.kinds()[kind](part, progress) or ("", b"")
        except Refusal as refusal:
            raise Refusal(f"{document.title}: {refusal.sentence}", remedy=refusal.remedy) from None
        name, content = done[told_by]
        if not name.endswith(".zip"):
            yield form, name, content
            continue
        with zipfile.ZipFile(io.BytesIO(content)) as inner:
            for each in inner.namelist():
                if each.endswith(f".{form}"):
                    yield form, each, inner.read(each)


def _cover(job: Job, listed: Sequence[IssuedDocument]) -> bytes:
    project, asked = Project.get_by_id(job.project_id), job.arguments
    who = Person.get_by_id(job.person_id).name
    to = f", to {asked['recipient']}" if asked["recipient"] else ""
    issued = f"Issued by {who} on {now():%d %b %Y}{to}; amounts in {project.currency}."
    rows = [
        CoverRow(
            each.name, each.title, each.bytes, [f"{t.name}: {t.value} {t.unit}".strip() for t in each.told]
        )
        for each in listed
    ]
    return cover_pdf.write(project.name, project.client, asked["title"], issued, asked["note"], rows)


def letter_of(job: Job, _progress: Progress) -> Outcome:
    """Send a package by letter; one that no letter takes is told of instead."""
    row = IssuedPackage.get_or_none(IssuedPackage.id == job.arguments["package"])
    if row is None:
        return None  # taken back meanwhile
    project, file = Project.get_by_id(row.project_id), StoredFile.get_by_id(row.file_id)
    content = bytes(file.content)
    fits = len(content) <= LARGEST_LETTER
    listed = "\n".join(f"  {each['name']}" for each in row.contents)
    goes = (
        "It goes along with this letter."
        if fits
        else f"{shown(len(content) / 1e6, 1)} MB are too much for a letter; {row.issued_by} hands it over."
    )
    send(
        row.recipient, f"{row.title}: {project.name}",
        f"Package {row.number} of {project.name}, issued by {row.issued_by} on {row.issued_on:%d %b %Y}:\n\n"
        f"{listed}\n\n{row.note}\n\n{goes}\n",
        (file.name, content) if fits else None,
    )  # fmt: skip
    return None
