import { useSyncExternalStore } from 'react';

const KEY = 'dunrik.night';
const CHANGED = 'dunrik-colours';

const systemIsDark = (): MediaQueryList => matchMedia('(prefers-color-scheme: dark)');

/** Night colours: as this person chose on this device, else as the system has it. */
export function isNight(): boolean {
  const kept = localStorage.getItem(KEY);
  return kept === null ? systemIsDark().matches : kept === 'yes';
}

/** Colours the page, and goes on with the system for as long as nobody chooses. Returns what ends it. */
export function followSystem(): () => void {
  applyNight(isNight());
  const dark = systemIsDark();
  const follow = (): void => applyNight(isNight());
  dark.addEventListener('change', follow);
  return () => dark.removeEventListener('change', follow);
}

function applyNight(night: boolean): void {
  document.documentElement.classList.toggle('dark', night);
  document.documentElement.style.colorScheme = night ? 'dark' : 'light';
  window.dispatchEvent(new Event(CHANGED));
}

export function setNight(night: boolean): void {
  localStorage.setItem(KEY, night ? 'yes' : 'no');
  applyNight(night);
}

/** Whether night colours are shown now. */
export const useNight = (): boolean => useSyncExternalStore(onChange, isNight);

function onChange(tell: () => void): () => void {
  window.addEventListener(CHANGED, tell);
  return () => window.removeEventListener(CHANGED, tell);
}
