import { Box, Flex } from '@chakra-ui/react';
import { create } from 'zustand';
import { groundOf, TINTED_BY, type ProjectDocument } from '#core/project';
import { Pick as Choice } from '../frame/controls.tsx';
import { useParts } from '../project-state/store.ts';
import { asLook, FIRST_LOOK, namedAs, readLook, useGroundLook, type GroundLook, type TintedBy } from './ground-look.ts';
import type { SecondSide } from './scene.ts';
import { BETWEEN } from './sides.ts';
import { TintLegend } from './tint-legend.tsx';

interface BesideStore {
  on: boolean;
  look: GroundLook;
  /** The surface of the second side, by project. */
  surface: Record<string, string>;
  set: (part: Partial<Kept>) => void;
}
type Kept = Pick<BesideStore, 'on' | 'look' | 'surface'>;

const KEY = 'dunrik.beside';
/** Another look than the first that the other side has. */
const OTHER_LOOK: GroundLook = { ...FIRST_LOOK, tintedBy: 'slope' };

function kept(): Kept {
  try {
    const read = JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<Kept>;
    return {
      on: read.on === true,
      look: readLook(JSON.stringify(read.look ?? OTHER_LOOK)),
      surface: read.surface ?? {},
    };
  } catch {
    return { on: false, look: OTHER_LOOK, surface: {} };
  }
}

/** Whether the drawing has a second side, and what that shows; kept on this machine. */
export const useBesideStore = create<BesideStore>((set, get) => ({
  ...kept(),
  set(part) {
    const { on, look, surface } = { ...get(), ...part };
    localStorage.setItem(KEY, JSON.stringify({ on, look, surface }));
    set({ on, look, surface });
  },
}));

/** The second side's surface: the one chosen, else the one that the first side shows. */
export function besideOf(
  doc: Pick<ProjectDocument, 'surfaces'>,
  chosen: string | undefined,
  shown: readonly string[],
): string {
  const ids = doc.surfaces.map((s) => s.id);
  if (chosen !== undefined && ids.includes(chosen)) return chosen;
  return shown[0] ?? groundOf(doc).id;
}

/** What the second side shows; null where there is one side alone. */
export function useSecondSide(shown: readonly string[]): SecondSide | null {
  const { id, state } = useParts('id', 'state');
  const { on, look, surface } = useBesideStore();
  return on && state ? { surface: besideOf(state.document, surface[id], shown), look } : null;
}

/** Over the second side: which surface it shows and how, and what its tints mean; with a line between the two. */
export function SecondSideHead({
  second,
  shown,
  tints,
  below = false,
}: {
  second: SecondSide;
  /** Surfaces of either side. */
  shown: readonly string[];
  tints: boolean;
  /** Under the view's buttons, where these reach over the first side. */
  below?: boolean;
}) {
  const { id, state } = useParts('id', 'state');
  const { surface, set } = useBesideStore();
  if (!state) return null;
  const { surfaces, drawing } = state.document;
  const looks = drawing.looks;
  const named = namedAs(looks, second.look);
  const take = (value: string): void => {
    const chosen = looks.find((l) => `look ${l.id}` === value);
    set({ look: chosen ? asLook(chosen) : { ...FIRST_LOOK, tintedBy: value as TintedBy } });
  };
  return (
    <>
      <Box
        position="absolute"
        left={`calc(50% - ${BETWEEN / 2}px)`}
        top="0"
        bottom="0"
        width={`${BETWEEN}px`}
        bg="ink"
        pointerEvents="none"
        aria-hidden="true"
      />
      <Flex
        role="group"
        aria-label="second side"
        position="absolute"
        left="calc(50% + 12px)"
        top={below ? '48px' : '12px'}
        gap="6px"
        maxWidth="calc(50% - 24px)"
      >
        <Choice
          aria-label="surface of the second side"
          minWidth="0"
          flexShrink="1"
          value={second.surface}
          onChange={(e) => set({ surface: { ...surface, [id]: e.target.value } })}
        >
          {surfaces.map((s) => (
            <option key={s.id} value={s.id}>
              {s.name}
            </option>
          ))}
        </Choice>
        <Choice
          aria-label="look of the second side"
          minWidth="0"
          flexShrink="1"
          value={named ? `look ${named.id}` : second.look.tintedBy}
          onChange={(e) => take(e.target.value)}
        >
          {TINTED_BY.map((t) => (
            <option key={t} value={t}>{`tints by ${t}`}</option>
          ))}
          {looks.map((l) => (
            <option key={l.id} value={`look ${l.id}`}>
              {l.name}
            </option>
          ))}
        </Choice>
      </Flex>
      {tints ? <TintLegend surfaces={shown} look={second.look} /> : null}
    </>
  );
}

/** The legend of the first side, at its own edge. */
export function FirstLegend({ shown, split }: { shown: readonly string[]; split: boolean }) {
  const { look } = useGroundLook();
  return <TintLegend surfaces={shown} look={look} right={split ? 'calc(50% + 14px)' : '14px'} />;
}

/** The place under the cursor, on the side where the cursor is not. */
export function OtherCursor({ left, y }: { left: number; y: number }) {
  return (
    <Box
      position="absolute"
      style={{ transform: `translate(${left - 9}px, ${y - 9}px)` }}
      left="0"
      top="0"
      width="18px"
      height="18px"
      pointerEvents="none"
      aria-hidden="true"
      color="pole"
    >
      <svg width="18" height="18">
        <path d="M9 0V18M0 9H18" stroke="currentColor" strokeWidth="1.6" />
      </svg>
    </Box>
  );
}
