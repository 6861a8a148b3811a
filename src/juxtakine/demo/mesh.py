"""The dancer's mesh as it is drawn: hair added, limbs measured for sleeves and hems, hidden triangles left out."""

from dataclasses import dataclass
from math import pi

import numpy as np
from scipy.sparse import csr_array

from juxtakine.demo.look import Look
from juxtakine.demo.skeleton import Body, Floats, Ints

_HAIR, _TIGHTS, _SKIN = 5, 1, 0


@dataclass(frozen=True)
class Mesh:
    """Per vertex: place and normal at rest, and what the shaders need; triangles as indices. `skin` carries vertices
    and normals along: it is multiplied by the bones, four rows each (columns of the rotation, where the head is)."""

    positions: Floats
    normals: Floats
    traits: Floats
    indices: Ints
    skin: csr_array
    waist_y: float
    neck_y: float

    def carried(self, turns: Floats, places: Floats) -> tuple[Floats, Floats]:
        """(n, 3) vertices and normals where the bones' rotations (b, 3, 3) and heads (b, 3) take them.

        Linear blend skinning; here, as the software that draws would do it for each corner of each triangle, twice.
        """
        bones = np.concatenate([turns.swapaxes(1, 2), places[:, None]], 1).reshape(-1, 3)
        vertices, normals = np.split(self.skin @ bones, 2)
        return vertices, normals


def build(body: Body, look: Look) -> Mesh:
    v, triangles, part = body.vertices, body.triangles, body.part
    bones, weights, lips = body.weight_bones, body.weights, body.lips
    normals = _normals(v, triangles)
    for hv, hn, ht in _hair(body, normals, look):
        triangles = np.concatenate([triangles, ht + len(v)])
        v, normals = np.concatenate([v, hv]), np.concatenate([normals, hn])
        n, head = len(hv), body.bone["head"]
        part, lips = np.append(part, [_HAIR] * n), np.append(lips, [0] * n)
        bones = np.concatenate([bones, np.tile([head, 0, 0, 0], (n, 1))])
        weights = np.concatenate([weights, np.tile([255, 0, 0, 0], (n, 1))])
    arm = _along(body, v, ("upperarm01", "lowerarm01", "wrist"))
    leg = _along(body, v, ("upperleg01", "lowerleg01", "foot"))
    armness = _arm_weight(body, bones, weights)
    waist, neck = float(body.head("root")[1]) + 0.1, float(body.head("neck01")[1]) - 0.015
    indices = _seen(body, look, v, triangles, part, arm, leg, armness, waist, neck)
    shares = weights / np.maximum(weights.sum(1, keepdims=True), 1)
    traits = np.stack([part + 0.5 * lips, arm, leg, armness], 1)
    used, corners = np.unique(indices, return_inverse=True)
    v, normals, traits = v[used], normals[used], traits[used]
    dressed = v + normals * _stands_off(body, look, v, traits, waist, neck)[:, None]
    skin = _skin(body, dressed, normals, bones[used].astype(int), shares[used])
    return Mesh(v, normals, traits, corners, skin, waist, neck)


def mouth_of(body: Body) -> Floats:
    return np.array([0.0, body.marks[9][1], body.head("neck02")[2] - 0.005])


def _stands_off(body: Body, look: Look, v: Floats, traits: Floats, waist: float, neck: float) -> Floats:
    """(n,) metres by which a vertex lies outside the bare skin: cloth over it, skin under cloth below it."""
    part, arm, leg, armness = traits.T
    is_arm = armness > 0.5
    low = (v[:, 1] < waist) & ~is_arm
    beside = np.maximum(0, np.linalg.norm((v - mouth_of(body))[:, [0, 2]], axis=1) - 0.075)
    collar = neck + np.minimum(1.6 * beside, 0.04) - 0.35 * np.maximum(0, v[:, 2] - 0.02) - v[:, 1]
    edge = np.where(is_arm, look.sleeve - arm, np.where(low, look.hem - leg, 4 * collar))
    shoe = low & (leg > 1.9) & (not look.bare_feet)
    bare = np.where(edge > 0, -0.006, np.where(shoe, 0.006, 0))
    loose = np.where(low, _smooth_step(0.1, 1, leg) * (0.6 + 0.4 * leg), 0.5) * look.loose + 0.002
    cloth = -0.003 + (loose + 0.003) * np.where(low, 1, _smooth_step(0, 0.12, edge))
    return np.where(part < 0.6, bare, np.where(part < 1.5, cloth, 0))


def _smooth_step(low: float, high: float, x: Floats) -> Floats:
    u = np.clip((x - low) / (high - low), 0, 1)
    return u * u * (3 - 2 * u)


def _skin(body: Body, v: Floats, normals: Floats, bones: Floats, shares: Floats) -> csr_array:
    """(2n, 4b) of vertices, then of normals; see Mesh."""
    from_head = np.concatenate([v[:, None] - body.heads[bones], np.ones((*bones.shape, 1))], 2)
    turned = np.concatenate([np.repeat(normals[:, None], bones.shape[1], 1), np.zeros((*bones.shape, 1))], 2)
    values = np.concatenate([from_head, turned]) * np.tile(shares, (2, 1))[..., None]
    columns = np.tile(4 * bones, (2, 1))[..., None] + np.arange(4)
    rows = np.broadcast_to(np.arange(2 * len(v))[:, None, None], values.shape)
    return csr_array((values.ravel(), (rows.ravel(), columns.ravel())), (2 * len(v), 4 * len(body.heads)))


