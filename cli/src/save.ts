import { renameSync, rmSync, writeFileSync } from 'node:fs';
import { CannotDo } from './problems.ts';

/** Writes a file whole or not at all: beside its place first, then moved there. */
export function save(file: string, text: string): void {
  const making = `${file}.making-${process.pid}`;
  try {
    writeFileSync(making, text);
    renameSync(making, file);
  } catch (error) {
    rmSync(making, { force: true });
    throw new CannotDo(`${file} cannot be written: ${(error as NodeJS.ErrnoException).code ?? 'unknown reason'}.`);
  }
}
