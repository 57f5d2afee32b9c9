"""Writes a drawing, and the same drawing after somebody edited it, both by ezdxf; tells what was done.

usage: edited_drawing.py BEFORE AFTER
"""

import json
import math
import sys

import ezdxf
from ezdxf.math import Matrix44


def site():
    doc = ezdxf.new("R2010")
    doc.units = 6
    model = doc.modelspace()
    block = doc.blocks.new("TREE")
    block.add_circle((0, 0), 1)
    model.add_polyline3d([(4200 + 10 * i, 7700 + 0.2 * i, 65 + 0.1 * i) for i in range(12)], dxfattribs={"layer": "KERB"})
    for k in range(5):
        e = 4210 + 20 * k
        model.add_lwpolyline([(e, 7720), (e + 9 + k, 7720), (e + 9 + k, 7728, 0, 0, 0.4), (e, 7728)], close=True, dxfattribs={"layer": "BUILDINGS"})
        model.add_text(f"House {k + 1}", dxfattribs={"layer": "NAMES", "insert": (e + 4, 7724)})
        model.add_blockref("TREE", (e, 7740, 0), dxfattribs={"layer": "TREES"})
    for k in range(40):
        model.add_point((4200 + 5.37 * k, 7690 + (k * k) % 17, 64 + 0.01 * k), dxfattribs={"layer": "LEVELS"})
    model.add_spline([(4200, 7760, 66), (4220, 7765, 66), (4240, 7758, 67)], dxfattribs={"layer": "PATH"})
    model.add_circle((4300, 7760), 4, dxfattribs={"layer": "POND"})
    return doc


def main(before, after):
    doc = site()
    doc.saveas(before)
    doc = ezdxf.readfile(before)
    model = doc.modelspace()
    houses = list(model.query('LWPOLYLINE[layer=="BUILDINGS"]'))
    names = list(model.query('TEXT[layer=="NAMES"]'))
    trees = list(model.query('INSERT[layer=="TREES"]'))
    # House 1 is moved, house 2 turned with its name and its tree, house 3 put on another layer, house 4 deleted.
    houses[0].translate(0.25, -0.5, 0)
    centre = (4235.0, 7724.0)
    angle = math.radians(30)
    spin = Matrix44.chain(
        Matrix44.translate(-centre[0], -centre[1], 0), Matrix44.z_rotate(angle), Matrix44.translate(centre[0], centre[1], 0)
    )
    for entity in (houses[1], names[1], trees[1]):
        entity.transform(spin)
    houses[2].dxf.layer = "DEMOLITION"
    model.delete_entity(houses[3])
    names[4].dxf.text = "House 5a"
    model.add_line((4250, 7750, 0), (4290, 7755, 0), dxfattribs={"layer": "FENCE"})
    doc.saveas(after)
    json.dump({"angle": angle, "x": centre[0], "y": centre[1]}, sys.stdout)


main(*sys.argv[1:])
