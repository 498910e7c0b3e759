"""Makes patches of made-up scenes with exact mattes and rough masks, to train the edge net on.

    make_patches.py PHOTOS... --scenes 420 --seed 1 --out patches1.npz

PHOTOS: any photographs, at least 700 px high. Those used are named in models/README.md.
"""

import argparse

import cv2
import numpy as np

import edge_scenes as scenes
from side_colours import inside_shares, oklab

SIDE = 96  # px, of a patch
ROUGH_MASKS = 2  # of each scene
PLACES = 30  # along each mask's edge
RIGHT = 0.25  # the share of masks that are right already


def read_photo(path):
    photo = cv2.imread(path, cv2.IMREAD_COLOR)
    if photo is None or min(photo.shape[:2]) < 700:
        return None
    scale = min(1.0, 1600 / max(photo.shape[:2]))
    return cv2.resize(photo, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)[..., ::-1].copy()


def patches_of(rng, photos):
    """Picture, matte, depth in quarters of a px, what colours say, and how wrong the mask may be."""
    picture, matte = scenes.scene(rng, photos)
    lab = oklab(picture)
    for _ in range(ROUGH_MASKS):
        off = 0.7 if rng.random() < RIGHT else rng.uniform(1.5, 12)
        depth = scenes.signed_distance(scenes.rough_mask(rng, matte, off))
        inner = depth[SIDE // 2:-SIDE // 2, SIDE // 2:-SIDE // 2]
        at_edge = np.argwhere(np.abs(inner) < 3)
        if len(at_edge) < 50:
            continue
        shares = inside_shares(lab, depth, max(2, off))
        for y, x in at_edge[rng.integers(0, len(at_edge), PLACES)]:
            part = np.s_[y:y + SIDE, x:x + SIDE]
            yield (picture[part], np.round(matte[part] * 255), np.clip(np.round(depth[part] * 4), -127, 127),
                   np.round(shares[part] * 255), off)


def main():
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument('photos', nargs='+')
    parser.add_argument('--scenes', type=int, default=420)
    parser.add_argument('--seed', type=int, default=1)
    parser.add_argument('--out', required=True)
    args = parser.parse_args()
    cv2.setNumThreads(1)
    photos = [photo for photo in map(read_photo, args.photos) if photo is not None]
    rng = np.random.default_rng(args.seed)
    found = [patch for _ in range(args.scenes) for patch in patches_of(rng, photos)]
    kinds = (('picture', np.uint8), ('matte', np.uint8), ('depth', np.int8), ('shares', np.uint8), ('off', np.float32))
    np.savez(args.out, **{name: np.array([patch[i] for patch in found], kind) for i, (name, kind) in enumerate(kinds)})


if __name__ == '__main__':
    main()
