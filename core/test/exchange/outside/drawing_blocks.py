"""Writes a drawing with curves, blocks, meshes and hatches, as text and binary, and prints where ezdxf says that they are: drawing_blocks.py OUT VERSION"""
import json
import sys

import ezdxf
from ezdxf import disassemble, path
from ezdxf.math import BSpline, Vec2

out, version = sys.argv[1:3]
doc = ezdxf.new(version)
doc.units = 6
model = doc.modelspace()
old = version == "R12"
truth = {"curves": {}, "placed": [], "texts": {}, "faces": {}, "hatches": {}}

for layer in ("HIDDEN", "FROZEN", "SHOWN"):
    doc.layers.add(layer)
doc.layers.get("HIDDEN").off()
doc.layers.get("FROZEN").freeze()
for layer in ("HIDDEN", "FROZEN", "SHOWN"):
    model.add_point((1, 1, 1), dxfattribs={"layer": layer})

slope = (0.3, -0.2, 0.9)


def curve(layer, e):
    truth["curves"][layer] = [list(p) for p in e.flattening(0.0005)]


if not old:
    curve("WHOLE", model.add_ellipse((100, 50, 3), (20, 5, 0), 0.4, dxfattribs={"layer": "WHOLE"}))
    curve("PART", model.add_ellipse((100, 50, 3), (20, 5, 0), 0.4, 5.5, 1.0, dxfattribs={"layer": "PART"}))
    curve("LEANING", model.add_ellipse((0, 0, 0), (0, 9, 2), 0.7, 0.5, 4, dxfattribs={"layer": "LEANING", "extrusion": (1, 0.2, -0.9)}))
    control = [(0, 0, 0), (10, 20, 1), (30, 20, 2), (40, 0, 3), (60, -10, 2), (70, 5, 0)]
    free = model.add_spline(dxfattribs={"layer": "FREE"})
    free.apply_construction_tool(BSpline(control, order=4))
    curve("FREE", free)
    rational = model.add_spline(dxfattribs={"layer": "RATIONAL"})
    rational.apply_construction_tool(BSpline(control, order=3, weights=[1, 2, 0.5, 3, 1, 1]))
    curve("RATIONAL", rational)
    model.add_spline([(0, 0, 5), (10, 5, 5), (20, 0, 6)], dxfattribs={"layer": "THROUGH"})

    mesh = model.add_mesh(dxfattribs={"layer": "BOX"})
    box = [(0, 0, 0), (4, 0, 0), (4, 4, 0), (0, 4, 0), (2, 2, 5), (6, 2, 0)]
    faces = [[0, 1, 2, 3], [0, 1, 4], [0, 1, 5, 2, 3]]
    with mesh.edit_data() as data:
        data.vertices = box
        data.faces = faces
    truth["faces"]["BOX"] = [[list(box[i]) for i in f] for f in ([0, 1, 2, 3], [0, 1, 4], [0, 1, 5], [0, 5, 2], [0, 2, 3])]

    hatch = model.add_hatch(dxfattribs={"layer": "YARD", "elevation": (0, 0, 7)})
    hatch.paths.add_polyline_path([(0, 0), (40, 0, 0.5), (40, 30), (0, 30)], is_closed=True)
    edges = hatch.paths.add_edge_path()
    edges.add_line((10, 10), (20, 10))
    edges.add_arc((20, 15), 5, 270, 90, ccw=True)
    edges.add_line((20, 20), (10, 20))
    edges.add_arc((10, 15), 5, 270, 90, ccw=False)
    oval = hatch.paths.add_edge_path()
    oval.add_ellipse((30, 20), (6, 2), 0.5, 0, 180)
    oval.add_spline(control_points=[tuple(Vec2(30, 20) - Vec2(6, 2)), (28, 8), (34, 12), tuple(Vec2(30, 20) + Vec2(6, 2))], knot_values=[0, 0, 0, 0, 1, 1, 1, 1], degree=3)
    truth["hatches"]["YARD"] = [[list(p) for p in rim.flattening(0.0005)] for rim in path.from_hatch(hatch)]
    text = model.add_mtext("first {\\fArial|b1;line}\\Psecond \\H2.5;line \\S1/2; 90%%d", dxfattribs={"layer": "NOTE", "insert": (5, 6, 7)})
    truth["texts"]["NOTE"] = "first line\nsecond line 1/2 90°"

