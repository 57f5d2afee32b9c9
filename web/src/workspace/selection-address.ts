import { goToQuery } from '../cards/queries.tsx';
import { selectionFromText, selectionToText } from '../project-state/selection.ts';
import { useProject } from '../project-state/store.ts';
import { sheetHandle } from '../sheet/handle.ts';
import { useEffect, useRef } from 'react';
import { useSearchParams } from 'react-router';

/** The link in the address bar brings a colleague to the same selection. */
export function useSelectionInAddress(): void {
  const [search, setSearch] = useSearchParams();
  const { selection, tables, state } = useProject();
  const read = useRef(false);
  useEffect(() => {
    if (!tables || !state || read.current) return;
    read.current = true;
    const found = selectionFromText(search.get('sel'), state.document, tables);
    if (!found) return;
    useProject.getState().select(found);
    if (found.kind === 'point')
      setTimeout(() => sheetHandle.current?.show(tables.points.x[found.row], tables.points.y[found.row]), 300);
    if (found.kind === 'query') {
      const query = tables.summary.queries.find((q) => q.key === found.key);
      if (query) setTimeout(() => goToQuery(query), 300);
    }
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the address is read once, when the first tables are there
  }, [tables, state]);
  useEffect(() => {
    if (!read.current || !tables || !state) return;
    const text = selectionToText(selection, state.document, tables);
    if ((search.get('sel') ?? null) === text) return;
    setSearch(text ? { sel: text } : {}, { replace: true });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the address follows the selection, not the other way
  }, [selection, tables]);
}
