"""Ripple of laps laid side by side, by numerical sums: fans of any fade, and the rounded fan. Python 3, numpy 2.

A fan of width 1 lays min(1, e/f) of its most, e the distance to its edge and f the part that fades on each side. Laps lie (1 - o) apart.
Ripple is (max - min) / mean of what lies over one spacing, in per cent. Run: python3 ripple.py
"""

import numpy as np


def fade(f):
    return lambda x: np.clip((0.5 - np.abs(x)) / f, 0.0, 1.0)


def rounded(x):
    return np.clip(1.0 - 4.0 * x * x, 0.0, None)


def ripple(lay, overlap, points=200_001):
    apart = 1.0 - overlap
    x = np.linspace(0.0, apart, points)
    laps = range(-int(1.0 / apart) - 2, int(1.0 / apart) + 3)
    film = sum(lay(x - k * apart) for k in laps)
    return 100.0 * (film.max() - film.min()) / film[1:].mean()


if __name__ == "__main__":
    for f, o in [(0.5, 0.5), (0.5, 0.2), (0.2, 0.2), (0.2, 0.5), (0.3, 0.3), (0.3, 0.5), (0.1, 0.2), (0.4, 0.2), (0.35, 0.6), (0.25, 0.4)]:
        print(f"fade {f}, overlap {o}: {ripple(fade(f), o):.2f} %")
    for o in [0.3, 0.5, 0.6]:
        print(f"rounded, overlap {o}: {ripple(rounded, o):.2f} %")
