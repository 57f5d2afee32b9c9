import { endDemoSessions } from '../accounts/sessions.ts';
import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import express, { Router, type Express, type RequestHandler } from 'express';
import helmet from 'helmet';
import type { Logger } from 'pino';
import { adminRoutes } from '../accounts/admin.ts';
import { accountRoutes } from '../accounts/account.ts';
import { authRoutes, needSession, sessionMiddleware } from '../accounts/auth.ts';
import type { Pool } from '../db/db.ts';
import { PLAIN_DOOR, type Door } from './door.ts';
import { invitationRoutes, offerRoutes } from '../accounts/invitations.ts';
import { Intakes } from '../projects/intakes.ts';
import { codeListRoutes } from '../projects/code-lists.ts';
import { layoutRoutes } from '../projects/layouts.ts';
import type { Live } from './live.ts';
import { answerProblems, Refusal } from './problems.ts';
import { passwordResetRoutes } from '../accounts/password-reset.ts';
import { projectRoutes } from '../projects/projects.ts';
import type { Settler } from '../results/settle.ts';
import { systemRoutes } from '../projects/systems.ts';
import { teamRoutes } from '../accounts/teams.ts';

const PAGES = fileURLToPath(new URL('../../../web/dist/', import.meta.url));

export interface AppServices {
  pool: Pool;
  settler: Settler;
  live: Live;
  log: Logger;
  door?: Partial<Door>;
}

export async function createApp({ pool, settler, live, log, door: said = {} }: AppServices): Promise<Express> {
  const door = { ...PLAIN_DOOR, ...said };
  const { tls: secure } = door;
  // Whoever is in the demo from before is out of it too.
  if (!door.demo) await endDemoSessions(pool);
  const app = express();
  app.set('trust proxy', door.proxies);
  app.disable('x-powered-by');
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'none'"],
          scriptSrc: ["'self'"],
          workerSrc: ["'self'"],
          // The component library writes its styles into the page.
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          fontSrc: ["'self'"],
          connectSrc: ["'self'"],
          formAction: ["'self'"],
          frameAncestors: ["'none'"],
          baseUri: ["'none'"],
        },
      },
      strictTransportSecurity: secure,
      crossOriginOpenerPolicy: secure,
      originAgentCluster: secure,
    }),
  );

  const api = Router();
  // The server itself; whether it can work is another question.
  api.get('/health', (_request, response) => response.json({ ok: true }));
  api.get('/ready', async (_request, response) => {
    await pool.query('select 1');
    response.json({ ok: true });
  });
  api.use(sameOrigin);
  api.use(await sessionMiddleware(pool, door));
  api.use(express.json({ limit: '8mb' }));
  api.use(authRoutes(pool, door));
  api.use(offerRoutes(pool));
  api.use(passwordResetRoutes(pool));
  api.use(needSession(pool, door));
  api.use(accountRoutes(pool));
  api.use(adminRoutes(pool));
  api.use(teamRoutes(pool));
  api.use(invitationRoutes(pool));
  api.use(systemRoutes());
  api.use(layoutRoutes(pool));
  api.use(codeListRoutes(pool));
  api.use(projectRoutes({ pool, settler, live, door, intakes: new Intakes(pool, settler, log) }));
  api.use(() => {
    throw new Refusal(404, 'There is nothing at this address.');
  });
  app.use('/api', api);

  if (existsSync(PAGES)) {
    app.use('/assets', express.static(`${PAGES}assets`, { immutable: true, maxAge: '1y', fallthrough: false }));
    app.use(express.static(PAGES, { index: false }));
    app.get('/{*path}', (_request, response) => response.sendFile(`${PAGES}index.html`));
  }
  app.use(answerProblems(pool, log));
  return app;
}

/** Writes from another site's pages are refused, beside what same-site cookies do. */
const sameOrigin: RequestHandler = (request, _response, next) => {
  const { origin, host } = request.headers;
  if (request.method !== 'GET' && origin && !origin.endsWith(`//${host}`))
    throw new Refusal(403, 'Requests from other sites are refused.');
  next();
};