solid = model.add_solid([(0, 0), (4, 0), (0, 3), (4, 3)], dxfattribs={"layer": "FILLED"})
truth["hatches"]["FILLED"] = [[[0, 0, 0], [4, 0, 0], [4, 3, 0], [0, 3, 0], [0, 0, 0]]]
model.add_text("%%p0.05 at 30%%d", dxfattribs={"layer": "SIGN", "insert": (1, 2, 0)})
truth["texts"]["SIGN"] = "±0.05 at 30°"

# A block within a block, put in rows and columns, mirrored, tilted, unevenly scaled.
inner = doc.blocks.new("INNER", base_point=(1, 1))
inner.add_polyline2d([(1, 1), (3, 1, 0.4), (3, 2)], format="xyb", dxfattribs={"layer": "0"})
inner.add_circle((2, 2), 0.5, dxfattribs={"layer": "RINGS"})
outer = doc.blocks.new("OUTER")
outer.add_point((0.5, 0.25, 1), dxfattribs={"layer": "0"})
outer.add_blockref("INNER", (5, 0, 0), dxfattribs={"rotation": 30, "layer": "0"})
outer.add_line((0, 0, 0), (2, 2, 3), dxfattribs={"layer": "EDGE"})
outer.add_blockref("INNER", (0, 5, 1), dxfattribs={"xscale": -2, "yscale": 2, "zscale": 2, "layer": "SECOND"})
if not old:
    outer.add_ellipse((0, 0, 0), (3, 0, 0), 0.5, dxfattribs={"layer": "0"})
for layer, at, more in (
    ("PLAIN", (100, 200, 10), {}),
    ("TURNED", (150, 200, 10), {"rotation": 75, "xscale": 3, "yscale": 3, "zscale": 3}),
    ("MIRRORED", (200, 200, 10), {"yscale": -1, "rotation": 20}),
    ("UNEVEN", (250, 200, 10), {"xscale": 2, "yscale": 0.5}),
    ("BELOW", (300, 200, -10), {"extrusion": (0, 0, -1), "rotation": 10}),
    ("TILTED", (10, 20, 5), {"extrusion": slope, "rotation": 15}),
    ("ROWS", (400, 200, 10), {"row_count": 2, "column_count": 3, "row_spacing": 20, "column_spacing": 12, "rotation": 40}),
):
    model.add_blockref("OUTER", at, dxfattribs={"layer": layer, **more})
far = doc.blocks.new("NEXT-SITE")
far.block.dxf.flags = 4
far.block.dxf.xref_path = "next site.dwg"
model.add_blockref("NEXT-SITE", (0, 0))


def put(block, layer):
    parts = [block]
    if layer == "UNEVEN":
        # ezdxf has no sheared blocks: one that is rotated within an unevenly scaled one is left to the test.
        parts = [e for e in block.virtual_entities() if not (e.dxftype() == "INSERT" and e.dxf.rotation % 90 > 1e-6)]
    for e in disassemble.recursive_decompose(parts):
        kind = e.dxftype()
        if kind == "POINT":
            places = [e.dxf.location]
        elif kind == "LINE":
            places = [e.dxf.start, e.dxf.end]
        else:
            places = list(disassemble.make_primitive(e, 0.0005).vertices())
        own = e.dxf.layer
        truth["placed"].append({"kind": kind, "layer": layer if own == "0" else own, "of": layer, "places": [list(p) for p in places]})


for ref in model.query("INSERT"):
    if ref.dxf.name == "OUTER":
        put(ref, ref.dxf.layer)

doc.saveas(out)
doc.saveas(out + ".bin", fmt="bin")
print(json.dumps(truth))
