"""Contours without elevations and their labels, aligned and rotated in every way; written by ezdxf.

A contour runs in the direction of its label and has the elevation 100 + its number; it begins at 100 x its number east.
"""
import math
import sys

import ezdxf
from ezdxf.enums import TextEntityAlignment

doc = ezdxf.new("R2000")
space = doc.modelspace()
number = 0


def contour(angle: float) -> tuple[float, float, float, float, str]:
    """Draws one from its beginning; the middle of it, its direction, and what its label says."""
    global number
    number += 1
    dx, dy = math.cos(math.radians(angle)), math.sin(math.radians(angle))
    x, y = 100.0 * number, 50.0
    places = [(x, y), (x + 10 * dx, y + 10 * dy), (x + 20 * dx, y + 20 * dy)]
    space.add_lwpolyline(places, dxfattribs={"layer": "CONTOURS"})
    return places[1][0], places[1][1], dx, dy, str(100 + number)


for angle in (0, 37, 90, 200):
    for align in (
        TextEntityAlignment.MIDDLE_CENTER,
        TextEntityAlignment.BOTTOM_CENTER,
        TextEntityAlignment.TOP_CENTER,
        TextEntityAlignment.MIDDLE_LEFT,
        TextEntityAlignment.BOTTOM_RIGHT,
        TextEntityAlignment.LEFT,
        TextEntityAlignment.RIGHT,
        TextEntityAlignment.MIDDLE,
    ):
        x, y, _, _, says = contour(angle)
        space.add_text(says, height=1.0, rotation=angle, dxfattribs={"layer": "LABELS"}).set_placement((x, y), align=align)
    for attach in range(1, 10):
        x, y, dx, dy, says = contour(angle)
        attributes = {"char_height": 1.0, "attachment_point": attach, "insert": (x, y), "layer": "LABELS"}
        if attach % 2:
            attributes["rotation"] = angle
        else:
            attributes["text_direction"] = (dx, dy, 0)
        space.add_mtext(says, dxfattribs=attributes)

doc.saveas(sys.argv[1])
