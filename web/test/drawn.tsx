import { ChakraProvider } from '@chakra-ui/react';
import { cleanup, render } from '@testing-library/react';
import type { ReactNode } from 'react';
import { afterEach } from 'vitest';
import { system } from '../src/frame/theme.ts';

// jsdom measures nothing: what asks for sizes gets those of a small window.
globalThis.ResizeObserver ??= class {
  observe(): void {}
  unobserve(): void {}
  disconnect(): void {}
};
globalThis.matchMedia ??= (query) => ({ matches: false, media: query }) as MediaQueryList;
if (typeof Element !== 'undefined') Element.prototype.scrollIntoView ??= () => undefined;
afterEach(cleanup);

/** Draws a part of the page as the page has it: with its colours and type. */
export const draw = (part: ReactNode) =>
  render(part, { wrapper: ({ children }) => <ChakraProvider value={system}>{children}</ChakraProvider> });
