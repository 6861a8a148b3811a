"""How fast it is: tracking against a plain loop, comparing after tracking, the Compare screen in a real browser."""

import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from fractions import Fraction
from itertools import chain
from pathlib import Path
from statistics import median

import av
import httpx
import numpy as np
from playwright.sync_api import Page, sync_playwright
from scipy.signal import resample_poly

sys.path.insert(0, str(Path(__file__).parents[1] / "tests"))
from juxtakine.core.counting.sheets import Sheet
from juxtakine.core.movement.tracks import Track
from juxtakine.demo import lantern_quay
from juxtakine.demo.load import TRACKS
from juxtakine.demo.music import RATE as TUNE_RATE
from juxtakine.demo.music import harbour_tune
from juxtakine.demo.shoot import CLIPS
from juxtakine.media.clips import frame_times
from juxtakine.media.sound import RATE
from juxtakine.media.track_file import load_track
from juxtakine.media.tracking import picked_frames, track
from juxtakine.pipeline.comparison import Recording, Said, Sound, compared
from juxtakine.pipeline.tracks import Shelf
from juxtakine.settings import settings
from support.clips import another
from support.sheets import GRID, SHEET
from support.stack import Client, until, whole_stack

LONG_S, DANCE_S = 60, 180
ALL_S = 20
"""Seconds of the clip that the loop over all frames is timed on."""
ROUNDS = 2
READ_S, PAUSE_S = 8.0, 0.5
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking"]


@dataclass(frozen=True)
class Line:
    what: str
    figure: str
    target: str


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        for line in chain(tracking(Path(folder)), comparing(), screen(Path(folder)), readers(Path(folder))):
            print(f"{line.what:58} {line.figure:>22}   target: {line.target}", flush=True)


def tracking(folder: Path) -> Iterator[Line]:
    clip = long_clip(folder / "long.mp4")
    # in turn and the best of each, as other work on the machine only ever slows a round
    times = frame_times(clip)
    every = len(times) / len(picked_frames(times))
    rounds = [
        (plain_loop(clip, round(every), len(times)), two_processes(clip, folder / f"parts-{n}")) for n in range(ROUNDS)
    ]
    plain, ours = (max(figures) for figures in zip(*rounds, strict=True))
    whole = [(plain_loop(clip, 1, ALL_S * 30), whole_clip(clip, folder / f"shelf-{n}")) for n in range(ROUNDS)]
    all_frames, kept = (max(figures) for figures in zip(*whole, strict=True))
    yield Line("tracking, plain single-process loop", f"{plain:.1f} frames/s", "")
    yield Line("tracking, both cores, the same frames", f"{ours:.1f} frames/s", "")
    yield Line("tracking, times the plain loop", f"{ours / plain:.2f}", "1.80")
    yield Line("the whole clip, every other frame filled in", f"{kept:.1f} frames/s", "")
    yield Line("that, times a plain loop over all frames", f"{kept / all_frames:.2f}", "3.40")


def long_clip(to: Path) -> Path:
    """A minute of dancing: the demo's clips one after the other."""
    with av.open(str(to), "w") as out:
        video = out.add_stream("libx264", rate=30, options={"preset": "veryfast"})
        video.width, video.height, video.pix_fmt = 640, 360, "yuv420p"
        frames = (f for name in ("reference", "take-1", "take-2") for f in decoded(CLIPS / f"{name}.mp4"))
        for i, frame in zip(range(LONG_S * 30), frames, strict=False):
            frame.pts, frame.time_base = i, Fraction(1, 30)
            out.mux(video.encode(frame))
        out.mux(video.encode())
    return to


def decoded(clip: Path) -> Iterator[av.VideoFrame]:
    with av.open(str(clip)) as file:
        for frame in file.decode(video=0):
            frame.pict_type = av.video.frame.PictureType.NONE
            yield frame


