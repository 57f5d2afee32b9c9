"""Edits a drawing as its recipient would: python3 edit_returned.py IN OUT < operations as JSON.

Entities are named by what they say that they are to us, in their extended data.
"""
import json
import math
import sys

import ezdxf

doc = ezdxf.readfile(sys.argv[1])
model = doc.modelspace()


def own(entity):
    if not entity.has_xdata("DUNRIK"):
        return None
    return next((t.value for t in entity.get_xdata("DUNRIK") if t.code == 1000), None)


by = {}
for e in model:
    by.setdefault(own(e), []).append(e)

for op, *args in json.load(sys.stdin):
    if op == "move":
        for name in args[0]:
            for e in by[name]:
                e.translate(args[1], args[2], args[3] if len(args) > 3 else 0)
    elif op == "vertex":
        e = by[args[0]][0]
        if e.dxftype() == "LWPOLYLINE":
            with e.points("xyb") as points:
                x, y, b = points[args[1]]
                points[args[1]] = (x + args[2], y + args[3], b)
        else:
            v = e.vertices[args[1]]
            v.dxf.location += ezdxf.math.Vec3(args[2], args[3], args[4] if len(args) > 4 else 0)
    elif op == "rotate":
        turn = ezdxf.math.Matrix44.chain(
            ezdxf.math.Matrix44.translate(-args[2], -args[3], 0),
            ezdxf.math.Matrix44.z_rotate(math.radians(args[1])),
            ezdxf.math.Matrix44.translate(args[2], args[3], 0),
        )
        for name in args[0]:
            for e in by[name]:
                e.transform(turn)
    elif op == "delete":
        for name in args[0]:
            for e in by[name]:
                model.delete_entity(e)
    elif op == "layer":
        for name in args[0]:
            for e in by[name]:
                e.dxf.layer = args[1]
    elif op == "copy":
        for e in by[args[0]]:
            model.add_entity(e.copy()) if args[1] == args[2] == 0 else None
            c = e.copy()
            model.add_entity(c)
            c.translate(args[1], args[2], 0)
    elif op == "attribute":
        for a in by[args[0]][0].attribs:
            if a.dxf.tag == args[1]:
                a.dxf.text = args[2]
    elif op == "line":
        model.add_polyline3d([tuple(p) for p in args[1]], dxfattribs={"layer": args[0]})
    elif op == "point":
        model.add_point(tuple(args[1]), dxfattribs={"layer": args[0]})
    elif op == "strip":
        for e in model:
            if e.has_xdata("DUNRIK"):
                e.discard_xdata("DUNRIK")
doc.saveas(sys.argv[2])
errors = [str(e.message) for e in doc.audit().errors]
print(json.dumps(errors))
