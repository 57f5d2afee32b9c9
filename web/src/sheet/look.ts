import { create } from 'zustand';
import type { Stage } from '#core/project';

export interface SheetLook {
  points: boolean;
  numbers: boolean;
  elevations: boolean;
  codes: boolean;
  /** Points in an ink for each file, with a key of them. */
  files: boolean;
  lines: boolean;
  /** What of drawings lies under what is the project’s. */
  underlay: boolean;
  triangles: boolean;
  contours: boolean;
  tints: boolean;
  /** Which way the ground falls under the eye, and how steeply. */
  arrows: boolean;
  /** Where water runs, and where it stands. */
  flow: boolean;
  difference: boolean;
  /** Labels by the drawing’s rules, as large as on paper. */
  plotted: boolean;
}

export const LOOK_NAME: Record<keyof SheetLook, string> = {
  points: 'points',
  numbers: 'numbers',
  elevations: 'elevations',
  codes: 'codes',
  files: 'points by file',
  lines: 'lines',
  underlay: 'underlay',
  triangles: 'triangles',
  contours: 'contours',
  tints: 'tints',
  arrows: 'fall arrows',
  flow: 'flow lines and hollows',
  difference: 'cut and fill',
  plotted: 'labels as on paper',
};

/** What each stage draws until somebody chooses otherwise. */
const FIRST: Record<Stage, SheetLook> = {
  basis: {
    points: true,
    numbers: false,
    elevations: false,
    codes: false,
    files: false,
    lines: true,
    underlay: true,
    triangles: false,
    contours: false,
    tints: false,
    arrows: false,
    flow: false,
    difference: false,
    plotted: false,
  },
  book: {
    points: true,
    numbers: true,
    elevations: false,
    codes: false,
    files: false,
    lines: true,
    underlay: true,
    triangles: false,
    contours: true,
    tints: false,
    arrows: false,
    flow: false,
    difference: false,
    plotted: false,
  },
  lines: {
    points: true,
    numbers: false,
    elevations: false,
    codes: false,
    files: false,
    lines: true,
    underlay: true,
    triangles: false,
    contours: false,
    tints: false,
    arrows: false,
    flow: false,
    difference: false,
    plotted: true,
  },
  ground: {
    points: false,
    numbers: false,
    elevations: false,
    codes: false,
    files: false,
    lines: true,
    underlay: true,
    triangles: true,
    contours: true,
    tints: true,
    arrows: false,
    flow: false,
    difference: false,
    plotted: false,
  },
  quantities: {
    points: false,
    numbers: false,
    elevations: false,
    codes: false,
    files: false,
    lines: true,
    underlay: true,
    triangles: false,
    contours: true,
    tints: false,
    arrows: false,
    flow: false,
    difference: true,
    plotted: false,
  },
  handover: {
    points: true,
    numbers: true,
    elevations: false,
    codes: false,
    files: false,
    lines: true,
    underlay: true,
    triangles: false,
    contours: true,
    tints: false,
    arrows: false,
    flow: false,
    difference: false,
    plotted: false,
  },
};

interface LookStore {
  looks: Record<Stage, SheetLook>;
  spatial: boolean;
  toggle: (stage: Stage, what: keyof SheetLook) => void;
  setSpatial: (spatial: boolean) => void;
}

const KEY = 'dunrik.looks';
const kept = ((): Partial<Record<Stage, SheetLook>> => {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<Record<Stage, SheetLook>>;
  } catch {
    return {};
  }
})();

/** What this person chose, with what has come since as it is at first. */
const looksKept = (): Record<Stage, SheetLook> =>
  Object.fromEntries(Object.entries(FIRST).map(([stage, look]) => [stage, { ...look, ...kept[stage as Stage] }])) as Record<Stage, SheetLook>; // prettier-ignore

export const useLook = create<LookStore>((set, get) => ({
  looks: looksKept(),
  spatial: false,
  toggle(stage, what) {
    const looks = { ...get().looks, [stage]: { ...get().looks[stage], [what]: !get().looks[stage][what] } };
    localStorage.setItem(KEY, JSON.stringify(looks));
    set({ looks });
  },
  setSpatial: (spatial) => set({ spatial }),
}));

/** What is drawn: while somebody traces over a picture, nothing that would cover it. */
export const lookWhile = (look: SheetLook, tracing: boolean): SheetLook =>
  tracing ? { ...look, tints: false, triangles: false } : look;
