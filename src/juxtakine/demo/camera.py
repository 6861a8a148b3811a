"""A camera in front of a made-up dancer: where it stands, and where it sees a point.

Conventions of the picture: x to the right, y down, pixels; `orbit` turns camera and room about the dancer.
"""

from dataclasses import dataclass

import numpy as np

from juxtakine.demo.skeleton import Floats, Y, rotation, unit


@dataclass(frozen=True)
class Framing:
    """A pinhole at one instant: pixel = K (R X + t)."""

    k: Floats
    r: Floats
    t: Floats

    def project(self, points: Floats) -> Floats:
        """(..., 3) metres in the world -> (..., 2) pixels."""
        q = points @ self.r.T + self.t
        return np.asarray(q[..., :2] / q[..., 2:] * self.k[0, 0] + self.k[:2, 2])

    def clip_matrix(self, size: tuple[int, int], near: float = 0.1, far: float = 30.0) -> Floats:
        """The same camera as a 4x4 matrix for drawing."""
        (w, h), k = size, self.k
        frustum = np.array([
            [2 * k[0, 0] / w, 0, 0, 0],
            [0, 2 * k[1, 1] / h, 0, 0],
            [0, 0, -(far + near) / (far - near), -2 * far * near / (far - near)],
            [0, 0, -1, 0],
        ])  # fmt: skip
        model, flip = np.eye(4), np.diag([1.0, -1.0, -1.0])
        model[:3, :3], model[:3, 3] = flip @ self.r, flip @ self.t
        return frustum @ model


@dataclass(frozen=True)
class Camera:
    position: tuple[float, float, float] = (0, 1.15, 4.1)
    look_at: tuple[float, float, float] = (0, 0.95, 0)
    field_deg: float = 34.0
    roll_deg: float = 0.0
    orbit_deg: float = 0.0
    shake_m: float = 0.0
    size: tuple[int, int] = (640, 360)
    fps: int = 30

    def view(self, seconds: float, seed: int) -> Framing:
        """The camera at this moment, with the shake of a hand where there is any."""
        phase = np.random.default_rng(seed).uniform(0, 6.28, 6)
        wave = np.sin(2 * np.pi * np.array([0.7, 0.9, 1.3, 0.8, 1.1, 0.5]) * seconds + phase) * self.shake_m
        orbit, (w, h) = rotation(Y, self.orbit_deg), self.size
        position = orbit @ (np.array(self.position) + wave[:3])
        ahead = unit(orbit @ (np.array(self.look_at) + wave[3:]) - position)
        right = unit(np.cross(ahead, Y))
        up = np.cross(right, ahead)
        c, s = np.cos(np.radians(self.roll_deg)), np.sin(np.radians(self.roll_deg))
        right, up = c * right + s * up, c * up - s * right
        r = np.stack([right, -up, ahead])
        f = h / 2 / np.tan(np.radians(self.field_deg) / 2)
        return Framing(np.array([[f, 0, w / 2], [0, f, h / 2], [0, 0, 1]]), r, -r @ position)
