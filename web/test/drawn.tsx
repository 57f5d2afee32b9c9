import { ChakraProvider } from '@chakra-ui/react';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
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

/** Draws a part of the page as the page has it: with its colours and type, and a memory of its own for what is fetched. */
export function draw(part: ReactNode) {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={client}>
      <ChakraProvider value={system}>{children}</ChakraProvider>
    </QueryClientProvider>
  );
  return render(part, { wrapper });
}
