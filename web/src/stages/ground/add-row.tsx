import { useState } from 'react';
import type { ProjectDocument, SurfaceRecipe, SurfaceRow } from '#core/project';
import { Act, Aside, Field, Pick } from '../../frame/controls.tsx';
import { useParts } from '../../project-state/store.ts';

/** As what lines of certain codes come in, and what the field for their codes is called. */
const AS = {
  breaklines: 'codes of the breaklines',
  contours: 'codes of the contours',
  points: 'codes of the lines',
  boundary: 'codes of the boundary',
};

export const freshId = (): string => crypto.randomUUID().slice(0, 13);

/** Adds what else comes in or is excluded. */
export function AddRow({
  doc,
  recipe,
  onAdded,
}: {
  doc: ProjectDocument;
  recipe: SurfaceRecipe;
  onAdded: (row: string) => void;
}) {
  const { make, busy } = useParts('make', 'busy');
  const [codes, setCodes] = useState<string | null>(null);
  const [as, setAs] = useState<keyof typeof AS>('breaklines');
  const has = (kind: SurfaceRow['kind']): boolean => recipe.rows.some((r) => r.kind === kind);
  const files = doc.intakes.filter((i) => !recipe.rows.some((r) => r.kind === 'file' && r.intake === i.id));
  const add = (row: SurfaceRow): void => void make({ op: 'surface.row', surface: recipe.id, row });
  const base = { id: freshId(), on: true };
  const addCodes = (): void => {
    const list = (codes ?? '').split(/[\s,;]+/).filter(Boolean).map((c) => c.toUpperCase()); // prettier-ignore
    setCodes(null);
    if (list.length === 0) return;
    if (as === 'contours') add({ ...base, kind: 'contours', codes: list });
    else if (as === 'boundary') add({ ...base, kind: 'line-boundary', codes: list });
    else add({ ...base, kind: 'lines', codes: list, ...(as === 'points' ? { pointsOnly: true } : {}) });
  };
  return (
    <>
      <Pick
        aria-label="add to the recipe"
        disabled={busy}
        value=""
        maxWidth="220px"
        onChange={(e) => {
          const what = e.target.value;
          if (what === 'survey') add({ ...base, kind: 'survey' });
          else if (what === 'lines') add({ ...base, kind: 'lines', codes: null });
          else if (what === 'exclude-codes') add({ ...base, kind: 'exclude-codes' });
          else if (what.startsWith('codes:')) {
            setAs(what.slice(6) as keyof typeof AS);
            setCodes('');
          } else if (what.startsWith('surface:')) add({ ...base, kind: 'surface', surface: what.slice(8), ring: null });
          else if (what === 'points' || what === 'exclude-points') {
            const row = { id: freshId(), on: true, kind: what, rule: {} } as const;
            add(row);
            onAdded(row.id);
          } else if (what === 'checks') {
            const row = { id: freshId(), on: true, kind: what, rule: {}, within: null } as const;
            add(row);
            onAdded(row.id);
          } else if (what.startsWith('file:')) add({ ...base, kind: 'file', intake: what.slice(5) });
          else if (what.startsWith('triangles:')) add({ ...base, kind: 'triangles', intake: what.slice(10) });
        }}
      >
        <option value="">Add …</option>
        {has('survey') ? null : <option value="survey">points of all survey files</option>}
        {files.map((i) => (
          <option key={i.id} value={`file:${i.id}`}>
            points of {i.fileName}
          </option>
        ))}
        {doc.intakes
          .filter((i) => i.layout.surface !== undefined && !has('triangles'))
          .map((i) => (
            <option key={`t${i.id}`} value={`triangles:${i.id}`}>
              triangles of {i.fileName}, as received
            </option>
          ))}
        {has('lines') ? null : <option value="lines">breaklines by the code list</option>}
        <option value="codes:breaklines">lines of certain codes as breaklines</option>
        <option value="codes:contours">lines of certain codes as contours</option>
        <option value="codes:boundary">closed lines of certain codes as boundary</option>
        <option value="codes:points">lines of certain codes, their points only</option>
        {doc.surfaces
          .filter((s) => s.id !== recipe.id && !recipe.rows.some((r) => r.kind === 'surface' && r.surface === s.id))
          .map((s) => (
            <option key={`s${s.id}`} value={`surface:${s.id}`}>
              points and breaklines of “{s.name}”
            </option>
          ))}
        <option value="points">points by a rule</option>
        {has('exclude-codes') ? null : <option value="exclude-codes">exclude by code</option>}
        <option value="exclude-points">exclude points by a rule</option>
        <option value="checks">check shots by a rule</option>
      </Pick>
      {codes !== null ? (
        <>
          <Field
            autoFocus
            aria-label={AS[as]}
            placeholder="KB, DT"
            width="130px"
            maxLength={400}
            value={codes}
            onChange={(e) => setCodes(e.target.value)}
            onKeyDown={(e) => {
              e.stopPropagation();
              if (e.key === 'Enter') addCodes();
              if (e.key === 'Escape') setCodes(null);
            }}
          />
          <Act onClick={addCodes}>Add</Act>
          <Aside>codes of lines</Aside>
        </>
      ) : null}
    </>
  );
}
