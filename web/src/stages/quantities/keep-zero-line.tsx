import { useState } from 'react';
import type { HandLine, ProjectDocument } from '#core/project';
import { zeroLines } from '#core/quantities';
import { Act, Pick } from '../../frame/controls.tsx';
import { freeKey } from '../../project-state/line-edit.ts';
import { useParts } from '../../project-state/store.ts';
import type { Comparison } from '#core/project';

/** Places of one line at the most, and lines that are kept at once. */
const MOST_PLACES = 20_000;
const MOST_LINES = 500;

/** The line between cut and fill as lines of the project, with a code that the hand chooses and the elevations of the surface that is compared. */
export function KeepZeroLine({ comparison }: { comparison: Comparison }) {
  const { state, tables, propose, tell } = useParts('state', 'tables', 'propose', 'tell');
  const doc = state!.document;
  const codes = doc.codeList.codes.filter((c) => c.kind === 'line');
  const [code, setCode] = useState(codes[0]?.code ?? '');
  if (codes.length === 0) return null;
  const keep = (): void => {
    const lines = zeroLines(tables!.pieces.get(comparison.id) ?? new Float64Array(0));
    if (lines.length === 0) return tell('There is no line between cut and fill: all of it lies on one side.');
    if (lines.length > MOST_LINES || lines.some((l) => l.length > 2 * MOST_PLACES)) return tell(`The line between cut and fill is in ${lines.length} parts, more than can be kept. Draw a boundary round what matters.`); // prettier-ignore
    const finder = tables!.finders.get(comparison.surface);
    const set: Record<string, HandLine> = {};
    for (const line of lines) {
      const closed = line[0] === line.at(-2) && line[1] === line.at(-1);
      const places = closed ? line.slice(0, -2) : line;
      const vertices = places.flatMap(
        (x, i) =>
        i % 2 ? [] : [{ point: null, x, y: places[i + 1], z: finder?.at(x, places[i + 1])?.elevation ?? null, bulge: 0, side: 0 }], // prettier-ignore
      );
      const taken = { ...doc, handLines: { ...doc.handLines, ...set } as ProjectDocument['handLines'] };
      set[freeKey(code, taken)] = { code, lineNumber: '', closed, vertices, replaces: null };
    }
    void propose(`Keep the zero line of “${comparison.name}”`, { op: 'lines.hand', set, what: `keep the zero line of ${comparison.name}` }); // prettier-ignore
  };
  return (
    <>
      <Act onClick={keep} title="where cut turns into fill, with the elevations of the surface that is compared">
        Keep the zero line
      </Act>
      <Pick aria-label="code of the zero line" value={code} onChange={(e) => setCode(e.target.value)} width="110px">
        {codes.map((c) => (
          <option key={c.code} value={c.code}>
            {c.code} {c.name}
          </option>
        ))}
      </Pick>
    </>
  );
}
