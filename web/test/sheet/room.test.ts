import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CARD_WIDTH, isInTheClear, takenByCard, whereToShow } from '../../src/sheet/room.ts';

const size = fc.record({ width: fc.integer({ min: 200, max: 2600 }), height: fc.integer({ min: 300, max: 1600 }) });

describe('where the drawing shows a place', () => {
  it('is in the clear wherever the place came from', () => {
    fc.assert(
      fc.property(
        size,
        fc.double({ min: -1e6, max: 1e6, noNaN: true }),
        fc.double({ min: -1e6, max: 1e6, noNaN: true }),
        (s, x, y) => {
          const to = whereToShow({ x, y }, s);
          // A drawing too narrow for a card has no room beside it: there the place is at least in view.
          if (takenByCard(s)) expect(isInTheClear(to, s)).toBe(true);
          expect(to.x > 0 && to.x < s.width && to.y > 0 && to.y < s.height).toBe(true);
        },
      ),
    );
  });

  it('keeps still while the card can stand on the other side', () => {
    const wide = { width: 900, height: 700 };
    expect(isInTheClear({ x: 800, y: 200 }, wide)).toBe(true);
    expect(isInTheClear({ x: 60, y: 200 }, wide)).toBe(true);
    expect(isInTheClear({ x: 880, y: 200 }, wide)).toBe(false);
    // Both sides of a narrow one are under a card.
    expect(isInTheClear({ x: 250, y: 200 }, { width: 500, height: 700 })).toBe(false);
    expect(isInTheClear({ x: 100, y: 200 }, { width: 500, height: 700 })).toBe(true);
    expect(isInTheClear({ x: 400, y: 650 }, { width: 500, height: 720 })).toBe(true);
  });

  it('leaves room for the next steps of somebody who walks along a line', () => {
    const s = { width: 700, height: 700 };
    const stepsBetween = (dx: number, dy: number): number => {
      let at = whereToShow({ x: 1e5, y: 1e5 }, s);
      const moved: number[] = [];
      for (let i = 0; i < 300; i++) {
        at = { x: at.x + dx, y: at.y + dy };
        if (isInTheClear(at, s)) continue;
        at = whereToShow(at, s);
        moved.push(i);
      }
      return 300 / moved.length;
    };
    for (const [dx, dy] of [[20, 0], [-20, 0], [0, 20], [0, -20], [14, 14], [-14, 14]]) expect(stepsBetween(dx, dy)).toBeGreaterThan(9); // prettier-ignore
  });

  it('goes to the middle of the room for a place far away', () => {
    expect(whereToShow({ x: -90_000, y: 3 }, { width: 1000, height: 700 })).toEqual({ x: 50 + 650 / 2, y: 350 });
    expect(takenByCard({ width: 1000 })).toBe(CARD_WIDTH);
    expect(takenByCard({ width: 400 })).toBe(0);
  });
});
