#!/usr/bin/env python3
"""make_objects.py OUT [PHOTOS]

Makes the pictures on which subjects are measured (bench/object_quality): things cut out of freely licensed photographs, put on
other photographs, with the exact matte of each. Photographs come out of Debian packages, by name; nothing of them is kept in the
repository. Needs python3-numpy, python3-opencv, python3-pil, python3-onnx, apt-get and dpkg-deb; PHOTOS keeps what was fetched.

    OUT/choosing/07-kind-scissors.jpg  .matte.png    settings are chosen on these
    OUT/judging/...                                  and judged on these: other things, other grounds

What makes the mattes is the network for what stands out, at 768 px, of things before plain grounds; each was looked at. It sees
them again before another ground, beside others of their kind, partly hidden, small in a large picture, or blurred.
"""

import glob
import hashlib
import io
import os
import re
import struct
import subprocess
import sys

import cv2
import numpy as np
from PIL import Image

PACKAGES = ["gcompris-qt-data", "opencv-doc", "python3-sklearn", "mate-backgrounds", "ukui-wallpapers", "lomiri-wallpapers-16.04"]
HERE = os.path.dirname(os.path.abspath(__file__))
MODEL = os.path.join(HERE, "..", "models", "isnet_f16.onnx")
NET_SIDE = 768


# Photographs


def fetch(folder):
    """Unpacks the packages into a folder, and what their resource files hold."""
    os.makedirs(folder, exist_ok=True)
    for package in PACKAGES:
        into = os.path.join(folder, package)
        if os.path.isdir(into):
            continue
        subprocess.run(["apt-get", "download", "-q", package], cwd=folder, check=True, stdout=subprocess.DEVNULL)
        (deb,) = glob.glob(os.path.join(folder, package + "_*.deb"))
        subprocess.run(["dpkg-deb", "-x", deb, into], check=True)
        os.remove(deb)
        for resource in glob.glob(into + "/**/*.rcc", recursive=True):
            carve(resource)


def carve(resource):
    """Writes the WebP pictures of a resource file beside it."""
    data = open(resource, "rb").read()
    for found in re.finditer(rb"RIFF(....)WEBP", data, re.S):
        picture = data[found.start() : found.start() + struct.unpack("<I", found[1])[0] + 8]
        if len(picture) >= 12000:
            with open(f"{resource}.{digest(picture)}.webp", "wb") as out:
                out.write(picture)


def digest(data):
    return hashlib.sha1(data).hexdigest()[:10]


def pictures(folder):
    """All pictures by the first ten digits of their SHA-1."""
    out = {}
    for ending in ("webp", "jpg", "jpeg", "png"):
        for path in glob.glob(f"{folder}/**/*.{ending}", recursive=True):
            out[digest(open(path, "rb").read())] = path
    return out


def read(path):
    """Colours as 0..1, R, G, B."""
    return np.asarray(Image.open(path).convert("RGB"), np.float32) / 255


# Things


class Cutter:
    def __init__(self, folder):
        wide = os.path.join(folder, "isnet32.onnx")  # OpenCV knows no 16-bit weights
        if not os.path.exists(wide):
            import onnx
            from onnx import numpy_helper

            model = onnx.load(MODEL)
            for each in model.graph.initializer:
                if each.data_type == onnx.TensorProto.FLOAT16:
                    values = numpy_helper.to_array(each).astype(np.float32)
                    each.CopyFrom(numpy_helper.from_array(values, each.name))
            for each in list(model.graph.input) + list(model.graph.output):
                each.type.tensor_type.elem_type = onnx.TensorProto.FLOAT
            onnx.save(model, wide)
        self.net = cv2.dnn.readNetFromONNX(wide)

    def matte(self, picture):
        seen = cv2.resize(picture, (NET_SIDE, NET_SIDE), interpolation=cv2.INTER_AREA)
        self.net.setInput(((seen * 255 - 128) / 256).transpose(2, 0, 1)[None].copy(), "input")
        answer = self.net.forward("output")[0, 0]
        return np.clip(cv2.resize(answer, picture.shape[1::-1], interpolation=cv2.INTER_LINEAR), 0, 1)


