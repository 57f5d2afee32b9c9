import { useCallback, useEffect, useState } from 'react';

// What was begun and not yet written: it outlives leaving the leaf and reloading the page, and is this browser's alone.

const keyOf = (project: string, what: string): string => `dunrik-draft:${project}:${what}`;

function read<T>(key: string, check: (value: unknown) => value is T): T | null {
  try {
    const value: unknown = JSON.parse(sessionStorage.getItem(key) ?? 'null');
    return check(value) ? value : null;
  } catch {
    return null;
  }
}

/** A draft of one tab, kept as it is typed; `null` when there is none. What the tab cannot hold is kept while it is shown. */
export function useDraft<T>(
  project: string,
  what: string,
  check: (value: unknown) => value is T,
): [T | null, (draft: T | null) => void] {
  const key = keyOf(project, what);
  const [draft, setDraft] = useState<T | null>(() => read(key, check));
  const set = useCallback(
    (next: T | null) => {
      setDraft(next);
      try {
        if (next === null) sessionStorage.removeItem(key);
        else sessionStorage.setItem(key, JSON.stringify(next));
      } catch {
        // The tab's room is full: it is on the screen all the same.
      }
    },
    [key],
  );
  return [draft, set];
}

const STORE = 'files';

function database(): Promise<IDBDatabase> {
  return new Promise((resolve, reject) => {
    const open = indexedDB.open('dunrik-drafts', 1);
    open.onupgradeneeded = () => open.result.createObjectStore(STORE);
    open.onsuccess = () => resolve(open.result);
    open.onerror = () => reject(open.error ?? new Error('no store'));
  });
}

async function inStore<T>(mode: IDBTransactionMode, work: (store: IDBObjectStore) => IDBRequest<T>): Promise<T> {
  const db = await database();
  try {
    return await new Promise<T>((resolve, reject) => {
      const request = work(db.transaction(STORE, mode).objectStore(STORE));
      request.onsuccess = () => resolve(request.result);
      request.onerror = () => reject(request.error ?? new Error('not kept'));
    });
  } finally {
    db.close();
  }
}

/** Keeps a dropped file until its import is finished or given up; a browser without a store goes without. */
export const keepFile = (project: string, file: File): Promise<void> =>
  inStore('readwrite', (s) => s.put(file, keyOf(project, 'import'))).then(
    () => {},
    () => {},
  );
export const dropFile = (project: string): Promise<void> =>
  inStore('readwrite', (s) => s.delete(keyOf(project, 'import'))).then(
    () => {},
    () => {},
  );

/** The file whose import was not finished when the page was left; null without one. */
export function useUnfinishedFile(project: string): [File | null, () => void] {
  const [file, setFile] = useState<File | null>(null);
  useEffect(() => {
    let here = true;
    inStore('readonly', (s) => s.get(keyOf(project, 'import')) as IDBRequest<unknown>).then(
      (found) => here && found instanceof File && setFile(found),
      () => {},
    );
    return () => {
      here = false;
    };
  }, [project]);
  return [file, () => setFile(null)];
}
