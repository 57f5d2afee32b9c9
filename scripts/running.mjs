import { existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';

/** What an earlier start left behind: which process it is, and where it answers once it does. Null where nothing can be read. */
function leftBy(file) {
  try {
    const { pid, address } = JSON.parse(readFileSync(file, 'utf8'));
    return Number.isInteger(pid) && pid > 0 ? { pid, address: String(address ?? '') } : null;
  } catch {
    return null;
  }
}

/** Whether a process is there and is a start of ours: after a crash its number may be another program's. */
function isOurs(pid) {
  try {
    process.kill(pid, 0);
  } catch (error) {
    if (error.code !== 'EPERM') return false;
  }
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('start.mjs');
  } catch {
    // No such folder here: the number alone has to do.
    return !existsSync('/proc/self');
  }
}

/**
 * Takes a data folder for this start. Gives the start that has it already, in whatever state that is, or null when it is
 * ours now; two servers on one folder would stop each other's database.
 */
export function takeFolder(file, pid = process.pid) {
  mkdirSync(dirname(file), { recursive: true });
  for (let tries = 0; tries < 5; tries++) {
    try {
      writeFileSync(file, JSON.stringify({ pid }), { flag: 'wx' });
      return null;
    } catch (error) {
      if (error.code !== 'EEXIST') throw error;
      const left = leftBy(file);
      if (left && left.pid !== pid && isOurs(left.pid)) return left;
      rmSync(file, { force: true });
    }
  }
  throw new Error(`${file} cannot be taken`);
}

/** Says where this start answers. */
export function sayAddress(file, address, pid = process.pid) {
  writeFileSync(`${file}.new`, JSON.stringify({ pid, address }));
  renameSync(`${file}.new`, file);
}
