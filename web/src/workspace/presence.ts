import { useEffect } from 'react';
import type { Stage } from '#core/project';
import { api } from '../frame/api.ts';
import { sheetHandle } from '../sheet/handle.ts';
import { sayHere, useProject } from '../project-state/store.ts';

const EVERY = 4000;
const AT_LEAST = 30_000;
/** Somebody who has not been heard of for so long has gone, whatever became of the goodbye. */
const GONE_AFTER = 90_000;

/** Tells the others who have the project open where this page is: at once, when it moves, and now and then. */
export function usePresence(stage: Stage, account: string): void {
  const id = useProject((p) => p.id);
  useEffect(() => {
    if (!id) return;
    let last = '';
    let at = 0;
    const say = (): void => {
      const middle = sheetHandle.current?.middle() ?? null;
      const place = middle ? { x: Math.round(middle.x), y: Math.round(middle.y) } : null;
      last = JSON.stringify(place);
      at = Date.now();
      api.here(id, { stage, place }).catch(() => {});
    };
    sayHere.now = say;
    sayHere.account = account;
    say();
    const watch = setInterval(() => {
      if (document.hidden) return;
      const middle = sheetHandle.current?.middle() ?? null;
      const place = middle ? { x: Math.round(middle.x), y: Math.round(middle.y) } : null;
      if (JSON.stringify(place) !== last || Date.now() - at > AT_LEAST) say();
      const { others } = useProject.getState();
      const present = Object.fromEntries(Object.entries(others).filter(([, o]) => Date.now() - o.heard < GONE_AFTER));
      if (Object.keys(present).length !== Object.keys(others).length) useProject.setState({ others: present });
    }, EVERY);
    return () => {
      clearInterval(watch);
      sayHere.now = () => {};
    };
  }, [id, stage, account]);
}
