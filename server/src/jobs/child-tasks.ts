import type { FromChild } from './child.ts';

// The tasks of a child process (child.ts); each loads only what it needs.

type Task = (payload: never, tell: (share: number) => void) => Promise<unknown>;

const TASKS: Record<string, () => Promise<Task>> = {
  grid: async () => {
    const { readGridFacts } = await import('../projects/grid-facts.ts');
    return ({ bytes, name }: { bytes: Uint8Array; name: string }) => readGridFacts(bytes, name);
  },
  read: async () => {
    const { readOriginal } = await import('./read-original.ts');
    return readOriginal;
  },
  spreadsheet: async () => {
    const { writeSpreadsheet } = await import('./write-spreadsheet.ts');
    return writeSpreadsheet;
  },
  workbook: async () => {
    const { writeWorkbook } = await import('./write-workbook.ts');
    return writeWorkbook;
  },
};

const send = (message: FromChild<unknown>, then = (): void => {}): void => void process.send!(message, then);

process.on('message', ({ name, payload }: { name: string; payload: never }) => {
  void TASKS[name]()
    .then((task) => task(payload, (share) => send({ share })))
    .then((done): FromChild<unknown> => ({ done }))
    .catch((error: unknown): FromChild<unknown> => ({ failed: (error as Error).message }))
    .then((answer) => send(answer, () => process.exit(0)));
});