def _normals(v: Floats, triangles: Ints) -> Floats:
    normals = np.zeros_like(v)
    face = np.cross(v[triangles[:, 1]] - v[triangles[:, 0]], v[triangles[:, 2]] - v[triangles[:, 0]])
    for k in range(3):
        np.add.at(normals, triangles[:, k], face)
    return np.asarray(normals / (np.linalg.norm(normals, axis=1, keepdims=True) + 1e-12))


def _hair(body: Body, normals: Floats, look: Look) -> list[tuple[Floats, Floats, Floats]]:
    """An inflated copy of the scalp, and a bun: each (places, normals, triangles from 0)."""
    if not look.hair_volume:
        return []
    v, t = body.vertices, body.triangles
    eye, ear, head = body.marks[2], body.marks[7], body.bone["head"]
    u = np.clip((v[:, 2] - ear[2] + 0.035) / 0.07, 0, 1)
    u = u * u * (3 - 2 * u)
    brow = eye[1] + 0.045 - 1.5 * np.maximum(0, eye[2] - 0.03 - v[:, 2])
    edge = v[:, 1] - ((ear[1] - 0.035) * (1 - u) + brow * u)
    beside = np.minimum(np.abs(v[:, 2] - ear[2]) - 0.028, v[:, 1] - ear[1] - 0.02)
    edge = np.minimum(edge, np.where(np.abs(v[:, 0]) > 0.058, np.maximum(beside, v[:, 1] - ear[1] - 0.02), 9))
    of_head = body.weight_bones[np.arange(len(v)), body.weights.argmax(1)] == head
    chosen = t[((body.part == _SKIN) & of_head & (edge > -0.004))[t].all(1)]
    q = np.unique(chosen)
    place = np.zeros(len(v), int)
    place[q] = np.arange(len(q))
    out = look.hair_volume * np.clip(edge[q] / 0.03, 0.03, 1) ** 0.7
    scalp = v[q] + normals[q] * out[:, None]
    made = [(scalp, normals[q], place[chosen])]
    if look.bun:
        centre = [0, v[body.part == _SKIN][:, 1].max() - 0.055, v[q][:, 2].min() - look.bun * 0.45]
        ball, faces = _ball()
        made.append((ball * look.bun * [1, 0.9, 0.85] + centre, ball, faces))
    return made


def _ball(rings: int = 9, spokes: int = 16) -> tuple[Floats, Floats]:
    g = np.array([(i, j) for i in range(rings) for j in range(spokes)])
    th, ph = g[:, 0] * pi / (rings - 1), g[:, 1] * 2 * pi / spokes
    ball = np.stack([np.sin(th) * np.cos(ph), np.cos(th), np.sin(th) * np.sin(ph)], 1)
    faces = []
    for i in range(rings - 1):
        for j in range(spokes):
            a, b = i * spokes + j, i * spokes + (j + 1) % spokes
            faces += [(a, b, a + spokes), (b, b + spokes, a + spokes)]
    return ball, np.array(faces)


def _along(body: Body, v: Floats, joints: tuple[str, str, str]) -> Floats:
    """How far along a limb each vertex lies: 0 at its root, 1 at the middle joint, 2 at its end."""

    def chain(side: str) -> Floats:
        a, m, e = (body.head(f"{j}.{side}") for j in joints)
        first = np.clip((v - a) @ (m - a) / ((m - a) @ (m - a)), -1, 1)
        return first + np.clip((v - m) @ (e - m) / ((e - m) @ (e - m)), 0, 1.5)

    return np.where(v[:, 0] > 0, chain("L"), chain("R"))


def _arm_weight(body: Body, bones: Floats, weights: Floats) -> Floats:
    table = np.zeros((len(bones), len(body.heads)))
    np.put_along_axis(table, bones.astype(int), weights / 255.0, 1)
    table /= table.sum(1, keepdims=True)
    names = ("upperarm01", "upperarm02", "lowerarm01", "lowerarm02", "wrist")
    return np.asarray(sum(table[:, body.bone[f"{n}.{s}"]] for s in "LR" for n in names))


def _seen(
    body: Body, look: Look, v: Floats, triangles: Floats, part: Floats,
    arm: Floats, leg: Floats, armness: Floats, waist: float, neck: float,
) -> Floats:  # fmt: skip
    """Triangles that can be seen: those under cloth and inside the mouth cost the most and show nothing."""
    is_arm = armness > 0.5
    low = (v[:, 1] < waist) & ~is_arm

    def covered(by: float) -> Floats:
        cloth = np.where(low, leg < look.hem + by, v[:, 1] < neck + by * 0.4)
        return np.where(is_arm, arm < look.sleeve + by, cloth)

    of = part[triangles[:, 0]]
    keep = (of == _SKIN) & ~covered(-0.3)[triangles].all(1)
    keep |= (of == _TIGHTS) & covered(0.3)[triangles].any(1)
    keep |= of > 2
    mouth, first = body.marks[9:11].mean(0), v[triangles[:, 0]]
    inner = (of == _SKIN) & (np.abs(first[:, 0]) < 0.03) & (np.abs(first[:, 1] - mouth[1]) < 0.03)
    inner &= np.abs(first[:, 2] - mouth[2] + 0.055) < 0.035
    return np.asarray(triangles[keep & ~inner].ravel())