def without_ground(picture, matte):
    """The thing's own colours under its soft edge (M. Forte, "Approximate fast foreground colour estimation", ICIP 2021)."""
    colours, a = picture, matte[..., None]
    ground = picture
    for radius in (91, 7):
        blur = lambda raster: cv2.blur(raster, (radius, radius))
        inside = blur(colours * a) / (blur(matte)[..., None] + 1e-5)
        outside = blur(ground * (1 - a)) / (blur(1 - matte)[..., None] + 1e-5)
        colours = np.clip(inside + a * (picture - a * inside - (1 - a) * outside), 0, 1)
        ground = outside
    return colours


def largest_part(matte):
    count, parts, stats, _ = cv2.connectedComponentsWithStats((matte > 0.02).astype(np.uint8))
    sizes = stats[1:, cv2.CC_STAT_AREA]
    return matte * (parts == 1 + int(np.argmax(sizes))) if count > 1 else matte


class Thing:
    def __init__(self, name, kind, picture, matte):
        matte = np.clip((largest_part(matte) - 0.02) / 0.96, 0, 1)
        x, y, w, h = cv2.boundingRect((matte > 0.02).astype(np.uint8))
        self.name, self.kind = name, kind
        self.colours = without_ground(picture, matte)[y : y + h, x : x + w]
        self.matte = matte[y : y + h, x : x + w]

    def sized(self, long_edge, mirror=False):
        scale = long_edge / max(self.matte.shape)
        size = (max(8, int(self.matte.shape[1] * scale)), max(8, int(self.matte.shape[0] * scale)))
        how = cv2.INTER_AREA if scale < 1 else cv2.INTER_CUBIC
        colours, matte = (np.clip(cv2.resize(each, size, interpolation=how), 0, 1) for each in (self.colours, self.matte))
        return (colours[:, ::-1], matte[:, ::-1]) if mirror else (colours, matte)


# Scenes


def ground_of(rng, path, size):
    picture = read(path)
    w, h = size
    scale = max(w / picture.shape[1], h / picture.shape[0]) * rng.uniform(1.0, 1.6)
    how = cv2.INTER_AREA if scale < 1 else cv2.INTER_CUBIC
    picture = np.clip(cv2.resize(picture, None, fx=scale, fy=scale, interpolation=how), 0, 1)
    x = rng.integers(0, picture.shape[1] - w + 1)
    y = rng.integers(0, picture.shape[0] - h + 1)
    return picture[y : y + h, x : x + w].copy()


def put(picture, mattes, thing, at):
    """Lays a thing over a picture in linear light; what it hides is taken from the mattes of those below."""
    colours, matte = thing
    x, y = at
    h, w = matte.shape
    x0, y0, x1, y1 = max(x, 0), max(y, 0), min(x + w, picture.shape[1]), min(y + h, picture.shape[0])
    if x1 <= x0 or y1 <= y0:
        return
    part = (slice(y0 - y, y1 - y), slice(x0 - x, x1 - x))
    to = (slice(y0, y1), slice(x0, x1))
    a = matte[part][..., None]
    light = (picture[to] ** 2.2) * (1 - a) + (colours[part] ** 2.2) * a
    picture[to] = np.clip(light, 0, 1) ** (1 / 2.2)
    for each in mattes:
        each[to] *= 1 - matte[part]


SIZES = [(1200, 900), (1800, 1200), (2400, 1600), (3000, 2000), (6000, 4000)]
WAYS = ["plain", "like", "kind", "hidden", "blurred", "small"]


