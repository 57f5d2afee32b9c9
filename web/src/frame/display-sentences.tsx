import { unitWithUsual, type Settings } from '#core/project';
import {
  ANGLE_NAME,
  AREA_NAME,
  AREA_UNITS,
  formatAngle,
  formatArea,
  formatChainage,
  formatFixed,
  LENGTH_UNITS,
  UNIT_NAME,
  type AngleForm,
  type ChainageForm,
} from '#core/measure';
import { Num } from './controls.tsx';
import { Choice, numberWithin, Sentence, Typed } from './sentence.tsx';

const DECIMALS = [0, 1, 2, 3, 4].map((d) => [d, String(d)] as const);

/** Units and display as sentences: of a project, of a team’s start settings, of a project about to begin. */
export function DisplaySentences({ settings: s, set }: { settings: Settings; set: (part: Partial<Settings>) => void }) {
  return (
    <>
      <Sentence>
        Lengths are in
        <Choice
          name="unit"
          value={s.unit}
          options={LENGTH_UNITS.map((u) => [u, UNIT_NAME[u]] as const)}
          onChange={(unit) => set(unitWithUsual(s, unit))}
        />
        with
        <Choice name="decimals" value={s.decimals} options={DECIMALS} onChange={(decimals) => set({ decimals })} />
        decimals in plan and
        <Choice
          name="decimals of elevations"
          value={s.elevationDecimals}
          options={DECIMALS}
          onChange={(elevationDecimals) => set({ elevationDecimals })}
        />
        in elevation,
        <Choice
          name="coordinate order"
          value={s.order}
          options={[
            ['EN', 'east before north'],
            ['NE', 'north before east'],
          ]}
          onChange={(order) => set({ order })}
        />
      </Sentence>
      <Sentence>
        Angles are in
        <Choice
          name="angle form"
          value={s.angle}
          options={(Object.keys(ANGLE_NAME) as AngleForm[]).map((a) => [a, ANGLE_NAME[a]] as const)}
          onChange={(angle) => set({ angle })}
        />
        to
        <Choice
          name="decimals of angles"
          value={s.angleDecimals}
          options={[
            [0, 'the second'],
            [1, 'a tenth of a second'],
            [2, 'a hundredth'],
          ]}
          onChange={(angleDecimals) => set({ angleDecimals })}
        />
        <Num color="slate">{formatAngle(2.1598449493, s.angle, s.angleDecimals)}</Num>
      </Sentence>
      <Sentence>
        Vertical angles count
        <Choice
          name="vertical angles"
          value={s.vertical}
          options={[
            ['zenith', 'from the zenith'],
            ['elevation', 'from the horizon'],
          ]}
          onChange={(vertical) => set({ vertical })}
        />
      </Sentence>
      <Sentence>
        Areas are in
        <Choice
          name="area unit"
          value={s.areaUnit}
          options={AREA_UNITS.map((a) => [a, AREA_NAME[a]] as const)}
          onChange={(areaUnit) => set({ areaUnit })}
        />
        <Num color="slate">{formatArea(12_345.6, s.areaUnit, s.unit)}</Num>
        and volumes in
        <Choice
          name="volume unit"
          value={s.volumeUnit}
          options={[
            ['m3', 'cubic metres'],
            ['yd3', 'cubic yards'],
          ]}
          onChange={(volumeUnit) => set({ volumeUnit })}
        />
        with
        <Choice
          name="decimals of volumes"
          value={s.volumeDecimals}
          options={DECIMALS.slice(0, 4)}
          onChange={(volumeDecimals) => set({ volumeDecimals })}
        />
      </Sentence>
      <Sentence>
        Chainage is read out
        <Choice
          name="chainage form"
          value={s.chainage}
          options={(
            [
              ['plain', 'as a plain length'],
              ['thousands', 'in thousands'],
              ['hundreds', 'in hundreds'],
            ] as const satisfies readonly (readonly [ChainageForm, string])[]
          ).map((c) => c)}
          onChange={(chainage) => set({ chainage })}
        />
        <Num color="slate">{formatChainage(376.302_5, s.unit, s.chainage, s.decimals)}</Num>
        and plots are drawn at 1 :
        <Typed
          name="plot scale"
          shown={formatFixed(s.plotScale, 0).replace(/\u2009/g, '')}
          read={numberWithin(10, 100_000, true)}
          onSet={(plotScale) => set({ plotScale })}
          width="68px"
        />
      </Sentence>
    </>
  );
}
