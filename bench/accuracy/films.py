"""Pairs as films: drawn, encoded and tracked by the product's own way, some of them as phones and rooms make them."""

import os
import sys
from collections.abc import Callable, Iterator
from enum import StrEnum
from fractions import Fraction
from pathlib import Path

import av
import numpy as np

sys.path.insert(0, str(Path(__file__).parents[2] / "tests"))
from accuracy.routines import routine
from juxtakine.core.movement.people import Click
from juxtakine.core.movement.tracks import Track
from juxtakine.demo.film import Scene, shoot
from juxtakine.demo.look import Look
from juxtakine.media.track_file import load_track, save_track
from juxtakine.media.tracking import track
from juxtakine.pipeline.tracks import Shelf
from juxtakine.settings import settings
from support.clips import marked_as_turned, turned
from watching.several import Company, Walker, film

CACHE = Path(__file__).parents[1] / "cache"
BESIDE_M, BEHIND_M = (1.0, 1.4), (0.5, 1.1)
"""How far beside and behind the student somebody else dances."""
CLICKED_S = 0.5
TRUNK = [11, 12, 23, 24]
Frames = Iterator[tuple[float, av.VideoFrame]]
"""With their times, in seconds."""
TICK = Fraction(1, 90_000)


class Film(StrEnum):
    """Plain, or with a third of the frames left out, or held upright and left to the player to turn, or with somebody
    else in shot, who dances something else, the student being clicked."""

    PLAIN = "plain"
    UNEVEN = "uneven"
    TURNED = "turned"
    COMPANY = "company"

    @property
    def mark(self) -> str:
        """In file names."""
        return "" if self is Film.PLAIN else f"-{self}"


def filmed(scene: Scene, name: str, model: str, how: Film = Film.PLAIN) -> Track:
    """The scene drawn, encoded and tracked."""
    file = CACHE / "video" / model / f"{name}{how.mark}.npz"
    if not file.exists():
        file.parent.mkdir(parents=True, exist_ok=True)
        save_track(_tracked(drawn(scene, name, how), scene, model, how), file)
    return load_track(file)


def _tracked(clip: Path, scene: Scene, model: str, how: Film) -> Track:
    if how is not Film.COMPANY:
        return track(clip, settings().task_file(model), CACHE / "video" / model / f"{clip.stem}.parts")
    clicked = scene.times[np.searchsorted(scene.times, [CLICKED_S])]
    x, y = scene.truth(clicked).image[0, TRUNK].mean(0) / scene.camera.size
    shelf = Shelf(CACHE / "shelf", settings().models)
    return shelf.track(clip, model, clicks=[Click(float(x), float(y), float(clicked[0]))])


def drawn(scene: Scene, name: str, how: Film) -> Path:
    """The clip of the scene."""
    clip = CACHE / "video" / f"{name}{how.mark}.mp4"
    if not clip.exists():
        clip.parent.mkdir(parents=True, exist_ok=True)
        aside = clip.with_suffix(f".{os.getpid()}.mp4")
        _WAYS[how](scene, aside)
        aside.rename(clip)
    return clip


def _thinned(scene: Scene, to: Path) -> None:
    """A third of the frames go, never two in a row; the others keep their times, as when a phone skips frames."""
    random = np.random.default_rng(scene.seed)

    def some(frames: Frames) -> Frames:
        kept = True
        for seconds, frame in frames:
            kept = not kept or random.random() < 0.5
            if kept:
                yield seconds, frame.reformat(format="yuv420p")

    _written_anew(scene, to, some)


def _turned(scene: Scene, to: Path) -> None:
    degrees = int(np.random.default_rng(scene.seed).choice([90, 180, 270]))
    _written_anew(scene, to, lambda frames: ((s, turned(f, degrees)) for s, f in frames))
    marked_as_turned(to, degrees)


def _written_anew(scene: Scene, to: Path, change: Callable[[Frames], Frames]) -> None:
    whole = to.with_suffix(".whole.mp4")
    shoot(scene, whole)
    with av.open(str(whole)) as file, av.open(str(to), "w") as out:
        shown = file.streams.video[0]
        video = out.add_stream("libx264", rate=shown.average_rate, options={"crf": "20", "preset": "veryfast"})
        video.pix_fmt, video.codec_context.time_base = "yuv420p", TICK
        frames = change((frame.time or 0.0, frame) for frame in file.decode(shown))
        for i, (seconds, frame) in enumerate(frames):
            if i == 0:
                video.width, video.height = frame.width, frame.height
            frame.pts, frame.time_base = round(seconds / TICK), TICK
            out.mux(video.encode(frame))
        out.mux(video.encode())
    whole.unlink()


def _with_company(scene: Scene, to: Path) -> None:
    random = np.random.default_rng(scene.seed)
    around = np.radians(scene.camera.orbit_deg)
    side, back = float(random.choice([-1, 1]) * random.uniform(*BESIDE_M)), -float(random.uniform(*BEHIND_M))
    there = side * np.cos(around) + back * np.sin(around), back * np.cos(around) - side * np.sin(around)
    motion = routine(int(random.integers(4))).build(float(random.uniform(0.3, 1.5)))
    body = str(random.choice([b for b in ("f", "m") if b != scene.look.body]))
    other = Look(body=body, shirt=tuple(random.uniform(0.1, 0.8, 3)), trousers=tuple(random.uniform(0.05, 0.6, 3)))
    walkers = Walker(scene.motion, ((0, 0, 0),), scene.look), Walker(motion, ((0, *map(float, there)),), other)
    film(Company("beside", walkers, scene.camera, scene.seed), to, scene.times)


_WAYS = {Film.PLAIN: shoot, Film.UNEVEN: _thinned, Film.TURNED: _turned, Film.COMPANY: _with_company}
