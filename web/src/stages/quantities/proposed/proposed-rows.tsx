import { Box, Flex } from '@chakra-ui/react';
import type { ProposedRow } from '#core/project';
import type { Summary } from '#contract';
import { Act, Aside } from '../../../frame/controls.tsx';
import { Changing, InPlace } from '../../../project-state/changing.tsx';
import { useParts } from '../../../project-state/store.ts';
import { OffsetFields } from './offset-fields.tsx';
import { PadFields } from './pad-fields.tsx';
import { Propose } from './propose.tsx';
import { StripFields } from './strip-fields.tsx';

type Told = NonNullable<Summary['surfaces'][number]['account']['proposed']>[number];

/** What is proposed, part by part in the order in which it is laid into the ground. */
export function ProposedRows({ surface, rows }: { surface: string; rows: readonly ProposedRow[] }) {
  const { tables, make, busy } = useParts('tables', 'make', 'busy');
  const account = tables!.summary.surfaces.find((s) => s.id === surface)?.account.proposed;
  const put = (row: ProposedRow, at?: number): void => void make({ op: 'surface.row', surface, row, at });
  /** Parts laid into the same ground before one, those on the plane of points at the plane that they have. */
  const before = (i: number): ProposedRow[] =>
    rows.slice(0, i).filter((r) => r.on && r.surface === rows[i].surface).map((r) => resolved(r, account)); // prettier-ignore
  return (
    <Box mb="12px" fontSize="13px">
      {rows.map((row, i) => {
        const told = account?.find((a) => a.row === row.id);
        return (
          <Box key={row.id} mb="8px" pt={i ? '8px' : 0} borderTop={i ? '1px solid' : undefined} borderColor="rule">
            <InPlace>
              <Fields
                surface={surface}
                row={row}
                before={before(i)}
                told={told}
                set={(to) => put({ ...row, ...to } as ProposedRow)}
              />
            </InPlace>
            {told?.ok === false ? (
              <Aside display="block" color="brass">
                {told.reason}
              </Aside>
            ) : null}
            {rows.length > 1 ? (
              <Changing>
                <Flex gap="4px" align="center" mt="4px">
                  <Act
                    look="quiet"
                    aria-label={`earlier: part ${i + 1}`}
                    disabled={busy || i === 0}
                    onClick={() => put(row, i - 1)}
                  >
                    Earlier
                  </Act>
                  <Act
                    look="quiet"
                    aria-label={`later: part ${i + 1}`}
                    disabled={busy || i === rows.length - 1}
                    onClick={() => put(row, i + 1)}
                  >
                    Later
                  </Act>
                  <Act
                    look="quiet"
                    aria-label={`delete part ${i + 1}`}
                    disabled={busy}
                    onClick={() => void make({ op: 'surface.rowRemove', surface, id: row.id })}
                  >
                    Delete
                  </Act>
                </Flex>
              </Changing>
            ) : null}
          </Box>
        );
      })}
      <Changing>
        <Flex gap="8px" align="center">
          <Propose into={surface} />
          <Aside>laid into the ground as the parts before it leave it</Aside>
        </Flex>
      </Changing>
    </Box>
  );
}

function resolved(row: ProposedRow, account: readonly Told[] | undefined): ProposedRow {
  if (row.kind !== 'pad' || !row.through) return row;
  const told = account?.find((a) => a.row === row.id);
  const { through: _, ...plain } = row;
  return told?.ok && told.through ? { ...plain, levelAt: 'centre', level: told.through.level, gradient: told.through.gradient, direction: told.through.direction } : plain; // prettier-ignore
}

interface FieldsShape {
  surface: string;
  row: ProposedRow;
  before: readonly ProposedRow[];
  told: Told | undefined;
  set: (to: Partial<ProposedRow>) => void;
}

function Fields({ surface, row, before, told, set }: FieldsShape) {
  if (row.kind === 'strip') return <StripFields row={row} before={before} set={set} />;
  if (row.kind === 'offset') return <OffsetFields row={row} own={surface} set={set} />;
  return <PadFields row={row} fitted={told?.ok ? told.through : undefined} before={before} set={set} />;
}
