/** Could not: exit 1 with this sentence. */
export class CannotDo extends Error {}

/** Wrong usage: exit 2. */
export class WrongUsage extends Error {}

const WHY_NOT: Record<string, string> = {
  ENOENT: 'there is no such file',
  EISDIR: 'it is a folder',
  EACCES: 'it may not be read',
  EPERM: 'it may not be read',
};

/** Why a file could not be opened, in a sentence. */
export function cannotOpen(file: string, error: unknown): CannotDo {
  const { code = 'unknown reason' } = error as NodeJS.ErrnoException;
  return new CannotDo(`${file} cannot be opened: ${WHY_NOT[code] ?? code}.`);
}
