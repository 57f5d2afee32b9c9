import { spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import pg from 'pg';

// A server on a fresh database, for the browser tests; the database goes with it.
const admin = process.env.DATABASE_URL;
if (!admin) throw new Error('DATABASE_URL is not set: run the tests with npm test.');
const name = `dunrik_e2e_${randomBytes(6).toString('hex')}`;
const root = new pg.Client({ connectionString: admin });
await root.connect();
await root.query(`create database ${name}`);
const url = new URL(admin);
url.pathname = `/${name}`;
const server = spawn(process.execPath, ['--import', 'tsx', '../server/src/main.ts'], {
  cwd: import.meta.dirname,
  stdio: ['ignore', 'inherit', 'inherit'],
  env: { ...process.env, DATABASE_URL: url.href, PORT: process.argv[2], HOST: '127.0.0.1' },
});
const end = (): void => void server.kill('SIGTERM');
process.on('SIGTERM', end);
process.on('SIGINT', end);
server.on('exit', async (code) => {
  await root.query(`drop database if exists ${name} with (force)`);
  await root.end();
  process.exit(code ?? 0);
});
