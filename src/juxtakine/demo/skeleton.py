"""A made-up body: channel values at an instant -> bones -> the exact places of the 33 landmarks.

World: metres, y up; at yaw 0 the dancer faces +z; the dancer's own left is +x. Rotations are right-handed.
"""

from collections.abc import Mapping
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
X, Y, Z = np.eye(3)
ASSET = Path(__file__).parent / "assets" / "body.npz"
STANDARD_LEG_M = 0.8
_SPINE = ("spine05", "spine04", "spine03", "spine02", "spine01")
_NECK = ("neck01", "neck02", "neck03", "head")
_JOINTS = (("upperarm01", 11), ("lowerarm01", 13), ("wrist", 15), ("upperleg01", 23), ("lowerleg01", 25), ("foot", 27))
_SIDES = (("L", "l_", 1.0), ("R", "r_", -1.0))
_ON_FLOOR = ("x", "z", "drop", "l_fx", "l_fz", "l_lift", "r_fx", "r_fz", "r_lift")


def rotation(axis: Floats, degrees: float) -> Floats:
    """Rodrigues' rotation about a unit axis."""
    a = np.radians(degrees)
    k = np.array([[0, -axis[2], axis[1]], [axis[2], 0, -axis[0]], [-axis[1], axis[0], 0]])
    return np.asarray(np.eye(3) + np.sin(a) * k + (1 - np.cos(a)) * (k @ k))


def unit(v: Floats) -> Floats:
    return v / (np.linalg.norm(v) + 1e-12)


def cross(a: Floats, b: Floats) -> Floats:
    """Of two vectors: numpy's is made for many at once, and was a third of what a pose takes."""
    (ax, ay, az), (bx, by, bz) = a, b
    return np.array([ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx])


def _orthogonal(v: Floats, to: Floats) -> Floats:
    return unit(v - to * (v @ to))


def _frame(along: Floats, beside: Floats) -> Floats:
    along = unit(along)
    beside = _orthogonal(beside, along)
    return np.stack([along, beside, cross(along, beside)], 1)


def _nearest_rotation(m: Floats) -> Floats:
    u, _, vt = np.linalg.svd(m)
    return np.asarray(u @ vt)


class Body:
    """One of the four bodies in the asset: its mesh, and the bones that carry it."""

    def __init__(self, name: str) -> None:
        data = np.load(ASSET)
        i = list(data["names"]).index(name)
        self.vertices, self.heads, self.marks = (data[k][i].astype(float) for k in ("verts", "heads", "lm"))
        self.bone_names, self.parents, self.mark_bones = list(data["bones"]), data["parent"], data["lm_bone"]
        self.part, self.triangles, self.lips = data["part"], data["tris"].astype(int), data["lips"]
        self.weight_bones, self.weights = data["wi"], data["ww"]
        self.bone = {n: k for k, n in enumerate(self.bone_names)}
        hip, knee, ankle = (self.head(f"{b}.L") for b in ("upperleg01", "lowerleg01", "foot"))
        self.thigh, self.shin = float(np.linalg.norm(knee - hip)), float(np.linalg.norm(ankle - knee))

    def head(self, bone: str) -> Floats:
        """Where a bone begins in the resting body."""
        return np.asarray(self.heads[self.bone[bone]])

    def pose(self, channels: Mapping[str, float]) -> tuple[Floats, Floats]:
        """Rotation (bones, 3, 3) and place of the head (bones, 3) of each bone."""
        return _Posing(self, channels).run()

    def landmarks(self, turns: Floats, places: Floats) -> Floats:
        """(33, 3) places of the landmarks, joints at their exact centres."""
        i = self.mark_bones
        q = np.einsum("kij,kj->ki", turns[i], self.marks - self.heads[i]) + places[i]
        for bone, k in _JOINTS:
            q[k], q[k + 1] = places[self.bone[f"{bone}.L"]], places[self.bone[f"{bone}.R"]]
        return np.asarray(q)


