"""Draws a posed body in its room with OpenGL (EGL, no display); a picture is (height, width, 3) bytes."""

from pathlib import Path
from typing import Any

import moderngl
import numpy as np

from juxtakine.demo.camera import View
from juxtakine.demo.look import Look
from juxtakine.demo.mesh import Mesh, build
from juxtakine.demo.skeleton import Body, Floats, Y, Z, rotation, unit

_SHADERS = Path(__file__).parent / "shaders"
_INPUTS = "in vec3 w; in vec3 n; in vec4 pr; in vec4 ls;\n"
_SHADOW_SIZE = 1024
_BONES = 36


def _shader(*names: str, head: str = "", tail: str = "") -> str:
    return "#version 330\n" + head + "\n".join((_SHADERS / n).read_text() for n in names) + tail


class Renderer:
    """Holds the drawing context for one body, look and picture size."""

    def __init__(self, body: Body, look: Look, size: tuple[int, int], gl: moderngl.Context | None = None) -> None:
        """In a context of its own, or in that of another body that is to stand in the same picture."""
        self.body, self.look, self.size = body, look, size
        self.gl = gl = gl or moderngl.create_context(standalone=True, backend="egl")
        vertex = (_SHADERS / "body.vert").read_text()
        self.dancer, self.depth, self.room = self.programs = [
            gl.program(vertex, fragment)
            for fragment in (
                _shader("cover.glsl", "light.glsl", "dancer.frag"),
                _shader("cover.glsl", tail="void main(){ if(hidden()) discard; }"),
                _shader("light.glsl", "room.frag", head=_INPUTS),
            )
        ]
        mesh = build(body, look)
        self.dancer_array, self.depth_array = (self._mesh_array(p, mesh) for p in (self.dancer, self.depth))
        self.room_array = self._room_array()
        self._textures()
        self._targets()
        self._constants(mesh)
        self.unmoved = np.tile(np.eye(4), (_BONES, 1, 1))

    def draw(self, turns: Floats, places: Floats, view: View, orbit_deg: float) -> Floats:
        """The picture of a posed body through a camera."""
        gl, bones = self.gl, self.unmoved.copy()
        bones[:, :3, :3] = turns
        bones[:, :3, 3] = places - np.einsum("bij,bj->bi", turns, self.body.heads)
        orbit = rotation(Y, orbit_deg)
        light = orbit @ unit(np.array(self.look.light))
        from_light = _light_matrix(light, np.array([places[0][0], 0.9, places[0][2]]))
        gl.enable(gl.DEPTH_TEST)
        gl.disable(gl.CULL_FACE)
        self._set(L=tuple(light), bones=bones, lvp=from_light, vp=from_light)
        self.shadow.use()
        self.shadow.clear()
        self.depth_array.render()
        self._set(vp=view.clip_matrix(self.size), cam=tuple(-view.r.T @ view.t), sm=0, nz=1, wood=1)
        self.shadow_map.use(0)
        self.target.use()
        self.target.clear()
        self.noise.use(1)
        gl.enable(gl.CULL_FACE)
        self.dancer_array.render()
        gl.disable(gl.CULL_FACE)
        turned = self.unmoved.copy()
        turned[:, :3, :3] = orbit
        self.room["bones"].write(np.ascontiguousarray(turned.transpose(0, 2, 1), "f4").tobytes())
        self.wood.use(1)
        self.room_array.render()
        gl.copy_framebuffer(self.out, self.target)
        w, h = self.size
        return np.frombuffer(self.out.read(components=3), np.uint8).reshape(h, w, 3)[::-1]

    def _set(self, **values: Any) -> None:
        for program in self.programs:
            for name, value in values.items():
                if name not in program:
                    continue
                if isinstance(value, np.ndarray):
                    program[name].write(np.ascontiguousarray(np.swapaxes(value, -1, -2), "f4").tobytes())
                else:
                    program[name].value = tuple(map(float, value)) if isinstance(value, tuple) else value

    def _array(self, program: Any, columns: dict[str, Floats], indices: Floats | None = None) -> Any:
        used = [k for k in columns if k in program]
        data = np.concatenate([columns[k] for k in used], 1).astype("f4").tobytes()
        form = " ".join(f"{columns[k].shape[1]}f" for k in used)
        index = None if indices is None else self.gl.buffer(indices.astype("i4").tobytes())
        return self.gl.vertex_array(program, [(self.gl.buffer(data), form, *used)], index)

    def _mesh_array(self, program: Any, m: Mesh) -> Any:
        columns = {"pos": m.positions, "nrm": m.normals, "bi": m.bones, "bw": m.weights, "prm": m.traits}
        return self._array(program, columns, m.indices)

    def _room_array(self) -> Any:
        """The floor at y = 0 and a wall 2.6 m behind the dancer."""
        q = np.array([[-9, 0, -2.6], [9, 0, -2.6], [9, 0, 9], [-9, 0, 9], [-9, 6, -2.6], [9, 6, -2.6]], float)
        place = np.concatenate([q[[0, 2, 1, 0, 3, 2]], q[[0, 1, 5, 0, 5, 4]]])
        kind = np.stack([np.repeat([6, 7], 6), *[np.zeros(12)] * 3], 1)
        columns = {"pos": place, "nrm": np.repeat([Y, Z], 6, 0), "bi": np.zeros((12, 4)), "prm": kind}
        return self._array(self.room, columns | {"bw": np.eye(4)[[0] * 12]})

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
        self.target = gl.framebuffer(gl.renderbuffer(size, 4, samples=4), gl.depth_renderbuffer(size, samples=4))
        self.out = gl.framebuffer(gl.renderbuffer(size, 4))
        self.shadow_map = gl.depth_texture((_SHADOW_SIZE, _SHADOW_SIZE))
        self.shadow_map.compare_func = "<="
        self.shadow_map.repeat_x = self.shadow_map.repeat_y = False
        self.shadow = gl.framebuffer(depth_attachment=self.shadow_map)

    def _constants(self, mesh: Mesh) -> None:
        look, body = self.look, self.body
        colours = {k: getattr(look, k) for k in ("skin", "hair", "shirt", "trousers", "shoes", "wall")}
        self._set(
            cut=(look.sleeve, look.hem, 0.0, 0.6),
            fit=(look.loose, 0.0, float(look.bare_feet), 1.0),
            body=(mesh.waist_y, mesh.neck_y, body.head("foot.L")[1] + 0.01, body.vertices[:, 1].max()),
            stripes=look.stripes, floor_=look.floor, eyeL=tuple(body.marks[2]),
            mouth=(0.0, body.marks[9][1], body.head("neck02")[2] - 0.005),
            key=look.key, amb=look.ambient, sh=1.0, bg=1.0, **colours,
        )  # fmt: skip


def _light_matrix(light: Floats, at: Floats) -> Floats:
    right = unit(np.cross(-light, Y))
    view = np.eye(4)
    view[:3, :3] = np.stack([right, np.cross(right, -light), light])
    view[:3, 3] = -view[:3, :3] @ (at + 4 * light)
    box = np.diag([1 / 1.6, 1 / 1.6, -2 / 7.0, 1])
    box[2, 3] = -1.1
    return box @ view


def _wood(n: int = 512, boards: int = 16, seed: int = 3) -> Floats:
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
            picture[np.ix_(rows, range(across.start, across.stop))] = random.uniform(0.62, 0.88)
            picture[rows[0], across] *= 0.75
        picture[:, across.start] *= 0.72
    return np.clip((picture + 0.03 * grain / grain.std()) * 255, 0, 255).astype(np.uint8)