def plain_loop(clip: Path, step: int, frames: int) -> float:
    """Frames a second of the plain script that estimates every `step`-th of the first `frames`."""
    task = settings().task_file(settings().model)
    command = [sys.executable, Path(__file__).parent / "plain_loop.py", clip, task, str(step), str(frames)]
    return float(subprocess.run(command, capture_output=True, text=True, check=True).stdout)


def two_processes(clip: Path, workspace: Path) -> float:
    """Frames a second that are kept, from the first one that is done on; frames done twice at the seam are no gain."""
    times = frame_times(clip)
    begun: list[tuple[float, int]] = []

    def told(done: int, total: int) -> None:
        if done and not begun:
            begun.append((time.perf_counter(), done))

    track(clip, settings().task_file(settings().model), workspace, told)
    start, already = begun[0]
    return (len(picked_frames(times)) - already) / (time.perf_counter() - start)


def whole_clip(clip: Path, shelf: Path) -> float:
    """Frames a second from the clip to its track, with the look whether several are in shot, and every start."""
    start = time.perf_counter()
    made = Shelf(shelf, settings().models).track(clip, settings().model)
    return len(made.seconds) / (time.perf_counter() - start)


def comparing() -> Iterator[Line]:
    """A routine of a minute, from its tracks and sounds to the result."""
    sheet = Sheet("", lantern_quay.SHEET.phrases * 3)
    rows = int(LONG_S * lantern_quay.BPM / 60 / lantern_quay.SHEET.total * len(lantern_quay.SHEET.phrases))
    sheet = replace(sheet, phrases=sheet.phrases[:rows])
    reference, take = (recording(name) for name in ("reference", "take-1"))
    spent = []
    for _ in range(5):
        start = time.perf_counter()
        # anew: a recording keeps its features
        compared(replace(reference), replace(take), sheet, lantern_quay.reference_grid())
        spent.append(time.perf_counter() - start)
    yield Line(f"comparing {sheet.total} counts in {LONG_S} s, after tracking", f"{median(spent):.2f} s", "0.50 s")
    yield Line(
        f"two tracks of {DANCE_S} s, the common time known", f"{median(map(with_grids, range(5))):.2f} s", "0.50 s"
    )


def with_grids(_: int) -> float:
    """Seconds that it takes to compare two tracks of a whole dance, cleaning them included."""
    sheet, plan = Sheet("", lantern_quay.SHEET.phrases * 7), lantern_quay.TAKES[0]
    said = Said(take_grid=lantern_quay.take_grid(plan))
    reference, take = (Recording(repeated(name, DANCE_S)) for name in ("reference", plan.name))
    start = time.perf_counter()
    compared(reference, take, sheet, lantern_quay.reference_grid(), said)
    return time.perf_counter() - start


