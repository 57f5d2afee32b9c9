"""Opens a drawing with ezdxf, audits it, and prints version, errors, and entities by kind.

It reads as ezdxf's own audit command does: that reader decodes the \\U+XXXX of letters outside the code page.
"""
import json
import sys
from collections import Counter

from ezdxf import recover

doc, audit = recover.readfile(sys.argv[1])
kinds = Counter(e.dxftype() for e in doc.modelspace())
bulges = sum(1 for e in doc.modelspace() if e.dxftype() == "LWPOLYLINE" for v in e.get_points() if v[4] != 0)
bulges += sum(1 for e in doc.modelspace() if e.dxftype() == "POLYLINE" for v in e.vertices if v.dxf.hasattr("bulge") and v.dxf.bulge != 0)
print(json.dumps({
    "version": doc.dxfversion,
    "errors": len(audit.errors) + len(audit.fixes),
    "kinds": kinds,
    "weights": {layer.dxf.name: layer.dxf.lineweight for layer in doc.layers if layer.dxf.hasattr("lineweight")},
    "styles": {t.dxf.name: [tag.value for tag in t.pattern_tags.tags if tag.code == 49] for t in doc.linetypes if t.pattern_tags.tags[-1].code != 40},
    "looks": sorted([e.dxftype(), e.dxf.get("color", 256), e.dxf.get("linetype", "BYLAYER")] for e in doc.modelspace()),
    "layers": sorted(layer.dxf.name for layer in doc.layers),
    "bulges": bulges,
    "texts": sorted(e.dxf.text for e in doc.modelspace().query("TEXT")),
    "extent": [list(doc.header.get(name, [])) for name in ("$EXTMIN", "$EXTMAX")],
    "viewports": len(list(doc.viewports)), "dimension_styles": len(list(doc.dimstyles)), "layouts": list(doc.layout_names()),
    "attributes": [{a.dxf.tag: a.dxf.text for a in e.attribs} for e in doc.modelspace().query("INSERT")],
    "strokes": {b.name: len(list(b)) for b in doc.blocks if not b.name.startswith("*")},
}))
