"""Films a made-up dancer: movement + body + camera + sound -> an H.264 clip, and the exact joints it shows."""

from collections.abc import Iterable
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
from numpy.typing import NDArray

from juxtakine.demo.camera import Camera
from juxtakine.demo.look import Look
from juxtakine.demo.motion import Motion
from juxtakine.demo.music import RATE
from juxtakine.demo.skeleton import Body, Floats

TAIL_S = 1.0


@dataclass(frozen=True)
class Truth:
    """What a clip exactly shows: `seconds` (n), `image` (n, 33, 2) pixels, `world` (n, 33, 3) metres."""

    seconds: Floats
    image: Floats
    world: Floats


@dataclass(frozen=True)
class Scene:
    """One clip to be filmed."""

    motion: Motion
    look: Look
    camera: Camera
    sound: Floats | None
    seed: int = 0

    @property
    def times(self) -> Floats:
        return np.arange(round((self.motion.end_s + TAIL_S) * self.camera.fps)) / self.camera.fps

    def posed(self, body: Body, seconds: Floats) -> list[tuple[Floats, Floats]]:
        channels = self.motion.sample(seconds, seed=self.seed)
        rows = zip(*channels.values(), strict=True)
        return [body.pose(dict(zip(channels, row, strict=True))) for row in rows]

    def truth(self, seconds: Floats | None = None) -> Truth:
        """The joints alone, with no drawing, on all frames or at these times."""
        seconds = self.times if seconds is None else seconds
        body = Body(self.look.body)
        world = np.array([body.landmarks(*p) for p in self.posed(body, seconds)])
        views = [self.camera.view(t, self.seed) for t in seconds]
        image = np.array([v.project(w) for v, w in zip(views, world, strict=True)])
        return Truth(seconds, image, world)


def shoot(scene: Scene, to: Path) -> None:
    """Draw and encode the clip; the same scene gives the same bytes with the same encoder."""
    from juxtakine.demo.renderer import Renderer  # needs a GL library, which only drawing asks for

    camera, body = scene.camera, Body(scene.look.body)
    renderer = Renderer([(body, scene.look)], camera.size)
    shown = zip(scene.times, scene.posed(body, scene.times), strict=True)
    pictures = (renderer.draw([posed], camera.view(t, scene.seed), camera.orbit_deg) for t, posed in shown)
    write(pictures, to, camera, scene.look.grain, scene.seed, scene.sound)


def write(
    pictures: Iterable[NDArray[np.uint8]],
    to: Path,
    camera: Camera,
    grain: float,
    seed: int,
    sound: Floats | None = None,
) -> None:
    """The pictures as a clip, with grain on them and the sound as far as they go."""
    w, h = camera.size
    noise = np.random.default_rng(seed).normal(0, grain, (8, h, w, 1)).astype(np.int16)
    with av.open(to, "w", options={"movflags": "faststart"}) as file:
        video = file.add_stream("libx264", rate=camera.fps, options={"crf": "23", "preset": "veryfast"})
        video.width, video.height, video.pix_fmt = w, h, "yuv420p"
        video.thread_count = 1
        audio = file.add_stream("aac", rate=RATE, layout="mono") if sound is not None else None
        count = 0
        for count, picture in enumerate(pictures, 1):
            noisy = np.clip(picture.astype(np.int16) + noise[(count - 1) % 8], 0, 255).astype(np.uint8)
            file.mux(video.encode(av.VideoFrame.from_ndarray(np.ascontiguousarray(noisy), "rgb24")))
        file.mux(video.encode())
        if audio is not None and sound is not None:
            n = int(count / camera.fps * RATE)
            samples = np.zeros(n)
            samples[: min(n, len(sound))] = sound[:n]
            frame = av.AudioFrame.from_ndarray(
                (samples * 32767).clip(-32768, 32767).astype(np.int16)[None], "s16", "mono"
            )
            # without a stamp the encoder's own lead of 23 ms would not be marked as such
            frame.sample_rate, frame.pts, frame.time_base = RATE, 0, Fraction(1, RATE)
            file.mux(audio.encode(frame))
            file.mux(audio.encode())
