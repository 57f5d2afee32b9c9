import { Box } from '@chakra-ui/react';
import type { Settings } from '#core/project';
import type { QueryKind } from '#core/queries';
import { formatLength, UNIT_SIGN } from '#core/measure';
import { Act, Aside, Leaf, Line, Num } from '../../frame/controls.tsx';
import { smallAngle } from '../../frame/small-angle.ts';
import { Choice, Length, numberWithin, Sentence, Typed } from '../../frame/sentence.tsx';
import { Practice } from './practice.tsx';
import { useCanChange } from '../../project-state/can.ts';
import { goToQuery } from '../../cards/queries.tsx';
import { openQueries, useParts } from '../../project-state/store.ts';

type ToleranceKey =
  | 'checkPlan'
  | 'checkHeight'
  | 'angleSpread'
  | 'refraction'
  | 'gnssPlan'
  | 'gnssHeight'
  | 'gnssPdop'
  | 'gnssSatellites'
  | 'gnssTilt'
  | 'levelClosure'
  | 'traverseRatio'
  | 'fitOutlier'
  | 'pairReach'
  | 'coincidence'
  | 'spike'
  | 'longestSide'
  | 'sagitta';

interface Tolerance {
  key: ToleranceKey;
  short: string;
  before: string;
  after: string;
  used: string;
  min: number;
  max: number;
  /** What is typed: a length unless said; a small angle is typed in seconds or milligon, its limits are radians. */
  form?: 'number' | 'whole' | 'angle' | 'degrees';
  /** Kinds of queries that say what stands outside it. */
  kinds: QueryKind[];
}

export const TOLERANCES: Tolerance[] = [
  {
    key: 'checkPlan',
    short: 'checks in plan',
    before: 'A point with the number of a control point may differ from it in plan by',
    after: '',
    used: 'Basis: checks against control, whether a file stands on another basis; Book: backsights and checks in plan',
    min: 0.001,
    max: 10,
    kinds: [
      'control-known',
      'other-unit',
      'mirrored',
      'shifted',
      'other-basis',
      'held-back',
      'backsight-off',
      'backsight-wrong',
      'station-wrong',
      'control-wrong',
      'circle-wrong',
      'distance-wrong',
      'sights-disagree',
      'network-outlier',
      'check-off',
    ],
  },
  {
    key: 'checkHeight',
    short: 'checks in height',
    before: 'and in height by at most',
    after: '',
    used: 'Basis: checks against control; Book: backsights and checks in height; Ground: breaklines that meet',
    min: 0.001,
    max: 10,
    kinds: ['control-known', 'instrument-height', 'target-height', 'control-wrong', 'place-twice', 'check-off'],
  },
  {
    key: 'angleSpread',
    short: 'spread of readings',
    before: 'Repeated readings of one target may differ by',
    after: '',
    used: 'Book: faces and rounds, weights of backsights',
    min: 1e-7,
    max: 0.01,
    form: 'angle',
    kinds: ['readings-spread'],
  },
  {
    key: 'refraction',
    short: 'refraction',
    before: 'The coefficient of refraction is',
    after: 'of the earth’s curvature',
    used: 'Book: heights from zenith angles',
    min: -2,
    max: 2,
    form: 'number',
    kinds: [],
  },
  {
    key: 'gnssPlan',
    short: 'satellites in plan',
    before: 'A position by satellite is asked about beyond a standard deviation of',
    after: 'in plan',
    used: 'Book: GNSS shots',
    min: 0.001,
    max: 10,
    kinds: ['gnss-poor'],
  },
  {
    key: 'gnssHeight',
    short: 'satellites in height',
    before: 'and beyond one of',
    after: 'in height',
    used: 'Book: GNSS shots',
    min: 0.001,
    max: 10,
    kinds: ['gnss-poor'],
  },
  {
    key: 'gnssPdop',
    short: 'dilution of satellites',
    before: 'or a dilution of position (PDOP) beyond',
    after: '',
    used: 'Book: GNSS shots',
    min: 1,
    max: 100,
    form: 'number',
    kinds: ['gnss-poor'],
  },
  {
    key: 'gnssSatellites',
    short: 'number of satellites',
    before: 'or fewer satellites than',
    after: '',
    used: 'Book: GNSS shots',
    min: 0,
    max: 60,
    form: 'whole',
    kinds: ['gnss-poor'],
  },
  {
    key: 'gnssTilt',
    short: 'tilt of the pole',
    before: 'or a pole tilted by more than',
    after: '',
    used: 'Book: GNSS shots',
    min: 0,
    max: 1.57,
    form: 'degrees',
    kinds: ['gnss-poor'],
  },
  {
    key: 'levelClosure',
    short: 'misclosure of levelling',
    before: 'A level run closes on one kilometre within',
    after: 'and on longer ones within that times the square root of the kilometres',
    used: 'Book: level runs',
    min: 0.0001,
    max: 1,
    kinds: ['level-misclosure'],
  },
  {
    key: 'traverseRatio',
    short: 'misclosure of traverses',
    before: 'A traverse closes within one part in',
    after: 'of its length',
    used: 'Book: traverses',
    min: 100,
    max: 1_000_000,
    form: 'whole',
    kinds: ['traverse-misclosure'],
  },
  {
    key: 'fitOutlier',
    short: 'residuals of fits',
    before: 'A residual of a fit is marked from',
    after: 'times its standard deviation on',
    used: 'Basis: local to grid',
    min: 1,
    max: 10,
    form: 'number',
    kinds: [],
  },
  {
    key: 'pairReach',
    short: 'two levels',
    before: 'Two levels of one place lie within',
    after: 'in plan',
    used: 'Lines: pairs and pipe runs',
    min: 0.001,
    max: 10,
    kinds: ['pair-wrong'],
  },
  {
    key: 'coincidence',
    short: 'coincident points',
    before: 'Points closer in plan than',
    after: 'are one point in a surface',
    used: 'Ground: what comes in',
    min: 0,
    max: 10,
    kinds: [],
  },
  {
    key: 'longestSide',
    short: 'longest side',
    before: 'No triangle at the rim has a side longer than',
    after: '',
    used: 'Ground: rim',
    min: 0.1,
    max: 1e6,
    kinds: [],
  },
  {
    key: 'spike',
    short: 'spikes and holes',
    before: 'A point that differs from its neighbours by more than',
    after: 'is asked about',
    used: 'Ground: spikes and holes',
    min: 0.001,
    max: 1e4,
    kinds: ['spike'],
  },
  {
    key: 'sagitta',
    short: 'chords of arcs',
    before: 'Chords are off their arc by at most',
    after: 'in the ground',
    used: 'Ground: arcs; files that know no arcs',
    min: 0.001,
    max: 10,
    kinds: [],
  },
];

