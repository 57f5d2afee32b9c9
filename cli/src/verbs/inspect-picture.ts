import { existsSync, readFileSync } from 'node:fs';
import { basename } from 'node:path';
import { isTiff } from '#core/basis';
import { METRES_IN_FILE, UNIT_NAME, type FileUnit } from '#core/measure';
import {
  extentOfPicture,
  inMetres,
  pictureKind,
  pictureSize,
  readTiffPicture,
  readWorldFile,
  type Projective,
} from '#core/pictures';
import { CannotDo } from '../problems.ts';
import type { Outcome } from '../verb.ts';

/** Endings that a picture's world file may have. */
const WORLD_ENDINGS: Record<'PNG' | 'JPEG' | 'TIFF', readonly string[]> = {
  PNG: ['.pgw', '.pngw', '.wld'],
  JPEG: ['.jgw', '.jpgw', '.jpegw', '.wld'],
  TIFF: ['.tfw', '.tifw', '.tiffw', '.wld'],
};

/** How large a picture is, and where it is by its tags or by the world file beside it; null of a TIFF that holds numbers. */
export async function inspectPicture(file: string, bytes: Uint8Array, unit: FileUnit): Promise<Outcome | null> {
  const name = basename(file);
  const kind = isTiff(bytes) ? 'TIFF' : pictureKind(bytes)!;
  const read = kind === 'TIFF' ? await readTiffPicture(bytes) : pictureSize(bytes);
  if (!read.ok && kind === 'TIFF') return null;
  if (!read.ok) throw new CannotDo(`${name}: ${read.reason}`);
  const { width, height } = read;
  const tags = 'matrix' in read ? read : { matrix: null, remark: null, isUnitSaid: true, system: null };
  const beside = worldBeside(file, kind, unit);
  const ownPlace = tags.matrix && inMetres(tags.matrix, tags.isUnitSaid ? 1 : METRES_IN_FILE[unit]);
  const matrix = beside?.matrix ?? ownPlace;
  const extent = matrix && extentOfPicture(matrix, { width, height });
  const from = beside?.matrix ? beside.name : tags.matrix ? name : null;
  const remark = beside?.problem ?? (ownPlace && !beside && !tags.isUnitSaid ? `Its tags name no unit: read in ${UNIT_NAME[unit]}.` : tags.remark); // prettier-ignore
  return {
    json: {
      file: name,
      kind: 'picture',
      format: kind,
      width,
      height,
      placedBy: from,
      system: tags.system,
      extent,
      remark,
    },
    text: [
      `${name}: picture (${kind}), ${width} × ${height} pixels`,
      extent ? `  placed by ${from}: E ${extent[0].toFixed(3)} … ${extent[2].toFixed(3)}, N ${extent[1].toFixed(3)} … ${extent[3].toFixed(3)} m` : '  does not say where it is', // prettier-ignore
      ...(remark ? [`  ${remark}`] : []),
    ].join('\n'),
  };
}

interface WorldBeside {
  name: string;
  matrix: Projective | null;
  problem: string | null;
}

function worldBeside(file: string, kind: keyof typeof WORLD_ENDINGS, unit: FileUnit): WorldBeside | null {
  const stem = file.replace(/\.[^./\\]*$/, '');
  const path = WORLD_ENDINGS[kind].map((ending) => stem + ending).find((p) => existsSync(p));
  if (!path) return null;
  const read = readWorldFile(readFileSync(path, 'utf8'), unit);
  return { name: basename(path), matrix: read.ok ? read.matrix : null, problem: read.ok ? null : `${basename(path)}: ${read.reason}` }; // prettier-ignore
}
