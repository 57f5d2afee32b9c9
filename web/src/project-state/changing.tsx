import type { ReactNode } from 'react';
import { useCanChange } from './can.ts';

/** What changes the project: shown to those who may. */
export const Changing = ({ children }: { children: ReactNode }): ReactNode => (useCanChange() ? children : null);

/** What shows how things are and can be changed in place: for everybody to read, for those who may to change. */
export const InPlace = ({ children }: { children: ReactNode }): ReactNode => (
  <fieldset disabled={!useCanChange()} style={{ border: 0, margin: 0, padding: 0, minWidth: 0 }}>
    {children}
  </fieldset>
);
