#!/usr/bin/python3
"""Fits the stops that Auto light gives (core/light/auto_light.cpp).

fit_exposure.py PHOTO...: well exposed photographs, each made -2 .. +1.5 stops lighter and stored with
8 bits; a linear model of lightness is fitted that brings them back. Prints its weights, and the error
in stops on photographs left out of the fit.
"""

import sys

import cv2
import numpy as np

STOPS = [-2, -1.5, -1, -0.5, 0, 0.5, 1, 1.5]
WEIGHTS = [1, 1, 1, 1, 1, 1, 2, 4]  # what is burnt out asks for more
PERCENTILES = [5, 25, 50, 75, 90, 99]
LUMINANCE = np.array([0.2126, 0.7152, 0.0722])


def linear(codes):
    v = codes / 255.0
    return np.where(v <= 0.04045, v / 12.92, ((v + 0.055) / 1.055) ** 2.4)


def stored(light):
    v = np.clip(light, 0, 1)
    v = np.where(v <= 0.0031308, 12.92 * v, 1.055 * v ** (1 / 2.4) - 0.055)
    return linear(np.round(255 * v))


def features(light):
    lightness = np.cbrt(np.minimum(light, 1) @ LUMINANCE)
    clipped = (light.max(2) >= 0.995).mean()
    levels = np.maximum(np.percentile(lightness, PERCENTILES), 0.02)
    return np.r_[np.log(levels), np.log(lightness.mean()), np.sqrt(clipped), min(20 * clipped, 1), 1]


def fit(rows, wanted, weights):
    weighted = rows * weights[:, None]
    ridge = 3 * np.diag([1] * (rows.shape[1] - 1) + [0])
    return np.linalg.solve(weighted.T @ rows + ridge, weighted.T @ wanted)


def main(files):
    rows = []
    for file in files:
        picture = cv2.imread(file)[:, :, ::-1]
        scale = 400 / max(picture.shape[:2])
        light = linear(cv2.resize(picture, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA))
        rows += [features(stored(light * 2.0**ev)) for ev in STOPS]
    rows = np.array(rows)
    wanted = -np.tile(np.array(STOPS, float), len(files))
    weights = np.tile(np.array(WEIGHTS, float), len(files))
    print("p5 p25 p50 p75 p90 p99, mean, clipped, some clipped, 1:")
    print(np.round(fit(rows, wanted, weights), 3))
    errors = []
    for i in range(len(files)):
        seen = np.ones(len(wanted), bool)
        seen[i * len(STOPS) : (i + 1) * len(STOPS)] = False
        errors.append(rows[~seen] @ fit(rows[seen], wanted[seen], weights[seen]) - wanted[~seen])
    print("error of one left out, stops:", np.round(np.sqrt((np.array(errors) ** 2).mean(0)), 2))


main(sys.argv[1:])
