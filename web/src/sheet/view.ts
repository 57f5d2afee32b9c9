import { create } from 'zustand';

/** What the drawing shows, as text: for the address, and for coming back to it. */
interface ViewStore {
  /** As it stands, once the hand has let go. */
  view: string | null;
  /** What is to be shown as soon as there is something to show. */
  wanted: string | null;
  seen: (view: string) => void;
  want: (view: string | null) => void;
}

export const useSheetView = create<ViewStore>((set, get) => ({
  view: null,
  wanted: null,
  seen: (view) => {
    if (view !== get().view) set({ view });
  },
  want: (wanted) => set({ wanted }),
}));

export interface PlanView {
  kind: 'plan';
  /** Middle, m in the project, and metres in one pixel. */
  x: number;
  y: number;
  scale: number;
}
export interface SpaceView {
  kind: '3d';
  /** From where, and at what: x, y, z in the project, m. */
  from: [number, number, number];
  at: [number, number, number];
}
export type SheetViewed = PlanView | SpaceView;

const short = (v: number, decimals: number): string => String(Number(v.toFixed(decimals)));

export const viewToText = (v: SheetViewed): string =>
  v.kind === 'plan'
    ? `plan,${short(v.x, 2)},${short(v.y, 2)},${Number(v.scale.toPrecision(4))}`
    : `3d,${[...v.from, ...v.at].map((c) => short(c, 1)).join(',')}`;

/** Null where a text is none of ours, or its numbers show nothing. */
export function viewFromText(text: string | null): SheetViewed | null {
  const [kind, ...rest] = (text ?? '').split(',');
  const n = rest.map(Number);
  if (n.length > 6 || rest.some((t) => t.trim() === '') || n.some((v) => !(Math.abs(v) < 1e9))) return null;
  if (kind === 'plan' && n.length === 3 && n[2] >= 0.0005 && n[2] <= 1e5)
    return { kind, x: n[0], y: n[1], scale: n[2] };
  if (kind === '3d' && n.length === 6) return { kind, from: [n[0], n[1], n[2]], at: [n[3], n[4], n[5]] };
  return null;
}
