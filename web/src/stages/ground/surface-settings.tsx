import { chakra, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { SURFACE_ROLES, type ProjectDocument, type SurfaceRecipe } from '#core/project';
import { KEEP_RULES, type KeepRule } from '#core/terrain';
import { Act, Aside, Field, Leaf, Line } from '../../frame/controls.tsx';
import { Choice, Length, Sentence } from '../../frame/sentence.tsx';
import { InPlace } from '../../project-state/changing.tsx';
import { useParts } from '../../project-state/store.ts';

const KEEP_NAME: Record<KeepRule, string> = {
  first: 'the first stays',
  last: 'the last stays',
  mean: 'their mean stays',
  highest: 'the highest stays',
  lowest: 'the lowest stays',
};
const MEETING_NAME = [
  ['first', 'the first line counts'],
  ['mean', 'the mean counts'],
  ['highest', 'the highest counts'],
  ['lowest', 'the lowest counts'],
  ['code', 'the line whose code is listed first counts'],
] as const;

/** Name, use, longest side, coincidence and contours of one surface; what it does not say itself, the project says. */
export function SurfaceSettings({
  doc,
  recipe,
  contourProblem,
}: {
  doc: ProjectDocument;
  recipe: SurfaceRecipe;
  contourProblem: string | null;
}) {
  const { make, busy } = useParts('make', 'busy');
  const s = doc.settings;
  const set = (part: Partial<Omit<SurfaceRecipe, 'id' | 'rows'>>): void =>
    void make({ op: 'surface.edit', id: recipe.id, set: part });
  const asProject = (part: Partial<Omit<SurfaceRecipe, 'id' | 'rows'>>, own: boolean) =>
    own ? (
      <Act look="quiet" disabled={busy} onClick={() => set(part)}>
        As the project
      </Act>
    ) : (
      <Aside px="12px">as the project</Aside>
    );
  const longest = recipe.longestSide ?? s.longestSide ?? 'none';
  const interval = recipe.interval ?? s.contourInterval;
  return (
    <Leaf head="Settings" mt="-1px" pb="6px">
      <InPlace>
        <Sentence>
          Named
          <Name key={recipe.id} recipe={recipe} onSet={(name) => set({ name })} />
          and used as
          <Choice
            name="what the surface is for"
            value={recipe.role}
            options={SURFACE_ROLES.map((r) => [r, r] as const)}
            onChange={(role) => set({ role })}
            disabled={busy}
          />
        </Sentence>
        <Flex align="center" wrap="wrap">
          {longest === 'none' ? (
            <Sentence>
              Sides of any length.
              <Act onClick={() => set({ longestSide: s.longestSide ?? 30 })}>Limit them</Act>
            </Sentence>
          ) : (
            <>
              <Length
                name="No side longer than"
                after="unless it is a breakline"
                metres={longest}
                unit={s.unit}
                onSet={(longestSide) => set({ longestSide })}
                min={0.01}
                max={1e6}
              />
              <Act look="quiet" onClick={() => set({ longestSide: 'none' })}>
                No limit
              </Act>
            </>
          )}
          {asProject({ longestSide: null }, recipe.longestSide !== null)}
        </Flex>
        <Flex align="center" wrap="wrap">
          <Length
            name="Points are one within"
            after="in plan"
            metres={recipe.coincidence ?? s.coincidence}
            unit={s.unit}
            onSet={(coincidence) => set({ coincidence })}
            min={0}
            max={10}
          />
          {asProject({ coincidence: null }, recipe.coincidence !== null)}
        </Flex>
        <Sentence>
          Of them
          <Choice
            name="which of coincident points stays"
            value={recipe.keep ?? 'first'}
            options={KEEP_RULES.map((k) => [k, KEEP_NAME[k]] as const)}
            onChange={(keep) => set({ keep })}
            disabled={busy}
          />
          ; where breaklines meet at different elevations,
          <Choice
            name="elevation where breaklines meet"
            value={recipe.meeting ?? 'first'}
            options={MEETING_NAME}
            onChange={(meeting) => set({ meeting })}
            disabled={busy}
          />
        </Sentence>
        <Flex align="center" wrap="wrap">
          {interval === 'none' ? (
            <Sentence>
              No contours.
              <Act onClick={() => set({ interval: s.contourInterval })}>Draw them</Act>
            </Sentence>
          ) : (
            <>
              <Length
                name="Contours every"
                metres={interval}
                unit={s.unit}
                onSet={(to) => set({ interval: to })}
                min={0.001}
                max={1e4}
              />
              <Sentence px="0">
                an index contour every
                <chakra.select
                  aria-label="index contour every"
                  value={recipe.indexEvery ?? s.indexEvery}
                  onChange={(e) => set({ indexEvery: Number(e.target.value) })}
                  bg="leaf"
                  border="1px solid"
                  borderColor="slate"
                  borderRadius="3px"
                  height="26px"
                >
                  {[0, 2, 4, 5, 10].map((n) => (
                    <option key={n} value={n}>
                      {n === 0 ? 'never' : n}
                    </option>
                  ))}
                </chakra.select>
              </Sentence>
              <Act look="quiet" onClick={() => set({ interval: 'none' })}>
                No contours
              </Act>
            </>
          )}
          {interval === 'none' ? null : (
            <chakra.label display="inline-flex" gap="6px" alignItems="center" px="10px">
              <input
                type="checkbox"
                checked={recipe.smooth ?? false}
                disabled={busy}
                onChange={(e) => set({ smooth: e.target.checked })}
              />
              smoothed
            </chakra.label>
          )}
          {asProject({ interval: null, indexEvery: null }, recipe.interval !== null || recipe.indexEvery !== null)}
        </Flex>
        {contourProblem ? (
          <Line color="pole" role="alert">
            {contourProblem}
          </Line>
        ) : null}
      </InPlace>
    </Leaf>
  );
}

/** The name of a surface, taken on Enter or on leaving the field. */
function Name({ recipe, onSet }: { recipe: SurfaceRecipe; onSet: (name: string) => void }) {
  const [typed, setTyped] = useState<string | null>(null);
  const take = (): void => {
    const name = typed?.trim() ?? '';
    setTyped(null);
    if (name !== '' && name !== recipe.name) onSet(name);
  };
  return (
    <Field
      aria-label="name of the surface"
      width="230px"
      maxLength={120}
      value={typed ?? recipe.name}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={take}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === 'Enter') e.currentTarget.blur();
        if (e.key === 'Escape') setTyped(null);
      }}
    />
  );
}
