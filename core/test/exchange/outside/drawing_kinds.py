"""Writes a drawing with entities that are easy to misread, and prints where ezdxf says that they are: drawing_kinds.py OUT VERSION"""
import json
import sys

import ezdxf
from ezdxf.math import OCS

out, version = sys.argv[1:3]
doc = ezdxf.new(version)
model, paper = doc.modelspace(), doc.layout()
truth = {"mirrored": [], "tilted": [], "inserts": [], "texts": [], "faces": {}, "modelPoints": 0}

for layer in ("constructor", "__proto__", "toString", "MIRRORED", "TILTED", "PAPER", "PFACE", "MESH", "CLOSED-MESH"):
    doc.layers.add(layer)

for i, layer in enumerate(("constructor", "__proto__", "toString", "constructor")):
    model.add_point((100 + i, 200, 5), dxfattribs={"layer": layer})
    truth["modelPoints"] += 1
paper.add_point((1, 2, 0), dxfattribs={"layer": "PAPER"})
paper.add_line((0, 0, 0), (10, 0, 0), dxfattribs={"layer": "PAPER"})

# Seen from below: what is drawn to the right lies to the left.
down = (0, 0, -1)
ring = [(10, 20, 0.5), (30, 20, 0), (30, 40, -0.25), (10, 40, 0)]
if version != "R12":
    line = model.add_lwpolyline(ring, format="xyb", close=True, dxfattribs={"layer": "MIRRORED", "extrusion": down, "elevation": -7})
else:
    line = model.add_polyline2d(ring, format="xyb", close=True, dxfattribs={"layer": "MIRRORED", "extrusion": down, "elevation": (0, 0, -7)})
truth["mirrored"] = [list(OCS(down).to_wcs((x, y, -7))) for x, y, _ in ring]

slope = (0.3, -0.2, 0.9)
flat = [(5, 6), (15, 6), (15, 16)]
if version != "R12":
    model.add_lwpolyline(flat, dxfattribs={"layer": "TILTED", "extrusion": slope, "elevation": 3})
else:
    model.add_polyline2d(flat, dxfattribs={"layer": "TILTED", "extrusion": slope, "elevation": (0, 0, 3)})
truth["tilted"] = [list(OCS(slope).to_wcs((x, y, 3))) for x, y in flat]

block = doc.blocks.new("TREE")
block.add_point((0, 0))
model.add_blockref("TREE", (50, 60, 2), dxfattribs={"layer": "MIRRORED", "extrusion": down})
truth["inserts"].append(list(OCS(down).to_wcs((50, 60, 2))))
model.add_text("seen from below", dxfattribs={"layer": "MIRRORED", "insert": (70, 80, 1), "extrusion": down})
truth["texts"].append(list(OCS(down).to_wcs((70, 80, 1))))


def corners(face):
    return [[round(v, 9) for v in p] for p in face]


square = [(0, 0, 0), (4, 0, 1), (4, 4, 2), (0, 4, 1), (2, 2, 5)]
pface = model.add_polyface(dxfattribs={"layer": "PFACE"})
pface.append_faces([[square[0], square[1], square[2], square[3]], [square[0], square[1], square[4]]])
truth["faces"]["PFACE"] = [corners([square[i] for i in f]) for f in ((0, 1, 2, 3), (0, 1, 4))]


def grid(layer, close):
    mesh = model.add_polymesh((3, 4), dxfattribs={"layer": layer, "m_close": close, "n_close": 0})
    place = lambda m, n: (10.0 * m, 5.0 * n, m + 0.5 * n)
    for m in range(3):
        for n in range(4):
            mesh.set_mesh_vertex((m, n), place(m, n))
    last = 3 if close else 2
    truth["faces"][layer] = [
        corners([place(m, n), place((m + 1) % 3, n), place((m + 1) % 3, n + 1), place(m, n + 1)])
        for m in range(last)
        for n in range(3)
    ]


grid("MESH", False)
grid("CLOSED-MESH", True)

def arc(kind, centre, radius, angles, normal, layer):
    attributes = {"layer": layer, "extrusion": normal}
    e = model.add_circle(centre, radius, dxfattribs=attributes) if kind == "CIRCLE" else model.add_arc(centre, radius, *angles, dxfattribs=attributes)
    truth["arcs"][layer] = {"closed": kind == "CIRCLE", "places": [list(p) for p in e.flattening(0.0005)]}


truth["arcs"] = {}
arc("CIRCLE", (300, 400, 8), 12.5, None, (0, 0, 1), "ROUND")
arc("ARC", (300, 400, 8), 12.5, (350, 20), (0, 0, 1), "SHORT-ARC")
arc("ARC", (300, 400, 0), 12.5, (30, 330), (0, 0, 1), "LONG-ARC")
arc("ARC", (300, 400, -8), 7, (10, 100), down, "ARC-BELOW")
arc("CIRCLE", (20, 30, 4), 6, None, slope, "ROUND-TILTED")

model.add_polyline3d([(1, 2, 3), (4, 5, 6)], dxfattribs={"layer": "0"})
doc.saveas(out)
print(json.dumps(truth))
