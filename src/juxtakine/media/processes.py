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
    chunk: Chunk
    child: Child
    tries: int
    done: int = 0


def run_all(module: str, chunks: Sequence[Chunk], workspace: Path, on_progress: Progress) -> None:
    """Each chunk by `python -m module`, as many at once as there are cores; what is there already is not done again.

    `on_progress` is told frames done and their total, and may raise to cancel. Raises ChildProcessError where a chunk's
    process ends without its work for the second time.
    """
    waiting = [(c, 1) for c in chunks if not _is_whole(Path(c.out))]
    total = sum(len(c.times) for c in chunks)
    done = total - sum(len(c.times) for c, _ in waiting)
    running: list[_Running] = []
    try:
        while waiting or running:
            while waiting and len(running) < PROCESSES:
                running.append(_started(*waiting.pop(0), workspace, module))
            for one in running:
                one.done += sum(line.startswith("frame ") for line in one.child.lines(WAIT_S))
            on_progress(done + sum(one.done for one in running), total)
            for one in [r for r in running if r.child.status is not None]:
                running.remove(one)
                if one.child.status == 0:
                    done += one.done
                elif one.tries < TRIES:
                    waiting.append((one.chunk, one.tries + 1))
                else:
                    raise ChildProcessError(f"{module} stopped with status {one.child.status}")
    finally:
        for one in running:
            one.child.end()


def _is_whole(made: Path) -> bool:
    """What a lost power has cut off is made anew."""
    try:
        with zipfile.ZipFile(made) as arrays:
            return arrays.testzip() is None
    except (OSError, zipfile.BadZipFile):
        return False


def _started(chunk: Chunk, tries: int, workspace: Path, module: str) -> _Running:
    job = workspace / f"{Path(chunk.out).stem}.json"
    job.write_text(json.dumps(asdict(chunk)))
    return _Running(chunk, Child(module, str(job)), tries)
