import { execFileSync, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { say, stop } from './say.mjs';

export const ROOT = join(import.meta.dirname, '..');
export const DATA = process.env.DUNRIK_DATA ?? join(ROOT, '.data');

/** What something was made from, kept within it: when it is taken away or broken off, so is its stamp. */
const stampOf = (file) => (existsSync(file) ? readFileSync(file, 'utf8') : '');

const hashOf = (text) => createHash('sha256').update(text).digest('hex');

export function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 19))
    stop(`Node.js ${process.versions.node} is too old; 20.19 or newer is needed.`);
}

/** Debian packages by a command each brings; installed when root, else the one line to run is printed. */
export function needDebian(packages) {
  const missing = packages.filter(({ present }) => !present()).map((p) => p.name);
  if (missing.length === 0) return;
  const line = `apt-get update && apt-get install -y --no-install-recommends ${missing.join(' ')}`;
  if (process.getuid?.() !== 0) stop(`missing Debian packages: ${missing.join(', ')}. Run once: sudo sh -c '${line}'`);
  if (spawnSync('apt-get', ['--version']).error)
    stop(`missing: ${missing.join(', ')}, and this is no Debian system that could install them.`);
  say(`installing Debian packages: ${missing.join(', ')} …`);
  const run = spawnSync('sh', ['-c', line], {
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
  });
  if (run.status !== 0) stop(`could not install ${missing.join(', ')}. Try by hand: ${line}`);
}

export const command = (name) => () => spawnSync('sh', ['-c', `command -v ${name}`]).status === 0;

/** Node packages as the lock file has them; nothing is done when they are in place already. */
export function needNodePackages() {
  const lock = hashOf(readFileSync(join(ROOT, 'package-lock.json')) + process.versions.modules);
  const stamp = join(ROOT, 'node_modules/.made-from');
  if (stampOf(stamp) === lock) return;
  say('installing Node packages …');
  const run = spawnSync('npm', ['ci', '--no-audit', '--no-fund'], {
    cwd: ROOT,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  if (run.status !== 0)
    stop('npm could not install the packages; its message stands above. Is the npm registry reachable?');
  writeFileSync(stamp, lock);
}

/** What one part of the program is made of, as one number: the folders' files by size and time, and the packages. */
function sourcesOf(folders) {
  const lines = [];
  const walk = (folder) => {
    for (const entry of readdirSync(folder, { withFileTypes: true })) {
      if (entry.name === 'dist' || entry.name === 'test') continue;
      const path = join(folder, entry.name);
      if (entry.isDirectory()) walk(path);
      else {
        const { size, mtimeMs } = statSync(path);
        lines.push(`${path} ${size} ${mtimeMs}`);
      }
    }
  };
  for (const folder of folders) walk(join(ROOT, folder));
  return hashOf(lines.sort().join('\n') + readFileSync(join(ROOT, 'package-lock.json')));
}

/** A part of the program, built when anything it is made of has changed. */
function needBuilt(part, name, folders) {
  const sources = sourcesOf(folders);
  const stamp = join(ROOT, part, 'dist/.made-from');
  if (stampOf(stamp) === sources) return;
  say(`building ${name} …`);
  try {
    execFileSync(
      process.execPath,
      [
        join(ROOT, 'node_modules/vite/bin/vite.js'),
        'build',
        '--config',
        `${part}/vite.config.ts`,
        '--logLevel',
        'warn',
      ],
      {
        cwd: ROOT,
        stdio: ['ignore', 'inherit', 'inherit'],
      },
    );
  } catch {
    stop(`${name} could not be built; the message stands above.`);
  }
  writeFileSync(stamp, sources);
}

export const needPages = () => needBuilt('web', 'the pages', ['web', 'core/src', 'contract']);
export const needCommand = () => needBuilt('cli', 'the command line', ['cli', 'core/src', 'contract']);
