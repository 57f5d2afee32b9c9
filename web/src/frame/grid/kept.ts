import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import type { Account, ColumnChoices } from '#contract';
import { api } from '../api.ts';
import { keepChoices } from './choice.ts';

/** A hand that drags a column's edge is followed; what it ends with is sent. */
const AFTER = 600;
const KEY = 'dunrik.columns';

/** Columns as this person chose them, on whatever machine; the demo's account is everybody's and keeps none. */
export function useKeptColumns(account: Account): void {
  const { data } = useQuery({ queryKey: ['columns', account.id], queryFn: api.columns, enabled: !account.isDemo });
  useEffect(() => {
    if (account.isDemo) {
      keepChoices(onThisDevice(), (choices) => localStorage.setItem(KEY, JSON.stringify(choices)));
      return;
    }
    if (!data) return;
    let timer: ReturnType<typeof setTimeout> | undefined;
    keepChoices(data, (choices) => {
      clearTimeout(timer);
      timer = setTimeout(() => void api.keepColumns(choices).catch(() => undefined), AFTER);
    });
  }, [account.isDemo, data]);
}

function onThisDevice(): ColumnChoices {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? '{}') as ColumnChoices;
  } catch {
    return {};
  }
}