class _Posing:
    """The bones of one instant, set from the root outwards."""

    def __init__(self, body: Body, channels: Mapping[str, float]) -> None:
        scale = (body.thigh + body.shin) / STANDARD_LEG_M
        self.body = body
        self.c = {k: v * scale if k in _ON_FLOOR else v for k, v in channels.items()}
        self.turn = np.tile(np.eye(3), (len(body.heads), 1, 1))
        self.place = np.zeros_like(body.heads)

    def put(self, bone: str, turn: Floats, at: Floats | None = None) -> None:
        i = self.body.bone[bone]
        q = self.body.parents[i]
        self.turn[i] = turn
        self.place[i] = (
            at if at is not None else self.place[q] + self.turn[q] @ (self.body.heads[i] - self.body.heads[q])
        )

    def run(self) -> tuple[Floats, Floats]:
        c, body = self.c, self.body
        facing = rotation(Y, c["yaw"])
        pelvis = facing @ rotation(X, c["lean"]) @ rotation(Z, c["tilt"])
        feet = {side: self._foot(side, k) for side, k, _ in _SIDES}
        root = self._root(facing, pelvis, feet)
        self.put("root", pelvis, root)
        for j, bone in enumerate(_SPINE, 1):
            self.put(bone, pelvis @ self._bent(("twist", "side", "bend"), j / len(_SPINE)))
        chest = self.turn[body.bone["spine01"]]
        for j, bone in enumerate(_NECK, 1):
            self.put(bone, chest @ self._bent(("turn", "hside", "nod"), j / len(_NECK)))
        for side, k, sign in _SIDES:
            self._arm(side, k, sign, chest)
            self._leg(side, k, sign, root, pelvis, *feet[side])
        return self.turn, self.place

    def _bent(self, names: tuple[str, str, str], share: float) -> Floats:
        yaw, roll, pitch = (self.c[n] * share for n in names)
        return rotation(Y, yaw) @ rotation(Z, -roll) @ rotation(X, pitch)

    def _foot(self, side: str, k: str) -> tuple[Floats, Floats, Floats]:
        """Where the ankle is to be, the foot's rotation with the heel lifted, and without."""
        c, ankle, toe = self.c, self.body.head(f"foot.{side}"), self.body.head(f"toes.{side}")
        resting = np.degrees(np.arctan2(toe[0] - ankle[0], toe[2] - ankle[2]))
        flat = rotation(Y, c[k + "fyaw"] - resting)
        lifted = flat @ rotation(X, c[k + "heel"])
        ball = np.array([c[k + "fx"], ankle[1] + c[k + "lift"], c[k + "fz"]]) + flat @ (toe - ankle)
        return ball + lifted @ (ankle - toe), lifted, flat

    def _root(self, facing: Floats, pelvis: Floats, feet: Mapping[str, tuple[Floats, Floats, Floats]]) -> Floats:
        """The pelvis as high as both legs reach, less the drop."""
        c, body = self.c, self.body
        ankles_z = np.array([0, 0, body.head("foot.L")[2]])
        offset = facing @ ((body.head("root") - ankles_z) * [1, 0, 1])
        reach = 0.9985 * (body.thigh + body.shin)
        top = np.inf
        for side, k, _ in _SIDES:
            ankle = feet[side][0]
            hip = offset + pelvis @ (body.head(f"upperleg01.{side}") - body.head("root"))
            across = np.hypot(ankle[0] - c["x"] - hip[0], ankle[2] - c["z"] - hip[2])
            top = min(top, ankle[1] + np.sqrt(max(reach**2 - across**2, 0.05)) - hip[1] + c[k + "legw"])
        return np.asarray(np.array([c["x"], top - c["drop"], c["z"]]) + offset)

    def _arm(self, side: str, k: str, sign: float, chest: Floats) -> None:
        c, head = self.c, self.body.head
        lift, az = c[k + "elev"], np.radians(c[k + "az"])
        rise = 0.3 * max(0, lift - 25) * (1 if lift < 150 else 150 / lift)
        self.put(f"clavicle.{side}", chest @ rotation(Z, sign * rise * 0.7))
        self.put(f"shoulder01.{side}", chest @ rotation(Z, sign * rise))
        swing = rotation(unit(cross(-Y, sign * np.cos(az) * X + np.sin(az) * Z)), lift)
        upper, forward = chest @ swing @ -Y, chest @ swing @ Z

        def bend(degrees: float) -> Floats:
            return rotation(upper, -sign * degrees) @ forward

        shoulder, elbow, wrist = (head(f"{b}.{side}") for b in ("upperarm01", "lowerarm01", "wrist"))
        rest_upper, rest_fore = _frame(elbow - shoulder, wrist - elbow), _frame(wrist - elbow, shoulder - elbow)
        self.put(f"upperarm01.{side}", _frame(upper, bend(c[k + "rot"] * 0.5)) @ rest_upper.T)
        self.put(f"upperarm02.{side}", _frame(upper, bend(c[k + "rot"])) @ rest_upper.T)
        q, beside = np.radians(c[k + "elbow"]), bend(c[k + "rot"])
        fore = np.cos(q) * upper + np.sin(q) * beside
        fore_beside = -np.sin(q) * upper + np.cos(q) * beside
        turned = _frame(fore, fore_beside) @ rest_fore.T
        self.put(f"lowerarm01.{side}", turned)
        self.put(f"lowerarm02.{side}", rotation(fore, sign * c[k + "pron"] * 0.5) @ turned)
        hand = rotation(fore, sign * c[k + "pron"]) @ rotation(unit(cross(fore, fore_beside)), c[k + "wrist"])
        self.put(f"wrist.{side}", hand @ turned)

    def _leg(
        self, side: str, k: str, sign: float, root: Floats, pelvis: Floats, ankle: Floats, lifted: Floats, flat: Floats
    ) -> None:
        c, body = self.c, self.body
        hip = root + pelvis @ (body.head(f"upperleg01.{side}") - body.head("root"))
        thigh, shin, ahead = self._knee(k, sign, hip, ankle)
        thigh_front, shin_front = ahead, ahead
        w = c[k + "legw"]
        if w > 0:
            angles = self._leg_by_angles(k, sign, pelvis)
            ours = (thigh, shin, thigh_front, shin_front)
            thigh, shin, thigh_front, shin_front = (
                unit((1 - w) * a + w * b) for a, b in zip(ours, angles, strict=True)
            )
        s, n, f = (body.head(f"{b}.{side}") for b in ("upperleg01", "lowerleg01", "foot"))
        upper = _frame(thigh, thigh_front) @ _frame(n - s, Z).T
        lower = _frame(shin, shin_front) @ _frame(f - n, Z).T
        for bone, turn in (("upperleg01", upper), ("upperleg02", upper), ("lowerleg01", lower), ("lowerleg02", lower)):
            self.put(f"{bone}.{side}", turn)
        if w > 0:
            pointed = lower @ rotation(X, c[k + "point"])
            lifted, flat = (_nearest_rotation((1 - w) * m + w * pointed) for m in (lifted, flat))
        self.put(f"foot.{side}", lifted)
        self.put(f"toes.{side}", flat)

    def _knee(self, k: str, sign: float, hip: Floats, ankle: Floats) -> tuple[Floats, Floats, Floats]:
        """Thigh and shin that reach from hip to ankle with the knee over the foot (law of cosines)."""
        c, thigh, shin = self.c, self.body.thigh, self.body.shin
        away = float(np.linalg.norm(ankle - hip))
        d = (ankle - hip) / away
        away = min(away, 0.9999 * (thigh + shin))
        cosine = np.clip((thigh**2 + away**2 - shin**2) / (2 * thigh * away), -1, 1)
        turn = 0.75 * c[k + "fyaw"] + 0.25 * c["yaw"] + sign * c[k + "knee_out"]
        ahead = _orthogonal(rotation(Y, turn) @ Z, d)
        upper = cosine * d + np.sqrt(1 - cosine**2) * ahead
        lower = unit(hip + away * d - (hip + thigh * upper))
        return upper, lower, ahead

    def _leg_by_angles(self, k: str, sign: float, pelvis: Floats) -> tuple[Floats, Floats, Floats, Floats]:
        c = self.c
        az, q = np.radians(c[k + "haz"]), np.radians(c[k + "knee"])
        swing = rotation(unit(cross(-Y, sign * np.cos(az) * X + np.sin(az) * Z)), c[k + "hip"])
        thigh = pelvis @ swing @ -Y
        front = rotation(thigh, sign * -c[k + "hrot"]) @ (pelvis @ swing @ Z)
        return thigh, np.cos(q) * thigh - np.sin(q) * front, front, np.sin(q) * thigh + np.cos(q) * front
