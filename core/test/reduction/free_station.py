"""A free station by numpy alone: Gauss-Newton with a numerical Jacobian, all readings and then all but each one.

Reads {"sights": [{x, y, circle, distance, sdDirection, sdDistance}], "start": [x, y, orientation]} from standard
input, and writes the solution of all readings and the one with the smallest sum of squares when one is left out.
"""
import json
import sys

import numpy as np

given = json.load(sys.stdin)
sights = given["sights"]
readings = [(i, what) for i in range(len(sights)) for what in ("direction", "distance")]


def wrapped(a):
    return (a + np.pi) % (2 * np.pi) - np.pi


def misfit(at, chosen):
    out = []
    for i, what in chosen:
        s = sights[i]
        dx, dy = s["x"] - at[0], s["y"] - at[1]
        if what == "direction":
            out.append(wrapped(s["circle"] + at[2] - np.arctan2(dx, dy)) / s["sdDirection"])
        else:
            out.append((s["distance"] - np.hypot(dx, dy)) / s["sdDistance"])
    return np.array(out)


def solve(chosen):
    at = np.array(given["start"], dtype=float)
    for _ in range(50):
        v = misfit(at, chosen)
        steps = np.array([1e-5, 1e-5, 1e-9])
        jacobian = np.column_stack([(misfit(at + d, chosen) - v) / h for d, h in zip(np.diag(steps), steps)])
        step, *_ = np.linalg.lstsq(jacobian, -v, rcond=None)
        at += step
        if np.abs(step[:2]).max() < 1e-10:
            break
    return at, float((misfit(at, chosen) ** 2).sum())


def told(found):
    at, squares = found
    return {"x": at[0], "y": at[1], "orientation": float(wrapped(at[2])), "squares": squares}


without = [(r, solve([q for q in readings if q != r])) for r in readings]
best, found = min(without, key=lambda w: w[1][1])
json.dump({"all": told(solve(readings)), "without": {"sight": best[0], "what": best[1], **told(found)}}, sys.stdout)
