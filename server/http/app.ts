import { existsSync } from 'node:fs';
import { join } from 'node:path';
import express, { type Express } from 'express';
import helmet from 'helmet';
import type { Services } from '../base/services.ts';
import { problemHandler, Problem } from './problem.ts';
import { notTooDeep } from './depth.ts';
import { requireUser } from './visitor.ts';
import { outsideRoutes } from './outside-routes.ts';
import { mountEndpoints } from './contract/mount.ts';
import { allEndpoints } from './endpoints/index.ts';
import type { ChangeTail } from './events.ts';

/** Playa's HTTP side: the interface's files, and its API under /api. */
export function makeApp(services: Services, tail: ChangeTail): Express {
  const { config } = services;
  const app = express();
  app.disable('x-powered-by');
  // Behind a proxy the place somebody comes from is what the proxy says, and only then.
  if (config.trustProxy) app.set('trust proxy', config.trustProxy);
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          // Pictures of items are shown where they lie; nothing else comes from outside.
          imgSrc: ["'self'", 'data:', 'https:', 'http:'],
          styleSrc: ["'self'", "'unsafe-inline'"],
          formAction: ["'self'"],
          upgradeInsecureRequests: null,
        },
      },
      strictTransportSecurity: config.origin.startsWith('https:'),
      crossOriginEmbedderPolicy: false,
      referrerPolicy: { policy: 'no-referrer' },
    }),
  );
  app.use(outsideRoutes(services));
  const api = express.Router();
  api.use((_req, res, next) => {
    res.set('Cache-Control', 'no-store');
    next();
  });
  api.use(express.json({ limit: '1mb' }), notTooDeep);
  const endpoints = allEndpoints(tail, config.origin);
  const open = endpoints.filter(({ of }) => of === 'anybody');
  api.use(mountEndpoints(services, open));
  api.use(requireUser(services));
  api.use(
    mountEndpoints(
      services,
      endpoints.filter((endpoint) => !open.includes(endpoint)),
    ),
  );
  api.use((_req, _res) => {
    throw new Problem(404, 'There is nothing at this address.');
  });
  app.use('/api', api);

  const { webDir } = config;
  if (webDir && existsSync(join(webDir, 'index.html'))) {
    app.use('/assets', express.static(join(webDir, 'assets'), { immutable: true, maxAge: '1y' }));
    app.use(express.static(webDir, { index: false, maxAge: '5m' }));
    // Every other address is a view of the interface.
    app.get('/{*path}', (_req, res) => res.set('Cache-Control', 'no-cache').sendFile(join(webDir, 'index.html')));
  }
  app.use(problemHandler(services.log));
  return app;
}
