import { Flex } from '@chakra-ui/react';
import { LABEL_PARTS } from '#core/codes';
import { formatLength, UNIT_SIGN } from '#core/measure';
import { Act, Aside, Num } from '../frame/controls.tsx';
import { Row, Section } from './card-frame.tsx';
import { useLevels } from '../project-state/levels.ts';
import { pick } from '../project-state/line-edit.ts';
import { useCanChange } from '../project-state/can.ts';
import { useParts } from '../project-state/store.ts';

/** The other level of a point’s place, and the depth between them. */
export function PairPart({ row }: { row: number }) {
  const { state, tables, select } = useParts('state', 'tables', 'select');
  const pair = useLevels()?.at.get(row);
  if (!pair || !tables || !state) return null;
  const { unit } = state.document.settings;
  const other = pair.upper === row ? pair.lower : pair.upper;
  return (
    <Section>
      <Aside display="block">two levels in one place</Aside>
      <Row name={pair.upper === row ? `${pair.lowerCode} below` : `${pair.code} above`}>
        {other < 0 ? (
          <span>typed depth</span>
        ) : (
          <Act look="quiet" onClick={() => select({ kind: 'point', row: other })}>
            {tables.points.number.get(other) || `row ${tables.points.fileRow[other]}`}
          </Act>
        )}
      </Row>
      <Row name={`depth ${UNIT_SIGN[unit]}`}>
        <Num>{formatLength(pair.top - pair.bottom, unit, 3)}</Num>
      </Row>
    </Section>
  );
}

/** Labels of a point on paper: each is moved by pointing at where its letters begin, or goes back to its corner. */
export function LabelPart({ row, pointKey }: { row: number; pointKey: string }) {
  const { state, tables, make, traced } = useParts('state', 'tables', 'make', 'traced');
  const doc = state!.document;
  const canChange = useCanChange();
  const { labels, moved } = doc.drawing;
  const parts = LABEL_PARTS.filter((p) => labels[p].on);
  if (parts.length === 0 || !canChange) return null;
  const { points } = tables!;
  const perMetre = 1000 / doc.settings.plotScale;
  return (
    <Section>
      <Aside display="block">labels on paper</Aside>
      <Flex wrap="wrap" gap="5px" mt="4px">
        {parts.map((part) => {
          const key = `${pointKey}:${part}`;
          return (
            <Flex key={part} gap="4px">
              <Act
                disabled={traced !== null}
                onClick={() =>
                  pick(
                    `where the ${part} label of ${points.number.get(row) || 'the point'} begins`,
                    (p) => void make({ op: 'drawing.label', key, to: [(p.x - points.x[row]) * perMetre, (p.y - points.y[row]) * perMetre].map((v) => Math.max(-500, Math.min(500, Math.round(v * 100) / 100))) as [number, number] }), // prettier-ignore
                    true,
                  )
                }
              >
                Move the {part}
              </Act>
              {key in moved ? (
                <Act look="quiet" onClick={() => void make({ op: 'drawing.label', key, to: null })}>
                  back to its corner
                </Act>
              ) : null}
            </Flex>
          );
        })}
      </Flex>
    </Section>
  );
}
