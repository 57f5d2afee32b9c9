import { Flex } from '@chakra-ui/react';
import { useState } from 'react';
import type { PadRow, ProjectDocument } from '#core/project';
import type { FittedPad } from '#core/stages';
import { Act, Aside, Field } from '../../../frame/controls.tsx';
import { useParts } from '../../../project-state/store.ts';
import type { Tables } from '../../../project-state/tables.ts';

interface ThroughPointsProps {
  row: PadRow;
  fitted: FittedPad | undefined;
  set: (to: Partial<PadRow>) => void;
}

/** The points that a pad's plane goes through, typed by their numbers; kept by their records, so that it follows them. */
export function ThroughPoints({ row, set }: ThroughPointsProps) {
  const { state, tables } = useParts('state', 'tables');
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState('');
  const [said, setSaid] = useState<string | null>(null);
  const take = (): void => {
    const found = pointKeys(state!.document, tables!, typed);
    if (typeof found === 'string') return setSaid(found);
    setSaid(null);
    setOpen(false);
    set({ through: found });
  };
  return (
    <Flex gap="6px" align="center" wrap="wrap" mt="6px">
      {open ? (
        <>
          Through points{' '}
          <Field
            autoFocus
            aria-label="numbers of the points that the pad goes through"
            placeholder="three or more numbers"
            height="24px"
            width="200px"
            maxLength={2000}
            value={typed}
            onChange={(e) => setTyped(e.target.value)}
            onKeyDown={(e) => {
              e.stopPropagation();
              if (e.key === 'Enter') take();
              if (e.key === 'Escape') setOpen(false);
            }}
          />
          <Act onClick={take}>Fit the plane</Act>
        </>
      ) : (
        <Act
          title="a plane by least squares; it follows them when they are measured anew"
          onClick={() => setOpen(true)}
        >
          {row.through ? 'Through other points …' : 'Through points …'}
        </Act>
      )}
      {row.through && !open ? <Act onClick={() => set({ through: null })}>By level and gradient</Act> : null}
      {said ? <Aside color="brass">{said}</Aside> : null}
    </Flex>
  );
}

/** Keys of points by numbers that are typed; or why they are none. */
export function pointKeys(doc: ProjectDocument, { points }: Pick<Tables, 'points'>, typed: string): string[] | string {
  const numbers = [...new Set(typed.split(/[\s,;]+/).filter(Boolean))];
  if (numbers.length < 3) return 'A plane goes through three points or more.';
  const keys: string[] = [];
  for (const number of numbers) {
    const rows: number[] = [];
    for (let r = 0; r < points.x.length && rows.length < 2; r++) if (points.number.get(r) === number) rows.push(r);
    if (rows.length === 0) return `There is no point ${number}.`;
    if (rows.length > 1) return `There are several points ${number}: give one of them another number first.`;
    const [r] = rows;
    if (Number.isNaN(points.z[r])) return `Point ${number} has no elevation.`;
    keys.push(`${doc.intakes[points.intake[r]].id}:${points.fileRow[r]}`);
  }
  return keys;
}
