"""Key-framed movement on the count line, and the faults that can be planted in it.

Conventions: counts from the routine's first 1 (which is 0); `l_` and `r_` are the dancer's own sides;
angles in degrees; places on the floor in metres for a leg of 0.8 m (the skeleton scales them to its own).
A key arrives AT its count: it moves during the `over` counts before it (minimum jerk), then holds.

Channels. root: x z yaw drop (bent knees) lean tilt. spine: bend side twist. head: nod hside turn.
arm: elev (0 down, 90 level, 180 up) az (0 sideways, 90 forward) rot (+ the bend goes up) elbow (0 straight) pron wrist.
leg by its foot: fx fz lift fyaw heel knee_out; leg by its angles: legw (0 foot, 1 angles) hip haz hrot knee point.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

_ROOT = ["x", "z", "yaw", "drop", "lean", "tilt", "bend", "side", "twist", "nod", "hside", "turn"]
_SIDED = {
    "elev": 6, "az": 10, "rot": 0, "elbow": 12, "pron": 0, "wrist": 0, "fx": 0.11, "fz": 0, "lift": 0, "fyaw": 8,
    "heel": 0, "knee_out": 0, "legw": 0, "hip": 0, "haz": 90, "hrot": 0, "knee": 0, "point": 0,
}  # fmt: skip
_MIRRORED_AT_REST = {"r_fx", "r_fyaw"}

REST: dict[str, float] = dict.fromkeys(_ROOT, 0.0) | {
    f"{side}_{name}": -value if f"{side}_{name}" in _MIRRORED_AT_REST else float(value)
    for side in "lr"
    for name, value in _SIDED.items()
}
_FOOT_MOVES = {"fx": 1.0, "fz": 1.0, "fyaw": 0.01}
_SWAY = {"bend": 1.2, "side": 0.7, "twist": 0.8, "turn": 1.5, "nod": 1.0, "l_elev": 0.8, "r_elev": 0.8,
         "l_elbow": 1.5, "r_elbow": 1.5, "x": 0.004, "z": 0.004}  # fmt: skip
_DISTANCES = {"x", "z", "drop", "fx", "fz", "lift", "legw"}


@dataclass(frozen=True)
class Key:
    """Channels that arrive at `at + late`, after moving for `over` counts; `count` is what it was written for."""

    count: float
    at: float
    over: float
    channels: Mapping[str, float]
    late_s: float = 0.0


@dataclass(frozen=True)
class Motion:
    """A routine's movement at `bpm` counts a minute, its first 1 at `first_s` seconds."""

    bpm: float
    first_s: float
    keys: tuple[Key, ...] = ()

    def key(self, at: float, over: float = 0.8, count: float | None = None, **channels: float) -> "Motion":
        unknown = channels.keys() - REST.keys()
        if unknown:
            raise KeyError(f"unknown channels {sorted(unknown)}")
        made = Key(at if count is None else count, at, over, channels)
        return replace(self, keys=(*self.keys, made))

    def stance(
        self, at: float, x: float = 0, z: float = 0, yaw: float = 0, width: float = 0.22, turnout: float = 8,
        over: float = 0.8, **channels: float,
    ) -> "Motion":  # fmt: skip
        """Place both feet and the pelvis; the feet step one after the other."""
        a, w = np.radians(yaw), width / 2
        left = {"l_fx": x + w * np.cos(a), "l_fz": z - w * np.sin(a), "l_fyaw": yaw + turnout}
        right = {"r_fx": x - w * np.cos(a), "r_fz": z + w * np.sin(a), "r_fyaw": yaw - turnout}
        stepped = self.key(at - over / 2, over / 2, at, **left).key(at, over / 2, at, **right)
        return stepped.key(at, over, at, x=x, z=z, yaw=yaw, **channels)

    def seconds(self, at: float) -> float:
        return self.first_s + at * 60 / self.bpm

    @property
    def end_s(self) -> float:
        return max(self.seconds(k.at) + k.late_s for k in self.keys)

    # faults

    def adjust(self, count: float, **delta: float) -> "Motion":
        """Pose fault: on this count these channels reach elsewhere by `delta`, and come back with their next key."""
        written = [k for k in self.keys if abs(k.count - count) < 1e-6]
        missing = [c for c in delta if not any(c in k.channels for k in written)]
        if missing:
            raise KeyError(f"no key of {missing} at count {count}")

        def moved(k: Key) -> Key:
            if k not in written:
                return k
            return replace(k, channels={c: v + delta.get(c, 0.0) for c, v in k.channels.items()})

        return replace(self, keys=tuple(moved(k) for k in self.keys))

    def delay(self, count: float, ms: float) -> "Motion":
        """Timing fault: everything written for this count arrives `ms` later (earlier when negative)."""
        if not any(abs(k.count - count) < 1e-6 for k in self.keys):
            raise KeyError(f"no key at count {count}")
        late = (replace(k, late_s=k.late_s + ms / 1e3) if abs(k.count - count) < 1e-6 else k for k in self.keys)
        return replace(self, keys=tuple(late))

    def inexact(self, seed: int, ms: float = 10, degrees: float = 2, metres: float = 0.01) -> "Motion":
        """As people are: every key a little off in time and place, independently."""
        random = np.random.default_rng(seed)
        shifts = {c: random.normal(0, ms / 1e3) for c in sorted({k.count for k in self.keys})}

        def wobble(name: str) -> float:
            base = name.split("_")[-1]
            if base in ("legw", "haz"):
                return 0.0
            return random.normal(0, metres if base in _DISTANCES else degrees)

        keys = (
            replace(k, late_s=k.late_s + shifts[k.count], channels={c: v + wobble(c) for c, v in k.channels.items()})
            for k in self.keys
        )
        return replace(self, keys=tuple(keys))

    def sample(self, seconds: Floats, sway: float = 1.0, seed: int = 0) -> dict[str, Floats]:
        """Channel values at these times; `sway` is the slow swaying of somebody who stands."""
        out: dict[str, Floats] = {}
        lift = {side: np.zeros_like(seconds) for side in "lr"}
        for channel, rest in REST.items():
            value, before = np.full_like(seconds, rest), rest
            for key in self._of(channel):
                over = max(key.over * 60 / self.bpm, 1e-6)
                u = np.clip((seconds - self.seconds(key.at) - key.late_s + over) / over, 0, 1)
                step = key.channels[channel] - before
                before = key.channels[channel]
                value = value + step * u**3 * (10 - 15 * u + 6 * u * u)
                height = _FOOT_MOVES.get(channel[2:])
                if height:
                    side = channel[0]
                    lift[side] = np.maximum(lift[side], min(0.1, 0.3 * abs(step) * height) * 4 * u * (1 - u))
            out[channel] = value
        for side in "lr":
            out[f"{side}_lift"] = out[f"{side}_lift"] + lift[side]
        random = np.random.default_rng(seed)
        for channel, size in _SWAY.items():
            f, p = random.uniform(0.15, 0.5, 2), random.uniform(0, 2 * np.pi, 2)
            waves = (np.sin(2 * np.pi * f[i] * seconds + p[i]) for i in range(2))
            out[channel] = out[channel] + sway * size * 0.5 * sum(waves)
        return out

    def _of(self, channel: str) -> Iterable[Key]:
        return sorted((k for k in self.keys if channel in k.channels), key=lambda k: self.seconds(k.at) + k.late_s)
