import { unzipSync, type UnzipFileInfo } from 'fflate';

/** A file of a zip; `why` where it is passed over, and nothing was read of it. */
export interface Unzipped {
  path: string;
  bytes: Uint8Array | null;
  why: string | null;
}

const MOST_FILES = 300;
const LARGEST = 256 * 1024 * 1024;
const MOST_OF_ZIP = 1024 * 1024 * 1024;

/** What programs leave beside files for themselves: locks, thumbnails, copies being written. */
const LEFT_BEHIND = /^(~\$|\.~lock|\._|\.#)|(^|\.)(lock|lck|tmp|bak|part|crdownload)#?$|^(thumbs\.db|desktop\.ini|\.ds_store)$/i; // prettier-ignore

export const nameOf = (path: string): string => path.slice(path.lastIndexOf('/') + 1);

/** Why a file of a delivery is passed over; null of one that is read. `before`: files that came before it. */
export function refusal(name: string, size: number, before: number): string | null {
  if (LEFT_BEHIND.test(name)) return 'left behind by another program; it holds no survey';
  if (before >= MOST_FILES) return `more than ${MOST_FILES} files in one delivery`;
  if (size > LARGEST) return `${Math.round(size / 1048576)} MB; at most 256 MB are imported at once. Split it.`;
  return size === 0 ? 'empty' : null;
}

/** The files of a zip: bounded in number and size before anything is unpacked; its paths name files, never places on a disk. */
export function filesOfZip(bytes: Uint8Array, path: string): Unzipped[] {
  const out: Unzipped[] = [];
  let whole = 0;
  const filter = (info: UnzipFileInfo): boolean => {
    if (info.name.endsWith('/')) return false;
    whole += info.originalSize;
    const why = whole > MOST_OF_ZIP ? 'the zip unpacks to more than 1 GB' : refusal(nameOf(info.name), info.originalSize, out.length); // prettier-ignore
    out.push({ path: `${path}/${info.name}`, bytes: null, why });
    return why === null;
  };
  try {
    const files = unzipSync(bytes, { filter });
    for (const g of out) {
      const content = files[g.path.slice(path.length + 1)];
      if (g.why === null && content) g.bytes = content;
      else g.why ??= 'it is in the zip twice, or cannot be unpacked';
    }
    return out.length ? out : [{ path, bytes: null, why: 'the zip holds no files' }];
  } catch (error) {
    return [{ path, bytes: null, why: `this zip cannot be opened: ${(error as Error).message}` }];
  }
}
