import { chakra, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { isPublished, systemLine } from '#core/basis';
import { DEFAULT_CODE_LIST } from '#core/codes';
import type { Settings, Start } from '#core/project';
import { Act, Aside, Leaf, Num } from '../frame/controls.tsx';
import { numberWithin, Sentence, Typed } from '../frame/sentence.tsx';
import { SystemFinder } from '../intake/system-finder.tsx';
import { BacksightRule, TOLERANCES, ToleranceValue } from '../stages/basis/tolerances.tsx';
import { Practice } from '../stages/basis/practice.tsx';
import { DisplaySentences } from '../frame/display-sentences.tsx';

/** Everything that a project begins with, shown and changed in place. */
export function StartSettings({
  start,
  onChange,
  fieldset = false,
}: {
  start: Start;
  onChange: (start: Start) => void;
  /** Read only. */
  fieldset?: boolean;
}) {
  const { settings: s, basis, codeList } = start;
  const set = (part: Partial<Settings>): void => onChange({ ...start, settings: { ...s, ...part } });
  const [choosing, setChoosing] = useState(false);
  const { words } = codeList;
  return (
    <chakra.fieldset disabled={fieldset} border="0" m="0" p="0" minWidth="0">
      <Leaf head="Units and display" mb="10px" pb="6px">
        <DisplaySentences settings={s} set={set} />
      </Leaf>
      <Leaf head="Where on earth" mb="10px" pb="6px">
        <Sentence>
          {isPublished(basis.system) ? (
            <span>
              Coordinates are on <b>{systemLine(basis.system)}</b>
            </span>
          ) : (
            <span>
              Coordinates are <b>local ground</b>
            </span>
          )}
          <Act type="button" onClick={() => setChoosing(!choosing)} aria-expanded={choosing}>
            {isPublished(basis.system) ? 'Another system …' : 'Choose a published system …'}
          </Act>
          {isPublished(basis.system) ? (
            <Act type="button" onClick={() => onChange({ ...start, basis: { ...basis, system: { kind: 'local' } } })}>
              Local ground
            </Act>
          ) : null}
        </Sentence>
        {choosing ? (
          <SystemFinder
            onLeave={() => setChoosing(false)}
            onChoose={(system) => {
              setChoosing(false);
              onChange({ ...start, basis: { ...basis, system } });
            }}
          />
        ) : null}
        <Sentence>
          The project scale factor is
          <Typed
            name="project scale factor"
            shown={String(basis.factor)}
            read={numberWithin(0.9, 1.1)}
            onSet={(factor) => onChange({ ...start, basis: { ...basis, factor } })}
            width="110px"
          />
          <Aside>length on the grid over length on the ground; 1 when nobody states one</Aside>
        </Sentence>
        {basis.geoid || basis.datumGrids.length ? (
          <Sentence color="slate">
            With the grids{' '}
            {[basis.geoid, ...basis.datumGrids]
              .map((g) => g?.name)
              .filter(Boolean)
              .join(', ')}
            .
          </Sentence>
        ) : null}
      </Leaf>
      <Leaf head="Code list and line words" mb="10px" pb="6px">
        <Sentence>
          <Num>{codeList.codes.length}</Num> codes
          {JSON.stringify(codeList) === JSON.stringify(DEFAULT_CODE_LIST) ? ' of our own list' : ''}; a line begins by
          <Num>{words.begin}</Num>, ends by <Num>{words.end}</Num>, closes by <Num>{words.close}</Num>, curves from
          <Num>{words.curveBegin}</Num> to <Num>{words.curveEnd}</Num>.
        </Sentence>
      </Leaf>
      <Leaf head="Tolerances" mb="10px" pb="6px">
        {TOLERANCES.map((t) => {
          const value = s[t.key];
          if (value === null) return null;
          return <ToleranceValue key={t.key} t={t} value={value} settings={s} onSet={(v) => set({ [t.key]: v })} />;
        })}
        <BacksightRule settings={s} onSet={set} />
      </Leaf>
      <Practice settings={s} onSet={(_, settings) => set(settings)} />
    </chakra.fieldset>
  );
}

/** What a start is, in a line. */
export function StartLine({ start }: { start: Start }) {
  const { settings: s, basis } = start;
  return (
    <Flex gap="6px" wrap="wrap">
      <Aside>
        {s.unit === 'm' ? 'metres' : s.unit === 'ft' ? 'international feet' : 'US survey feet'},{' '}
        {s.order === 'EN' ? 'east before north' : 'north before east'}, {systemLine(basis.system)}, factor{' '}
        {basis.factor}, {start.codeList.codes.length} codes, plots 1 : {s.plotScale}
      </Aside>
    </Flex>
  );
}
