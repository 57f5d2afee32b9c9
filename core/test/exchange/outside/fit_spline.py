"""Places on a spline through some places, x y z a row, by ezdxf; places and the directions at both ends come as JSON."""

import json
import sys

from ezdxf.math import fit_points_to_cad_cv

given = json.load(sys.stdin)
curve = fit_points_to_cad_cv(given["places"], tangents=[given["start"], given["end"]])
json.dump([[p.x, p.y, p.z] for p in curve.approximate(400)], sys.stdout)
