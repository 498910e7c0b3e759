"""What colours near by say of a mask's sides, as core/matting/side_colours.cpp works it out."""

import numpy as np

BLOCK = 128  # px
OWN, BESIDE = 0.6, 0.2  # a bin's counts mixed with those of each one beside it
SHADE_FREE = (4, 48, 48)  # bins
PLAIN = (24, 24, 24)
SHARES = 3


def linear(srgb):
    return np.where(srgb <= 0.04045, srgb / 12.92, ((srgb + 0.055) / 1.055) ** 2.4)


def oklab(srgb):
    """OKLab of sRGB codes 0..255 (B. Ottosson, "A perceptual color space for image processing", 2020)."""
    light = linear(srgb.astype(np.float32) / 255)
    cones = light @ np.float32([[0.4122214708, 0.2119034982, 0.0883024619],
                                [0.5363325363, 0.6806995451, 0.2817188376],
                                [0.0514459929, 0.1073969566, 0.6299787005]])
    return np.cbrt(cones) @ np.float32([[0.2104542553, 1.9779984951, 0.0259040371],
                                        [0.7936177850, -2.4285922050, 0.7827717662],
                                        [-0.0040720468, 0.4505937099, -0.8086757660]])


def shade_free_bins(lab):
    lightness = lab[..., 0]
    chroma = 0.5 + lab[..., 1:] / (1.2 * (np.maximum(lightness, 0) + 0.15)[..., None])
    chroma = np.clip((chroma * 48).astype(np.int32), 0, 47)
    return (np.clip((lightness * 4).astype(np.int32), 0, 3) * 48 + chroma[..., 0]) * 48 + chroma[..., 1]


def plain_bins(lab):
    chroma = np.clip(((0.5 + lab[..., 1:] / 0.8) * 24).astype(np.int32), 0, 23)
    lightness = np.clip((lab[..., 0] * 24).astype(np.int32), 0, 23)
    return (lightness * 24 + chroma[..., 0]) * 24 + chroma[..., 1]


def posterior(prior, inside, outside):
    own = prior * (inside + 1e-4)
    return own / (own + (1 - prior) * (outside + 1e-4))


def sorted_colours(bins, depth, wrong_by):
    """Counts of a block's colours inside and outside, by expectation maximisation."""
    near = np.abs(depth) <= max(12, 2 * wrong_by)
    bins, depth = bins[near], depth[near]
    prior = np.clip(0.5 + depth / (2 * wrong_by), 0.02, 0.98)
    colours, at = np.unique(bins, return_inverse=True)
    share = prior
    for turn in range(5):
        inside = np.bincount(at, share, len(colours))
        outside = np.bincount(at, 1 - share, len(colours))
        share = posterior(prior, (inside / (inside.sum() + 1e-3))[at], (outside / (outside.sum() + 1e-3))[at])
    return colours, inside, outside


def counts_of(bins, dims, depth, wrong_by):
    """Counts by side, row and column of the block, and bin; with a block of nothing all round."""
    rows, columns = (-(-px // BLOCK) for px in depth.shape)
    counts = np.zeros((2, rows + 2, columns + 2, int(np.prod(dims))), np.float32)
    for row in range(rows):
        for column in range(columns):
            part = np.s_[row * BLOCK:(row + 1) * BLOCK, column * BLOCK:(column + 1) * BLOCK]
            colours, inside, outside = sorted_colours(bins[part], depth[part], wrong_by)
            counts[0, row + 1, column + 1, colours] = inside
            counts[1, row + 1, column + 1, colours] = outside
    return counts


def smoothed(counts, dims):
    out = counts.reshape(counts.shape[:3] + dims)
    for axis in (3, 4, 5):
        before, after = ([slice(None)] * 6 for _ in range(2))
        before[axis], after[axis] = slice(None, -1), slice(1, None)
        mixed = OWN * out
        mixed[tuple(after)] += BESIDE * out[tuple(before)]
        mixed[tuple(before)] += BESIDE * out[tuple(after)]
        out = mixed
    return out.reshape(counts.shape)


def share_of(bins, counts):
    """0..1 for each pixel: how far its colour says that it is inside; between the middles of blocks counts are mixed."""
    all_of = counts.sum(axis=3)
    places = [(np.arange(px) + 0.5) / BLOCK + 0.5 for px in bins.shape]
    whole = [place.astype(np.int32) for place in places]
    rest = [(place - first).astype(np.float32) for place, first in zip(places, whole)]
    sums = np.zeros((2,) + bins.shape, np.float32)
    all_sums = np.full((2,) + bins.shape, 1e-3, np.float32)
    for i in (0, 1):
        for j in (0, 1):
            share = np.abs(1 - i - rest[0])[:, None] * np.abs(1 - j - rest[1])[None, :]
            row, column = (whole[0] + i)[:, None], (whole[1] + j)[None, :]
            for side in (0, 1):
                sums[side] += share * counts[side, row, column, bins]
                all_sums[side] += share * all_of[side, row, column]
    return posterior(0.5, sums[0] / all_sums[0], sums[1] / all_sums[1])


def inside_shares(lab, depth, wrong_by):
    """Of each pixel, by colours without shading, plain; and without shading, those almost alike counting a little."""
    shade_free, plain = shade_free_bins(lab), plain_bins(lab)
    sharp = counts_of(shade_free, SHADE_FREE, depth, wrong_by)
    return np.stack([share_of(shade_free, sharp), share_of(plain, counts_of(plain, PLAIN, depth, wrong_by)),
                     share_of(shade_free, smoothed(sharp, SHADE_FREE))], -1)
