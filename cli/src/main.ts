import { Account } from './account.ts';
import { understand, usageOf } from './command.ts';
import { CannotDo, WrongUsage } from './problems.ts';
import type { Outcome } from './verb.ts';
import { VERBS } from './verbs/index.ts';

const WIDEST = Math.max(...VERBS.map((v) => usageOf(v).length));

const usage = (): string =>
  [
    'usage: npm run dunrik -- VERB …, with --json for one JSON object, SI units; “help VERB” lists its options',
    ...VERBS.map((v) => `  ${usageOf(v).padEnd(WIDEST)}  ${v.about}`),
    'A SYSTEM is EPSG:28356 or a definition beginning with +proj=.',
    'Text points take --order (letters P N E Z D, L line number, W line word, _ to skip) and --unit m|ft|usft|mm|cm|in unless a heading row says them; a spreadsheet --sheet NAME, the first otherwise.',
  ].join('\n');

/** A verb that lists what it did not read says it itself. */
const saysItself = (json: unknown): boolean => (json as { notRead?: unknown }).notRead !== undefined;

const withAccount = (json: unknown, account: Account): unknown =>
  saysItself(json) ? json : { ...(json as object), notRead: account.list, notReadCount: account.count };

const linesOf = (outcome: Outcome, account: Account): string[] => (saysItself(outcome.json) ? [] : account.lines());

async function main(): Promise<void> {
  try {
    const understood = understand(process.argv.slice(2), VERBS, (text) => process.stdout.write(text));
    if (!understood) return;
    const { verb, files, options } = understood;
    const outcome = await verb.run(files, options as never);
    process.stdout.write(
      (options.json
        ? JSON.stringify(withAccount(outcome.json, options.account))
        : [outcome.text, ...linesOf(outcome, options.account)].join('\n')) + '\n',
    );
  } catch (error) {
    if (error instanceof WrongUsage) {
      process.stderr.write(`dunrik: ${error.message}\n${usage()}\n`);
      process.exitCode = 2;
    } else {
      const message =
        error instanceof CannotDo ? error.message : `this should not have happened: ${(error as Error).message}`;
      process.stderr.write(`dunrik: ${message}\n`);
      process.exitCode = 1;
    }
  }
}

await main();
