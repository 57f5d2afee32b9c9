import { useProject } from './store.ts';

/** Whether the signed-in person may change what is computed with; the server decides anyway. */
export const useCanChange = (): boolean =>
  useProject((p) => p.state?.project.role === 'owner' || p.state?.project.role === 'surveyor') ?? false;

export const useIsOwner = (): boolean => useProject((p) => p.state?.project.role === 'owner') ?? false;

/** Whether they may decide on what is asked: accept a query, undo their own. */
export const useCanDecide = (): boolean =>
  useProject((p) => ['owner', 'surveyor', 'checker'].includes(p.state?.project.role ?? '')) ?? false;
