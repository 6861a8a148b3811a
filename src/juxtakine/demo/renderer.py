"""Draws posed bodies in a room with OpenGL (EGL, no display); a picture is (height, width, 3) bytes."""

from collections.abc import Sequence
from pathlib import Path
from typing import Any

import moderngl
import numpy as np
from numpy.typing import NDArray

from juxtakine.demo.camera import Framing
from juxtakine.demo.look import Look
from juxtakine.demo.mesh import build, mouth_of
from juxtakine.demo.skeleton import Body, Floats, Ints, Y, Z, rotation, unit

_SHADERS = Path(__file__).parent / "shaders"
_INPUTS = "in vec3 w; in vec3 n; in vec4 pr; in vec4 ls;\n"
_SHADOW_SIZE = 1024
_SAMPLES = 2
"""A pixel; four look little smoother, and take half as long again where software draws."""
Pose = tuple[Floats, Floats]
Picture = NDArray[np.uint8]
"""Rotation (bones, 3, 3) and place of the head (bones, 3) of each bone."""


class _Shape:
    """Triangles whose corners move, drawn by one or more programs."""

    def __init__(self, gl: moderngl.Context, programs: Sequence[Any], still: dict[str, Floats], indices: Ints) -> None:
        count = len(next(iter(still.values())))
        self._moving = gl.buffer(reserve=count * 24, dynamic=True)
        fixed = {k: gl.buffer(v.astype("f4").tobytes()) for k, v in still.items()}
        index = gl.buffer(indices.astype("i4").tobytes())
        self.arrays = []
        for program in programs:
            moving = [(self._moving, "3f 3f", "pos", "nrm") if "nrm" in program else (self._moving, "3f 3x4", "pos")]
            used = [(b, f"{still[k].shape[1]}f", k) for k, b in fixed.items() if k in program]
            self.arrays.append(gl.vertex_array(program, moving + used, index))

    def place(self, positions: Floats, normals: Floats) -> None:
        self._moving.write(np.concatenate([positions, normals], 1).astype("f4").tobytes())


class _Figure:
    """One dancer: their mesh in their clothes."""

    def __init__(self, gl: moderngl.Context, body: Body, look: Look) -> None:
        self.mesh = build(body, look)
        self.dancer, self.depth = self.programs = [
            _program(gl, _shader("cover.glsl", "light.glsl", "dancer.frag")),
            _program(gl, _shader("cover.glsl", tail="void main(){ if(hidden()) discard; }")),
        ]
        still = {"at_rest": self.mesh.positions, "prm": self.mesh.traits}
        self.shape = _Shape(gl, self.programs, still, self.mesh.indices)
        _set_all(
            self.programs,
            cut=(look.sleeve, look.hem, 0.0, 0.6),
            fit=(look.loose, 0.0, float(look.bare_feet), 1.0),
            body=(self.mesh.waist_y, self.mesh.neck_y, body.head("foot.L")[1] + 0.01, body.vertices[:, 1].max()),
            stripes=look.stripes, eyeL=tuple(body.marks[2]), mouth=tuple(mouth_of(body)),
            **{k: getattr(look, k) for k in ("skin", "hair", "shirt", "trousers", "shoes")},
        )  # fmt: skip


