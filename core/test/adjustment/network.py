"""Adjusts a network from JSON on standard input by numpy's least squares (QR/SVD), sharing no code with ours."""
import json
import sys

import numpy as np

data = json.load(sys.stdin)
points, obs, sets = data["points"], data["observations"], data["sets"]
index = {}
for i, p in enumerate(points):
    if p["standing"] != "fixed":
        for c in "xyz":
            index[(i, c)] = len(index)
for s in range(sets):
    index[("o", s)] = len(index)
value = [dict(p) for p in points]
orientation = [0.0] * sets
started = [False] * sets


def wrap(a):
    return (a + np.pi) % (2 * np.pi) - np.pi


for o in obs:
    if o["kind"] == "direction" and not started[o["set"]]:
        p, q = value[o["from"]], value[o["to"]]
        orientation[o["set"]] = wrap(np.arctan2(q["x"] - p["x"], q["y"] - p["y"]) - o["value"])
        started[o["set"]] = True
for turn in range(20):
    A = np.zeros((len(obs), len(index)))
    b = np.zeros(len(obs))
    for r, o in enumerate(obs):
        def put(key, v):
            if key in index:
                A[r, index[key]] += v / o["sd"]
        p = value[o["from"]]
        kind = o["kind"]
        if kind in ("east", "north", "elevation"):
            c = {"east": "x", "north": "y", "elevation": "z"}[kind]
            put((o["from"], c), 1)
            b[r] = (o["value"] - p[c]) / o["sd"]
            continue
        q = value[o["to"]]
        dx, dy = q["x"] - p["x"], q["y"] - p["y"]
        d = np.hypot(dx, dy)
        if kind == "rise":
            put((o["from"], "z"), -1)
            put((o["to"], "z"), 1)
            b[r] = (o["value"] - (q["z"] - p["z"])) / o["sd"]
        elif kind == "distance":
            for k, s in ((o["from"], -1), (o["to"], 1)):
                put((k, "x"), s * dx / d)
                put((k, "y"), s * dy / d)
            b[r] = (o["value"] - d) / o["sd"]
        else:
            for k, s in ((o["from"], -1), (o["to"], 1)):
                put((k, "x"), s * dy / d**2)
                put((k, "y"), -s * dx / d**2)
            put(("o", o["set"]), -1)
            b[r] = wrap(o["value"] + orientation[o["set"]] - np.arctan2(dx, dy)) / o["sd"]
    step, *_ = np.linalg.lstsq(A, b, rcond=None)
    for (k, c), u in index.items():
        if k == "o":
            orientation[c] += step[u]
        else:
            value[k][c] += step[u]
    if np.abs(step).max() < 1e-11:
        break
N = A.T @ A
if data.get("free"):
    # Inner constraints on coordinates: orientations are eliminated, what is left is inverted by Moore and Penrose.
    co = [u for (k, c), u in index.items() if k != "o"]
    oo = [u for (k, c), u in index.items() if k == "o"]
    S = N[np.ix_(co, co)] - N[np.ix_(co, oo)] @ np.linalg.inv(N[np.ix_(oo, oo)]) @ N[np.ix_(oo, co)]
    Q = np.zeros_like(N)
    Q[np.ix_(co, co)] = np.linalg.pinv(S, rcond=1e-9, hermitian=True)
else:
    Q = np.linalg.inv(N)
red = 1 - np.einsum("ij,jk,ik->i", A, Q, A)
json.dump(
    {
        "points": [[v["x"], v["y"], v["z"]] for v in value],
        "sd": [[float(np.sqrt(Q[index[(i, c)], index[(i, c)]])) if (i, c) in index else 0.0 for c in "xyz"] for i in range(len(points))],
        "redundancy": red.tolist(),
        "squares": float(b @ b),
    },
    sys.stdout,
)
