import { create } from 'zustand';
import type { Picture } from '#core/project';

interface PictureDraftStore {
  /** A picture as it would lie; it is drawn in the place of the one that has its id. */
  draft: Picture | null;
  /** Its bytes, where the project has not received them. */
  file: Blob | null;
  /** Pictures that cannot be shown, by id. */
  missing: readonly string[];
  show: (draft: Picture | null, file?: Blob | null) => void;
}

/** A picture that is being placed: seen on the drawing before it is a change. */
export const usePictureDraft = create<PictureDraftStore>((set) => ({
  draft: null,
  file: null,
  missing: [],
  show: (draft, file = null) => set({ draft, file }),
}));
