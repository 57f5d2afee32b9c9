import { readGridFacts } from './grid-facts.ts';

// A process of its own for what foreign code decodes: a small file can make such code end its process, or take memory
// that no limit of a thread counts. The parent watches it (decode.ts).

process.on('message', ({ bytes, name }: { bytes: Uint8Array; name: string }) => {
  void readGridFacts(bytes, name)
    .catch((error: unknown) => ({ ok: false as const, reason: `it cannot be read: ${(error as Error).message}.` }))
    .then((answer) => process.send!(answer, () => process.exit(0)));
});
