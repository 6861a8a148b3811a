"""Fits how far landmarks may be off (core/movement/errors.py) on filmed pairs for tuning, and shows how right it is.

    PYTHONPATH=bench python -m accuracy.errors --model heavy --pairs 20

Prints the weights, and on pairs that were not fitted on how many true errors lie within 0.5 to 3 standard errors.
"""

import argparse
from collections.abc import Iterable

import numpy as np
from scipy.optimize import brentq, linprog
from scipy.sparse import csr_matrix, eye, hstack

from accuracy.films import filmed
from accuracy.pairs import pair
from accuracy.tracks import LIBRARY, exact
from juxtakine.core.movement import errors
from juxtakine.core.movement.cleaning import unswapped
from juxtakine.core.movement.tracks import Floats

WITHIN = 0.95
ROWS = 8000
"""Of each kind of joint, drawn at random: a linear programme of this size takes some seconds."""
CURVE = (0.5, 1.0, 1.5, 2.0, 2.5, 3.0)
LEAST = 0.02
"""Nobody's landmark is surer than this, in torso lengths, for two standard errors: other films may have other cues."""
NAMED = (0, 7, 8, 11, 12, 13, 14, 15, 16, 23, 24, 25, 26, 27, 28)
"""Landmarks that are looked at: those that the comparison uses."""


def main() -> None:
    parser = argparse.ArgumentParser(prog="accuracy.errors")
    parser.add_argument("--model", choices=["full", "heavy"], default="heavy")
    parser.add_argument("--pairs", type=int, default=20)
    asked = parser.parse_args()

    seeds = LIBRARY[: asked.pairs]
    fitted, checked = (_gathered(s, asked.model) for s in (seeds[::2], seeds[1::2]))
    both = {kind: [np.concatenate(v) for v in zip(fitted[kind], checked[kind], strict=True)] for kind in fitted}
    inside = dict.fromkeys(CURVE, 0)
    total = 0
    for kind in fitted:
        weights = _fit(*fitted[kind])
        telling, moved, raw = checked[kind]
        spread = np.hypot(telling @ weights[:-1] / 2, weights[-1])
        for times in CURVE:
            inside[times] += int((raw <= times * spread).sum())
        total += len(raw)
        local = float((moved <= telling @ weights[:-1]).mean())
        print(f"{kind:9} n {len(raw):6}  within two, offset apart: {local:.1%}")
    print("within", "  ".join(f"{t}: {k / total:.1%}" for t, k in inside.items()), f"(n {total})")
    for kind, rows in both.items():
        print(f"        {kind!r}: Weights({', '.join(f'{w:.3f}' for w in _fit(*rows))}),")


def _gathered(seeds: Iterable[int], model: str) -> dict[str, list[Floats]]:
    """By kind of joint: (k, 8) cues, (k,) errors without and with the constant offset, in torso lengths."""
    rows: dict[str, list[tuple[Floats, Floats, Floats]]] = {}
    for seed in seeds:
        one = pair(seed)
        for who, scene in (("reference", one.reference), ("take", one.take)):
            truth, found = exact(scene, f"{seed}-{who}"), filmed(scene, f"{seed}-{who}", model)
            at = np.searchsorted(found.seconds, truth.seconds - 1e-4)
            seen = found.found[at]
            image, world = found.image[at][seen], found.world[at][seen]
            torso = errors.torso_length(image)
            order = unswapped(image, world, torso)
            image, world = (np.take_along_axis(a, order[..., None], 1) for a in (image, world))
            visibility = np.take_along_axis(found.visibility[at][seen], order, 1)
            telling = np.stack(np.broadcast_arrays(*errors.cues(image, world, visibility, truth.seconds[seen])), 2)
            for k in NAMED:
                off = (image[:, k] - truth.image[seen, k]) / torso
                moved = np.linalg.norm(off - np.median(off, axis=0), axis=1)
                rows.setdefault(errors.KIND[k], []).append((telling[:, k], moved, np.linalg.norm(off, axis=1)))
    return {kind: [np.concatenate(c) for c in zip(*parts, strict=True)] for kind, parts in rows.items()}


def _fit(telling: Floats, moved: Floats, raw: Floats) -> Floats:
    """(8,) the weights of the cues, and the offset."""
    weights = quantile(telling, moved, LEAST)
    local = telling @ weights / 2

    def missing(offset: float) -> float:
        return float((raw <= 2 * np.hypot(local, offset)).mean()) - WITHIN

    offset = brentq(missing, 0, 1) if missing(0) < 0 else 0.0
    return np.append(weights, offset)


def quantile(telling: Floats, values: Floats, least: float = 0.0) -> Floats:
    """(k,) weights, none below zero and the first at least `least`, whose sum over the cues (n, k) is the 95th
    percentile of the values (n,)."""
    some = np.random.default_rng(0).permutation(len(values))[:ROWS]
    a, y = telling[some], values[some]
    n, k = a.shape
    cost = np.concatenate([np.zeros(k), np.full(n, WITHIN), np.full(n, 1 - WITHIN)])
    bounds = [(least, None), *[(0, None)] * (k - 1 + 2 * n)]
    found = linprog(cost, A_eq=hstack([csr_matrix(a), eye(n), -eye(n)]).tocsc(), b_eq=y, bounds=bounds, method="highs")
    return np.asarray(found.x[:k])


if __name__ == "__main__":
    main()
