import { describe, expect, it } from 'vitest';
import { outlined } from '../src/paper/outlined.ts';

const words = (text: string): string => `<svg><text transform="translate(3 4)" font-size="5" fill="#123456">${text}</text></svg>`; // prettier-ignore

describe('words in a picture', () => {
  it('become outlines where they stood, in any script, spaces moving on', () => {
    const svg = outlined(words('A Ж&amp;'));
    expect(svg).toMatch(/^<svg><g transform="translate\(3 4\)">/);
    expect(svg).not.toContain('<text');
    const at = [...svg.matchAll(/translate\(([\d.]+) 0\)/g)].map((m) => Number(m[1]));
    expect(at).toHaveLength(3);
    expect(at[0]).toBe(0);
    // A capital is about 0.6 em wide, and the space beside it is one of three letters.
    expect(at[1]).toBeGreaterThan(0.7 * 5);
    expect(at[1]).toBeLessThan(1.2 * 5);
    expect(at[2]).toBeGreaterThan(at[1]);
  });

  it('leave all else as it is', () => {
    const svg = '<svg><path d="M0 0L1 1"/><circle cx="1"/></svg>';
    expect(outlined(svg)).toBe(svg);
    expect(outlined(words(''))).toBe('<svg><g transform="translate(3 4)"></g></svg>');
  });
});
