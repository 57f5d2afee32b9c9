import { ZxcvbnFactory } from '@zxcvbn-ts/core';
import { adjacencyGraphs, dictionary } from '@zxcvbn-ts/language-common';

// Passwords of twelve characters or more that are not easily guessed: nothing of the 49,000 most used ones, nothing made
// like them, no rows of keys, repeats or dates (OWASP ASVS 4.0.3, 2.1.1, 2.1.7 and 2.1.8). The same is told while it is typed.

let guesser: ZxcvbnFactory | null = null;
const guesses = (password: string, own: string[]): { score: number; common: boolean } => {
  guesser ??= new ZxcvbnFactory({ dictionary, graphs: adjacencyGraphs });
  // What comes after a hundred characters cannot make it easier to guess.
  const { score, feedback } = guesser.check(password.slice(0, 100), [...own, 'dunrik']);
  return { score, common: /common|topTen|topHundred/i.test(feedback.warning ?? '') };
};

export interface PasswordOwner {
  email: string;
  name: string;
}

const wordsOf = ({ email, name }: PasswordOwner): string[] =>
  [...email.split(/[@.]/), ...name.split(/\s+/)].map((w) => w.toLowerCase()).filter((w) => w.length >= 3);

/** How well a password holds against guessing, from 0 (tried first) to 4. */
export const passwordStrength = (password: string, owner: PasswordOwner): number =>
  guesses(password, wordsOf(owner)).score;

/** The least strength that is taken. */
export const LEAST_STRENGTH = 3;

/** Why a password is not taken, as a sentence; null where it is. */
export function passwordProblem(password: string, owner: PasswordOwner): string | null {
  const again = 'Choose another; several words do well.';
  const plain = password.toLowerCase().replace(/\s+/g, '');
  if (new Set(plain).size < 5) return `This password repeats a few characters. ${again}`;
  const rest = wordsOf(owner).filter((w) => w.length >= 4).reduce((text, word) => text.split(word).join(''), plain); // prettier-ignore
  if (rest.length < 6) return `This password is little more than your own name. ${again}`;
  const { score, common } = guesses(password, wordsOf(owner));
  if (score >= LEAST_STRENGTH) return null;
  return common
    ? `This password is like those that are tried first. ${again}`
    : `This password is easily guessed. ${again}`;
}
