import { isShapefilePart, packShapefile, shapefileStem } from '#core/exchange';
import { nameOf, refusal } from '../../work/open-zip.ts';
import { unpackZip } from '../../work/workers.ts';

/** A file of a delivery with the folder it came in; `why` where it is not imported, and nothing was read of it. */
export interface Gathered {
  path: string;
  file: File | null;
  why: string | null;
}

const DEEPEST = 12;

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
  const all: Gathered[] = [];
  for (const entry of entries) await take(entry, '', 0, all);
  const out = await shapefilesAsOne(all);
  // Two files of one name in one drop stay two.
  const seen = new Map<string, number>();
  for (const g of out) {
    const times = (seen.get(g.path) ?? 0) + 1;
    seen.set(g.path, times);
    if (times > 1) g.path += ` (${times})`;
  }
  return out;
}

/** Files of one Shapefile, in one folder and of one name, as one file; its index and descriptions go with it. */
async function shapefilesAsOne(all: readonly Gathered[]): Promise<Gathered[]> {
  const keyOf = ({ path }: Gathered): string => path.slice(0, path.length - nameOf(path).length) + shapefileStem(path);
  const parts = new Map<string, Gathered[]>();
  for (const g of all) if (isShapefilePart(g.path)) parts.set(keyOf(g), [...(parts.get(keyOf(g)) ?? []), g]);
  const out: Gathered[] = [];
  for (const g of all) {
    const group = isShapefilePart(g.path) ? parts.get(keyOf(g))! : [];
    const shp = group.find((p) => /\.shp$/i.test(p.path));
    if (!shp?.file) out.push(g);
    else if (g === shp) out.push({ ...g, file: await shapefileOf(shp.file, group) });
  }
  return out;
}

async function shapefileOf(shp: File, group: readonly Gathered[]): Promise<File> {
  const files = new Map<string, Uint8Array>();
  for (const { path, file } of group) if (file) files.set(nameOf(path), new Uint8Array(await file.arrayBuffer()));
  return files.size === 1 ? shp : new File([packShapefile(files).slice()], shp.name);
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

/** The files of a zip, unpacked beside the page. */
export async function openZip(bytes: Uint8Array, path: string): Promise<Gathered[]> {
  const files = await unpackZip(bytes, path);
  return files.map(({ path: at, bytes: of, why }) => ({
    path: at,
    file: of && new File([of.slice()], nameOf(at)),
    why,
  }));
}
