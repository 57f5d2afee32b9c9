import { createSystem, defaultConfig, defineConfig } from '@chakra-ui/react';
import { COLOURS } from './colours.ts';

const colours = Object.fromEntries(
  Object.entries(COLOURS).map(([name, [day, night]]) => [name, { value: { base: day, _dark: night } }]),
);

const config = defineConfig({
  theme: {
    tokens: {
      fonts: {
        heading: { value: "'Atkinson Hyperlegible Next', sans-serif" },
        body: { value: "'Atkinson Hyperlegible Next', sans-serif" },
        mono: { value: "'IBM Plex Mono', monospace" },
      },
    },
    semanticTokens: { colors: colours },
  },
  globalCss: {
    'html, body, #root': { height: '100%', margin: 0 },
    body: { bg: 'paper', color: 'ink', fontSize: '14px', lineHeight: '20px', overflow: 'hidden' },
    '*:focus-visible': { outline: '2px solid', outlineColor: 'pine', outlineOffset: '1px' },
    '::selection': { bg: 'mark' },
    'input, select, button, textarea': { font: 'inherit', color: 'inherit' },
  },
});

export const system = createSystem(defaultConfig, config);
