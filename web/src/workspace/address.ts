import { useEffect, useRef } from 'react';
import { useLocation, useNavigate, useNavigationType } from 'react-router';
import { goToQuery } from '../cards/queries.tsx';
import { selectionFromText, selectionToText } from '../project-state/selection.ts';
import { useParts, useProject } from '../project-state/store.ts';
import { sheetHandle } from '../sheet/handle.ts';
import { useSheetView, viewFromText } from '../sheet/view.ts';

/** The first place of a selection is shown when the drawing has had time to be laid out. */
const LAID_OUT = 300;

/** Whoever steps through rows leaves an address where the hand rests, not at each. */
const AT_REST = 200;

/**
 * What is selected and what the drawing shows stand in the address beside stage and leaf: a link brings a colleague
 * there, reloading stays, back and forward find them as they were.
 */
export function useAddress(): void {
  const location = useLocation();
  const kind = useNavigationType();
  const navigate = useNavigate();
  const { selection, tables, state } = useParts('selection', 'tables', 'state');
  const view = useSheetView((s) => s.view);
  const readAt = useRef<string | null>(null);

  // A page just opened, and back and forward, are told by the address what to show.
  useEffect(() => {
    if (readAt.current === null) useSheetView.getState().want(new URLSearchParams(location.search).get('view'));
    if (!tables || !state) return;
    const first = readAt.current === null;
    if (!first && (kind !== 'POP' || readAt.current === location.key)) return;
    readAt.current = location.key;
    const search = new URLSearchParams(location.search);
    const found = selectionFromText(search.get('sel'), state.document, tables);
    if (found || !first) useProject.getState().select(found);
    const shown = viewFromText(search.get('view'));
    if (shown) {
      if (!first) sheetHandle.current?.look(shown);
    } else if (found?.kind === 'point')
      setTimeout(() => sheetHandle.current?.show(tables.points.x[found.row], tables.points.y[found.row]), LAID_OUT);
    else if (found?.kind === 'query') {
      const query = tables.summary.queries.find((q) => q.key === found.key);
      if (query) setTimeout(() => goToQuery(query), LAID_OUT);
    }
  }, [location, kind, tables, state]);

  useEffect(() => {
    if (readAt.current === null || !tables || !state) return;
    const { pathname } = window.location;
    const timer = setTimeout(() => {
      // Whoever is on the way elsewhere takes the selection along from there.
      if (window.location.pathname !== pathname) return;
      const before = new URLSearchParams(window.location.search);
      const sel = selectionToText(selection, state.document, tables);
      const shown = view ?? before.get('view');
      // Always in one order: the same place has the same address.
      const at = before.get('at');
      const search = new URLSearchParams([...(at ? [['at', at]] : []), ...(sel ? [['sel', sel]] : []), ...(shown ? [['view', shown]] : [])]); // prettier-ignore
      if (search.toString() !== before.toString())
        void navigate({ pathname, search: search.toString() }, { replace: true });
    }, AT_REST);
    return () => clearTimeout(timer);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the address follows selection and view, and whoever goes elsewhere takes them along
  }, [selection, tables, view, location.pathname]);
}
