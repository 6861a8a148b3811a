"""The start command as a process: a whole run under its supervisor, over a data folder of its own."""

import os
import re
import signal
import subprocess
import sys
from pathlib import Path

from juxtakine.servers.ports import free_port
from support.stack import named, until


class Run:
    """One `up` process and what it has said."""

    def __init__(self, var: Path, *arguments: str, **settings: str) -> None:
        self.var = var.resolve()
        self.said = var.parent / f"said-{os.urandom(4).hex()}"
        told = {"JUXTAKINE_VAR": str(var), "JUXTAKINE_WEB_PORT": str(free_port(31_000))}
        self.process = subprocess.Popen(
            [sys.executable, "-m", "juxtakine.servers.up", *arguments], env=os.environ | told | settings,
            stdout=self.said.open("w"), stderr=subprocess.STDOUT,
        )  # fmt: skip

    def address(self) -> str:
        def look() -> str | None:
            assert self.process.poll() is None, self.said.read_text()
            found = re.search(r"ready: (\S+)", self.said.read_text())
            return found and found[1]

        return until(look, 180)

    def named(self, *words: str) -> list[int]:
        return named(self.var, *words)

    def kill(self, *words: str) -> int:
        """As a power cut would: no message, no clean-up; returns how many there were."""
        killed = 0
        for pid in self.named(*words):
            try:
                os.kill(pid, signal.SIGKILL)
                killed += 1
            except ProcessLookupError:
                continue  # it ended by itself
        return killed

    def stop(self) -> None:
        self.process.send_signal(signal.SIGTERM)
        self.process.wait(120)
