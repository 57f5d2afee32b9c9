import { damaged } from './inputs.ts';
import { readByAll } from './readers.ts';

// Reads what it is told to, one file after the other, and says which one it begins; its parent watches time and memory.

process.on('message', ({ from, to }: { from: number; to: number }) => {
  void (async () => {
    for (let seed = from; seed < to; seed++) {
      process.send!({ begin: seed });
      try {
        await readByAll(damaged(seed));
      } catch (error) {
        process.send!({ seed, threw: (error as Error).stack ?? String(error) });
      }
      // What was sent has to leave before the next one may hang.
      if (seed % 50 === 0) await new Promise((resolve) => setImmediate(resolve));
    }
    process.send!({ done: true }, () => process.exit(0));
  })();
});