def recording(name: str) -> Recording:
    """A minute of the shipped track, danced again and again, to a minute of its music."""
    plan = plan_of(name)
    lead = np.zeros(round((plan.music_s if plan else lantern_quay.REFERENCE_MUSIC_S) * RATE))
    tune = resample_poly(harbour_tune(lantern_quay.BPM, 120), RATE // 100, TUNE_RATE // 100)
    return Recording(repeated(name, LONG_S), Sound(np.concatenate([lead, tune])[: LONG_S * RATE], 0.0))


def plan_of(name: str) -> lantern_quay.TakePlan | None:
    return next((t for t in lantern_quay.TAKES if t.name == name), None)


def repeated(name: str, last_s: float) -> Track:
    """The shipped track, its routine again and again from its first 1 on, count after count."""
    one, plan = load_track(TRACKS / f"{name}.npz"), plan_of(name)
    grid = lantern_quay.take_grid(plan) if plan else lantern_quay.reference_grid()
    first_s, lasts_s = float(grid.seconds(0)), lantern_quay.SHEET.total * 60 / lantern_quay.BPM
    first, end = np.searchsorted(one.seconds, [first_s, first_s + lasts_s])
    times = int(last_s / lasts_s) + 1
    rows = np.concatenate([np.arange(first), *[np.arange(first, end)] * times])
    later = np.concatenate([np.zeros(first), np.repeat(np.arange(times) * lasts_s, end - first)])
    seconds = one.seconds[rows] + later
    n = int(np.searchsorted(seconds, last_s))
    arrays = {k: getattr(one, k)[rows[:n]] for k in ("image", "world", "visibility", "followed", "estimated")}
    return replace(one, seconds=seconds[:n], **arrays)


def screen(folder: Path) -> Iterator[Line]:
    with whole_stack(folder / "var") as stack, sync_playwright() as playwright:
        stack.run("demo")
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = browser.new_page(bypass_csp=True, viewport={"width": 1280, "height": 800})
        page.goto(stack.address)
        usable = [until_usable(page, f"{stack.address}/routines/1/compare?take={n}") for n in (1, 2, 3, 1, 2)]
        answers = [until_answered(page, row, 2 + row) for row in (1, 2, 3, 5, 6)]
        yield Line("Compare screen, until marks and both pictures stand", f"{median(usable):.2f} s", "1.00 s")
        yield Line("a chosen count, until its words and both pictures stand", f"{median(answers):.0f} ms", "100 ms")
        browser.close()


def readers(folder: Path) -> Iterator[Line]:
    """How soon a read is answered while a clip is tracked, by how many readers at once."""
    with whole_stack(folder / "read") as stack:
        client = Client(stack.address)
        routine = client.begin(another(folder, long_clip(folder / "read.mp4")), SHEET, GRID)
        until(lambda: (client.routine(routine)["reference"]["job"] or {}).get("step") == "track")
        paths = [f"/routines/{routine}", f"/routines/{routine}/progress", "/home"]
        for n in (1, 30):
            with ThreadPoolExecutor(n) as pool:
                spent = sorted(chain(*pool.map(lambda _: read_for(stack.address, paths), range(n))))
            p50, p95 = (spent[int(share * len(spent))] for share in (0.5, 0.95))
            who = "one reader" if n == 1 else f"{n} readers"
            yield Line(f"a read while a clip is tracked, {who}, p50 / p95", f"{p50:.2f} / {p95:.2f} s", "p95 1.00 s")
        assert client.routine(routine)["reference"]["job"]["state"] == "running"


def read_for(address: str, paths: list[str]) -> list[float]:
    """Seconds of each answer, asked one after the other with a pause as the interface makes it."""
    spent, end = [], time.perf_counter() + READ_S
    with httpx.Client(base_url=f"{address}/api", timeout=60) as reader:
        while time.perf_counter() < end:
            for path in paths:
                start = time.perf_counter()
                reader.get(path).raise_for_status()
                spent.append(time.perf_counter() - start)
                time.sleep(PAUSE_S)
    return spent


USABLE = """() => document.querySelector('[data-cell] svg line.stroke-me')
  && [...document.querySelectorAll('video')].length === 2
  && [...document.querySelectorAll('video')].every(v => v.readyState >= 2 && !v.seeking)"""


def until_usable(page: Page, address: str) -> float:
    start = time.perf_counter()
    page.goto(address, wait_until="commit")
    page.wait_for_function(USABLE, polling="raf")
    return time.perf_counter() - start


ANSWERED = """async ([row, cell]) => {
  const videos = [...document.querySelectorAll('video')];
  const there = videos.map(v => new Promise(done => v.addEventListener('seeked', done, { once: true })));
  const start = performance.now();
  document.querySelectorAll(`[data-row='${row}'] [data-cell]`)[cell].click();
  await Promise.all(there);
  await new Promise(requestAnimationFrame);
  return performance.now() - start;
}"""


def until_answered(page: Page, row: int, cell: int) -> float:
    page.wait_for_timeout(300)
    return float(page.evaluate(ANSWERED, [row, min(cell, 6)]))


if __name__ == "__main__":
    main()
