import { Box, Flex } from '@chakra-ui/react';
import { useMemo, type ReactNode } from 'react';
import type { SavedLayout } from '#contract';
import { tagsOf, type BookLayout, type RowRule } from '#core/book';
import { SEPARATOR_NAME } from '#core/exchange';
import { FILE_UNITS, UNIT_NAME } from '#core/measure';
import { Field, Leaf } from '../frame/controls.tsx';
import { Choice } from '../frame/sentence.tsx';
import { KeptLayout, type KeptChoice } from './layout.tsx';
import { PlaceEditor, RuleEditor } from './book-row-rules.tsx';

const ANGLE_FORMS = [
  ['dms', 'degrees, minutes, seconds with signs between'],
  ['packed', 'degrees.minutesseconds, as 123.4506'],
  ['deg', 'decimal degrees'],
  ['gon', 'gon'],
] as const;

type Separator = BookLayout['separator'];
const STANDS: readonly (readonly [Separator | 'fixed', string])[] = [
  ...(Object.keys(SEPARATOR_NAME) as Separator[]).map((s) => [s, `separated by ${SEPARATOR_NAME[s]}`] as const),
  ['fixed', 'in fixed columns'],
];

/** A word and the control that it names: they never part at the end of a line. */
function Said({ word, children }: { word: string; children: ReactNode }) {
  return (
    <Flex gap="6px" align="center" whiteSpace="nowrap" minWidth="0">
      {word}
      {children}
    </Flex>
  );
}

interface Props {
  layout: BookLayout;
  setLayout: (layout: BookLayout) => void;
  sample: string[];
}

