"""Made-up pictures with exact mattes, to train the edge net on.

Photographs give the colours and textures of a subject and of its background; shapes are drawn: blobs, boards, threads, weaves,
ripples, islands, hair. All is put together in linear light, so that what each pixel holds of the subject is known.
"""

import cv2
import numpy as np

from side_colours import linear

SIDE = 640  # px, of a scene


def smooth_noise(rng, size, grain, grain_across=None):
    """Noise of mean 0 and deviation 1 whose waves are about `grain` px long."""
    across = grain_across or grain
    small = (max(4, int(size / across) + 2), max(4, int(size / grain) + 2))
    noise = rng.standard_normal(small).astype(np.float32)
    return cv2.resize(noise, (size, size), interpolation=cv2.INTER_CUBIC) / 0.75


def turned(rng, raster, most=180.0):
    angle = rng.uniform(-most, most)
    centre = (raster.shape[1] / 2, raster.shape[0] / 2)
    matrix = cv2.getRotationMatrix2D(centre, angle, rng.uniform(1.42, 1.8))
    return cv2.warpAffine(raster, matrix, raster.shape[1::-1], flags=cv2.INTER_CUBIC)


def signed_distance(inside):
    """Px into what is inside, negative outside."""
    inside = inside.astype(np.uint8)
    within = cv2.distanceTransform(inside, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    beyond = cv2.distanceTransform(1 - inside, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    return np.where(inside > 0, within - 0.5, 0.5 - beyond)


# Shapes: coverage 0..1, drawn at twice the size and reduced, so that edges are fractional.


def blobs(rng, size):
    grain = np.exp(rng.uniform(np.log(40), np.log(400)))
    field = smooth_noise(rng, size, grain)
    if rng.random() < 0.4:
        field += 0.15 * smooth_noise(rng, size, grain / 5)
    return field > rng.uniform(-0.5, 0.5)


def boards(rng, size):
    raster = np.zeros((size, size), np.uint8)
    for _ in range(rng.integers(2, 6)):
        at = rng.uniform(0, size, 2)
        sides = rng.uniform(0.08, 0.6, 2) * size
        corners = cv2.boxPoints((tuple(at), tuple(sides), rng.uniform(0, 180)))
        value = 0 if rng.random() < 0.25 else 1
        cv2.fillPoly(raster, [corners.astype(np.int32)], int(value))
    return raster > 0


def discs(rng, size):
    raster = np.zeros((size, size), np.uint8)
    small = rng.random() < 0.5
    for _ in range(rng.integers(15, 50) if small else rng.integers(2, 6)):
        at = rng.integers(0, size, 2)
        radii = rng.uniform(0.01, 0.05, 2) * size if small else rng.uniform(0.08, 0.4, 2) * size
        cv2.ellipse(raster, tuple(map(int, at)), tuple(map(int, radii + 2)), rng.uniform(0, 180), 0, 360, 1, -1)
        if rng.random() < 0.4:
            hole = np.maximum(radii * rng.uniform(0.15, 0.5), 2)
            cv2.ellipse(raster, tuple(map(int, at)), tuple(map(int, hole)), 0, 0, 360, 0, -1)
    return raster > 0


def threads(rng, size):
    raster = np.zeros((size, size), np.uint8)
    thick = np.exp(rng.uniform(np.log(3), np.log(30)))
    together = rng.uniform(0, 180)
    for _ in range(rng.integers(8, 60)):
        t = np.linspace(-0.2, 1.2, 40)[:, None]
        angle = np.radians(together + rng.normal(0, rng.choice([3, 15, 60])))
        along = np.array([np.cos(angle), np.sin(angle)])
        middle = rng.uniform(0, size, 2)
        bend = rng.normal(0, 0.05) * size * np.sin(np.pi * t * rng.uniform(0.5, 3))
        line = middle + (t - 0.5) * size * along + bend * along[::-1] * (1, -1)
        width = max(2, int(thick * rng.uniform(0.6, 1.4)))
        cv2.polylines(raster, [(line * 8).astype(np.int32)], False, 1, width, cv2.LINE_8, 3)
    return raster > 0


def weave(rng, size):
    """Threads of some colour in a cloth: bands of dashes, one way or both."""
    raster = np.zeros((size, size), np.uint8)
    thick = np.exp(rng.uniform(np.log(3), np.log(16)))
    dash = thick * rng.uniform(1, 3)
    for axis in range(rng.integers(1, 3)):
        layer = np.zeros_like(raster)
        at = rng.uniform(0, 60)
        while at < size:
            for thread in range(rng.integers(1, 7)):
                where = at + 1.6 * thick * thread
                start = rng.uniform(0, 2 * dash)
                for along in np.arange(start, size, dash * rng.uniform(1.2, 2.2)):
                    cv2.line(layer, (int(along), int(where + rng.normal(0, 1))),
                             (int(along + dash * rng.uniform(0.7, 1.3)), int(where)), 1, max(2, int(thick)))
            at += rng.uniform(12, 60) * thick / 2
        raster |= layer if axis == 0 else layer.T
    return turned(rng, raster.astype(np.float32)) > 0.5


def ripples(rng, size):
    across = np.exp(rng.uniform(np.log(6), np.log(30)))
    field = turned(rng, smooth_noise(rng, size, across * rng.uniform(4, 15), across), 25)
    envelope = smooth_noise(rng, size, 300)
    return field + 1.2 * envelope > rng.uniform(0, 1.2)


def hair(rng, coverage, size):
    """A shape with hairs along its edge."""
    inside = coverage > 0.5
    within = signed_distance(inside)
    places = np.argwhere(np.abs(within) < 2)
    if len(places) < 20:
        return coverage
    down_y, down_x = np.gradient(cv2.GaussianBlur(within.astype(np.float32), (0, 0), 6))
    layer = np.zeros((size, size), np.float32)
    length = rng.uniform(8, 50)
    lean = rng.normal(0, 0.6)
    for place in places[rng.integers(0, len(places), int(len(places) * rng.uniform(0.15, 0.8)))]:
        out = -np.array([down_x[tuple(place)], down_y[tuple(place)]])
        angle = np.arctan2(out[1], out[0]) + lean + rng.normal(0, 0.5)
        t = np.linspace(-0.4, 1, 8)[:, None]
        own = length * rng.exponential(0.6)
        curl = rng.normal(0, 0.5) * t * t
        line = place[::-1] + own * t * np.hstack([np.cos(angle + curl), np.sin(angle + curl)])
        cv2.polylines(layer, [(line * 16).astype(np.int32)], False, float(rng.uniform(0.3, 1)),
                      int(rng.choice([1, 1, 2])), cv2.LINE_AA, 4)
    return np.maximum(coverage, layer)


def shape(rng):
    size = 2 * SIDE
    kinds = [blobs, boards, discs, threads, weave, ripples]
    kind = kinds[rng.choice(len(kinds), p=[0.3, 0.18, 0.14, 0.14, 0.1, 0.14])]
    coverage = kind(rng, size).astype(np.float32)
    if kind is boards or rng.random() < 0.1:
        coverage = (cv2.GaussianBlur(coverage, (0, 0), rng.uniform(1, 12)) > 0.5).astype(np.float32)
    if kind in (blobs, discs) and rng.random() < 0.25:
        coverage = hair(rng, coverage, size)
    return cv2.resize(coverage, (SIDE, SIDE), interpolation=cv2.INTER_AREA)


# Colours, in linear light.


def encoded(light):
    light = np.clip(light, 0, 1)
    return np.where(light <= 0.0031308, light * 12.92, 1.055 * light ** (1 / 2.4) - 0.055)


def texture(rng, photos):
    photo = photos[rng.integers(len(photos))]
    scale = np.exp(rng.uniform(np.log(0.35), np.log(1.5)))
    side = min(int(SIDE / scale), *photo.shape[:2])
    y = rng.integers(0, photo.shape[0] - side + 1)
    x = rng.integers(0, photo.shape[1] - side + 1)
    part = cv2.resize(photo[y:y + side, x:x + side], (SIDE, SIDE),
                      interpolation=cv2.INTER_AREA if side > SIDE else cv2.INTER_CUBIC)
    part = np.rot90(part, rng.integers(4))
    if rng.random() < 0.5:
        part = part[:, ::-1]
    light = linear(part.astype(np.float32) / 255)
    return light if rng.random() < 0.5 else painted(rng, light)


def painted(rng, light):
    """As if of one material: one colour, with some of the photograph's texture."""
    grey = light.mean(axis=2, keepdims=True)
    fine = grey / np.maximum(cv2.GaussianBlur(grey, (0, 0), rng.choice([3, 8, 25]))[..., None], 1e-3)
    colour = linear(rng.uniform(0.05, 0.95, 3) ** rng.uniform(0.6, 1.6))
    return colour * np.clip(fine, 0.2, 3) ** rng.uniform(0.1, 0.9)


def material(rng, photos):
    light = texture(rng, photos)
    if rng.random() < 0.4:  # another thing beside it, with edges of its own
        other = texture(rng, photos)
        share = cv2.GaussianBlur(shape(rng), (0, 0), rng.uniform(0.4, 1.5))[..., None]
        light = light + share * (other - light)
    return light


def shaded(rng, light, within):
    """Darker or lighter towards its edge, on the side that the light does not come from."""
    calm = cv2.GaussianBlur(within.astype(np.float32), (0, 0), 5)
    down_y, down_x = np.gradient(calm)
    angle = rng.uniform(0, 2 * np.pi)
    facing = down_x * np.cos(angle) + down_y * np.sin(angle)
    near = np.exp(-np.abs(within) / np.exp(rng.uniform(np.log(3), np.log(60))))
    stops = near * (rng.uniform(0, 2.5) * facing - rng.uniform(0, 1.2))
    return light * (2.0 ** stops)[..., None]


def as_light(rng, light, to):
    """Colours moved some way towards those of something else, so that the two are hard to tell apart."""
    share = rng.uniform(0, 1)
    mean = light.mean(axis=(0, 1))
    wanted = to.mean(axis=(0, 1))
    return light * ((wanted + 1e-3) / (mean + 1e-3)) ** share


def scene(rng, photos):
    """A picture (sRGB, uint8) and its matte (0..1)."""
    matte = shape(rng)
    within = signed_distance(matte > 0.5)
    subject = material(rng, photos)
    ground = material(rng, photos)
    if rng.random() < 0.5:
        ground = as_light(rng, ground, subject)
    if rng.random() < 0.7:
        subject = shaded(rng, subject, within)
    if rng.random() < 0.5:
        ground = shaded(rng, ground, -within)
    if rng.random() < 0.4:  # its shadow
        shift = np.float32([[1, 0, rng.uniform(-30, 30)], [0, 1, rng.uniform(-30, 30)]])
        shadow = cv2.warpAffine(cv2.GaussianBlur(matte, (0, 0), rng.uniform(2, 15)), shift, (SIDE, SIDE))
        ground = ground * (1 - rng.uniform(0.2, 0.9) * shadow[..., None])
    if rng.random() < 0.3:  # out of focus, more and more so across the picture
        blurred = cv2.GaussianBlur(matte, (0, 0), rng.uniform(1, 5))
        share = np.clip(smooth_noise(rng, SIDE, 300) + 0.5, 0, 1)
        matte = matte + share * (blurred - matte)
    light = ground + matte[..., None] * (subject - ground)
    lens = rng.uniform(0.3, 1.0)
    light = cv2.GaussianBlur(light, (0, 0), lens)
    matte = cv2.GaussianBlur(matte, (0, 0), lens)
    light = light * 2.0 ** rng.uniform(-2, 0.7)
    picture = encoded(light)
    noise = rng.standard_normal(picture.shape) * rng.uniform(0, 0.02)
    if rng.random() < 0.5:
        noise = cv2.GaussianBlur(noise, (0, 0), 0.6)
    picture = (np.clip(picture + noise, 0, 1) * 255 + 0.5).astype(np.uint8)
    if rng.random() < 0.6:
        kind = [cv2.IMWRITE_JPEG_QUALITY, int(rng.integers(75, 98))]
        picture = cv2.imdecode(cv2.imencode('.jpg', picture[..., ::-1], kind)[1], cv2.IMREAD_COLOR)[..., ::-1]
    return picture, matte


def rough_mask(rng, matte, off):
    """A hand's or a solver's mask: wrong by up to `off` px, here more, there less."""
    within = signed_distance(matte > 0.5)
    grain = np.exp(rng.uniform(np.log(8), np.log(60)))
    wrong = np.clip(rng.uniform(0.5, 1.3) * smooth_noise(rng, SIDE, grain), -1, 1)
    moved = within + off * wrong
    way = rng.random()
    if way < 0.2:  # corners rounded, what is thin gone
        moved = cv2.GaussianBlur((moved > 0).astype(np.float32), (0, 0), max(0.3, off / 2)) - 0.5
    elif way < 0.4:  # shifted, thin things and all
        shift = (off * wrong / 1.4).astype(np.float32)
        other = (off * np.clip(smooth_noise(rng, SIDE, grain), -1, 1) / 1.4).astype(np.float32)
        y, x = np.mgrid[0:SIDE, 0:SIDE].astype(np.float32)
        moved = cv2.remap(within.astype(np.float32), x + shift, y + other, cv2.INTER_LINEAR)
    elif way < 0.5:  # found in a reduced picture
        by = 1 + off / 2
        small = cv2.resize((moved > 0).astype(np.float32), None, fx=1 / by, fy=1 / by, interpolation=cv2.INTER_AREA)
        moved = cv2.resize((small > 0.5).astype(np.float32), (SIDE, SIDE), interpolation=cv2.INTER_LINEAR) - 0.5
    return moved > 0
