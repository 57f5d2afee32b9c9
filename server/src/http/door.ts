/** Who is let in, and for how long: read from the environment, documented in the README. */
export interface Door {
  /** Cookies only over TLS, ended here or by a proxy before us. */
  tls: boolean;
  /** Proxies before us whose word on the caller's address counts. */
  proxies: number;
  /** Whether the demo is entered by its button. */
  demo: boolean;
  /** Whether whoever comes may make an account; invited people always may. */
  registration: boolean;
  /** A session ends so long after it began, and after nothing was asked for so long. */
  sessionHours: number;
  idleMinutes: number;
  /** Failed sign-ins in a quarter of an hour, of one address and of one account. */
  signIns: number;
  /** Received files of one project: how many, and of how many megabytes together. */
  projectFiles: number;
  projectMegabytes: number;
  /** E-mail addresses of accounts that run this server. */
  administrators: readonly string[];
}

export const PLAIN_DOOR: Door = { tls: false, proxies: 0, demo: true, registration: true, sessionHours: 12, idleMinutes: 30, signIns: 20, projectFiles: 2000, projectMegabytes: 10_240, administrators: [] }; // prettier-ignore

/** The door as the environment has it. Throws Error with a sentence on a value that is none. */
export function doorOf(env: NodeJS.ProcessEnv): Door {
  const yes = (name: string, otherwise: boolean): boolean => {
    const value = env[name] ?? '';
    if (value === '') return otherwise;
    if (value === 'yes' || value === 'no') return value === 'yes';
    throw new Error(`${name} is yes or no, not “${value}”.`);
  };
  const number = (name: string, otherwise: number, most: number): number => {
    const value = env[name] ?? '';
    if (value === '') return otherwise;
    if (/^\d{1,6}$/.test(value) && Number(value) <= most) return Number(value);
    throw new Error(`${name} is a whole number up to ${most}, not “${value}”.`);
  };
  const d = PLAIN_DOOR;
  return {
    ...d,
    tls: yes('DUNRIK_TLS', d.tls),
    proxies: number('DUNRIK_PROXIES', d.proxies, 10),
    demo: yes('DUNRIK_DEMO', d.demo),
    registration: yes('DUNRIK_REGISTRATION', d.registration),
    sessionHours: Math.max(1, number('DUNRIK_SESSION_HOURS', d.sessionHours, 24 * 90)),
    projectFiles: number('DUNRIK_PROJECT_FILES', d.projectFiles, 999_999),
    projectMegabytes: number('DUNRIK_PROJECT_MB', d.projectMegabytes, 999_999),
    administrators: (env.DUNRIK_ADMINISTRATORS ?? '').split(/[\s,;]+/).filter(Boolean),
    idleMinutes: Math.max(1, number('DUNRIK_IDLE_MINUTES', d.idleMinutes, 60 * 24 * 90)),
  };
}

/** What to warn of at the start: a demo that anybody on the network can enter. */
export const doorWarning = (door: Door, host: string): string | null =>
  door.demo && !['127.0.0.1', 'localhost', '::1'].includes(host)
    ? `the demo is open to whoever reaches ${host}: anybody can enter and change it. DUNRIK_DEMO=no closes it.`
    : null;
