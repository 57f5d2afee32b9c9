// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Frames, type Fences } from '../../src/sheet/frames.ts';

const SIGNALED = 1;
let status = SIGNALED;
const gl: Fences = {
  SYNC_GPU_COMMANDS_COMPLETE: 0,
  SYNC_STATUS: 0,
  UNSIGNALED: 0,
  fenceSync: () => ({}) as WebGLSync,
  getSyncParameter: () => status,
  deleteSync: () => {},
  flush: () => {},
};
let order: string[] = [];
const frames = (): Frames => new Frames(gl, () => void order.push('drawn'));
/** The page's next frame, then what was put off till after it. */
const frame = (): void => {
  vi.advanceTimersToNextFrame();
  order.push('painted');
  vi.advanceTimersByTime(1);
};

beforeEach(() => {
  vi.useFakeTimers({ toFake: ['requestAnimationFrame', 'cancelAnimationFrame', 'setTimeout', 'clearTimeout'] });
  [order, status] = [[], SIGNALED];
});
afterEach(() => vi.useRealTimers());

describe('pictures of the drawing', () => {
  it('come with the next frame where a hand moves it, once however often it is asked for', () => {
    const f = frames();
    f.next();
    f.next();
    frame();
    expect(order).toEqual(['drawn', 'painted']);
  });

  it('come after the page is painted where something else changed, and at once where a hand moves it meanwhile', () => {
    const f = frames();
    f.afterPaint();
    frame();
    expect(order).toEqual(['painted', 'drawn']);
    order = [];
    f.afterPaint();
    vi.advanceTimersToNextFrame();
    f.next();
    frame();
    frame();
    expect(order.filter((o) => o === 'drawn')).toHaveLength(1);
  });

  it('wait until the last one is complete; what changes meanwhile comes into one', () => {
    const f = frames();
    f.next();
    frame();
    status = gl.UNSIGNALED;
    f.next();
    frame();
    f.next();
    frame();
    expect(order).toEqual(['drawn', 'painted', 'painted', 'painted']);
    status = SIGNALED;
    frame();
    expect(order.at(-2)).toBe('drawn');
    expect(order.filter((o) => o === 'drawn')).toHaveLength(2);
  });

  it('never come once it is closed, and come on where the graphics were lost', () => {
    const closed = frames();
    closed.afterPaint();
    closed.stop();
    closed.next();
    frame();
    expect(order).toEqual(['painted']);
    const lost = new Frames(
      { ...gl, fenceSync: () => null, getSyncParameter: () => null },
      () => void order.push('drawn'),
    );
    lost.next();
    frame();
    lost.next();
    frame();
    expect(order.filter((o) => o === 'drawn')).toHaveLength(2);
  });
});
