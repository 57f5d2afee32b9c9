import { Command, CommanderError, Option } from 'commander';
import { Account } from './account.ts';
import { WrongUsage } from './problems.ts';
import type { Common, Given, Verb } from './verb.ts';

/** The command as it was understood. */
export interface Understood {
  verb: Verb;
  files: string[];
  options: Common & Record<string, unknown>;
}

const filesText = ({ files }: Verb): string => (files.most > files.least ? `${files.name}…` : files.name);

/** How a verb is written, in short. */
export const usageOf = (verb: Verb): string => `${verb.name} ${filesText(verb)} [options]`;

/** The names of options as people write them: longestSide is longest-side. */
const written = (key: string): string => key.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`);

/** Help of a verb, made from what it says of itself. */
function commandOf(verb: Verb): Command {
  const command = new Command(verb.name).description(verb.about).usage(`${filesText(verb)} [options]`);
  command.argument('[files...]').helpOption('-h, --help', 'says how it is used');
  for (const o of Object.values(verb.options)) {
    const option = new Option(o.flags, o.about);
    // One value each time: the files of the command may stand behind it.
    if (o.many) option.argParser((value: string, before?: string[]) => [...(before ?? []), value]);
    command.addOption(option);
  }
  command.addOption(new Option('--json', 'one JSON object on standard output, SI units'));
  return command;
}

/** Reads a command line; null where help was asked for and has been shown. */
export function understand(
  args: readonly string[],
  verbs: readonly Verb[],
  show: (text: string) => void,
): Understood | null {
  let understood: Understood | null = null;
  const program = new Command('dunrik').usage('VERB FILES [options]');
  program.helpCommand('help [verb]', 'says how a verb is used');
  program.exitOverride().configureOutput({ writeOut: show, writeErr: () => {} });
  for (const verb of verbs) {
    const command = commandOf(verb)
      .exitOverride()
      .configureOutput({ writeOut: show, writeErr: () => {} });
    command.action((files: string[], given: Record<string, Given>) => {
      if (files.length < verb.files.least || files.length > verb.files.most)
        throw new WrongUsage(`usage: ${usageOf(verb)}; “help ${verb.name}” lists them.`);
      const values = Object.entries(verb.options).map(([key, o]) => [key, o.read(given[key], written(key))] as const);
      understood = {
        verb,
        files,
        options: { ...Object.fromEntries(values), json: given.json === true, account: new Account() },
      };
    });
    program.addCommand(command);
  }
  const [name] = args;
  if (name === undefined) throw new WrongUsage('A verb is missing.');
  if (!name.startsWith('-') && name !== 'help' && !verbs.some((v) => v.name === name))
    throw new WrongUsage(`Unknown verb “${name}”.`);
  try {
    program.parse([...args], { from: 'user' });
  } catch (error) {
    if (!(error instanceof CommanderError)) throw error;
    if (error.exitCode === 0) return null;
    throw new WrongUsage(error.message.replace(/^error: /, ''));
  }
  return understood;
}
