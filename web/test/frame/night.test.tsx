// @vitest-environment jsdom
import { act, renderHook } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { followSystem, setNight, useNight } from '../../src/frame/night.ts';

/** The system’s own choice, which can be changed while the page is open. */
function system(dark: boolean): { turn: (dark: boolean) => void } {
  const query = Object.assign(new EventTarget(), { matches: dark });
  vi.stubGlobal('matchMedia', () => query);
  return {
    turn(to) {
      query.matches = to;
      query.dispatchEvent(new Event('change'));
    },
  };
}

const isDark = (): boolean => document.documentElement.classList.contains('dark');

describe('night colours', () => {
  let stop: () => void = () => undefined;
  beforeEach(() => localStorage.clear());
  afterEach(() => {
    stop();
    vi.unstubAllGlobals();
  });

  it('follow the system while the page is open, the drawing told', () => {
    const { turn } = system(false);
    stop = followSystem();
    expect(isDark()).toBe(false);
    const told = vi.fn();
    window.addEventListener('dunrik-colours', told);
    turn(true);
    expect(isDark()).toBe(true);
    expect(told).toHaveBeenCalledTimes(1);
    turn(false);
    expect(isDark()).toBe(false);
    window.removeEventListener('dunrik-colours', told);
  });

  it('stay as somebody chose them, whatever the system does', () => {
    const { turn } = system(false);
    stop = followSystem();
    setNight(true);
    turn(true);
    turn(false);
    expect(isDark()).toBe(true);
  });

  it('are known to whatever shows them, wherever they were changed', () => {
    const { turn } = system(false);
    stop = followSystem();
    const { result } = renderHook(() => useNight());
    expect(result.current).toBe(false);
    act(() => turn(true));
    expect(result.current).toBe(true);
    act(() => setNight(false));
    expect(result.current).toBe(false);
  });
});