def scene(rng, way, thing, others, grounds):
    size = SIZES[rng.integers(0, len(SIZES) - 1)] if rng.uniform() < 0.85 else SIZES[-1]
    share = rng.uniform(0.12, 0.22) if way == "small" else rng.uniform(0.35, 0.65)
    long_edge = int(share * min(size) * 1.2)
    long_edge = min(long_edge, int(2.2 * max(thing.matte.shape)))
    if long_edge < 0.25 * min(size) and way != "small":  # a small source: a smaller picture
        size = SIZES[0]
    own = thing.sized(long_edge, rng.uniform() < 0.5)
    if way == "like":
        mean = (own[0] * own[1][..., None]).sum((0, 1)) / own[1].sum()
        tries = [ground_of(rng, grounds[rng.integers(len(grounds))], size) for _ in range(6)]
        ground = min(tries, key=lambda each: float(np.abs(each.mean((0, 1)) - mean).sum()))
        ground = np.clip(ground + 0.7 * (mean - ground.mean((0, 1))), 0, 1)
    else:
        ground = ground_of(rng, grounds[rng.integers(len(grounds))], size)
    if way == "blurred" or rng.uniform() < 0.3:
        ground = cv2.GaussianBlur(ground, (0, 0), size[0] / 200)
    h, w = own[1].shape
    x = int(rng.uniform(0.05, 0.95) * max(1, size[0] - w))
    y = int(rng.uniform(0.15, 0.95) * max(1, size[1] - h))
    picture, matte = ground, np.zeros(ground.shape[:2], np.float32)
    if way in ("kind", "hidden"):
        for i, angle in enumerate(rng.uniform(0, 6.28) + np.arange(3) * 2.1):
            other = others[rng.integers(len(others))].sized(int(long_edge * rng.uniform(0.7, 1.1)), rng.uniform() < 0.5)
            oh, ow = other[1].shape
            away = rng.uniform(0.75, 1.0)
            put(picture, [], other, (int(x + w / 2 + np.cos(angle) * away * (w + ow) / 2 - ow / 2), int(y + h / 2 + np.sin(angle) * away * (h + oh) / 2 - oh / 2)))
    put(picture, [], own, (x, y))
    cover = own[1][max(0, -y) : max(0, size[1] - y), max(0, -x) : max(0, size[0] - x)]
    matte[max(0, y) : max(0, y) + cover.shape[0], max(0, x) : max(0, x) + cover.shape[1]] = cover
    if way == "hidden":
        other = others[rng.integers(len(others))].sized(int(long_edge * 0.6))
        put(picture, [matte], other, (int(x + w * rng.choice([-0.25, 0.8])), int(y + h * rng.uniform(0.3, 0.8))))
    shade = cv2.resize(rng.uniform(0.75, 1.0, (3, 4)).astype(np.float32), size, interpolation=cv2.INTER_CUBIC)
    picture = np.clip(picture * shade[..., None] + rng.normal(0, 0.006, picture.shape), 0, 1)
    return picture, matte


def main():
    out = sys.argv[1]
    photos = sys.argv[2] if len(sys.argv) > 2 else os.path.join(out, "photos")
    fetch(photos)
    known = pictures(photos)
    cutter = Cutter(photos)
    things = {"choosing": [], "judging": []}
    for i, (name, kind, sha) in enumerate(THINGS):
        picture = read(known[sha])
        half = "choosing" if i % 2 == 0 else "judging"
        things[half].append(Thing(name, kind, picture, cutter.matte(picture)))
    for half, own in things.items():
        os.makedirs(os.path.join(out, half), exist_ok=True)
        grounds = [known[sha] for i, sha in enumerate(GROUNDS) if i % 2 == (half == "judging")]
        number = 0
        for turn in range(2):
            for i, thing in enumerate(own):
                way = WAYS[(i + turn * 3) % len(WAYS)]
                others = [each for each in own if each.kind == thing.kind and each is not thing] or own
                rng = np.random.default_rng([i, turn, half == "judging"])
                picture, matte = scene(rng, way, thing, others, grounds)
                base = os.path.join(out, half, f"{number:02d}-{way}-{thing.name}")
                Image.fromarray((picture * 255 + 0.5).astype(np.uint8)).save(base + ".jpg", quality=93)
                Image.fromarray((matte * 65535 + 0.5).astype(np.uint16)).save(base + ".matte.png")
                number += 1


