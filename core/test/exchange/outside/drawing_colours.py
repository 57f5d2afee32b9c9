"""Writes a drawing whose entities say colours in every way there is, and says which each of them is drawn in."""
import json
import sys

import ezdxf

path, version = sys.argv[1], sys.argv[2]
doc = ezdxf.new(version)
doc.layers.new("KERB", dxfattribs={"color": 3})
msp = doc.modelspace()
truth = {}


def line(name, x, **attribs):
    msp.add_line((x, 0, 1), (x, 5, 1), dxfattribs={"layer": "KERB", **attribs})
    truth[name] = x


line("by layer", 0)
line("by layer, said", 1, color=256)
line("red", 2, color=1)
line("yellow", 3, color=2)
if version not in ("R12", "R2000"):
    e = msp.add_line((4, 0, 1), (4, 5, 1), dxfattribs={"layer": "KERB"})
    e.rgb = (18, 52, 86)
    truth["#123456"] = 4
# A block whose one line takes the colour of where it is put, the other its own.
block = doc.blocks.new("POST")
block.add_line((0, 0), (0, 1), dxfattribs={"layer": "0", "color": 0})
block.add_line((0, 0), (1, 0), dxfattribs={"layer": "POSTS", "color": 5})
msp.add_blockref("POST", (10, 0), dxfattribs={"layer": "FENCE", "color": 6})
msp.add_blockref("POST", (20, 0), dxfattribs={"layer": "FENCE"})
doc.saveas(path)
print(json.dumps(truth))
