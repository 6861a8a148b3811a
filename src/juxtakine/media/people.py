"""Everybody in shot, some times a second: key points of up to six people, and what each looks like.

Run as a process of its own, as media/pose.py is. The network is MoveNet MultiPose (Apache-2.0), turned into ONNX by
scripts/pack_people_model.py; it sees small pictures, so people are told apart by place and looks, never measured by it.
"""

from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from juxtakine.core.movement.people import KEY_POINTS, LOOKS, MOST_PEOPLE, Sightings
from juxtakine.media.children import confined
from juxtakine.media.frames import upright, wanted_frames
from juxtakine.media.pose import Chunk, asked
from juxtakine.media.sightings import save_sightings

WIDTH, HEIGHT = 448, 256
LEAST_SCORE = 0.2
MODEL = Path(__file__).parent / "assets" / "people.onnx"
Points = NDArray[np.float64]


def run(chunk: Chunk) -> Sightings:
    """Who is there in the chunk's frames. NaN where there are fewer people than MOST_PEOPLE."""
    import onnxruntime  # heavy to load: only the processes that look do

    options = onnxruntime.SessionOptions()
    options.intra_op_num_threads = options.inter_op_num_threads = 1
    options.log_severity_level = 3
    network = onnxruntime.InferenceSession(str(MODEL), options, providers=["CPUExecutionProvider"])
    n = len(chunk.times)
    points = np.full((n, MOST_PEOPLE, KEY_POINTS, 3), np.nan)
    looks = np.full((n, MOST_PEOPLE, LOOKS, 3), np.nan)
    seconds = np.array(chunk.times)
    for i, at, frame in wanted_frames(Path(chunk.clip), chunk.times, chunk.slack_s, chunk.decode):
        rgb = upright(frame, 2 * WIDTH)
        seconds[i] = at
        for k, person in enumerate(_seen(network, rgb)[:MOST_PEOPLE]):
            points[i, k], looks[i, k] = person / [rgb.shape[0], rgb.shape[0], 1], _looks(rgb, person)
        print(f"frame {at}", flush=True)
    return Sightings(seconds, points, looks)


def _seen(network, rgb: NDArray[np.uint8]) -> list[Points]:  # type: ignore[no-untyped-def]  # its module is not loaded
    """(17, 3) x, y in pixels and score of each person, the surest first."""
    high, wide = rgb.shape[:2]
    scale = min(WIDTH / wide, HEIGHT / high)
    w, h = round(wide * scale), round(high * scale)
    rows, columns = (np.minimum(((np.arange(k) + 0.5) / scale).astype(int), m - 1) for k, m in ((h, high), (w, wide)))
    fed = np.zeros((1, HEIGHT, WIDTH, 3), np.int32)
    fed[0, :h, :w] = rgb[rows[:, None], columns]
    told = network.run(None, {network.get_inputs()[0].name: fed})[0][0]
    people: list[Points] = []
    for row in told[np.argsort(-told[:, 55])]:
        if row[55] < LEAST_SCORE:
            break
        found = row[: 3 * KEY_POINTS].reshape(-1, 3)[:, [1, 0, 2]] * [WIDTH / scale, HEIGHT / scale, 1]
        if all(_apart(found, p) for p in people):
            people.append(found)
    return people


def _apart(one: Points, other: Points) -> bool:
    """The network may tell one body twice."""
    size = float(np.ptp(one[5:, 1]))
    return float(np.median(np.linalg.norm(one[5:, :2] - other[5:, :2], axis=1))) > 0.07 * size


def _looks(rgb: NDArray[np.uint8], person: Points) -> Points:
    """(LOOKS, 3) the usual colour of trunk, thighs, forearms and head; NaN where that part is out of shot."""
    p = person[:, :2]
    share = np.linspace(0.2, 0.8, 5)[:, None]

    def line(a: int, b: int) -> Points:
        return np.asarray(p[a] + (p[b] - p[a]) * share)

    left, right = line(5, 11), line(6, 12)
    trunk = np.concatenate([left + (right - left) * f for f in (0.25, 0.5, 0.75)])
    eyes = max(float(np.linalg.norm(p[1] - p[2])), 2.0)
    hair = p[0] + np.array([[0, -1.2], [0.5, -1.2], [-0.5, -1.2], [0, -1.6]]) * eyes
    spots = trunk, np.concatenate([line(11, 13), line(12, 14)]), np.concatenate([line(7, 9), line(8, 10)]), hair
    return np.array([_colour(rgb, s) for s in spots])


def _colour(rgb: NDArray[np.uint8], spots: Points) -> Points:
    at = np.round(spots).astype(int)
    inside = at[((at >= 0) & (at < [rgb.shape[1], rgb.shape[0]])).all(1)]
    return np.median(rgb[inside[:, 1], inside[:, 0]], axis=0) / 255 if len(inside) > 2 else np.full(3, np.nan)


if __name__ == "__main__":
    confined()
    for job in asked():
        save_sightings(run(job), Path(job.out))
