import { useEffect, useRef } from 'react';
import type { Projective } from '#core/pictures';
import { usePictureDraft } from '../../project-state/picture-draft.ts';
import { useParts } from '../../project-state/store.ts';
import type { Part } from '../../work/picture/opened.ts';
import { pictureWork } from '../../work/workers.ts';
import { sheetHandle } from '../handle.ts';
import type { Over } from '../overlays.ts';
import { useSheetView, viewFromText } from '../view.ts';
import { originalOf } from './original.ts';
import { partInView } from './part-in-view.ts';
import { layPicture, leaveOut, pictureObject, pictureTexture, type PictureMesh } from './picture-material.ts';
import { bytesOf, LOWEST_ORDER, MOST_ACROSS, withDraft } from './shown-pictures.ts';

/** A part is shown with at most so many pixels. */
const MOST_OF_PART = 3072;
/** A page has no pixels of its own: it may be drawn as fine as one likes. */
const FINEST_OF_PAGE = 32;

/** Just above the whole of it. */
const orderOf = (rank: number): number => LOWEST_ORDER + rank + 0.5;

/** Where the drawing rests close to a large picture, the part in view is shown as fine as the picture is. */
export function useFinePictures({ scene, ready }: Over): void {
  const { id, state } = useParts('id', 'state');
  const { draft, file } = usePictureDraft();
  const view = useSheetView((v) => v.view);
  const shown = useRef(new Map<string, { mesh: PictureMesh; part: Part }>());
  const kept = state?.document.pictures;

  useEffect(() => {
    const s = scene.current;
    if (!s || ready !== 'yes') return;
    const seen = viewFromText(view);
    const window = seen?.kind === 'plan' ? sheetHandle.current?.window() : null;
    let here = true;
    const list = withDraft(kept ?? [], draft);
    for (const key of shown.current.keys()) if (!list.some((p) => p.id === key)) drop(key);
    list.forEach((picture, i) => {
      const limits = {
        whole: MOST_ACROSS,
        finest: picture.page === undefined ? 1 : FINEST_OF_PAGE,
        most: MOST_OF_PART,
      };
      const wanted = window && !picture.hidden && seen?.kind === 'plan' ? partInView({ ...picture, matrix: picture.matrix as Projective }, window, seen.scale, limits) : null; // prettier-ignore
      if (!wanted) return drop(picture.id);
      // What is shown already follows the look of the picture at once.
      const before = shown.current.get(picture.id);
      if (before) {
        layPicture(before.mesh, picture, s.origin, before.part);
        s.setLayerOrder(`fine picture ${picture.id}`, orderOf(i));
      }
      const { part, most } = wanted;
      void (async () => {
        const blob = picture.id === draft?.id && file ? file : await originalOf(id, picture.fileId);
        const bitmap = blob && here ? await pictureWork().show(bytesOf(picture), blob, picture.page, part, most) : null;
        if (!bitmap) return;
        if (!here || scene.current !== s) return bitmap.close();
        drop(picture.id);
        const mesh = pictureObject(pictureTexture(bitmap));
        layPicture(mesh, picture, s.origin, part);
        shown.current.set(picture.id, { mesh, part });
        const whole = s.layer(`picture ${picture.id}`) as PictureMesh | undefined;
        if (whole) leaveOut(whole, part, picture);
        s.setLayer(`fine picture ${picture.id}`, mesh, orderOf(i));
      })();
    });
    return () => {
      here = false;
    };

    function drop(key: string): void {
      const fine = shown.current.get(key);
      if (!fine) return;
      const { mesh } = fine;
      (mesh.material.uniforms.map.value as { dispose: () => void }).dispose();
      s!.setLayer(`fine picture ${key}`, null, 0);
      shown.current.delete(key);
      const whole = s!.layer(`picture ${key}`) as PictureMesh | undefined;
      if (whole) leaveOut(whole, null, { width: 1, height: 1 });
    }
  }, [scene, ready, view, kept, draft, file, id]);
}
