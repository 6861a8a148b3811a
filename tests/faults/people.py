"""Students in a hurry: what they do at random, what they were told was done, and what must be true of it then."""

import hashlib
import threading
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, field
from pathlib import Path
from random import Random
from typing import Any

import httpx

from support.sheets import SHEET, sheet
from support.stack import BYTES

ANSWERED = frozenset({200, 204, 400, 404, 409, 413, 415, 422, 503, 507})
"""What may be answered, also while something is being killed."""


class Wrong(AssertionError):
    """A promise that was broken."""


@dataclass
class Journal:
    """What was accepted: clips by content, with the routine that each was dropped in; shared by all who act."""

    clips: dict[tuple[int, str], str] = field(default_factory=dict)
    lock: threading.Lock = field(default_factory=threading.Lock)

    def keep(self, routine: int, data: bytes, what: str) -> None:
        with self.lock:
            self.clips[routine, hashlib.sha256(data).hexdigest()] = what

    def let_go(self, routine: int, what: str | None = None) -> None:
        """Whatever may have been deleted, or replaced by another, is not asked for."""
        with self.lock:
            for key in [k for k, kept in self.clips.items() if k[0] == routine and what in (None, kept)]:
                del self.clips[key]


class Student:
    """Acts on a run. What does not answer, or is refused with a sentence, changes nothing that was promised."""

    def __init__(self, address: str, seed: int, clip: bytes, journal: Journal) -> None:
        self.http = httpx.Client(base_url=address, timeout=30, limits=httpx.Limits(max_keepalive_connections=0))
        self.random, self.clip, self.journal, self.seed = Random(seed), clip, journal, seed
        self.made = 0

    def act(self) -> None:
        acts: list[Callable[[], object]] = [
            self.begin, self.begin, self.add_take, self.add_take, self.add_take, self.drop_again, self.replace,
            self.edit, self.edit, self.undo, self.delete_clip, self.delete_routine, self.measure, self.cancel, self.out,
            self.look,
        ]  # fmt: skip
        # gone, or just being killed: the promise is only about what was answered
        with suppress(httpx.HTTPError):
            self.random.choice(acts)()

    def ask(self, method: str, path: str, **more: Any) -> httpx.Response:
        answer = self.http.request(method, f"/api{path}", **more)
        if answer.status_code not in ANSWERED:
            raise Wrong(f"{method} {path}: {answer.status_code} {answer.text[:300]}")
        return answer

    def new_clip(self) -> bytes:
        self.made += 1
        return self.clip + f"{self.seed}-{self.made}".encode()

    def drop(self, path: str, data: bytes) -> httpx.Response:
        return self.ask("POST", path, params={"name": f"c{self.made}.mp4"}, content=data, headers=BYTES)

    def routines(self) -> list[int]:
        answer = self.ask("GET", "/home")
        return [r["id"] for r in answer.json()["routines"]] if answer.status_code == 200 else []

    def some(self) -> int:
        found = self.routines()
        return self.random.choice(found) if found else 0

    def shown(self, routine: int) -> Any:
        answer = self.ask("GET", f"/routines/{routine}")
        return answer.json() if answer.status_code == 200 else None

    def begin(self) -> None:
        if len(self.routines()) > 6:
            return self.delete_routine()
        data = self.new_clip()
        answer = self.drop("/routines", data)
        if answer.status_code == 200:
            self.journal.keep(answer.json()["routine"], data, "reference")
            self.ask("PUT", f"/routines/{answer.json()['routine']}/sheet", json=SHEET)
        return None

    def add_take(self) -> None:
        routine, data = self.some(), self.new_clip()
        if routine and self.drop(f"/routines/{routine}/takes", data).status_code == 200:
            self.journal.keep(routine, data, "take")

    def drop_again(self) -> None:
        """The content of a clip that is there, or has just gone, into another routine."""
        data = self.clip + f"{self.seed}-{max(1, self.made)}".encode()
        routine = self.some()
        if routine and self.drop(f"/routines/{routine}/takes", data).status_code == 200:
            self.journal.keep(routine, data, "take")

    def replace(self) -> None:
        routine, data = self.some(), self.new_clip()
        if routine and self.drop(f"/routines/{routine}/reference", data).status_code == 200:
            self.journal.keep(routine, data, "replacement")

    def edit(self) -> None:
        if routine := self.some():
            line = " ".join(str(n) if self.random.random() < 0.8 else "-" for n in range(1, 9))
            self.ask("PUT", f"/routines/{routine}/sheet", json=sheet(line, line))
            self.ask("PUT", f"/routines/{routine}/grid", json={"first_s": self.random.random(), "bpm": 108})
        return

    def undo(self) -> None:
        if routine := self.some():
            # an undone replacement goes for good with the next edit
            self.journal.let_go(routine, "replacement")
            self.ask("POST", f"/routines/{routine}/{self.random.choice(['undo', 'redo'])}")

    def delete_clip(self) -> None:
        if (routine := self.some()) and (shown := self.shown(routine)) and shown["takes"]:
            # which content it has is not told: none of the takes is asked for any more
            self.journal.let_go(routine, "take")
            self.ask("DELETE", f"/clips/{self.random.choice(shown['takes'])['id']}")

    def delete_routine(self) -> None:
        if routine := self.some():
            self.journal.let_go(routine)
            self.ask("DELETE", f"/routines/{routine}")

    def measure(self) -> None:
        if (shown := self.shown(self.some())) and shown["takes"]:
            self.ask("POST", f"/clips/{self.random.choice(shown['takes'])['id']}/measure")

    def cancel(self) -> None:
        if (shown := self.shown(self.some())) and shown["takes"]:
            self.ask("POST", f"/clips/{self.random.choice(shown['takes'])['id']}/cancel")

    def out(self) -> None:
        if routine := self.some():
            self.ask("GET", f"/routines/{routine}/sheet/{self.random.choice(['json', 'csv', 'md', 'vtt', 'mid'])}")

    def look(self) -> None:
        if (shown := self.shown(self.some())) and shown["reference"]:
            clip = shown["reference"]["id"]
            self.ask("GET", f"/clips/{clip}/{self.random.choice(['play', 'wave', 'feet', 'picture?at=0.3'])}")


def lost(media: Path, contents: set[str], accepted: set[str]) -> list[str]:
    """What must never be, not for a moment: something accepted is not there as it was sent."""
    said = [f"accepted, and no row has it: {c[:12]}" for c in accepted - contents]
    for content in contents:
        file = media / content[:2] / content / "clip"
        if not file.exists() or hashlib.sha256(file.read_bytes()).hexdigest() != content:
            said.append(f"a clip that is not what was sent: {content[:12]}")
    return said


def left_over(media: Path, contents: set[str]) -> list[str]:
    """What may be while somebody works, and must be gone soon."""
    there = {folder.name for folder in media.glob("??/*") if folder.is_dir()}
    said = [f"a folder that no row has: {c[:12]}" for c in there - contents]
    said += [f"left behind: {f.name}" for f in media.glob("??/*/*.new")]
    return said + [f"left behind on its way in: {f.name}" for f in (media / "incoming").glob("*")]
