import type { Account } from './account.ts';

/** An option that a verb takes: how it is written, what it is for, and how its text becomes a value. */
export interface OptionOf<V> {
  /** `-o, --output <file>`; without a name in brackets it is there or not. */
  flags: string;
  about: string;
  /** May be given several times. */
  many?: boolean;
  /** Throws WrongUsage with a sentence where the text makes no sense; undefined text where it was not given. */
  read: (given: Given, name: string) => V;
}
/** What stands on the command line for an option. */
export type Given = string | string[] | true | undefined;
export type OptionSet = Record<string, OptionOf<unknown>>;

/** Values of the options of a verb; lengths in metres. */
export type Values<S extends OptionSet> = { [K in keyof S]: S[K] extends OptionOf<infer V> ? V : never };

/** What every verb is given. */
export interface Common {
  json: boolean;
  /** What is not taken from the files of the command. */
  account: Account;
}

export interface Outcome {
  json: unknown;
  text: string;
}

export interface Verb {
  name: string;
  /** What it does, in one line. */
  about: string;
  /** Its files: how they are called, and how many there are at least and at most. */
  files: { name: string; least: number; most: number };
  options: OptionSet;
  run: (files: string[], options: never) => Outcome | Promise<Outcome>;
}

/** A verb whose function takes just the options that it says it has. */
export const defineVerb = <S extends OptionSet>(
  verb: Omit<Verb, 'options' | 'run'> & {
    options: S;
    run: (files: string[], options: Values<S> & Common) => Outcome | Promise<Outcome>;
  },
): Verb => verb;