# A thing's name, what it is of a kind with, and the SHA-1 of its photograph (ten digits).
THINGS = [
    ("bison", "animal", "fedcd2e3b0"),
    ("calf", "animal", "e98f60d8d7"),
    ("camels", "animal", "fc350c5a3e"),
    ("crocodile", "animal", "c178c1fbc1"),
    ("deer", "animal", "83a88056ee"),
    ("dog", "animal", "b809e3ae90"),
    ("goat", "animal", "1e732c83eb"),
    ("gorilla", "animal", "7131e0c704"),
    ("hedgehog", "animal", "b3d17e0671"),
    ("horse", "animal", "265642279d"),
    ("kangaroo", "animal", "a95e0aa876"),
    ("kitten", "animal", "1f5149d66d"),
    ("panda", "animal", "3a506c0018"),
    ("pig", "animal", "d22d3cc797"),
    ("player", "animal", "6a5dbbf8ff"),
    ("polar-bear", "animal", "27ce00d808"),
    ("rhino", "animal", "512ecbf601"),
    ("sheep", "animal", "101c974805"),
    ("ball-1", "ball", "efa9d7b093"),
    ("ball-2", "ball", "c015c9b980"),
    ("duckling", "bird", "b0830c54f8"),
    ("goose", "bird", "880404ad81"),
    ("heron", "bird", "6414a7da40"),
    ("kingfisher", "bird", "5228b233d5"),
    ("kite", "bird", "28ffa0f0b4"),
    ("parrot", "bird", "3a747f269b"),
    ("penguin", "bird", "b76a275f6c"),
    ("goldfish", "fish", "5021d001d6"),
    ("perches", "fish", "09edc96f68"),
    ("dahlia", "flower", "2855abb9a8"),
    ("bat", "insect", "bbb7aa9ca2"),
    ("butterfly-1", "insect", "9eb6455d39"),
    ("butterfly-2", "insect", "7afa9d4c5b"),
    ("caterpillar", "insect", "4d76b792d2"),
    ("crab", "insect", "be602b79fd"),
    ("mill-1", "mill", "6e715c023a"),
    ("mill-2", "mill", "0af9efab58"),
    ("mill-3", "mill", "1d984e26c3"),
    ("blocks-1", "thing", "bc9b17719b"),
    ("blocks-2", "thing", "b53eababbe"),
    ("bottle", "thing", "f1030590a3"),
    ("bucket", "thing", "8af251eb24"),
    ("bulb", "thing", "44e2150589"),
    ("chair", "thing", "3ab69015eb"),
    ("meter", "thing", "cdb5b135e4"),
    ("panel", "thing", "81fb7aab26"),
    ("scale", "thing", "d05c67a984"),
    ("clipper", "tool", "ad45d2f84d"),
    ("cutters", "tool", "57ef8876c9"),
    ("driver-1", "tool", "52e63822ff"),
    ("driver-2", "tool", "86eb10c7bc"),
    ("hammer", "tool", "f85c08d7ad"),
    ("lute", "tool", "b857b71349"),
    ("pliers", "tool", "c9bd513948"),
    ("scissors-1", "tool", "689ebd87ae"),
    ("scissors-2", "tool", "9755f08067"),
]
GROUNDS = [
    "c090a448bd",
    "680394b51f",
    "91a6430c4f",
    "7145668a6b",
    "25370b960f",
    "a35fadb109",
    "4c8e9da199",
    "a44f410457",
    "2e5b5e2869",
    "688b89c1d6",
    "afac143101",
    "d236f168a8",
    "4f964cb734",
    "1ec5036088",
    "780bb24cc9",
    "f17c225f79",
    "7323a8038c",
    "f8818809aa",
    "65f2befb88",
    "5415272c81",
    "63d7b661b6",
    "50654c11da",
]

if __name__ == "__main__":
    main()
