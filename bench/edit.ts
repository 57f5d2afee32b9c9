import { mediansOf } from './timing.ts';
import { readBookText, type Book } from '#core/book';
import { Previewer, runChain } from '#core/chain';
import { StageMemory } from '#core/stages';
import { applyChange, newDocument, plainIntake, type Change, type Intake, type ProjectDocument } from '#core/project';
import { failedRead, type ReadPoints } from '#core/exchange';

/** A project of so many shots from twenty setups over rolling ground, with breaklines, surface and contours. */
export function shotProject(shots: number): { doc: ProjectDocument; readOf: (i: Intake) => ReadPoints; book: Book } {
  const setups = 20;
  const each = Math.floor(shots / setups);
  const rows = ['book 1', 'unit m', 'angle deg'];
  const stations = Array.from({ length: setups }, (_, i) => ({ number: `A${i}`, x: (i % 5) * 90, y: Math.floor(i / 5) * 90, z: 50 })); // prettier-ignore
  let number = 0;
  stations.forEach((s, i) => {
    const back = stations[(i + 1) % setups];
    const bearing = (x: number, y: number): number => ((Math.atan2(x - s.x, y - s.y) * 180) / Math.PI + 360) % 360;
    const line = (role: string, n: string, x: number, y: number, z: number, code = ''): void => {
      const flat = Math.max(Math.hypot(x - s.x, y - s.y), 0.5);
      const slope = Math.hypot(flat, z - s.z);
      rows.push(
        `${role} ${n} circle=${bearing(x, y).toFixed(6)} zenith=${((Math.atan2(flat, z - s.z) * 180) / Math.PI).toFixed(6)} dist=${slope.toFixed(4)} th=1.5${code ? ` code=${code}` : ''}`,
      );
    };
    rows.push(`setup ${s.number} hi=1.5`);
    line('back', back.number, back.x, back.y, back.z);
    // Each setup has lines of its own: one that ran on from setup to setup would cross all others.
    for (let k = 0; k < each; k++) {
      const [u, v] = [k % 16, Math.floor(k / 16)];
      const [x, y] = [s.x + 3 + u * 5.3 + (k % 3) * 0.4, s.y + 4 + v * 5.1 + (k % 5) * 0.3];
      const z = 50 + 3 * Math.sin(x / 40) + 2 * Math.cos(y / 55);
      line('shot', String(++number), x, y, z, v % 5 === 0 ? `KT${100 * i + v / 5 + 1}` : 'GR');
    }
  });
  const book = readBookText([...rows, 'end'].join('\n'))!;
  const plain = { ...failedRead(''), failure: undefined };
  const control: ReadPoints = {
    ...plain,
    number: stations.map((s) => s.number),
    x: Float64Array.from(stations, (s) => s.x),
    y: Float64Array.from(stations, (s) => s.y),
    z: Float64Array.from(stations, (s) => s.z),
    description: stations.map(() => ''),
    row: Uint32Array.from(stations, (_, i) => i + 1),
    rows: setups,
  };
  const read: ReadPoints = { ...plain, rows: book.rows, book };
  const doc = {
    ...newDocument(),
    intakes: [plainIntake('c', { purpose: 'control' }), plainIntake('b', { form: 'book' })],
  };
  return { doc, book, readOf: (i) => (i.id === 'c' ? control : read) };
}

/** The document with the target height of one shot in the middle of the book set anew. */
export function withHeight(doc: ProjectDocument, book: Book, height: number): ProjectDocument {
  const shots = book.records.filter((r) => r.role === 'shot');
  const { row } = shots[Math.floor(shots.length / 2)];
  const applied = applyChange(doc, { op: 'points.edit', edits: { [`b:${row}`]: { set: { height }, undo: [] } } });
  if (!applied.ok) throw new Error(applied.reason);
  return applied.document;
}

/** One edited target height beside rebuilding all, in surveys of two sizes; and what a page does to show it beforehand. */
export async function editFigure(): Promise<void> {
  await oneEdit(5000, 30);
  await oneEdit(50_000, 6);
  await onePreview(50_000, 6);
}

/** Shows what one edited height would do, as the page's worker does, beside a whole run with its summary. */
async function onePreview(shots: number, settle: number): Promise<void> {
  const { doc, book, readOf } = shotProject(shots);
  const row = book.records.filter((r) => r.role === 'shot')[shots / 2].row;
  const previewer = new Previewer();
  let height = 1.4;
  const change = (): Change => ({ op: 'points.edit', edits: { [`b:${row}`]: { set: { height: (height -= 0.001) }, undo: [] } } }); // prettier-ignore
  const works = {
    preview: () => previewer.preview(doc, change(), readOf),
    whole: () => runChain(doc, readOf, new StageMemory()),
  };
  for (let i = 0; i < settle; i++) {
    await works.preview();
    works.whole();
  }
  const t = await mediansOf(works);
  console.log(`Preview of one edit among ${shots.toLocaleString('en')} shots beside a whole run (wanted: under 0.1)`);
  console.log(`  preview ${t.preview.toFixed(0)} ms, whole run ${t.whole.toFixed(0)} ms, ratio ${(t.preview / t.whole).toFixed(2)} (15 of each)`); // prettier-ignore
}

/** What was computed, and how long it took: the first time in a process, and once the compiler has settled. */
async function oneEdit(shots: number, settle: number): Promise<void> {
  console.log(
    `One edited target height in ${shots.toLocaleString('en')} shots with their surface, beside rebuilding all (counted)`,
  );
  const { doc, book, readOf } = shotProject(shots);
  const memory = new StageMemory();
  const all = counted(memory, () => runChain(doc, readOf, memory));
  let height = 1.4;
  let one: Record<string, number> = {};
  const works = {
    edit: () => (one = counted(memory, () => runChain(withHeight(doc, book, (height -= 0.001)), readOf, memory))),
    rebuild: () => runChain(withHeight(doc, book, height), readOf, new StageMemory()),
  };
  for (let i = 0; i < settle; i++) {
    works.edit();
    works.rebuild();
  }
  const t = await mediansOf(works);
  for (const what of Object.keys(all))
    console.log(`  ${what.padEnd(22)} ${String(one[what] ?? 0).padStart(7)} of ${all[what]}`);
  console.log(`  time ${t.edit.toFixed(0)} ms, rebuilding all ${t.rebuild.toFixed(0)} ms, ratio ${(t.edit / t.rebuild).toFixed(2)} (15 of each)`); // prettier-ignore
}

function counted(memory: StageMemory, work: () => unknown): Record<string, number> {
  const of = (): Record<string, number> => ({
    'sightings reduced': memory.computed['sightings reduced'] ?? 0,
    'lines built': memory.computed['lines built'] ?? 0,
    'triangles made': memory.computed['triangles made'] ?? 0,
    'contour levels drawn': memory.computed['contour levels drawn'] ?? 0,
  });
  const before = of();
  work();
  const after = of();
  return Object.fromEntries(Object.entries(after).map(([k, v]) => [k, v - before[k]]));
}
