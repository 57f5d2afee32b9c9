import { Box } from '@chakra-ui/react';
import type { QueryKind, Settings } from '#core/chain';
import { formatLength, UNIT_SIGN } from '#core/measure';
import { Act, Aside, Leaf, Line, Num } from '../../frame/controls.tsx';
import { Length, numberWithin, Sentence, Typed } from '../../frame/sentence.tsx';
import { useCanChange } from '../../project/can.ts';
import { goToQuery } from '../../project/queries.tsx';
import { openQueries, useProject } from '../../project/store.ts';

type ToleranceKey = 'checkPlan' | 'checkHeight' | 'fitOutlier' | 'coincidence' | 'spike' | 'longestSide' | 'sagitta';

interface Tolerance {
  key: ToleranceKey;
  short: string;
  before: string;
  after: string;
  used: string;
  min: number;
  max: number;
  plain?: boolean;
  /** Kinds of queries that say what stands outside it. */
  kinds: QueryKind[];
}

export const TOLERANCES: Tolerance[] = [
  {
    key: 'checkPlan',
    short: 'checks in plan',
    before: 'A point with the number of control may stand off it in plan by',
    after: '',
    used: 'Basis: checks against control; whether a file stands on another basis',
    min: 0.001,
    max: 10,
    kinds: ['control-known', 'other-unit', 'mirrored', 'shifted', 'other-basis', 'held-back'],
  },
  {
    key: 'checkHeight',
    short: 'checks in height',
    before: 'and in height by at most',
    after: '',
    used: 'Basis: checks against control',
    min: 0.001,
    max: 10,
    kinds: ['control-known'],
  },
  {
    key: 'fitOutlier',
    short: 'residuals of fits',
    before: 'A residual of a fit is marked from',
    after: 'times its standard deviation on',
    used: 'Basis: local to grid',
    min: 1,
    max: 10,
    plain: true,
    kinds: [],
  },
  {
    key: 'coincidence',
    short: 'coincident points',
    before: 'Points nearer to each other in plan than',
    after: 'are one point in a surface',
    used: 'Ground: what comes in',
    min: 0,
    max: 10,
    kinds: [],
  },
  {
    key: 'longestSide',
    short: 'longest side',
    before: 'Triangles at the rim end at sides longer than',
    after: '',
    used: 'Ground: rim',
    min: 0.1,
    max: 1e6,
    kinds: [],
  },
  {
    key: 'spike',
    short: 'spikes and holes',
    before: 'A point that stands off its neighbours by more than',
    after: 'is asked about',
    used: 'Ground: spikes and holes',
    min: 0.001,
    max: 1e4,
    kinds: ['spike'],
  },
  {
    key: 'sagitta',
    short: 'chords of arcs',
    before: 'Chords of arcs stand off the arc by at most',
    after: 'in the ground',
    used: 'Ground: arcs; files that know no arcs',
    min: 0.001,
    max: 10,
    kinds: [],
  },
];

/** Every tolerance, where it is used, and what stands outside it now. A change is previewed: which queries go and come. */
export function Tolerances() {
  const { state, tables, propose } = useProject();
  const canChange = useCanChange();
  const s = state!.document.settings;
  const open = openQueries(tables!.summary.queries);
  const set = (t: Tolerance, value: number): void =>
    void propose(`${t.short}: ${t.plain ? value : `${formatLength(value, s.unit, 4)} ${UNIT_SIGN[s.unit]}`}`, {
      op: 'settings.set',
      settings: { [t.key]: value } as Partial<Settings>,
    });
  return (
    <fieldset disabled={!canChange} style={{ border: 0, margin: 0, padding: 0, minWidth: 0 }}>
      {TOLERANCES.map((t) => {
        const outside = open.filter((q) => t.kinds.includes(q.kind));
        const value = s[t.key];
        return (
          <Leaf key={t.key} mb="8px" py="4px">
            {t.plain ? (
              <Sentence>
                {t.before}
                <Typed
                  name={t.before}
                  shown={String(value)}
                  read={numberWithin(t.min, t.max)}
                  onSet={(v) => set(t, v)}
                  width="64px"
                />
                {t.after}
              </Sentence>
            ) : value === null ? (
              <Sentence>
                {t.before}: <b>no limit</b>
                <Act onClick={() => set(t, 30)}>Limit it</Act>
              </Sentence>
            ) : (
              <Length
                name={t.before}
                after={t.after}
                metres={value}
                unit={s.unit}
                onSet={(v) => set(t, v)}
                min={t.min}
                max={t.max}
              />
            )}
            <Line minHeight="22px">
              <Aside>used in {t.used}</Aside>
              {t.kinds.length ? (
                outside.length ? (
                  <Act look="quiet" color="brass" onClick={() => goToQuery(outside[0])}>
                    <Num>{outside.length}</Num> outside now
                  </Act>
                ) : (
                  <Aside whiteSpace="nowrap">nothing outside</Aside>
                )
              ) : null}
            </Line>
          </Leaf>
        );
      })}
      <Box px="12px" color="slate">
        Changing one shows what it would do before it is done: which queries go and which come. Accepted queries stay
        accepted while their evidence stays.
      </Box>
    </fieldset>
  );
}
