"""Many people at work at once on the machine's processors: how long everything they ask takes.

    python -m bench.load [SECONDS] [PEOPLE …]

40 seconds each of 1, 50 and 100 people unless told otherwise. Five people share a project of the
demonstration's size. Each has one tab: it hears each second what colleagues did; its person types a dimension
every few seconds and reads its working and what looks wrong, opens an element now and then, and changes to
another stage. Times are taken where they ask, over connections that stay open, as browsers' do; one person's
in the same run are what the many are held against.
"""

from __future__ import annotations

import http.client
import io
import json
import multiprocessing
import random
import sys
import threading
import time
from collections.abc import Callable
from typing import Any

from sandscale.demo import project as demo
from sandscale.services.keeping import project_file
from sandscale.services.keeping.acting import Actor
from sandscale.services.people import accounts
from sandscale.settings import WEB_PROCESSES, web_processes
from sandscale.store.database import connect, connected, database, migrate
from sandscale.store.models import DimensionLine, Element, Membership, Person, Project
from tests.served import Served

TOGETHER = 5  # people in one project
HEARS, TYPES, OPENS, CHANGES_STAGE = 1.0, 4.0, 9.0, 30.0  # seconds between, as a mean for all but the first
PASSWORD = "terrace level weir"
STAGES = (
    "/drawings", "/elements", "/locations", "/resources", "/build-ups", "/bill", "/checks", "/history",
    "/makeups",
)  # fmt: skip
Times = list[tuple[str, float]]


class Somebody:
    """A person at a tab."""

    def __init__(self, port: int, email: str, project: int, elements: list[int], seed: int) -> None:
        self.connection = http.client.HTTPConnection("127.0.0.1", port, timeout=60)
        self.path, self.elements, self.dice = f"/api/projects/{project}", elements, random.Random(seed)
        self.cookie = self.token = ""
        self.known = 0
        self.times: Times = []
        session = self.ask("sign in", "POST", "/api/session", {"email": email, "password": PASSWORD})
        self.token = session["csrf_token"]
        self.known = self.ask("project", "GET", self.path)["change"]
        self.lines: dict[int, dict[str, Any]] = {}
        self.open()

    def ask(self, what: str, method: str, path: str, body: Any = None) -> Any:
        """An answer, with the time it took noted."""
        headers = {
            "Content-Type": "application/json", "Cookie": self.cookie,
            "X-Sandscale-Token": self.token, "X-Sandscale-Known": str(self.known),
        }  # fmt: skip
        begun = time.perf_counter()
        self.connection.request(method, path, None if body is None else json.dumps(body), headers)
        answer = self.connection.getresponse()
        content = answer.read()
        self.times.append((what, time.perf_counter() - begun))
        if cookie := answer.headers.get("Set-Cookie"):
            self.cookie = cookie.split(";")[0]
        if answer.status not in (200, 409):
            raise AssertionError(f"{method} {path}: {answer.status} {content[:200]!r}")
        return json.loads(content)

    def work(self, until: float) -> None:
        """Do what people do until the time is up."""
        doing: list[tuple[Callable[[], None], float]] = [
            (self.hear, HEARS), (self.type, TYPES), (self.open, OPENS), (self.stage, CHANGES_STAGE)
        ]  # fmt: skip
        due = [time.monotonic() + self.dice.uniform(0, every) for _, every in doing]
        while (now := time.monotonic()) < until:
            at = min(range(len(due)), key=due.__getitem__)
            if due[at] > now:
                time.sleep(min(due[at] - now, until - now))
                continue
            act, every = doing[at]
            act()
            pause = every if act == self.hear else self.dice.uniform(0.5, 1.5) * every
            due[at] = time.monotonic() + pause

    def hear(self) -> None:
        told = self.ask("pulse", "GET", f"{self.path}/pulse?since={self.known}")
        self.known = max(self.known, told["change"])

    def open(self) -> None:
        self.element = self.dice.choice(self.elements)
        view = self.ask("open an element", "GET", f"{self.path}/elements/{self.element}")
        self.lines = {line["id"]: line for line in view["lines"]}

    def type(self) -> None:
        if not self.lines:
            return self.open()
        line = self.dice.choice(list(self.lines.values()))
        body = {"version": line["version"], "note": f"note {self.dice.randrange(1000)}"}
        if line["width"]:
            body["width"] = f"{self.dice.uniform(0.4, 2.4):.2f}"
        answer = self.ask("type", "PATCH", f"{self.path}/lines/{line['id']}", body)
        if "moved" in answer:
            line["version"] = answer["version"]
            self.known = max(self.known, answer["moved"]["change"])
        else:
            self.open()
        self.ask("working", "GET", f"{self.path}/walk/line:{line['id']}")
        self.ask("checks", "GET", f"{self.path}/checks/count")

    def stage(self) -> None:
        self.ask("open a stage", "GET", self.path + self.dice.choice(STAGES))


