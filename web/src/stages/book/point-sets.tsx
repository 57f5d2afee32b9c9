import { Box, chakra, Flex, Grid } from '@chakra-ui/react';
import { useState } from 'react';
import { type PointSet } from '#core/project';
import { INKS } from '#core/codes';
import { fromMetres, METRES_IN, UNIT_SIGN } from '#core/measure';
import { Act, Aside, Field, Leaf, Num, Pick, Two } from '../../frame/controls.tsx';
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
  const { state, make, trace, traced, tell } = useParts('state', 'make', 'trace', 'traced', 'tell');
  const doc = state!.document;
  const { unit } = doc.settings;
  const { rule } = set;
  const put = (part: Partial<PointSet>): void => void make({ op: 'points.set', id: set.id, set: { ...set, ...part } });
  const with_ = (part: Partial<PointSet['rule']>): void => {
    const next = Object.fromEntries(Object.entries({ ...rule, ...part }).filter(([, v]) => v !== undefined));
    put({ rule: next });
  };
  const range = (
    name: string,
    now: readonly [number | string, number | string] | undefined,
    read: (text: string) => number | string | null,
    take: (pair: [never, never] | undefined) => void,
    show: (v: number | string) => string = String,
  ) => (
    <Two name={name}>
      <Flex gap="6px" align="center">
        {[0, 1].map((i) => (
          <Field
            key={`${i}${String(now)}`}
            width="96px"
            aria-label={`${name}, ${i === 0 ? 'from' : 'to'}`}
            placeholder={i === 0 ? 'from' : 'to'}
            disabled={disabled}
            defaultValue={now ? show(now[i]) : ''}
            data-pair={name}
            onBlur={(e) => {
              const both = [
                ...e.target.closest('[data-rule]')!.querySelectorAll<HTMLInputElement>(`[data-pair="${name}"]`),
              ].map((f) => f.value.trim());
              if (both.every((t) => t === '')) return now ? take(undefined) : undefined;
              if (both.some((t) => t === '')) return;
              const values = both.map(read);
              if (values.some((v) => v === null)) return tell(`“${both.join(' … ')}” is not a range of ${name}.`);
              if (JSON.stringify(values) !== JSON.stringify(now)) take(values as never);
            }}
          />
        ))}
      </Flex>
    </Two>
  );
  const number = (text: string): number | null =>
    Number.isFinite(Number(text.replace(',', '.'))) ? Number(text.replace(',', '.')) : null;
  return (
    <Grid templateColumns="auto 1fr" gap="5px 10px" p="2px 12px 10px" data-rule="">
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
      <Two name="files">
        <Flex gap="4px 12px" wrap="wrap">
          {doc.intakes
            .filter((i) => i.purpose === 'survey')
            .map((i) => (
              <chakra.label key={i.id} display="inline-flex" gap="5px" alignItems="center" fontSize="13px">
                <input
                  type="checkbox"
                  disabled={disabled}
                  checked={rule.files?.includes(i.id) ?? false}
                  onChange={(e) => {
                    const files = e.target.checked
                      ? [...(rule.files ?? []), i.id]
                      : (rule.files ?? []).filter((f) => f !== i.id);
                    with_({ files: files.length ? files : undefined });
                  }}
                />
                {i.fileName}
              </chakra.label>
            ))}
        </Flex>
      </Two>
      <Two name="codes">
        <Field
          key={String(rule.codes)}
          fontFamily="mono"
          aria-label="codes of the set"
          placeholder="KT BT* …"
          disabled={disabled}
          defaultValue={(rule.codes ?? []).join(' ')}
          onBlur={(e) => {
            const codes = e.target.value
              .toUpperCase()
              .split(/[\s,;]+/)
              .filter(Boolean);
            if (codes.join() !== (rule.codes ?? []).join()) with_({ codes: codes.length ? codes : undefined });
          }}
        />
      </Two>
      {range('numbers', rule.numbers, number, (numbers) => with_({ numbers }))}
      {range(
        `elevations ${UNIT_SIGN[unit]}`,
        rule.elevations,
        (t) => {
          const v = number(t);
          return v === null ? null : v * METRES_IN[unit];
        },
        (elevations) => with_({ elevations }),
        (v) => String(Number(fromMetres(Number(v), unit).toFixed(3))),
      )}
      {range(
        'dates',
        rule.dates,
        (t) => (/^\d{4}-\d{2}-\d{2}$/.test(t) ? t : null),
        (dates) => with_({ dates }),
      )}
      <Two name="area">
        <Flex gap="6px" align="center">
          <Act
            disabled={disabled || traced !== null}
            onClick={() =>
              trace({ purpose: `the area of ${set.name}`, places: [], finish: (ring) => with_({ area: ring }) })
            }
          >
            {rule.area ? 'Draw it again' : 'Draw it'}
          </Act>
          {rule.area ? (
            <Act look="quiet" disabled={disabled} onClick={() => with_({ area: undefined })}>
              Anywhere
            </Act>
          ) : null}
        </Flex>
      </Two>
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
