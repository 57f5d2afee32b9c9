import { Box, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { STATE } from '#core/stages';
import { formatAngle, formatLength, readAngle, readLength, UNIT_SIGN } from '#core/measure';
import { Act, Aside, Field, Key } from '../frame/controls.tsx';
import type { Snapped } from '../project-state/snap.ts';
import type { Tables } from '../project-state/tables.ts';
import { AT_BOTTOM } from './furniture.tsx';
import { useParts, useProject, type Trace } from '../project-state/store.ts';

/** Under the sheet while somebody draws: what is asked for, exact input, and how to end. */
export function TraceBar() {
  const { traced, trace } = useParts('traced', 'trace');
  if (!traced) return null;
  const { course } = traced;
  const done = traced.places.length >= (course ? 2 : 3);
  return (
    <Flex {...AT_BOTTOM} py="7px" gap="8px" align="center" wrap="wrap" role="group" aria-label="drawing">
      <Box>
        {course?.most === 1
          ? `Point at ${traced.purpose}`
          : `${course ? 'Point out' : 'Click the corners of'} ${traced.purpose}: ${traced.places.length}`}
      </Box>
      {course?.most === 1 ? null : (
        <>
          <Act
            disabled={traced.places.length === 0}
            onClick={() => trace({ ...traced, places: traced.places.slice(0, -1) })}
          >
            Undo last point <Key>⌫</Key>
          </Act>
          <Act look="solid" disabled={!done} onClick={() => finishTrace()}>
            {course ? 'Finish' : 'Close'} <Key>Enter</Key>
          </Act>
        </>
      )}
      <Act onClick={() => trace(null)}>
        Cancel <Key>Esc</Key>
      </Act>
      {course ? <ExactInput traced={traced} /> : null}
    </Flex>
  );
}

/** Takes a place into what is drawn; one that needs no more is ended with it. */
export function addPlace(traced: Trace, place: Snapped): void {
  const { trace } = useProject.getState();
  const [first] = traced.places;
  if (traced.course?.closes && traced.places.length > 2 && place.x === first.x && place.y === first.y) {
    trace(null);
    traced.course.finish([...traced.places, first]);
    return;
  }
  const places = [...traced.places, place];
  if (traced.course?.most && places.length >= traced.course.most) {
    trace(null);
    traced.course.finish(places);
  } else trace({ ...traced, places });
}

export function finishTrace(): void {
  const { traced, trace } = useProject.getState();
  if (!traced || traced.places.length < (traced.course ? 2 : 3)) return;
  trace(null);
  if (traced.course) traced.course.finish(traced.places);
  else traced.finish(traced.places.flatMap((p) => [p.x, p.y]));
}

type Mode = 'polar' | 'side' | 'place' | 'number';
const MODES: Record<Mode, string> = {
  polar: 'distance and bearing',
  side: 'along and offset',
  place: 'coordinates',
  number: 'point number',
};

/** The only used point with a number, or why there is none. */
function pointNumbered({ points }: Tables, number: string): { row: number } | { problem: string } {
  let found = -1;
  for (let row = 0; row < points.x.length; row++) {
    if (points.state[row] !== STATE.used || points.number.get(row) !== number) continue;
    if (found >= 0) return { problem: `Several points have the number ${number}: point at the one that is meant.` };
    found = row;
  }
  return found < 0 ? { problem: `No point that is used has the number ${number}.` } : { row: found };
}

/** A place by distance and bearing from the last one, or along and beside the last side, by its coordinates or by a point's number. */
function ExactInput({ traced }: { traced: Trace }) {
  const { state, tables, tell } = useParts('state', 'tables', 'tell');
  const { unit, angle, order, angleDecimals } = state!.document.settings;
  const [mode, setMode] = useState<Mode>(traced.course?.most === 1 ? 'place' : 'polar');
  const [a, setA] = useState('');
  const [b, setB] = useState('');
  const sign = UNIT_SIGN[unit];
  const last = traced.places.at(-1);
  const before = traced.places.at(-2);
  const names = {
    polar: [`distance ${sign}`, 'bearing'],
    side: [`along ${sign}`, `to the right ${sign}`],
    place: order === 'EN' ? [`E ${sign}`, `N ${sign}`] : [`N ${sign}`, `E ${sign}`],
    number: ['number'],
  }[mode];
  // One place has no last one to measure from; what is pointed at freely is no point.
  const modes: Mode[] = traced.course?.most === 1 ? ['place'] : ['polar', 'side', 'place'];
  if (!traced.course?.free) modes.push('number');
  const bearing = mode === 'polar' && b ? readAngle(b, angle) : null;
  const add = (): void => {
    if (mode === 'number') {
      const at = pointNumbered(tables!, a.trim());
      if ('problem' in at) return tell(at.problem);
      const { x, y } = tables!.points;
      return take({ x: x[at.row], y: y[at.row], by: 'point', row: at.row });
    }
    const [p, q] = [readLength(a, unit), mode === 'polar' ? null : readLength(b || '0', unit)];
    if (!p.ok) return tell(p.reason);
    if (q && !q.ok) return tell(q.reason);
    if (mode === 'place') {
      const [x, y] = order === 'EN' ? [p.metres, q!.ok ? q!.metres : 0] : [q!.ok ? q!.metres : 0, p.metres];
      return take({ x, y, by: 'free', row: -1 });
    }
    if (!last) return tell('Point at a first place, or type its coordinates.');
    if (mode === 'polar') {
      if (!bearing?.ok) return tell(bearing ? bearing.reason : 'Type a bearing from north.');
      const [x, y] = [last.x + p.metres * Math.sin(bearing.radians), last.y + p.metres * Math.cos(bearing.radians)];
      return take({ x, y, by: 'free', row: -1 });
    }
    if (!before) return tell('Along and offset are measured from a side: point at two places first.');
    const length = Math.hypot(last.x - before.x, last.y - before.y);
    if (length === 0) return tell('The last side has no length.');
    const [ux, uy] = [(last.x - before.x) / length, (last.y - before.y) / length];
    const across = q!.ok ? q!.metres : 0;
    take({ x: last.x + p.metres * ux + across * uy, y: last.y + p.metres * uy - across * ux, by: 'free', row: -1 });
  };
  const take = (place: Snapped): void => {
    setA('');
    setB('');
    addPlace(traced, place);
  };
  return (
    <Flex
      as="form"
      gap="6px"
      align="center"
      wrap="wrap"
      onSubmit={(e) => {
        e.preventDefault();
        add();
      }}
    >
      {modes.map((m) => (
        <Act
          key={m}
          type="button"
          look={m === mode ? 'solid' : 'quiet'}
          aria-pressed={m === mode}
          onClick={() => setMode(m)}
        >
          {MODES[m]}
        </Act>
      ))}
      <Field
        width="104px"
        numeric={mode !== 'number'}
        placeholder={names[0]}
        aria-label={names[0]}
        value={a}
        onChange={(e) => setA(e.target.value)}
      />
      {names.length > 1 ? (
        <Field
          width="104px"
          numeric
          placeholder={names[1]}
          aria-label={names[1]}
          value={b}
          onChange={(e) => setB(e.target.value)}
        />
      ) : null}
      <Act type="submit" disabled={!a}>
        Add
      </Act>
      {bearing?.ok ? <Aside>{formatAngle(bearing.radians, angle, angleDecimals)}</Aside> : null}
      {before && last ? (
        <Aside>
          last side {formatLength(Math.hypot(last.x - before.x, last.y - before.y), unit, 2)} {sign}
        </Aside>
      ) : null}
    </Flex>
  );
}