def crowd(port: int, people: list[tuple[str, int, list[int]]], seconds: float, answers: Any) -> None:
    """Some people at once, in a process beside the server's."""
    somebodies = [
        Somebody(port, email, project, elements, seed)
        for seed, (email, project, elements) in enumerate(people)
    ]
    for each in somebodies:
        each.times.clear()
    until = time.monotonic() + seconds
    threads = [threading.Thread(target=each.work, args=(until,)) for each in somebodies]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    answers.put([taken for each in somebodies for taken in each.times])


def made(number: int) -> list[tuple[str, int, list[int]]]:
    """So many people in their projects, made unless they were: address, project, elements."""
    if not Person.get_or_none(Person.email == demo.PEOPLE[0][1]):
        demo.load()
    one = Project.get(Project.name == demo.NAME)
    owner = Membership.get((Membership.project == one.id) & (Membership.role == "owner"))
    content = io.BytesIO()
    project_file.write(Actor(owner.person_id, one.id, "owner"), content)
    people = []
    while len(people) < number:
        first = len(people)
        names = [f"load-{first + at}@test.example" for at in range(TOGETHER)]
        known = Person.get_or_none(Person.email == names[0])
        if known is None:
            content.seek(0)
            persons = [accounts.add_person("Somebody", email, PASSWORD) for email in names]
            project = project_file.take_in(persons[0].id, content).id
            for person in persons[1:]:
                Membership.create(project=project, person=person, role="editor")
        else:
            project = Membership.get(Membership.person == known.id).project_id
        with_width = DimensionLine.select(DimensionLine.element).where(DimensionLine.width != "")
        mine = (Element.project == project) & (Element.id << with_width)
        elements = [element for (element,) in Element.select(Element.id).where(mine).tuples()]
        people += [(email, project, elements) for email in names]
    return people[:number]


def share(times: list[float], part: float) -> float:
    return sorted(times)[min(len(times) - 1, int(len(times) * part))] * 1000


def medians(times: Times) -> dict[str, float]:
    """What each thing takes as a median, in milliseconds."""
    return {what: share([t for name, t in times if name == what], 0.5) for what, _ in times}


def tell(number: int, seconds: float, times: Times, alone: dict[str, float]) -> None:
    """How long everything took so many people, and how that compares with one person's typing."""
    every = [taken for _, taken in times]
    late = share(every, 0.95)
    print(f"{number} people, {len(every) / seconds:.1f} requests a second, longest {max(every):.1f} s")
    print(
        f"  {'everything':18} {len(every):5}, median {share(every, 0.5):5.0f} ms, 95 % under {late:5.0f} ms"
    )
    for what, median in medians(times).items():
        those = [taken for name, taken in times if name == what]
        print(f"  {what:18} {len(those):5}, median {median:5.0f} ms, 95 % under {share(those, 0.95):5.0f} ms")
    if alone:
        times_typing = late / alone["type"]
        print(f"  95 % of everything under {times_typing:.1f} × the median that one person's typing takes")


def main() -> None:
    seconds = float(sys.argv[1]) if len(sys.argv) > 1 else 40.0
    sizes = [int(word) for word in sys.argv[2:]] or [1, 50, 100]
    connect()
    migrate()
    with connected():
        people = made(max(sizes))
    database.obj.close_all()
    served = Served(**{WEB_PROCESSES: str(web_processes())}).wait()
    alone: dict[str, float] = {}
    try:
        for number in sizes:
            context = multiprocessing.get_context("spawn")
            answers = context.Queue()
            beside = context.Process(target=crowd, args=(served.port, people[:number], seconds, answers))
            beside.start()
            times: Times = answers.get()
            beside.join()
            tell(number, seconds, times, alone)
            alone = alone or medians(times)
    finally:
        served.stop()


if __name__ == "__main__":
    main()
