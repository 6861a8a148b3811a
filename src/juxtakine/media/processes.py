"""Work on a clip's frames in processes of its own, on all cores, with progress."""

import json
import zipfile
from collections.abc import Callable, Sequence
from dataclasses import asdict, dataclass
from pathlib import Path

from juxtakine.media.children import Child
from juxtakine.media.pose import Chunk

PROCESSES = 2
TRIES = 2
"""A process that is killed from outside, or crashes once, is begun again."""
WAIT_S = 0.2
Progress = Callable[[int, int], None]


@dataclass
class _Running:
    chunks: list[Chunk]
    child: Child
    tries: int
    done: int = 0


def run_all(module: str, chunks: Sequence[Chunk], workspace: Path, on_progress: Progress) -> None:
    """Each chunk by `python -m module`, in as many processes as there are cores; what is there already is not done
    again.

    `on_progress` is told frames done and their total, and may raise to cancel. Raises ChildProcessError where a process
    ends without its work for the second time.
    """
    missing = [c for c in chunks if not _is_whole(Path(c.out))]
    shares = (missing[n::PROCESSES] for n in range(PROCESSES))
    total, done = _frames(chunks), _frames(chunks) - _frames(missing)
    running: list[_Running] = []
    try:
        running += [_started(share, 1, workspace, module) for share in shares if share]
        while running:
            for one in running:
                one.done += sum(line.startswith("frame ") for line in one.child.lines(WAIT_S))
            on_progress(done + sum(one.done for one in running), total)
            for one in [r for r in running if r.child.status is not None]:
                running.remove(one)
                left = [c for c in one.chunks if not _is_whole(Path(c.out))]
                done += _frames(one.chunks) - _frames(left)
                if left and one.tries == TRIES:
                    raise ChildProcessError(f"{module} stopped with status {one.child.status}")
                if left:
                    running.append(_started(left, one.tries + 1, workspace, module))
    finally:
        for one in running:
            one.child.end()


def _frames(chunks: Sequence[Chunk]) -> int:
    return sum(len(c.times) for c in chunks)


def _is_whole(made: Path) -> bool:
    """What a lost power has cut off is made anew."""
    try:
        with zipfile.ZipFile(made) as arrays:
            return arrays.testzip() is None
    except (OSError, zipfile.BadZipFile):
        return False


def _started(chunks: list[Chunk], tries: int, workspace: Path, module: str) -> _Running:
    job = workspace / f"{Path(chunks[0].out).stem}.json"
    job.write_text(json.dumps([asdict(c) for c in chunks]))
    return _Running(chunks, Child(module, str(job)), tries)
