import { Box, chakra, Flex } from '@chakra-ui/react';
import { create } from 'zustand';
import type { Ink, LineStyle } from '#core/codes';
import { groundOf, type ProjectDocument } from '#core/project';
import { Cut } from '../frame/controls.tsx';
import { useParts } from '../project-state/store.ts';

interface ShownStore {
  /** Surfaces that are drawn, by project; the ground until somebody chooses. */
  shown: Record<string, string[]>;
  /** The surface whose recipe is read. */
  current: Record<string, string>;
  show: (project: string, surfaces: string[]) => void;
  stand: (project: string, surface: string) => void;
}

const KEY = 'dunrik.surfaces';
const kept = ((): Pick<ShownStore, 'shown' | 'current'> => {
  const none = { shown: {}, current: {} };
  try {
    return { ...none, ...(JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<typeof none>) };
  } catch {
    return none;
  }
})();

export const useShownStore = create<ShownStore>((set, get) => {
  const keep = (part: Partial<ShownStore>): void => {
    set(part);
    const { shown, current } = get();
    localStorage.setItem(KEY, JSON.stringify({ shown, current }));
  };
  return {
    ...kept,
    show: (project, surfaces) => keep({ shown: { ...get().shown, [project]: surfaces } }),
    stand: (project, surface) => keep({ current: { ...get().current, [project]: surface } }),
  };
});

type Surfaces = Pick<ProjectDocument, 'surfaces'>;

/** Surfaces that are drawn, in the order of the document. */
export function shownSurfaces(doc: Surfaces, chosen: readonly string[] | undefined): string[] {
  const ids = doc.surfaces.map((s) => s.id).filter((id) => chosen?.includes(id));
  return chosen === undefined ? [groundOf(doc).id] : ids;
}

/** The surfaces that are drawn, and the one whose recipe is read; its drawing follows where one stands. */
export function useSurfacesShown(): {
  shown: string[];
  current: string;
  toggle: (id: string) => void;
  stand: (id: string) => void;
} | null {
  const { id, state } = useParts('id', 'state');
  const { shown, current, show, stand } = useShownStore();
  if (!state) return null;
  const doc = state.document;
  const drawn = shownSurfaces(doc, shown[id]);
  const at = doc.surfaces.some((s) => s.id === current[id]) ? current[id] : groundOf(doc).id;
  return {
    shown: drawn,
    current: at,
    toggle: (surface) => show(id, drawn.includes(surface) ? drawn.filter((s) => s !== surface) : [...drawn, surface]),
    stand: (surface) => {
      stand(id, surface);
      if (!drawn.includes(surface)) show(id, [...drawn, surface]);
    },
  };
}

// Told apart by ink and by the dashes of their index contours.
const INKS: readonly Ink[] = ['brass', 'lake', 'plum', 'moss', 'pine', 'slate'];
const STYLES: readonly LineStyle[] = ['solid', 'dashed', 'dash-dot', 'dotted'];

/** How a surface is drawn: the ground first, then the others in their order. */
export function surfaceLook(doc: Surfaces, id: string): { ink: Ink; style: LineStyle } {
  const ground = groundOf(doc).id;
  const at = id === ground ? 0 : 1 + doc.surfaces.filter((s) => s.id !== ground).findIndex((s) => s.id === id);
  return { ink: INKS[at % INKS.length], style: STYLES[at % STYLES.length] };
}

/** A short stroke as a surface's index contours are drawn. */
export function SurfaceStroke({ doc, id }: { doc: Surfaces; id: string }) {
  const { ink, style } = surfaceLook(doc, id);
  const dashes = { solid: undefined, dashed: '5 3', 'dash-dot': '7 4', dotted: '1.5 3', 'long-dashed': '9 3' }[style];
  return (
    <chakra.svg width="22px" height="10px" flexShrink="0" color={ink} aria-hidden="true">
      <line x1="1" y1="5" x2="21" y2="5" stroke="currentColor" strokeWidth="2" strokeDasharray={dashes} />
    </chakra.svg>
  );
}

/** Which stroke belongs to which surface, where more than the ground is drawn. */
export function SurfaceKey({ below }: { below: boolean }) {
  const { state } = useParts('state');
  const view = useSurfacesShown();
  if (!state || !view) return null;
  const doc = state.document;
  if (view.shown.length === 1 && view.shown[0] === groundOf(doc).id) return null;
  return (
    <Box
      as="ul"
      aria-label="surfaces that are drawn"
      position="absolute"
      left={below ? '250px' : '14px'}
      top="52px"
      m="0"
      p="6px 10px"
      maxWidth="240px"
      maxHeight="40%"
      overflow="auto"
      listStyleType="none"
      bg="leaf"
      border="1px solid"
      borderColor="rule"
      borderRadius="4px"
      fontSize="13px"
    >
      {view.shown.map((id) => (
        <Flex as="li" key={id} align="center" gap="7px" height="22px" minWidth="0">
          <SurfaceStroke doc={doc} id={id} />
          <Cut>{doc.surfaces.find((s) => s.id === id)?.name ?? ''}</Cut>
        </Flex>
      ))}
      {view.shown.length === 0 ? <li>no surface</li> : null}
    </Box>
  );
}