const DEGREES = 180 / Math.PI;

function toleranceText(t: Tolerance, value: number, s: Settings): string {
  if (t.form === 'number' || t.form === 'whole') return String(value);
  if (t.form === 'degrees') return `${Number((value * DEGREES).toFixed(1))}°`;
  if (t.form === 'angle') return `${Number((value * smallAngle(s).per).toFixed(2))} ${smallAngle(s).sign}`;
  return `${formatLength(value, s.unit, 4)} ${UNIT_SIGN[s.unit]}`;
}

/** A tolerance as a sentence whose value is typed. */
export function ToleranceValue({
  t,
  value,
  settings,
  onSet,
}: {
  t: Tolerance;
  value: number;
  settings: Settings;
  onSet: (value: number) => void;
}) {
  if (t.form === undefined)
    return (
      <Length
        name={t.before}
        after={t.after}
        metres={value}
        unit={settings.unit}
        onSet={onSet}
        min={t.min}
        max={t.max}
      />
    );
  const { per, sign } =
    t.form === 'angle'
      ? smallAngle(settings)
      : t.form === 'degrees'
        ? { per: DEGREES, sign: '°' }
        : { per: 1, sign: '' };
  return (
    <Sentence>
      {t.before}
      <Typed
        name={t.before}
        shown={String(Number((value * per).toFixed(3)))}
        read={numberWithin(
          Number((t.min * per).toPrecision(3)),
          Number((t.max * per).toPrecision(t.form === 'whole' ? 9 : 3)),
          t.form === 'whole',
        )}
        onSet={(v) => onSet(v / per)}
        width="64px"
      />
      {sign} {t.after}
    </Sentence>
  );
}

/** Which backsights are used without asking. */
export function BacksightRule({
  settings,
  onSet,
}: {
  settings: Settings;
  onSet: (settings: Partial<Settings>) => void;
}) {
  return (
    <Sentence>
      A backsight
      <Choice
        name="rule for backsights"
        value={settings.backsightRule}
        options={[
          ['within', 'within tolerance is used'],
          ['ask', 'always waits for a decision'],
        ]}
        onChange={(backsightRule) => onSet({ backsightRule })}
      />
    </Sentence>
  );
}

/** Every tolerance, where it is used, and what stands outside it now. A change is previewed: which queries go and come. */
export function Tolerances() {
  const { state, tables, propose } = useParts('state', 'tables', 'propose');
  const canChange = useCanChange();
  const s = state!.document.settings;
  const open = openQueries(tables!.summary.queries);
  const set = (t: Tolerance, value: number): void =>
    void propose(`${t.short}: ${toleranceText(t, value, s)}`, {
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
            {value === null ? (
              <Sentence>
                {t.before}: <b>no limit</b>
                <Act onClick={() => set(t, 30)}>Limit it</Act>
              </Sentence>
            ) : (
              <ToleranceValue t={t} value={value} settings={s} onSet={(v) => set(t, v)} />
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
      <Leaf mb="8px" py="4px">
        <BacksightRule
          settings={s}
          onSet={(settings) => void propose('rule for backsights', { op: 'settings.set', settings })}
        />
        <Line minHeight="22px">
          <Aside>used in Book: orientation of setups</Aside>
        </Line>
      </Leaf>
      <Practice settings={s} onSet={(label, settings) => void propose(label, { op: 'settings.set', settings })} />
      <Box px="12px" color="slate">
        Changing one shows what it would do before it is done: which queries go and which come. Accepted queries stay
        accepted while their evidence stays.
      </Box>
    </fieldset>
  );
}
