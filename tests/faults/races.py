"""Things done at the very same time, to the same clip or the same routine, by threads that start together."""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from random import Random
from threading import Barrier
from typing import Any

import httpx

from faults.kills import House, Tally, after, amiss
from faults.people import Journal, Student, Wrong
from support.sheets import SHEET, sheet

Act = Callable[[], object]
LOOKED = 6
"""After so many races it has to become calm; what files and rows say of each other is looked at after each."""


def races(home: House, clip: bytes, tries: int, seed: int) -> Tally:
    """Each kind of race in turn, on a routine of its own; the invariants are looked at after each."""
    random, tally, journal = Random(seed), Tally(), Journal()
    for n in range(tries):
        student = Student(home.up(), seed * 1000 + n, clip, journal)
        tally.tried += 1
        name = list(KINDS)[n % len(KINDS)]
        try:
            found = _together(KINDS[name](student, random), random)
            # whatever came of it, the next ones go on beside its jobs; in the end it has to be calm
            found += (
                after(home, journal) if n % LOOKED == LOOKED - 1 or n == tries - 1 else amiss(home, journal, calm=False)
            )
        finally:
            for routine in student.routines():
                student.ask("DELETE", f"/routines/{routine}")
            journal.clips.clear()
            student.http.close()
        tally.wrong += [f"race {n} ({name}): {what}" for what in found]
        print(f"  {n + 1} of {tries}: {name} {'; '.join(found)}", flush=True)
    return tally


def _together(acts: list[Act], random: Random) -> list[str]:
    """All at once, in any order; what was answered that must not be."""
    random.shuffle(acts)
    start = Barrier(len(acts))

    def act(one: Act) -> str | None:
        start.wait()
        try:
            with suppress(httpx.HTTPError):
                one()
        except Wrong as seen:
            return str(seen)
        return None

    with ThreadPoolExecutor(len(acts)) as pool:
        return [seen for seen in pool.map(act, acts) if seen]


def _routine(student: Student) -> tuple[int, int, bytes]:
    """A routine, its clip and the clip's bytes."""
    data = student.new_clip()
    made = student.drop("/routines", data).json()
    student.ask("PUT", f"/routines/{made['routine']}/sheet", json=SHEET)
    student.ask("PUT", f"/routines/{made['routine']}/grid", json={"first_s": 0.1, "bpm": 108})
    student.journal.keep(made["routine"], data, "reference")
    return made["routine"], made["clip"], data


def _drop(student: Student, path: str, data: bytes, routine: int) -> Act:
    def act() -> None:
        if student.drop(path, data).status_code == 200:
            student.journal.keep(routine, data, "take")

    return act


def _ask(student: Student, method: str, path: str, **more: Any) -> Act:
    return lambda: student.ask(method, path, **more)


def _gone_and_come(student: Student, random: Random) -> list[Act]:
    """A take is deleted while the same file comes again, here and elsewhere."""
    (routine, _, _), (other, _, _) = _routine(student), _routine(student)
    data = student.new_clip()
    take = student.drop(f"/routines/{routine}/takes", data).json()["clip"]
    return [
        _ask(student, "DELETE", f"/clips/{take}"),
        _drop(student, f"/routines/{other}/takes", data, other),
        _ask(student, "GET", f"/routines/{routine}"),
    ]


def _all_gone_and_come(student: Student, random: Random) -> list[Act]:
    """A whole routine goes while its clip begins another one."""
    routine, _, data = _routine(student)
    student.journal.let_go(routine)
    other, _, _ = _routine(student)
    return [
        _ask(student, "DELETE", f"/routines/{routine}"),
        _drop(student, f"/routines/{other}/takes", data, other),
        _drop(student, f"/routines/{other}/references", data, other),
    ]


def _twice(student: Student, random: Random) -> list[Act]:
    """The same file four times at once: it is there once in each routine."""
    (routine, _, _), (other, _, _) = _routine(student), _routine(student)
    data = student.new_clip()
    return [_drop(student, f"/routines/{r}/takes", data, r) for r in (routine, routine, other, other)]


def _replaced(student: Student, random: Random) -> list[Act]:
    """The reference is replaced twice while it is measured, edited and undone."""
    routine, clip, _ = _routine(student)
    first, second = student.new_clip(), student.new_clip()
    return [
        lambda: student.drop(f"/routines/{routine}/reference", first),
        lambda: student.drop(f"/routines/{routine}/reference", second),
        _ask(student, "POST", f"/clips/{clip}/measure"),
        _ask(student, "PUT", f"/routines/{routine}/sheet", json=sheet("1 2 - 4 5 6 7 8")),
        _ask(student, "POST", f"/routines/{routine}/undo"),
    ]


def _edited(student: Student, random: Random) -> list[Act]:
    """Five edits, undo and redo at once."""
    routine, _, _ = _routine(student)
    lines = [" ".join(str(n) if random.random() < 0.7 else "-" for n in range(1, 9)) for _ in range(4)]
    return [
        *(_ask(student, "PUT", f"/routines/{routine}/sheet", json=sheet(line)) for line in lines),
        _ask(student, "PUT", f"/routines/{routine}/grid", json={"first_s": 0.2, "bpm": 90}),
        _ask(student, "POST", f"/routines/{routine}/undo"),
        _ask(student, "POST", f"/routines/{routine}/redo"),
    ]


def _measured(student: Student, random: Random) -> list[Act]:
    """A take is measured, cancelled, followed otherwise and deleted at once."""
    routine, clip, _ = _routine(student)
    data = student.new_clip()
    take = student.drop(f"/routines/{routine}/takes", data).json()["clip"]
    gone = [_ask(student, "DELETE", f"/clips/{take}")] if random.random() < 0.5 else []
    if not gone:
        student.journal.keep(routine, data, "take")
    return [
        *gone,
        _ask(student, "POST", f"/clips/{take}/cancel"),
        _ask(student, "POST", f"/clips/{take}/measure"),
        _ask(student, "PUT", f"/clips/{take}/small", json={"small": True}),
        _ask(student, "PUT", f"/routines/{routine}/network", json={"network": random.choice(["full", "heavy"])}),
        _ask(student, "POST", f"/clips/{clip}/follow", json={"x": 0.5, "y": 0.5, "at_s": 0.2}),
    ]


KINDS: dict[str, Callable[[Student, Random], list[Act]]] = {
    "gone and come": _gone_and_come,
    "all gone and come": _all_gone_and_come,
    "twice": _twice,
    "replaced": _replaced,
    "edited": _edited,
    "measured": _measured,
}
