import { create } from 'zustand';
import type { ColumnChoice, ColumnChoices } from '#contract';
import type { Column } from './column.ts';

interface ChoiceStore {
  /** By table. */
  choices: ColumnChoices;
  choose: (table: string, choice: ColumnChoice | null) => void;
}

let keep: ((choices: ColumnChoices) => void) | null = null;

export const useColumnChoices = create<ChoiceStore>((set, get) => ({
  choices: {},
  choose: (table, choice) => {
    const { [table]: _, ...others } = get().choices;
    const choices = choice ? { ...others, [table]: choice } : others;
    set({ choices });
    keep?.(choices);
  },
}));

/** Begins with what an account keeps, and tells it of every change. */
export function keepChoices(choices: ColumnChoices, by: (choices: ColumnChoices) => void): void {
  keep = by;
  useColumnChoices.setState({ choices });
}

/** All columns as a person has them: those chosen first to last, new ones behind the one that they follow of themselves. */
export function orderOf(columns: readonly Column[], choice: ColumnChoice | undefined): string[] {
  const ids = columns.map((c) => c.id);
  const order = (choice?.order ?? []).filter((id) => ids.includes(id));
  ids.forEach((id, i) => {
    if (order.includes(id)) return;
    order.splice(i === 0 ? 0 : order.indexOf(ids[i - 1]) + 1, 0, id);
  });
  return order;
}

export const isShown = (c: Column, choice: ColumnChoice | undefined): boolean => choice?.shown?.[c.id] ?? !c.hidden;
export const isPinned = (c: Column, choice: ColumnChoice | undefined): boolean =>
  choice?.pinned?.[c.id] ?? c.pinned ?? false;
