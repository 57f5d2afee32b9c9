import { LRUCache } from 'lru-cache';
import { useEffect, useRef } from 'react';
import { extentOfPicture } from '#core/pictures';
import type { Picture } from '#core/project';
import { usePictureDraft } from '../../project-state/picture-draft.ts';
import { useParts } from '../../project-state/store.ts';
import type { Part } from '../../work/picture/opened.ts';
import { pictureWork } from '../../work/workers.ts';
import type { Over } from '../overlays.ts';
import { originalOf } from './original.ts';
import { layPicture, pictureObject, pictureTexture, type PictureMesh } from './picture-material.ts';

/** The longest side of a picture on the drawing, pixels. */
export const MOST_ACROSS = 4096;
/** Below all else, the lowest first. */
export const LOWEST_ORDER = -1000;

/** Pictures as they are shown, by the bytes they came from; a new one of the same is asked for once. */
const bitmaps = new LRUCache<string, Promise<ImageBitmap | null>>({ max: 12 });

function bitmapOf(project: string, picture: Picture, file: Blob | null): Promise<ImageBitmap | null> {
  const key = bytesOf(picture);
  let found = bitmaps.get(key);
  if (!found) {
    found = (async () => {
      const blob = file ?? (await originalOf(project, picture.fileId));
      return blob && pictureWork().show(key, blob, picture.page, wholeOf(picture), MOST_ACROSS);
    })().catch(() => null);
    bitmaps.set(key, found);
    // What could not be fetched is asked for again.
    void found.then((bitmap) => bitmap ?? bitmaps.delete(key));
  }
  return found;
}

const wholeOf = ({ width, height }: Picture): Part => ({ column: 0, row: 0, width, height });

/** Which bytes a picture is, and which page of them. */
export const bytesOf = (picture: Picture): string => `${picture.sha256} ${picture.page ?? 0}`;

/** Pictures as they are drawn: one that is being placed in the place of what is kept of it, or above all others. */
export const withDraft = (kept: readonly Picture[], draft: Picture | null): readonly Picture[] =>
  draft === null || kept.some((p) => p.id === draft.id) ? kept.map((p) => (p.id === draft?.id ? draft : p)) : [...kept, draft]; // prettier-ignore

/** Pictures under the drawing, in their order. */
export function usePictures({ scene, ready }: Over): void {
  const { id, state, tables } = useParts('id', 'state', 'tables');
  const { draft, file } = usePictureDraft();
  const kept = state?.document.pictures;
  const meshes = useRef(new Map<string, { mesh: PictureMesh; of: string }>());
  const list = withDraft(kept ?? [], draft);
  const s = scene.current;
  const origin = s ? `${s.origin.x} ${s.origin.y}` : '';

  useEffect(() => {
    if (!s || ready !== 'yes') return;
    const wanted = new Map(
      list.flatMap((p, i) => (p.hidden ? [] : [[p.id, { picture: p, order: LOWEST_ORDER + i }] as const])),
    );
    for (const [key, { mesh, of }] of meshes.current) {
      const now = wanted.get(key);
      if (!now || bytesOf(now.picture) !== of) {
        (mesh.material.uniforms.map.value as { dispose: () => void }).dispose();
        s.setLayer(`picture ${key}`, null, 0);
        meshes.current.delete(key);
      }
    }
    if (wanted.size && !tables?.points.x.length && meshes.current.size === 0) lookAt([...wanted.values()][0].picture);
    let here = true;
    for (const { picture, order } of wanted.values()) {
      const shown = meshes.current.get(picture.id);
      if (shown) {
        layPicture(shown.mesh, picture, s.origin);
        s.setLayerOrder(`picture ${picture.id}`, order);
        continue;
      }
      void bitmapOf(id, picture, picture.id === draft?.id ? file : null).then((bitmap) => {
        if (!here || scene.current !== s) return;
        if (!bitmap) return tellMissing(picture.id, true);
        tellMissing(picture.id, false);
        const mesh = pictureObject(pictureTexture(bitmap));
        layPicture(mesh, picture, s.origin);
        meshes.current.set(picture.id, { mesh, of: bytesOf(picture) });
        s.setLayer(`picture ${picture.id}`, mesh, order);
      });
    }
    return () => {
      here = false;
    };

    /** A project that has nothing but a picture is seen where that is. */
    function lookAt(picture: Picture): void {
      const extent = extentOfPicture(picture.matrix, picture);
      Object.assign(s!.origin, { x: Math.round(extent[0]), y: Math.round(extent[1]) });
      s!.fit(...extent);
    }
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the list is put together from what is kept and the draft
  }, [s, ready, kept, draft, file, id, origin, tables]);
}

function tellMissing(id: string, isMissing: boolean): void {
  const { missing } = usePictureDraft.getState();
  if (missing.includes(id) === isMissing) return;
  usePictureDraft.setState({ missing: isMissing ? [...missing, id] : missing.filter((m) => m !== id) });
}
