"""Runs the benches of the core and writes the ratios into docs/performance.md.

    benches/report.py TARGET_FOLDER
"""

import json
import pathlib
import platform
import re
import statistics
import subprocess
import sys
import tempfile

import numpy as np

import nelson_numpy

ROOT = pathlib.Path(__file__).resolve().parent.parent
PAGE = ROOT / "docs" / "performance.md"
BEGIN, END = "<!-- core: begin -->", "<!-- core: end -->"


def run(*command):
    return subprocess.run(command, cwd=ROOT, check=True, capture_output=True, text=True).stdout


def criterion(target, group, name):
    """Median nanoseconds of a bench."""
    file = target / "criterion" / group / name / "new" / "estimates.json"
    return json.loads(file.read_text())["median"]["point_estimate"]


# In a small interpreter of its own: the highest memory of a command is never told as less than that of who starts it.
WHOLE = """
import os, subprocess, sys, tempfile, time
with tempfile.TemporaryFile() as answer:
    start = time.perf_counter()
    child = subprocess.Popen(sys.argv[1:], stdout=answer)
    _, status, used = os.wait4(child.pid, 0)
    assert status == 0, sys.argv
    print(time.perf_counter() - start, used.ru_maxrss / 1024)
"""


def whole(command):
    """Seconds of a command, and its highest memory in MB; what it writes goes to a file."""
    return [float(figure) for figure in run(sys.executable, "-c", WHOLE, *command).split()]


def end_to_end(target, values):
    """`nuvek analyze` and the pandas script on the same file, by turns: medians of both."""
    points = [{"values": [x]} for x in values.tolist()]
    request = {"task": "chart", "chart": "i_mr", "points": points, "rules": {"preset": "nelson"}}
    with tempfile.NamedTemporaryFile("w", suffix=".json") as file:
        json.dump(request, file)
        file.flush()
        nuvek = [target / "release" / "nuvek", "analyze", file.name]
        pandas = [sys.executable, ROOT / "benches" / "analyze_pandas.py", file.name]
        runs = [(whole(nuvek), whole(pandas)) for _ in range(5)]
    return [[statistics.median(run[which][figure] for run in runs) for figure in (0, 1)] for which in (0, 1)]


def same_flags(target):
    """Both ways flag the same points of one series, or the comparison would say nothing."""
    values = np.round(np.random.default_rng(11).normal(50, 2, 50_000), 6)
    request = {
        "task": "chart",
        "chart": "i_mr",
        "points": [{"values": [x]} for x in values.tolist()],
        "rules": {"preset": "nelson"},
    }
    answer = subprocess.run(
        [target / "release" / "nuvek", "analyze", "-"],
        input=json.dumps(request),
        capture_output=True,
        text=True,
        check=True,
    ).stdout
    core = [[p["flagged"] for p in panel["points"]] for panel in json.loads(answer)["panels"]]
    individuals, ranges = nelson_numpy.judge(values)
    assert core[0] == individuals.any(axis=1).tolist()
    assert core[1] == [False, *ranges.any(axis=1).tolist()]


def cold_constants():
    """Median milliseconds of the constants in fresh processes."""
    command = ["cargo", "bench", "-q", "-p", "spc", "--bench", "cold_constants"]
    return statistics.median(int(run(*command).split()[-1]) / 1e6 for _ in range(9))


def processor():
    found = re.search(r"model name\s*: (.*)", pathlib.Path("/proc/cpuinfo").read_text())
    return found.group(1).strip() if found else platform.machine()


def main():
    target = pathlib.Path(sys.argv[1])
    run("cargo", "build", "--release", "--locked", "--bin", "nuvek")
    same_flags(target)
    run("cargo", "bench", "-p", "spc", "--bench", "judging")
    total, judging = criterion(target, "million", "sum"), criterion(target, "million", "judging")
    answer, read = criterion(target, "million", "answer"), criterion(target, "million", "answer read")
    numpy = nelson_numpy.seconds(np.random.default_rng(7).normal(50, 2, 1_000_000)) * 1e9
    memory = re.search(
        r"(\d+\.\d) bytes a point",
        run("cargo", "test", "--release", "-q", "-p", "spc", "--test", "memory", "--", "--nocapture"),
    ).group(1)
    rows = [
        ("one plain pass that sums them", f"{total / 1e6:.2f} ms", "1"),
        ("judging alone: limits, moving ranges, rules, signals", f"{judging / 1e6:.1f} ms", f"{judging / total:.0f}"),
        ("the whole answer: both panels too", f"{answer / 1e6:.1f} ms", f"{answer / total:.0f}"),
        ("the whole answer, and every point of it read", f"{read / 1e6:.1f} ms", f"{read / total:.0f}"),
        ("limits and rules with numpy and pandas, vectorised", f"{numpy / 1e6:.0f} ms", f"{numpy / total:.0f}"),
    ]
    (seconds, megabytes), (pandas_seconds, pandas_megabytes) = end_to_end(
        target, np.round(np.random.default_rng(7).normal(50, 2, 1_000_000), 6)
    )
    kept, window = criterion(target, "one point", "kept watch"), criterion(target, "one point", "from its window")
    text = [
        f"Processor: {processor()}. One run of `make bench`:",
        "",
        "| 1,000,000 individuals, moving range, all eight Nelson rules | time | times the plain pass |",
        "|---|---|---|",
        *(f"| {what} | {time} | {ratio} |" for what, time, ratio in rows),
        "",
        f"The numpy script takes {numpy / judging:.1f} times as long as judging alone, and flags the same points.",
        "",
        "| | |",
        "|---|---|",
        f"| one more point, judged by a watch that is kept | {kept:.0f} ns |",
        f"| one more point, judged from its window of 18 points, nothing kept | {window / 1e3:.2f} µs |",
        f"| constants of n = 2…25 in a fresh process (median of 9) | {cold_constants():.1f} ms |",
        f"| `nuvek analyze` of 1,000,000 points, JSON in and out | {seconds:.2f} s, {megabytes:.0f} MB |",
        f"| the same figures by a pandas script, in and out | {pandas_seconds:.2f} s, {pandas_megabytes:.0f} MB: "
        f"{pandas_seconds / seconds:.1f} times as long |",
        f"| memory of 1,000,000 points, request and answer together, at its highest | {memory} bytes a point |",
    ]
    page = PAGE.read_text()
    before, rest = page.split(BEGIN)
    after = rest.split(END)[1]
    PAGE.write_text(before + BEGIN + "\n" + "\n".join(text) + "\n" + END + after)


if __name__ == "__main__":
    main()
