import { spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { hash } from '@node-rs/argon2';
import pg from 'pg';
import { migrate, openPool } from '../server/src/db/db.ts';
import { ADMINISTRATOR } from './administrator.ts';

// A server on a fresh database, for the browser tests; the database goes with it.
const admin = process.env.DATABASE_URL;
if (!admin) throw new Error('DATABASE_URL is not set: run the tests with npm test.');
const name = `dunrik_e2e_${randomBytes(6).toString('hex')}`;
const root = new pg.Client({ connectionString: admin });
await root.connect();
await root.query(`create database ${name}`);
const url = new URL(admin);
url.pathname = `/${name}`;
// Who runs it has an account before the start that appoints them.
const pool = openPool(url.href);
await migrate(pool);
await pool.query('insert into account (email, name, password_hash) values ($1, $2, $3)', [ADMINISTRATOR.email, ADMINISTRATOR.name, await hash(ADMINISTRATOR.password)]); // prettier-ignore
await pool.end();
const server = spawn(process.execPath, ['--import', 'tsx', '../server/src/main.ts'], {
  cwd: import.meta.dirname,
  stdio: ['ignore', 'inherit', 'inherit'],
  env: {
    ...process.env,
    DATABASE_URL: url.href,
    PORT: process.argv[2],
    HOST: '127.0.0.1',
    DUNRIK_ADMINISTRATORS: ADMINISTRATOR.email,
  },
});
const end = (): void => void server.kill('SIGTERM');
process.on('SIGTERM', end);
process.on('SIGINT', end);
server.on('exit', async (code) => {
  await root.query(`drop database if exists ${name} with (force)`);
  await root.end();
  process.exit(code ?? 0);
});
