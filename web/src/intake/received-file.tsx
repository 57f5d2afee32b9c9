import { useEffect, useState } from 'react';
import { isTiffGrid } from '#core/exchange';
import { isWorldFile } from '#core/pictures';
import { kindOfFile } from '../work/picture/opened.ts';
import { IntakePage } from './intake.tsx';
import { MOST_BYTES } from './most-bytes.ts';
import { PictureIntake } from './picture-intake.tsx';
import type { ComponentProps } from 'react';

/** The intake that a file asks for, by what it holds: pictures lie under the drawing, all else becomes points and lines. */
export function ReceivedFile({ beside, ...rest }: ComponentProps<typeof IntakePage> & { beside: File | null }) {
  const { file, onClose } = rest;
  const [isPicture, setIsPicture] = useState<boolean | null>(null);
  useEffect(() => {
    let here = true;
    void isPictureFile(file)
      .then((is) => here && setIsPicture(is))
      // A file that cannot be read says so where it is read whole.
      .catch(() => here && setIsPicture(false));
    return () => {
      here = false;
    };
  }, [file]);
  if (isPicture === null) return null;
  return isPicture ? <PictureIntake file={file} beside={beside} onClose={onClose} /> : <IntakePage {...rest} />;
}

/** A TIFF of elevations is none; whether it is one stands anywhere in it. */
async function isPictureFile(file: File): Promise<boolean> {
  const kind = await kindOfFile(file);
  if (kind !== 'TIFF' || file.size > MOST_BYTES) return kind !== null;
  return !isTiffGrid(new Uint8Array(await file.arrayBuffer()));
}

const fileOf = (entry: FileSystemEntry | File): Promise<File> | File =>
  entry instanceof File ? entry : new Promise((done, failed) => (entry as FileSystemFileEntry).file(done, failed));

/** A picture and its world file that were dropped together; null of anything else. */
export async function pictureWithPlace(
  entries: readonly (FileSystemEntry | File)[],
): Promise<{ picture: File; world: File } | null> {
  if (entries.length !== 2 || entries.some((e) => !(e instanceof File) && !e.isFile)) return null;
  const worldAt = entries.findIndex((e) => isWorldFile(e.name));
  if (worldAt < 0) return null;
  const [world, picture] = [await fileOf(entries[worldAt]), await fileOf(entries[1 - worldAt])];
  return (await kindOfFile(picture)) ? { picture, world } : null;
}