class Renderer:
    """Holds the drawing context for one or more bodies in their looks, and a picture's size; room and light are the
    first one's, who alone casts a shadow."""

    def __init__(self, figures: Sequence[tuple[Body, Look]], size: tuple[int, int]) -> None:
        self.size, self.look = size, figures[0][1]
        self.gl = gl = moderngl.create_context(standalone=True, backend="egl")  # type: ignore[arg-type]  # its stub asks for a dict
        self.figures = [_Figure(gl, body, look) for body, look in figures]
        self.room = _program(gl, _shader("light.glsl", "room.frag", head=_INPUTS))
        self.programs = [p for f in self.figures for p in f.programs] + [self.room]
        self.corners, self.walls, kinds = _room()
        self.room_shape = _Shape(gl, [self.room], {"prm": kinds}, np.arange(len(kinds)))
        self._textures()
        self._targets()
        look = self.look
        _set_all(self.programs, floor_=look.floor, wall=look.wall, key=look.key, amb=look.ambient, sh=1.0, bg=1.0)

    def draw(self, poses: Sequence[Pose], view: Framing, orbit_deg: float) -> Picture:
        """The picture of the posed bodies through a camera."""
        gl, first, orbit = self.gl, self.figures[0], rotation(Y, orbit_deg)
        for figure, pose in zip(self.figures, poses, strict=True):
            figure.shape.place(*figure.mesh.carried(*pose))
        self.room_shape.place(self.corners @ orbit.T, self.walls @ orbit.T)
        light = orbit @ unit(np.array(self.look.light))
        at = poses[0][1][0]
        from_light = _light_matrix(light, np.array([at[0], 0.9, at[2]]))
        gl.enable(gl.DEPTH_TEST)
        gl.enable(gl.CULL_FACE)
        _set_all(self.programs, L=tuple(light), lvp=from_light, vp=from_light)
        self.shadow.use()
        self.shadow.clear()
        first.shape.arrays[1].render()
        _set_all(self.programs, vp=view.clip_matrix(self.size), cam=tuple(-view.r.T @ view.t), sm=0, nz=1, wood=1)
        self.shadow_map.use(0)
        self.target.use()
        self.target.clear()
        self.noise.use(1)
        for figure in self.figures:
            figure.shape.arrays[0].render()
        gl.disable(gl.CULL_FACE)
        self.wood.use(1)
        self.room_shape.arrays[0].render()
        gl.copy_framebuffer(self.out, self.target)
        w, h = self.size
        return np.frombuffer(self.out.read(components=3), np.uint8).reshape(h, w, 3)[::-1]

    def _textures(self) -> None:
        gl = self.gl
        self.wood = gl.texture((512, 512), 1, _wood().tobytes())
        self.wood.build_mipmaps()
        self.wood.filter = (gl.LINEAR_MIPMAP_LINEAR, gl.LINEAR)
        noise = np.random.default_rng(0).random((256, 256, 4))
        self.noise = gl.texture((256, 256), 4, (noise * 255).astype(np.uint8).tobytes())
        self.noise.filter = (gl.LINEAR, gl.LINEAR)

    def _targets(self) -> None:
        gl, size = self.gl, self.size
        self.target = gl.framebuffer(
            gl.renderbuffer(size, 4, samples=_SAMPLES), gl.depth_renderbuffer(size, samples=_SAMPLES)
        )
        self.out = gl.framebuffer(gl.renderbuffer(size, 4))
        self.shadow_map = gl.depth_texture((_SHADOW_SIZE, _SHADOW_SIZE))
        self.shadow_map.compare_func = "<="
        self.shadow_map.repeat_x = self.shadow_map.repeat_y = False
        self.shadow = gl.framebuffer(depth_attachment=self.shadow_map)


def _program(gl: moderngl.Context, fragment: str) -> Any:
    return gl.program((_SHADERS / "body.vert").read_text(), fragment)


def _shader(*names: str, head: str = "", tail: str = "") -> str:
    return "#version 330\n" + head + "\n".join((_SHADERS / n).read_text() for n in names) + tail


def _set_all(programs: Sequence[Any], **values: Any) -> None:
    """Each value in those programs that know it; matrices by rows."""
    for program in programs:
        for name, value in values.items():
            if name not in program:
                continue
            if isinstance(value, np.ndarray):
                program[name].write(np.ascontiguousarray(value.T, "f4").tobytes())
            else:
                program[name].value = tuple(map(float, value)) if isinstance(value, tuple) else value


def _room() -> tuple[Floats, Floats, Floats]:
    """The floor at y = 0 and a wall 2.6 m behind the dancer: corners, normals, and which is which."""
    q = np.array([[-9, 0, -2.6], [9, 0, -2.6], [9, 0, 9], [-9, 0, 9], [-9, 6, -2.6], [9, 6, -2.6]], float)
    corners = np.concatenate([q[[0, 2, 1, 0, 3, 2]], q[[0, 1, 5, 0, 5, 4]]])
    kinds = np.stack([np.repeat([6, 7], 6), *[np.zeros(12)] * 3], 1)
    return corners, np.repeat([Y, Z], 6, 0), kinds


def _light_matrix(light: Floats, at: Floats) -> Floats:
    right = unit(np.cross(-light, Y))
    view = np.eye(4)
    view[:3, :3] = np.stack([right, np.cross(right, -light), light])
    view[:3, 3] = -view[:3, :3] @ (at + 4 * light)
    box = np.diag([1 / 1.6, 1 / 1.6, -2 / 7.0, 1])
    box[2, 3] = -1.1
    return box @ view


def _wood(n: int = 512, boards: int = 16, seed: int = 3) -> Picture:
    random = np.random.default_rng(seed)
    picture = np.zeros((n, n))
    grain = random.normal(0, 1, (n, n))
    for _ in range(5):
        grain = (
            grain + np.roll(grain, 1, 0) + np.roll(grain, -1, 0) + np.roll(grain, 2, 0) + np.roll(grain, -3, 0)
        ) / 3.2
    width = n // boards
    for k in range(boards):
        start, across = random.integers(n), slice(k * width, (k + 1) * width)
        for q in range(3):
            rows = (np.arange(n // 3 + 1) + start + q * n // 3) % n
            picture[np.ix_(rows, np.arange(across.start, across.stop))] = random.uniform(0.62, 0.88)
            picture[rows[0], across] *= 0.75
        picture[:, across.start] *= 0.72
    return np.asarray(np.clip((picture + 0.03 * grain / grain.std()) * 255, 0, 255), np.uint8)
