"""Fits how well it is known how deep a segment points (core/movement/depth.py), and shows how right it is.

    PYTHONPATH=bench python -m accuracy.depths --model heavy --pairs 9

Prints by how much the estimator's bodies lean, and of each kind of segment how far its depth is off: by its shortening
with the 3D estimate's sign, and as the product tells it. What is constant over a clip is taken out of both, and
counted by itself.
"""

import argparse

import numpy as np
from scipy.optimize import brentq, minimize
from scipy.spatial.transform import Rotation

from accuracy.tracks import along, clips
from juxtakine.core.movement.body import Part
from juxtakine.core.movement.cleaning import clean
from juxtakine.core.movement.depth import KNOWN, PITCH_DEG, Known, depth_of
from juxtakine.core.movement.features import LIMBS, features
from juxtakine.core.movement.tracks import Floats, Track

KINDS = ("head", "torso", "upper-arm", "forearm", "thigh", "shin")
TAILS = 4.0
"""Degrees of freedom of the errors' distribution (Student's t), as some are gross."""
Seen = dict[Part, tuple[Floats, Floats, Floats]]
"""Of one clip, by part: (n,) true depths, lengths in the picture, and (n, 3) directions in space."""


def main() -> None:
    parser = argparse.ArgumentParser(prog="accuracy.depths")
    parser.add_argument("--model", choices=["full", "heavy"], default="heavy")
    parser.add_argument("--pairs", type=int, default=9)
    asked = parser.parse_args()
    of_all = [seen(truth, found) for truth, found in clips(asked.model, asked.pairs)]
    lean = brentq(lambda degrees: _leaning(of_all, degrees), -30, 30)
    print(f"{len(of_all)} clips; bodies stand upright once pitched by {lean:.1f} degrees, the product's {PITCH_DEG}")
    for kind in KINDS:
        rows, fitted, others = (of_kind(kind, some) for some in (of_all, of_all[::2], of_all[1::2]))
        known = next(k for part, k in KNOWN.items() if part.endswith(kind))
        plain = np.concatenate([_moved(np.sqrt(np.clip(1 - n**2, 0, 1)) * np.sign(d) - true) for true, n, d in rows])
        constant = np.std([np.median(depth_of(n, d, known)[0] - true) for true, n, d in rows])
        (off, spread), other = _off(rows, known), _off(others, _fit(fitted))
        print(f"{kind:10} n {len(off):6}  off by shortening {_rms(plain):.2f}, by both {_rms(off):.2f}, throughout a"
              f" clip {constant:.2f}; within two {_within(off, spread):.1%}, of the other half {_within(*other):.1%};"
              f" fitted {np.round(_fit(rows), 2)}, the product's {np.array(known)}")  # fmt: skip


def seen(truth: Track, found: Track) -> Seen:
    movement = clean(found)
    lengths = np.linalg.norm(features(movement).at(truth.seconds).vectors[..., :2], axis=2)
    rows = np.searchsorted(movement.seconds, truth.seconds).clip(0, len(movement.seconds) - 1)
    out = {}
    for i, part in enumerate(LIMBS):
        true, deep = along(truth.world, part), along(movement.world[rows], part)
        good = np.isfinite(lengths[:, i]) & np.isfinite(deep).all(1)
        deep = deep[good] / np.linalg.norm(deep[good], axis=1, keepdims=True)
        out[part] = ((true[:, 2] / np.linalg.norm(true, axis=1))[good], lengths[good, i], deep)
    return out


def told(true: Floats, lengths: Floats, deep: Floats, degrees: float = PITCH_DEG) -> tuple[Floats, Floats, Floats]:
    """True depths, lengths, and depths in space of a body set upright."""
    return true, lengths, np.asarray(Rotation.from_euler("x", degrees, degrees=True).apply(deep)[:, 2])


def of_kind(kind: str, some: list[Seen]) -> list[tuple[Floats, Floats, Floats]]:
    return [told(*clip[part]) for clip in some for part in LIMBS if part.endswith(kind)]


def _leaning(of_all: list[Seen], degrees: float) -> float:
    """How deep the torsos point that are told upright by so many degrees, beyond the truth."""
    ways = (told(*clip[Part.TORSO], degrees) for clip in of_all)
    return float(np.median([np.median(deep - true) for true, _, deep in ways]))


def _off(rows: list[tuple[Floats, Floats, Floats]], known: Known) -> tuple[Floats, Floats]:
    """How far the depths are off, what is constant over a clip apart, and their standard errors."""
    both = [(depth_of(lengths, deep, known), true) for true, lengths, deep in rows]
    return np.concatenate([_moved(d - true) for (d, _), true in both]), np.concatenate([e for (_, e), _ in both])


def _fit(rows: list[tuple[Floats, Floats, Floats]]) -> Known:
    """The standard errors under which the depths are likeliest."""

    def unlikely(logs: Floats) -> float:
        off, spread = _off(rows, Known(*np.exp(logs)))
        return float(np.mean(np.log(spread) + (TAILS + 1) / 2 * np.log1p((off / spread) ** 2 / TAILS)))

    return Known(*np.exp(minimize(unlikely, np.log([0.16, 0.2]), method="Nelder-Mead").x))


def _moved(off: Floats) -> Floats:
    return np.asarray(off - np.median(off))


def _rms(off: Floats) -> float:
    return float(np.sqrt(np.mean(off**2)))


def _within(off: Floats, spread: Floats) -> float:
    return float((np.abs(off) <= 2 * spread).mean())


if __name__ == "__main__":
    main()
