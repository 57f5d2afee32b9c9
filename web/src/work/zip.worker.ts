import { expose, transfer } from 'comlink';
import { filesOfZip, type Unzipped } from './open-zip.ts';

// Unpacks a zip beside the page. The package's own threads are made of text, which the page's content policy refuses.

const work = {
  open(bytes: Uint8Array, path: string): Unzipped[] {
    const files = filesOfZip(bytes, path);
    return transfer(files, [...new Set(files.flatMap((f) => (f.bytes ? [f.bytes.buffer as ArrayBuffer] : [])))]);
  },
};

export type ZipWork = typeof work;
expose(work);
