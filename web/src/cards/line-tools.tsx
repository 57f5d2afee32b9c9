import { Flex } from '@chakra-ui/react';
import { useState } from 'react';
import {
  addVertex,
  besideCourse,
  filleted,
  freed,
  removeVertex,
  reversed,
  setClosed,
  splitAt,
  type Line,
} from '#core/linework';
import { readLength, UNIT_SIGN } from '#core/measure';
import { Act, Aside, Field, Pick } from '../frame/controls.tsx';
import { Section } from './card-frame.tsx';
import {
  courseOfLine,
  nearestVertex,
  pick,
  pickExtend,
  pickLine,
  pickTrim,
  placeInCourse,
  proposeCodes,
  proposeCourse,
  proposeGone,
  proposeJoin,
  proposeNew,
  proposeParts,
  vertexOf,
} from '../project-state/line-edit.ts';
import { useParts } from '../project-state/store.ts';

/** What a person can do to a line by hand; each shows its effect before it is taken. */
export function LineTools({ line }: { line: Line }) {
  const { state, tables, tell, trace, traced } = useParts('state', 'tables', 'tell', 'trace', 'traced');
  const [asks, setAsks] = useState<'beside' | 'round' | 'code' | null>(null);
  const doc = state!.document;
  const { unit } = doc.settings;
  const course = courseOfLine(line, doc, tables!);
  const hand = line.key in doc.handLines;
  const tied = hand && doc.handLines[line.key].insteadOf !== undefined;
  /** The course as it is now, with elevations of its own. */
  const letGo = (c: typeof course): typeof course =>
    freed({ ...c, vertices: c.vertices.map((v, i) => ({ ...v, z: v.plan ? v.z : (v.z ?? zOf(line, i, tables!.points.z)) })) }); // prettier-ignore
  const act = (name: string, run: () => void, title?: string) => (
    <Act key={name} disabled={traced !== null} onClick={run} title={title}>
      {name}
    </Act>
  );
  return (
    <Section>
      <Aside>by hand{hand ? '; drawn so now' : ''}</Aside>
      <Flex wrap="wrap" gap="5px" mt="5px">
        {act('Add a point', () =>
          pick(
            `the point to add to ${line.key}`,
            (p, d, t) =>
            proposeCourse(line, addVertex(courseOfLine(line, d, t), placeInCourse(line, p), vertexOf(p, d, t)), `add a point to line ${line.key}`), // prettier-ignore
          ),
        )}
        {act('Remove a point', () =>
          pick(
            `the point to remove from ${line.key}`,
            (p, d, t) =>
            proposeCourse(line, removeVertex(courseOfLine(line, d, t), nearestVertex(line, p)), `remove a point from line ${line.key}`), // prettier-ignore
          ),
        )}
        {act('Continue', () =>
          trace({
            purpose: `where ${line.key} continues`,
            places: [{ x: line.x.at(-1)!, y: line.y.at(-1)!, by: 'end', row: line.rows.at(-1)! }],
            finish: () => undefined,
            course: {
              most: null,
              finish: (places) => {
                const vertices = [...course.vertices, ...places.slice(1).map((p) => vertexOf(p, doc, tables!))];
                proposeCourse(line, { ok: true, course: { ...course, vertices } }, `continue line ${line.key}`);
              },
            },
          }),
        )}
        {act('Reverse', () => proposeCourse(line, { ok: true, course: reversed(course) }, `reverse line ${line.key}`))}
        {act('Split', () =>
          pick(`where ${line.key} is split`, (p, d, t) =>
            proposeParts(line, splitAt(courseOfLine(line, d, t), nearestVertex(line, p)), `split line ${line.key}`),
          ),
        )}
        {act('Join', () => pickLine(line, `the line to join to ${line.key}`, (other) => proposeJoin(line, other)))}
        {act(line.closed ? 'Open' : 'Close', () =>
          proposeCourse(line, setClosed(course, !line.closed), `${line.closed ? 'open' : 'close'} line ${line.key}`),
        )}
        {act('Trim', () => pickTrim(line))}
        {act('Extend', () => pickExtend(line))}
        {act('Round a corner', () => setAsks(asks === 'round' ? null : 'round'))}
        {act('Offset line', () => setAsks(asks === 'beside' ? null : 'beside'))}
        {act('Change code', () => setAsks(asks === 'code' ? null : 'code'))}
        {hand && doc.handLines[line.key].replaces
          ? act(tied ? 'Redraw as received' : 'Redraw from its codes', () => proposeCodes(line))
          : null}
        {tied && line.rows.some((row) => row >= 0)
          ? act('Let go of its points', () => proposeCourse(line, { ok: true, course: letGo(course) }, `let line ${line.key} go of its points`)) // prettier-ignore
          : null}
        {act('Delete', () => proposeGone(line))}
      </Flex>
      {asks === 'round' ? (
        <Ask
          label={`radius ${UNIT_SIGN[unit]}`}
          run={([text]) => {
            const radius = readLength(text, unit);
            if (!radius.ok) return tell(radius.reason);
            setAsks(null);
            pick(
              'the corner to round',
              (p, d, t) =>
              proposeCourse(line, filleted(courseOfLine(line, d, t), nearestVertex(line, p), radius.metres), `round a corner of line ${line.key}`), // prettier-ignore
            );
          }}
        />
      ) : asks === 'beside' ? (
        <Ask
          label={`to the right ${UNIT_SIGN[unit]}`}
          second={`higher ${UNIT_SIGN[unit]}`}
          run={([a, h]) => {
            const [across, height] = [readLength(a, unit), readLength(h || '0', unit)];
            if (!across.ok) return tell(across.reason);
            if (!height.ok) return tell(height.reason);
            setAsks(null);
            const beside = besideCourse({ ...course, vertices: course.vertices.map((v, i) => ({ ...v, z: v.z ?? zOf(line, i, tables!.points.z) })) }, across.metres, height.metres); // prettier-ignore
            if (beside.ok) proposeNew(line.code, beside.course, `draw an offset line of ${line.key}`);
          }}
        />
      ) : asks === 'code' ? (
        <Flex mt="6px" gap="6px" align="center">
          <Pick
            aria-label="other code"
            value={line.code}
            onChange={(e) => {
              setAsks(null);
              proposeCourse({ ...line, code: e.target.value }, { ok: true, course }, `give line ${line.key} the code ${e.target.value}`); // prettier-ignore
            }}
          >
            {doc.codeList.codes
              .filter((c) => c.kind === 'line')
              .map((c) => (
                <option key={c.code} value={c.code}>
                  {c.code} {c.name}
                </option>
              ))}
          </Pick>
        </Flex>
      ) : null}
    </Section>
  );
}

const zOf = (line: Line, i: number, z: ArrayLike<number>): number | null => {
  const row = line.rows[i];
  return row >= 0 && !Number.isNaN(z[row]) ? z[row] : null;
};

function Ask({ label, second, run }: { label: string; second?: string; run: (texts: [string, string]) => void }) {
  const [a, setA] = useState('');
  const [b, setB] = useState('');
  return (
    <Flex
      as="form"
      mt="6px"
      gap="6px"
      align="center"
      onSubmit={(e) => {
        e.preventDefault();
        run([a, b]);
      }}
    >
      <Field
        width="92px"
        numeric
        autoFocus
        placeholder={label}
        aria-label={label}
        value={a}
        onChange={(e) => setA(e.target.value)}
      />
      {second ? (
        <Field
          width="82px"
          numeric
          placeholder={second}
          aria-label={second}
          value={b}
          onChange={(e) => setB(e.target.value)}
        />
      ) : null}
      <Act type="submit">Show</Act>
    </Flex>
  );
}
