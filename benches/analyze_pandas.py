"""Answers a request for an individuals chart with pandas: reads the same file, writes the same figures of every point.

    benches/analyze_pandas.py REQUEST > ANSWER
"""

import json
import sys

import numpy as np
import pandas as pd

import nelson_numpy
from nelson_numpy import D2, D3


def panel(statistic, values, center, sigma, flagged):
    lower, upper = center - 3 * sigma, center + 3 * sigma
    points = pd.DataFrame(
        {
            "value": values,
            "center": center,
            "lower": lower if statistic == "individual" else 0.0,
            "upper": upper,
            "sigma": sigma,
            "z": (values - center) / sigma,
            "flagged": flagged,
        }
    )
    written = points.to_json(orient="records", double_precision=15)
    return f'{{"statistic":"{statistic}","points":{written}}}'


def main():
    with open(sys.argv[1]) as file:
        request = json.load(file)
    values = np.array([point["values"][0] for point in request["points"]])
    individuals, ranges = nelson_numpy.judge(values)
    moving = np.abs(np.diff(values, prepend=np.nan))
    center, sigma = values.mean(), np.nanmean(moving) / D2
    of_ranges = np.concatenate(([False], ranges.any(axis=1)))
    sys.stdout.write('{"panels":[')
    sys.stdout.write(panel("individual", values, center, sigma, individuals.any(axis=1)))
    sys.stdout.write(",")
    sys.stdout.write(panel("moving_range", moving, D2 * sigma, D3 * sigma, of_ranges))
    sys.stdout.write("]}\n")


if __name__ == "__main__":
    main()
