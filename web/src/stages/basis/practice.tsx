import type { Settings } from '#core/project';
import { Leaf } from '../../frame/controls.tsx';
import { Choice, Length, Sentence } from '../../frame/sentence.tsx';

interface PracticeChoice<K extends keyof Settings> {
  key: K;
  /** The sentence before and behind the choice. */
  before: string;
  options: readonly (readonly [Settings[K], string])[];
  after?: string;
}

const choice = <K extends keyof Settings>(c: PracticeChoice<K>): PracticeChoice<K> => c;

/** Where practice differs from office to office: each as a sentence, what is usual first. */
const CHOICES = [
  choice({
    key: 'orientationWeights',
    before: 'Backsights count in an orientation',
    options: [
      ['precision', 'by the precision of direction, centring and coordinates (1/σ²)'],
      ['length', 'by their length'],
      ['equal', 'all alike'],
    ],
  }),
  choice({
    key: 'distanceParts',
    before: 'The two parts of a distance’s deviation, a and b·D, add',
    options: [
      ['squares', 'as squares: √(a² + (b·D)²)'],
      ['sum', 'as they are: a + b·D'],
    ],
  }),
  choice({
    key: 'typedOrGnss',
    before: 'Where a number has typed coordinates and some by satellite,',
    options: [
      ['typed', 'the typed ones'],
      ['gnss', 'those by satellite'],
    ],
    after: 'are used',
  }),
  choice({
    key: 'gnssMean',
    before: 'Of several satellite readings of a point',
    options: [
      ['fixed', 'fixed ones alone are in the mean, where there is one'],
      ['all', 'all are in the mean'],
    ],
  }),
  choice({
    key: 'earth',
    before: 'The earth',
    options: [
      ['curved', 'is curved: curvature and refraction are applied'],
      ['plane', 'is taken as a plane'],
    ],
  }),
  choice({
    key: 'flatDistances',
    before: 'Level distances and rises whose book does not say it',
    options: [
      ['ask', 'are asked about'],
      ['geometric', 'are geometric: curvature and refraction are applied here'],
      ['reduced', 'have curvature and refraction in them already'],
    ],
  }),
] as const;

/** Choices of practice, changed in place; a book that states its own comes before them. */
export function Practice({
  settings: s,
  onSet,
}: {
  settings: Settings;
  onSet: (label: string, settings: Partial<Settings>) => void;
}) {
  return (
    <Leaf head="Practice" mb="8px" py="4px">
      {CHOICES.map((c) => (
        <Sentence key={c.key}>
          {c.before}
          <Choice
            name={c.before}
            value={s[c.key] as string}
            options={c.options}
            onChange={(value) => onSet(c.before, { [c.key]: value } as Partial<Settings>)}
          />
          {'after' in c ? c.after : ''}
        </Sentence>
      ))}
      <Sentence>
        Distances
        <Choice
          name="sea-level reduction of distances"
          value={s.seaLevel ? 'yes' : 'no'}
          options={[
            ['no', 'stay at the height they were measured at, before the project’s factor'],
            ['yes', 'are reduced to sea level before the project’s factor'],
          ]}
          onChange={(v) => onSet('sea-level reduction of distances', { seaLevel: v === 'yes' })}
        />
      </Sentence>
      <Length
        name="Instrument and target are centred over their marks within"
        after="(one standard deviation)"
        metres={s.centring}
        unit={s.unit}
        onSet={(centring) => onSet('centring', { centring })}
        min={0}
        max={0.1}
      />
      <Length
        name="Levelling one kilometre once leaves a standard deviation of"
        after=""
        metres={s.levelDeviation}
        unit={s.unit}
        onSet={(levelDeviation) => onSet('precision of levelling', { levelDeviation })}
        min={0.0001}
        max={1}
      />
    </Leaf>
  );
}
