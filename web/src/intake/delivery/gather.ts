import { unzip, type UnzipFileInfo } from 'fflate';

/** A file of a delivery with the folder it came in; `why` where it is not imported, and nothing was read of it. */
export interface Gathered {
  path: string;
  file: File | null;
  why: string | null;
}

const MOST_FILES = 300;
const LARGEST = 256 * 1024 * 1024;
const MOST_OF_ZIP = 1024 * 1024 * 1024;
const DEEPEST = 12;

/** What programs leave beside files for themselves: locks, thumbnails, copies being written. */
const LEFT_BEHIND = /^(~\$|\.~lock|\._|\.#)|(^|\.)(lock|lck|tmp|bak|part|crdownload)#?$|^(thumbs\.db|desktop\.ini|\.ds_store)$/i; // prettier-ignore

const nameOf = (path: string): string => path.slice(path.lastIndexOf('/') + 1);

/** What was dropped: folders where the browser gives them, else the files. To be asked while the drop is handled. */
export function droppedIn(drop: DataTransfer): (FileSystemEntry | File)[] {
  const entries = [...drop.items].flatMap((i) => {
    const entry = i.kind === 'file' ? i.webkitGetAsEntry() : null;
    return entry ? [entry] : [];
  });
  return entries.length ? entries : [...drop.files];
}

/** Files as they were dropped or chosen, folders and zips opened; nothing goes without a word. */
export async function gather(entries: readonly (FileSystemEntry | File)[]): Promise<Gathered[]> {
  const out: Gathered[] = [];
  for (const entry of entries) await take(entry, '', 0, out);
  // Two files of one name in one drop stay two.
  const seen = new Map<string, number>();
  for (const g of out) {
    const times = (seen.get(g.path) ?? 0) + 1;
    seen.set(g.path, times);
    if (times > 1) g.path += ` (${times})`;
  }
  return out;
}

async function take(entry: FileSystemEntry | File, folder: string, depth: number, out: Gathered[]): Promise<void> {
  if (entry instanceof File) return takeFile(entry, `${folder}${pathOf(entry)}`, out);
  const path = `${folder}${entry.name}`;
  if (entry.isFile) {
    const file = await new Promise<File>((done, failed) => (entry as FileSystemFileEntry).file(done, failed));
    return takeFile(file, path, out);
  }
  if (depth >= DEEPEST) return void out.push({ path, file: null, why: `folders are nested more than ${DEEPEST} deep` });
  for (const inside of await entriesOf(entry as FileSystemDirectoryEntry))
    await take(inside, `${path}/`, depth + 1, out);
}

/** A folder chosen by a button says where each file stood. */
const pathOf = (file: File): string => file.webkitRelativePath || file.name;

/** A directory gives its entries in portions. */
async function entriesOf(folder: FileSystemDirectoryEntry): Promise<FileSystemEntry[]> {
  const reader = folder.createReader();
  const all: FileSystemEntry[] = [];
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((done, failed) => reader.readEntries(done, failed));
    if (some.length === 0) return all.sort((a, b) => (a.name < b.name ? -1 : 1));
    all.push(...some);
  }
}

async function takeFile(file: File, path: string, out: Gathered[]): Promise<void> {
  const why = refusal(nameOf(path), file.size, out.length);
  if (why) return void out.push({ path, file: null, why });
  if (!/\.zip$/i.test(file.name)) return void out.push({ path, file, why: null });
  const opened = await openZip(new Uint8Array(await file.arrayBuffer()), path);
  out.push(...opened);
}

function refusal(name: string, size: number, before: number): string | null {
  if (LEFT_BEHIND.test(name)) return 'left behind by another program; it holds no survey';
  if (before >= MOST_FILES) return `more than ${MOST_FILES} files in one delivery`;
  if (size > LARGEST) return `${Math.round(size / 1048576)} MB; at most 256 MB are imported at once. Split it.`;
  return size === 0 ? 'empty' : null;
}

/** The files of a zip: bounded in number and size before anything is unpacked; its paths name files, never places on a disk. */
export async function openZip(bytes: Uint8Array, path: string): Promise<Gathered[]> {
  const out: Gathered[] = [];
  let whole = 0;
  const filter = (info: UnzipFileInfo): boolean => {
    if (info.name.endsWith('/')) return false;
    whole += info.originalSize;
    const why = whole > MOST_OF_ZIP ? 'the zip unpacks to more than 1 GB' : refusal(nameOf(info.name), info.originalSize, out.length); // prettier-ignore
    out.push({ path: `${path}/${info.name}`, file: null, why });
    return why === null;
  };
  try {
    const files = await new Promise<Record<string, Uint8Array>>((done, failed) =>
      unzip(bytes, { filter }, (error, unpacked) => (error ? failed(error as unknown as Error) : done(unpacked))),
    );
    for (const g of out) {
      const content = files[g.path.slice(path.length + 1)];
      if (g.why === null && content) g.file = new File([content.slice()], nameOf(g.path));
      else g.why ??= 'it is in the zip twice, or cannot be unpacked';
    }
    return out.length ? out : [{ path, file: null, why: 'the zip holds no files' }];
  } catch (error) {
    return [{ path, file: null, why: `this zip cannot be opened: ${(error as Error).message}` }];
  }
}
