import { spawnSync } from 'node:child_process';
import { expect, it } from 'vitest';
import { chooseTaken, dxfContent, partOfDrawing, rowsOfFile, type FileContent } from '#core/exchange';
import { METRES_IN_FILE } from '#core/measure';
import { whereItLies, type Extent } from '#core/sources';
import { checkContours } from '#core/terrain';
import { designDrawing, site } from '#demo';

const { name, text, slips } = designDrawing();
const bytes = new TextEncoder().encode(text);
const content = dxfContent(bytes) as Extract<FileContent, { kind: 'dxf' }>;
const { rows } = partOfDrawing(content, {}).table;
const row = (layer: string, kind: string) => rows.find((r) => r.layer === layer && r.kind === kind)!;

it('the design drawing is read by ezdxf (Debian python3-ezdxf) without anything to mend, layer by layer as here', () => {
  const file = new URL(`../ostrel-landing/${name}`, import.meta.url).pathname;
  const script = 'import ezdxf,json,sys\nd=ezdxf.readfile(sys.argv[1])\na=d.audit()\nc={}\nfor e in d.modelspace():\n k=e.dxf.layer+"|"+e.dxftype()\n c[k]=c.get(k,0)+1\nprint(json.dumps({"errors":len(a.errors),"counts":c,"frozen":[l.dxf.name for l in d.layers if l.is_frozen()]}))'; // prettier-ignore
  const { stdout, stderr } = spawnSync('/usr/bin/python3', ['-c', script, file], { encoding: 'utf8' });
  expect(stderr).toBe('');
  const said = JSON.parse(stdout) as { errors: number; counts: Record<string, number>; frozen: string[] };
  expect(said.errors).toBe(0);
  expect(Object.fromEntries(rows.map((r) => [`${r.layer}|${r.kind}`, r.count]))).toEqual(said.counts);
  expect(rows.filter((r) => r.hidden).map((r) => r.layer)).toEqual(said.frozen);
});

it('holds the slips that it names, and each is told where one looks', () => {
  expect(slips.map((s) => s.kind)).toEqual(['unit-unsaid', 'hidden-layer', 'far-away', 'doubled-line', 'contour-elevation', 'open-footprint', 'text-no-number']); // prettier-ignore
  expect(content.unit).toBeNull();
  // Millimetres bring it to the site, and nothing else does.
  const { east, north } = site.CORNER;
  const near: Extent = [east * 1000, north * 1000, (east + 170) * 1000, (north + 140) * 1000];
  expect(whereItLies(near, 'm', [east, north, east + 170, north + 140])!.ways.map((w) => w.unit)).toEqual(['mm']);
  expect(row('PLANTING', 'INSERT')).toMatchObject({ count: 6, far: 1 });
  expect(chooseTaken({ rows }, [], []).taken.map((t) => t.layer)).not.toContain('EARLIER SCHEME');
  const open = content.content.polylines.filter((l) => l.layer === 'BUILDINGS' && !l.closed);
  expect(open).toHaveLength(1);
  const levels = partOfDrawing(content, { taken: [{ layer: 'LEVELS', kind: 'TEXT', as: 'ground points' }] }).file;
  expect(levels.named).toHaveLength(4);
  expect(levels.content.texts.map((t) => t.text)).toContain('62.l8');
});

it('has a contour at ten times its elevation, which the check of contours names', () => {
  const mm = METRES_IN_FILE.mm;
  const contours = content.content.polylines
    .filter((l) => l.layer === 'CONTOURS')
    .map((l) => ({ closed: l.closed, x: l.x.map((v) => v * mm), y: l.y.map((v) => v * mm), elevation: l.z[0] * mm }));
  const { faults } = checkContours(contours);
  expect(faults.filter((f) => f.kind === 'elevation').map((f) => contours[f.contour].elevation)).toEqual([628]);
});

it('gives its kerbs as lines, the outer one twice', () => {
  const read = rowsOfFile(bytes, { taken: [{ layer: 'KERB-TOP', kind: 'POLYLINE', as: 'breaklines' }], unit: 'mm' });
  expect(read).toMatchObject({ ok: true, lines: { count: 3, taken: true } });
});
