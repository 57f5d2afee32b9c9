import { Box, chakra, Flex, Grid } from '@chakra-ui/react';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { isPublished } from '#core/basis';
import { WORD_PRESETS } from '#core/codes';
import { UNIT_NAME, type LengthUnit } from '#core/measure';
import { Act, Aside, Field, Leaf, Pick, Tick, Two } from '../../frame/controls.tsx';
import { api, problemText } from '../../frame/api.ts';
import { ColumnOrder } from '../../frame/column-order.tsx';
import { TextSigns } from '../../frame/text-signs.tsx';
import { saveFile, saveText } from '../../frame/download.ts';
import { plotSource } from '../../project-state/tables.ts';
import { useParts } from '../../project-state/store.ts';
import type { OutLayout } from '#contract';
import type { PointsFile } from '../../work/points-out.ts';
import { plotWork } from '../../work/workers.ts';
import { SaveLayout } from '../../intake/layout.tsx';

type Chosen = OutLayout & { set: string };

/** Points as a file for somebody else: which, in what order, in whose words; the first rows stand as they will be written. */
export function PointsOut() {
  const { state, tables, tell } = useParts('state', 'tables', 'tell');
  const doc = state!.document;
  const { settings, basis } = doc;
  const published = isPublished(basis.system);
  const [s, setAll] = useState<Chosen>({
    what: 'text',
    order: settings.order === 'EN' ? ['P', 'E', 'N', 'Z', 'D'] : ['P', 'N', 'E', 'Z', 'D'],
    separator: ',',
    decimal: '.',
    none: '',
    design: false,
    decimals: settings.decimals,
    unit: settings.unit,
    headings: true,
    system: 'grid',
    set: '',
    control: false,
    light: false,
    best: false,
    sorted: false,
    words: -1,
    ending: 'csv',
    sheet: false,
  });
  const set = (part: Partial<Chosen>): void => setAll({ ...s, ...part });
  const kept = useQuery({ queryKey: ['layouts'], queryFn: api.layouts });
  const recipients = (kept.data ?? []).flatMap((l) => ('out' in l.layout ? [{ ...l, out: l.layout.out }] : []));
  const [first, setFirst] = useState<PointsFile | null>(null);
  const written = (most?: number): Promise<PointsFile> => {
    const { set: chosen, words, ending: _, sheet, ...settings } = s;
    const rest = sheet
      ? { ...settings, separator: '\t' as const, decimal: '.' as const, none: '' as const, headings: true }
      : settings;
    return plotWork().pointsOut(
      plotSource(tables!, state!.project.id),
      doc,
      doc.pointSets.find((p) => p.id === chosen) ?? null,
      { ...rest, words: words < 0 ? null : WORD_PRESETS[words].words },
      most,
    );
  };
  useEffect(() => {
    let wanted = true;
    written(8).then(
      (made) => wanted && setFirst(made),
      () => undefined,
    );
    return () => {
      wanted = false;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `written` is made of these
  }, [s, doc, tables]);
  const base = `${state!.project.name}-points-r${tables!.revision}`;
  const [busy, setBusy] = useState(false);
  const saveSheet = async (text: string): Promise<void> => {
    setBusy(true);
    const numeric = s.order.map((c) => c === 'N' || c === 'E' || c === 'Z');
    await api.spreadsheet(state!.project.id, { name: 'Points', text, numeric }).then(
      (file) => saveFile(`${base}.xlsx`, file),
      (error: unknown) => tell(problemText(error)),
    );
    setBusy(false);
  };
  const save = async (): Promise<void> => {
    if (!first || first.count === 0) return tell('No point is chosen, so nothing was written.');
    if (s.what !== 'text' && s.system === 'geographic') return tell('A drawing holds lengths, not degrees. Choose grid or ground.'); // prettier-ignore
    const { text, readBack } = await written();
    if (!readBack.ok) return tell(`Nothing was written: read again, ${readBack.problems[0]}.`);
    if (s.what !== 'text') return saveText(`${base}.dxf`, text, 'image/vnd.dxf');
    if (s.sheet) return saveSheet(text);
    saveText(`${base}.${s.ending.replace(/[^A-Za-z0-9]/g, '') || 'txt'}`, text);
  };
  return (
    <Flex direction="column" gap="8px" flex="1" minHeight="0" overflow="auto">
      <Leaf head="Which points">
        <Grid templateColumns="auto 1fr" gap="5px 10px" p="2px 12px 10px">
          <Two name="chosen">
            <Flex gap="10px" wrap="wrap" align="center">
              <Pick aria-label="points of" value={s.set} onChange={(e) => set({ set: e.target.value })}>
                <option value="">every used point</option>
                {doc.pointSets.map((p) => (
                  <option key={p.id} value={p.id}>
                    {p.name}
                  </option>
                ))}
              </Pick>
              <Tick label="control too" on={s.control} set={(control) => set({ control })} />
              {doc.intakes.some((i) => i.purpose === 'design') ? (
                <Tick label="design points too" on={s.design} set={(design) => set({ design })} />
              ) : null}
              {tables!.points.light.includes(1) ? (
                <Tick label="ground-only points too" on={s.light} set={(light) => set({ light })} />
              ) : null}
            </Flex>
          </Two>
          <Two name="each number">
            <Pick
              aria-label="each number"
              value={s.best ? 'best' : 'all'}
              onChange={(e) => set({ best: e.target.value === 'best' })}
            >
              <option value="all">every measurement of it</option>
              <option value="best">its best: control before mean before single</option>
            </Pick>
          </Two>
          <Two name="in order">
            <Pick
              aria-label="order of rows"
              value={s.sorted ? 'number' : 'observed'}
              onChange={(e) => set({ sorted: e.target.value === 'number' })}
            >
              <option value="observed">as observed</option>
              <option value="number">by number</option>
            </Pick>
          </Two>
        </Grid>
      </Leaf>
      {recipients.length ? (
        <Flex gap="8px" align="center">
          As it was kept for
          <Pick
            aria-label="as it was kept for"
            value=""
            onChange={(e) => {
              const found = recipients.find((r) => r.id === e.target.value);
              if (found) set(found.out);
            }}
          >
            <option value="" disabled>
              choose …
            </option>
            {recipients.map((r) => (
              <option key={r.id} value={r.id}>
                {r.name}
                {r.team ? `, ${r.team}` : ''}
              </option>
            ))}
          </Pick>
        </Flex>
      ) : null}
      <Leaf head="How they are written">
        <Grid templateColumns="auto 1fr" gap="5px 10px" p="2px 12px 10px">
          <Two name="as">
            <Pick
              aria-label="written as"
              value={s.sheet ? 'sheet' : s.what}
              onChange={(e) => {
                const sheet = e.target.value === 'sheet';
                set({ what: sheet ? 'text' : (e.target.value as Chosen['what']), sheet });
              }}
            >
              <option value="text">text, a row a point</option>
              <option value="sheet">a spreadsheet, a row a point</option>
              <option value="drawing">a drawing: points with their number and code as text</option>
              <option value="symbols">a drawing: symbols with their attributes</option>
              <option value="texts">a drawing: number and code as text alone</option>
            </Pick>
          </Two>
          {s.what === 'text' ? (
            <>
              <Two name="columns">
                <ColumnOrder order={s.order} onChange={(order) => set({ order })} />
              </Two>
              {s.sheet ? null : (
                <Two name="separated by">
                  <Flex gap="10px" align="center" wrap="wrap">
                    <TextSigns label="separated by" signs={s} onChange={set} />
                    <Tick label="a heading row" on={s.headings} set={(headings) => set({ headings })} />
                    <chakra.label display="inline-flex" gap="6px" alignItems="center" fontSize="13px">
                      file ending
                      <Field
                        width="64px"
                        aria-label="file ending"
                        value={s.ending}
                        maxLength={8}
                        onChange={(e) => set({ ending: e.target.value })}
                      />
                    </chakra.label>
                  </Flex>
                </Two>
              )}
            </>
          ) : null}
          <Two name="lengths in">
            <Flex gap="10px" align="center" wrap="wrap">
              <Pick
                aria-label="lengths in"
                value={s.unit}
                onChange={(e) => set({ unit: e.target.value as LengthUnit })}
              >
                {(['m', 'ft', 'usft'] as const).map((u) => (
                  <option key={u} value={u}>
                    {UNIT_NAME[u]}
                  </option>
                ))}
              </Pick>
              <chakra.label display="inline-flex" gap="6px" alignItems="center" fontSize="13px">
                decimals
                <Field
                  width="48px"
                  numeric
                  aria-label="decimals"
                  value={s.decimals}
                  onChange={(e) => /^[0-6]$/.test(e.target.value) && set({ decimals: Number(e.target.value) })}
                />
              </chakra.label>
              <Pick
                aria-label="coordinates"
                value={s.system}
                onChange={(e) => set({ system: e.target.value as Chosen['system'] })}
              >
                <option value="grid">the project’s coordinates</option>
                {basis.base ? <option value="ground">ground lengths about the base point</option> : null}
                {published ? <option value="geographic">latitude and longitude</option> : null}
              </Pick>
            </Flex>
          </Two>
          <Two name="in the words">
            <Pick aria-label="in whose words" value={s.words} onChange={(e) => set({ words: Number(e.target.value) })}>
              <option value={-1}>as the crew typed them</option>
              {WORD_PRESETS.map((p, i) => (
                <option key={p.name} value={i}>
                  {p.name}
                </option>
              ))}
            </Pick>
          </Two>
        </Grid>
      </Leaf>
      <Flex gap="10px" align="center">
        <Act look="solid" disabled={busy} onClick={() => void save()}>
          {busy ? 'writing …' : 'Write the file'}
        </Act>
        <Aside>
          {first?.count ?? 0} {first?.count === 1 ? 'point' : 'points'}; read back before it leaves
        </Aside>
        <SaveLayout
          layout={{ out: keptOf(s) }}
          signature="out"
          about="for whom is it?"
          onSaved={() => void kept.refetch()}
        />
      </Flex>
      {first?.readBack.notes.map((note) => (
        <Aside key={note}>{note}</Aside>
      ))}
      {s.what === 'text' && first?.count ? (
        <Leaf head="The first rows as they will be written">
          <Box
            as="pre"
            m="0"
            px="12px"
            pb="10px"
            fontFamily="mono"
            fontSize="12px"
            overflowX="auto"
            aria-label="first rows"
          >
            {first.text.trimEnd()}
          </Box>
        </Leaf>
      ) : null}
    </Flex>
  );
}

/** What is kept for a recipient: all but which points. */
const keptOf = ({ set: _, ...out }: Chosen): OutLayout => out;
