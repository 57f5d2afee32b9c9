const KEY = 'dunrik.night';

/** Night colours: as this person chose on this device, else as the system has it. */
export function isNight(): boolean {
  const kept = localStorage.getItem(KEY);
  return kept === null ? matchMedia('(prefers-color-scheme: dark)').matches : kept === 'yes';
}

export function applyNight(night: boolean): void {
  document.documentElement.classList.toggle('dark', night);
  document.documentElement.style.colorScheme = night ? 'dark' : 'light';
  window.dispatchEvent(new Event('dunrik-colours'));
}

export function setNight(night: boolean): void {
  localStorage.setItem(KEY, night ? 'yes' : 'no');
  applyNight(night);
}
