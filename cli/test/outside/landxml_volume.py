"""Reads a LandXML surface and computes its volume above and below a level, apart from Dunrik.

Standard library only. Each triangle is clipped as a polygon at the level (Sutherland-Hodgman) and the
part above and below integrated as a fan of prisms; Dunrik uses a closed form by corner ratios instead.
Prints: vertices, faces, cut, fill.
"""
import sys
import xml.etree.ElementTree as ET

NS = {"l": "http://www.landxml.org/schema/LandXML-1.2"}


def clip(polygon, level, keep_above):
    out = []
    for i, p in enumerate(polygon):
        q = polygon[(i + 1) % len(polygon)]
        inside_p = (p[2] >= level) == keep_above or p[2] == level
        inside_q = (q[2] >= level) == keep_above or q[2] == level
        if inside_p:
            out.append(p)
        if inside_p != inside_q:
            t = (level - p[2]) / (q[2] - p[2])
            out.append(tuple(p[k] + t * (q[k] - p[k]) for k in range(2)) + (level,))
    return out


def prism(polygon, level):
    total = 0.0
    for i in range(1, len(polygon) - 1):
        a, b, c = polygon[0], polygon[i], polygon[i + 1]
        area = abs((b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1])) / 2
        total += area * ((a[2] + b[2] + c[2]) / 3 - level)
    return total


root = ET.parse(sys.argv[1]).getroot()
level = float(sys.argv[2])
definition = root.find(".//l:Surface/l:Definition", NS)
points = {}
for p in definition.find("l:Pnts", NS):
    north, east, z = map(float, p.text.split())
    points[p.get("id")] = (east, north, z)
cut = fill = 0.0
faces = definition.find("l:Faces", NS)
for f in faces:
    triangle = [points[i] for i in f.text.split()]
    cut += prism(clip(triangle, level, True), level)
    fill -= prism(clip(triangle, level, False), level)
print(len(points), len(faces), repr(cut), repr(fill))
