import { fileStem } from '#core/exchange';
import type { Plot } from '#core/project';

/** What each plot's file is called, by id: its number and title, and where others have the same, which of them it is. */
export function sheetNames(plots: readonly Pick<Plot, 'id' | 'title' | 'number'>[]): Map<string, string> {
  const names = new Map<string, string>();
  const taken = new Set<string>();
  for (const { id, title, number } of plots) {
    const stem = fileStem(number, title);
    let name = stem;
    for (let i = 2; taken.has(name.toLowerCase()); i++) name = `${stem}-${i}`;
    taken.add(name.toLowerCase());
    names.set(id, name);
  }
  return names;
}
