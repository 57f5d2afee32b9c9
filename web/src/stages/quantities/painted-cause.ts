import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import type { SplitCause } from '#core/quantities';
import { unpackPieces } from '#core/stages';
import { api } from '../../frame/api.ts';
import { useParts, useProject } from '../../project-state/store.ts';

/** Paints on the drawing where one cause of another party's difference acts; a problem in words, or null. */
export function usePaintedCause(comparison: string, cause: SplitCause | null, about: string): string | null {
  const { id, tables } = useParts('id', 'tables');
  const { data, error } = useQuery({
    queryKey: ['split-pieces', id, tables!.revision, comparison, cause],
    queryFn: () => api.splitPieces(id, comparison, cause!),
    enabled: cause !== null,
    retry: false,
  });
  useEffect(() => {
    if (cause === null || !data) return;
    useProject.setState({ sketch: { places: new Float64Array(0), arrows: [], pieces: unpackPieces(data), about } });
    return () => useProject.setState({ sketch: null });
  }, [cause, data, about]);
  return cause !== null && error ? error.message : null;
}
