"""Limits and the eight Nelson rules of an individuals chart, vectorised with numpy and pandas.

What the same work costs in the tool that most people would reach for. Both panels, the same limits
and the same rules as the core: all eight on the values, four on the moving ranges.
"""

import time

import numpy as np
import pandas as pd

D2, D3 = 1.1283791670955126, 0.8525024664247332
TIE = 1e-9


def in_a_row(held, n):
    """Where n in a row are held, ending here."""
    counts = np.cumsum(held, dtype=np.int32)
    counts[n:] -= counts[:-n].copy()
    found = counts == n
    found[: n - 1] = False
    return found


def at_least(held, m, n):
    """Where this one is held and at least m of the last n are."""
    counts = np.cumsum(held, dtype=np.int32)
    counts[n:] -= counts[:-n].copy()
    return held & (counts >= m)


def steps(z):
    change = np.diff(z, prepend=np.nan)
    return change > TIE, change < -TIE


def plain_rules(z):
    """The rules that hold for moving ranges too."""
    rising, falling = steps(z)
    turns = (rising[1:] & falling[:-1]) | (falling[1:] & rising[:-1])
    turns = np.concatenate(([False], turns))
    return {
        "beyond": np.abs(z) > 3 + TIE,
        "one side": in_a_row(z > TIE, 9) | in_a_row(z < -TIE, 9),
        "trend": in_a_row(rising, 5) | in_a_row(falling, 5),
        "alternating": in_a_row(turns, 12),
    }


def zone_rules(z):
    return {
        "2 of 3": at_least(z > 2 + TIE, 2, 3) | at_least(z < -2 - TIE, 2, 3),
        "4 of 5": at_least(z > 1 + TIE, 4, 5) | at_least(z < -1 - TIE, 4, 5),
        "hugging": in_a_row(np.abs(z) < 1 - TIE, 15),
        "avoiding": in_a_row(np.abs(z) > 1 + TIE, 8),
    }


def judge(values):
    """Flags of both panels."""
    moving = np.abs(np.diff(values))
    center, sigma = values.mean(), moving.mean() / D2
    z = (values - center) / sigma
    z_moving = (moving - D2 * sigma) / (D3 * sigma)
    individuals = pd.DataFrame({**plain_rules(z), **zone_rules(z)})
    ranges = pd.DataFrame(plain_rules(z_moving))
    return individuals, ranges


def seconds(values, repeats=7):
    """The median of several runs."""
    taken = []
    for _ in range(repeats):
        start = time.perf_counter()
        judge(values)
        taken.append(time.perf_counter() - start)
    return float(np.median(taken))