/** How rows of a table, or of tagged text, become records: said once on a sample, with the sample in view. */
export function BookLayoutEditor({
  layout,
  setLayout,
  sample,
  layouts,
  proposed,
  setProposed,
}: Props & { layouts: SavedLayout[]; proposed: KeptChoice | null; setProposed: (kept: KeptChoice | null) => void }) {
  const rows = sample.slice(layout.skipRows);
  // eslint-disable-next-line react-hooks/exhaustive-deps -- rows are cut from the sample by the layout
  const tags = useMemo(() => tagsOf(rows, layout), [sample, layout]);
  const first = rows.find((r) => r.trim() !== '') ?? '';
  const set = (part: Partial<BookLayout>): void => setLayout({ ...layout, ...part });
  const setRule = (rule: RowRule): void => {
    const same = (r: RowRule): boolean => r.tag.toUpperCase() === rule.tag.toUpperCase();
    set({ rows: layout.rows.some(same) ? layout.rows.map((r) => (same(r) ? rule : r)) : [...layout.rows, rule] });
  };
  const shown: { tag: string; count: number; sample: string }[] = layout.tag
    ? tags
    : [{ tag: '', count: rows.filter((r) => r.trim() !== '').length, sample: first }];
  return (
    <>
      <Leaf head="How its rows become records" mb="10px" pb="8px">
        <Flex gap="8px" wrap="wrap" align="center" px="12px" pt="4px">
          <Said word="saved layout">
            <KeptLayout
              layouts={layouts.filter((l) => 'split' in l.layout)}
              proposed={proposed}
              onPick={(kept) => {
                setProposed(kept ? { id: kept.id, name: kept.name, alike: false } : null);
                if (kept && 'split' in kept.layout) setLayout(kept.layout);
              }}
            />
          </Said>
          {proposed?.alike ? <Box color="pine">its files began like this one</Box> : null}
        </Flex>
        <Flex gap="8px" wrap="wrap" align="center" px="12px" pt="6px">
          <Said word="fields stand">
            <Choice
              name="how fields stand"
              value={layout.split === 'fixed' ? 'fixed' : layout.separator}
              options={STANDS}
              onChange={(how) =>
                how === 'fixed' ? setLayout(inFixedColumns(layout, first)) : set({ split: 'separator', separator: how })
              }
            />
          </Said>
          <Said word="decimal">
            <Choice
              name="decimal sign"
              value={layout.decimal}
              options={[
                ['.', 'point'],
                [',', 'comma'],
              ]}
              onChange={(decimal) => set({ decimal })}
            />
          </Said>
          <Said word="lengths in">
            <Choice
              name="unit of the file"
              value={layout.unit}
              options={FILE_UNITS.map((u) => [u, UNIT_NAME[u]] as const)}
              onChange={(unit) => set({ unit })}
            />
          </Said>
          <Said word="rows to skip">
            <Field
              numeric
              type="number"
              min={0}
              max={100000}
              width="64px"
              aria-label="rows to skip"
              value={layout.skipRows}
              onChange={(e) => set({ skipRows: Math.max(0, Math.floor(Number(e.target.value) || 0)) })}
            />
          </Said>
        </Flex>
        <Flex gap="8px" wrap="wrap" align="center" px="12px" pt="6px">
          <Said word="angles are">
            <Choice
              name="form of angles"
              value={layout.angle}
              options={ANGLE_FORMS}
              onChange={(angle) => set({ angle })}
            />
          </Said>
          <Said word="vertical ones">
            <Choice
              name="vertical angles"
              value={layout.vertical}
              options={[
                ['zenith', 'from the zenith'],
                ['elevation', 'from the horizon'],
              ]}
              onChange={(vertical) => set({ vertical })}
            />
          </Said>
          <Said word="the backsight of a setup is">
            <Choice
              name="which sighting is the backsight"
              value={layout.backsight}
              options={[
                ['first', 'its first sighting'],
                ['said', 'as rows say'],
              ]}
              onChange={(backsight) => set({ backsight })}
            />
          </Said>
        </Flex>
        <Flex gap="8px" wrap="wrap" align="center" px="12px" pt="6px">
          the type of a row stands
          <PlaceEditor
            label="type of a row"
            place={layout.tag}
            fixed={layout.split === 'fixed'}
            onChange={(tag) => set({ tag, rows: tag ? layout.rows : layout.rows.slice(0, 1) })}
          />
        </Flex>
      </Leaf>
      {shown.map((t) => (
        <RuleEditor
          key={t.tag}
          rule={
            layout.rows.find((r) => r.tag.toUpperCase() === t.tag.toUpperCase()) ?? {
              tag: t.tag,
              kind: 'skip',
              fields: [],
            }
          }
          count={t.count}
          sample={t.sample}
          layout={layout}
          onChange={setRule}
          onForAll={
            shown.length > 1
              ? (fields) =>
                  set({
                    rows: sameFields(layout, shown, t.tag, fields),
                  })
              : null
          }
        />
      ))}
    </>
  );
}

/** Where the words of the sample stand, as a beginning for fixed columns. */
function inFixedColumns(layout: BookLayout, sample: string): BookLayout {
  const words = Array.from(sample.matchAll(/\S+/g), (m) => ({ from: m.index, to: m.index + m[0].length }));
  const isWord = /^[A-Za-z]/.test(sample);
  return {
    ...layout,
    split: 'fixed',
    tag: layout.tag || isWord ? { from: 0, to: words[0]?.to ?? 2 } : null,
    rows: layout.rows.map((r) => ({ ...r, fields: [] })),
  };
}

const SIGHTINGS = new Set(['back', 'shot', 'check']);

/**
 * The fields of one type of row for every type that is the same kind of thing: sightings share their places, a setup
 * keeps its own, and a type that becomes nothing stays so.
 */
function sameFields(
  layout: BookLayout,
  shown: readonly { tag: string }[],
  from: string,
  fields: RowRule['fields'],
): RowRule[] {
  const ruleOf = (tag: string): RowRule => layout.rows.find((r) => r.tag === tag) ?? { tag, kind: 'skip', fields: [] };
  const { kind } = ruleOf(from);
  const alike = (k: RowRule['kind']): boolean => k === kind || (SIGHTINGS.has(k) && SIGHTINGS.has(kind));
  return shown.map(({ tag }) => {
    const rule = ruleOf(tag);
    return alike(rule.kind) ? { ...rule, fields } : rule;
  });
}
