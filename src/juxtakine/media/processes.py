"""Work on a clip's frames in processes of its own, on all cores, with progress."""

import json
import subprocess
import sys
import threading
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import asdict
from pathlib import Path
from queue import Empty, SimpleQueue

from juxtakine.media.pose import Chunk

PROCESSES = 2
Progress = Callable[[int, int], None]


def run_all(module: str, chunks: Sequence[Chunk], workspace: Path, on_progress: Progress) -> None:
    """Each chunk by `python -m module`, as many at once as there are cores; what is there already is not done again.

    `on_progress` is told frames done and their total, and may raise to cancel.
    """
    total = sum(len(c.times) for c in chunks)
    waiting = [c for c in chunks if not Path(c.out).exists()]
    done = total - sum(len(c.times) for c in waiting)
    ticks: SimpleQueue[int] = SimpleQueue()
    running: list[subprocess.Popen[str]] = []
    try:
        while waiting or running:
            while waiting and len(running) < PROCESSES:
                running.append(_start(waiting.pop(0), workspace, ticks, module))
            done += _gathered(ticks, 0.4)
            on_progress(done, total)
            for process in [p for p in running if p.poll() is not None]:
                running.remove(process)
                if process.returncode:
                    raise ChildProcessError(f"{module} stopped with status {process.returncode}")
    finally:
        for process in running:
            process.kill()
            process.wait()


def _gathered(ticks: SimpleQueue[int], wait_s: float) -> int:
    """Frames done since the last look, after waiting for the first of them for at most `wait_s`."""
    n = 0
    with suppress(Empty):
        n += ticks.get(timeout=wait_s)
        while True:
            n += ticks.get_nowait()
    return n


def _start(chunk: Chunk, workspace: Path, ticks: SimpleQueue[int], module: str) -> subprocess.Popen[str]:
    job = workspace / f"{Path(chunk.out).stem}.json"
    job.write_text(json.dumps(asdict(chunk)))
    process = subprocess.Popen(
        [sys.executable, "-m", module, str(job)],
        stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True,
    )  # fmt: skip

    def listen() -> None:
        for line in process.stdout or ():
            if line.startswith("frame "):
                ticks.put(1)
        process.wait()
        ticks.put(0)  # wakes whoever waits for more

    threading.Thread(target=listen, daemon=True).start()
    return process
