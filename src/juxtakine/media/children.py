"""Processes of our own that read what somebody else has recorded: each ends with its parent, and within its limits.

A clip that makes a decoder crash, hang or swell takes only its own process with it.
"""

import os
import resource
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from queue import Empty, SimpleQueue

MEMORY_BYTES = 6 * 2**30
NICE = 10
"""Whoever looks at the screen, or compares, goes before what is read of a clip in the background."""
STALLED_S = 120.0
"""Without a word from a process; the slowest of them speak every few seconds on a loaded machine."""


class Stalled(ChildProcessError):
    """It said nothing for too long, and was ended."""


def confined() -> None:
    """Called by the process itself, first of all."""
    resource.setrlimit(resource.RLIMIT_DATA, (MEMORY_BYTES, MEMORY_BYTES))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    os.nice(NICE)
    threading.Thread(target=_end_with_parent, daemon=True).start()


def _end_with_parent() -> None:
    sys.stdin.read()
    os._exit(1)


class Child:
    """`python -m module argument`, and what it says, line by line."""

    def __init__(self, module: str, argument: str) -> None:
        self._module = module
        self._process = subprocess.Popen(
            [sys.executable, "-m", module, argument],
            stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True, errors="replace",
        )  # fmt: skip
        self._said: SimpleQueue[str | None] = SimpleQueue()
        self._over = False
        self._heard_at = time.monotonic()
        threading.Thread(target=self._listen, daemon=True).start()

    def _listen(self) -> None:
        for line in self._process.stdout or ():
            self._said.put(line.rstrip("\n"))
        self._process.wait()
        self._said.put(None)

    def lines(self, wait_s: float) -> Iterator[str]:
        """What it has said since the last look, after waiting for the first of it for at most `wait_s`. Raises
        Stalled."""
        try:
            line = self._said.get(timeout=wait_s)
            while line is not None:
                self._heard_at = time.monotonic()
                yield line
                line = self._said.get_nowait()
            self._over = True
        except Empty:
            if time.monotonic() - self._heard_at > STALLED_S:
                self.end()
                raise Stalled(f"{self._module} said nothing for {STALLED_S:.0f} s") from None

    @property
    def status(self) -> int | None:
        """How it ended; None as long as it lives, or has not been heard out."""
        return self._process.returncode if self._over else None

    def end(self) -> None:
        self._process.kill()
        self._process.wait()
