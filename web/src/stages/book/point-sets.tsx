import { Box, chakra, Flex, Grid } from '@chakra-ui/react';
import { useState } from 'react';
import { type PointSet } from '#core/project';
import { INKS } from '#core/codes';
import { Act, Aside, Field, Leaf, Num, Pick, Two } from '../../frame/controls.tsx';
import { PointRuleFields } from '../../cards/point-rule.tsx';
import { useParts } from '../../project-state/store.ts';
import { Empty } from '../../frame/ledger.tsx';
import { useSets } from '../../project-state/set-columns.ts';

/** Sets of points by rule and by hand: coloured or hidden on the drawing, and what goes out can be one of them. */
export function PointSets() {
  const { state, make, busy } = useParts('state', 'make', 'busy');
  const [open, setOpen] = useState<string | null>(null);
  const doc = state!.document;
  const members = useSets(doc.pointSets);
  const canEdit = !busy && (state!.project.role === 'owner' || state!.project.role === 'surveyor');
  const begin = async (): Promise<void> => {
    const id = crypto.randomUUID().slice(0, 8);
    const set: PointSet = {
      id,
      name: `Set ${doc.pointSets.length + 1}`,
      rule: {},
      byHandOnly: false,
      more: [],
      without: [],
      ink: null,
      hidden: false,
    };
    if (await make({ op: 'points.set', id, set })) setOpen(id);
  };
  return (
    <Flex direction="column" gap="8px" flex="1" minHeight="0" overflow="auto">
      <Box>
        <Act look="solid" disabled={!canEdit} onClick={() => void begin()}>
          Name a set
        </Act>
      </Box>
      {doc.pointSets.length === 0 ? (
        <Empty>
          A set is a named choice of points: by file, code, number, area, elevation or date, with points added or
          removed by hand. It can be coloured or hidden on the drawing, and be exported.
        </Empty>
      ) : null}
      {doc.pointSets.map((set) => (
        <Leaf key={set.id}>
          <Flex align="center" gap="10px" px="12px" minHeight="36px">
            <Act look="quiet" aria-expanded={open === set.id} onClick={() => setOpen(open === set.id ? null : set.id)}>
              <b>{set.name}</b>
            </Act>
            <Num>{members?.get(set.id)?.reduce((a, b) => a + b, 0) ?? '…'}</Num>
            <Aside>points</Aside>
            <Box flex="1" />
            <Pick
              aria-label={`ink of ${set.name}`}
              disabled={!canEdit}
              value={set.ink ?? ''}
              onChange={(e) =>
                void make({
                  op: 'points.set',
                  id: set.id,
                  set: { ...set, ink: (e.target.value || null) as PointSet['ink'] },
                })
              }
            >
              <option value="">own inks</option>
              {INKS.map((k) => (
                <option key={k}>{k}</option>
              ))}
            </Pick>
            <chakra.label display="inline-flex" gap="5px" alignItems="center" fontSize="13px">
              <input
                type="checkbox"
                disabled={!canEdit}
                checked={set.hidden}
                onChange={(e) => void make({ op: 'points.set', id: set.id, set: { ...set, hidden: e.target.checked } })}
              />
              hidden
            </chakra.label>
            <Act
              look="quiet"
              aria-label={`delete ${set.name}`}
              disabled={!canEdit}
              onClick={() => void make({ op: 'points.set', id: set.id, set: null })}
            >
              ×
            </Act>
          </Flex>
          {open === set.id ? <Rule set={set} disabled={!canEdit} /> : null}
        </Leaf>
      ))}
    </Flex>
  );
}

function Rule({ set, disabled }: { set: PointSet; disabled: boolean }) {
  const { make } = useParts('make');
  const put = (part: Partial<PointSet>): void => void make({ op: 'points.set', id: set.id, set: { ...set, ...part } });
  return (
    <Grid templateColumns="auto 1fr" gap="5px 10px" p="2px 12px 10px">
      <Two name="name">
        <Field
          key={set.name}
          aria-label="name of the set"
          disabled={disabled}
          defaultValue={set.name}
          onBlur={(e) =>
            e.target.value.trim() && e.target.value.trim() !== set.name && put({ name: e.target.value.trim() })
          }
        />
      </Two>
      <PointRuleFields of={set.name} rule={set.rule} disabled={disabled} onChange={(rule) => put({ rule })} />
      <Two name="by hand">
        <Flex gap="12px" align="center" wrap="wrap" fontSize="13px">
          <chakra.label display="inline-flex" gap="5px" alignItems="center">
            <input
              type="checkbox"
              disabled={disabled}
              checked={set.byHandOnly}
              onChange={(e) => put({ byHandOnly: e.target.checked })}
            />{' '}
            only by hand
          </chakra.label>
          <Aside>
            {set.more.length} more, {set.without.length} without; mark points in the table to add or remove them
          </Aside>
          {set.more.length + set.without.length ? (
            <Act look="quiet" disabled={disabled} onClick={() => put({ more: [], without: [] })}>
              By the rule alone
            </Act>
          ) : null}
        </Flex>
      </Two>
    </Grid>
  );
}
