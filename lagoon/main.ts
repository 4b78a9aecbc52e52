import express, { type NextFunction, type Request, type Response } from 'express';
import { readFile } from 'node:fs/promises';
import { ZodError } from 'zod';
import { Clock } from './base/clock.ts';
import { readConfig } from './base/config.ts';
import { controlRoutes } from './control.ts';
import { openDatabase } from './base/db.ts';
import { Faults } from './base/faults.ts';
import { html, page } from './base/html.ts';
import type { Lagoon } from './base/lagoon.ts';
import { startMail } from './mail/mail.ts';
import { peopleRoutes, personOf } from './base/people.ts';
import { SERVICES } from './services.ts';
import { settle } from './world/settle.ts';

const config = readConfig(process.env);
const lagoon: Lagoon = {
  db: await openDatabase(config.databaseUrl),
  clock: new Clock(config.clockAhead),
  config,
  faults: new Faults(),
};
await settle(lagoon, config.empty);

const app = express();
app.disable('x-powered-by');
const style = await readFile(new URL('style.css', import.meta.url), 'utf8');
app.get('/style.css', (_req, res) => void res.type('css').set('Cache-Control', 'max-age=300').send(style));
app.get('/', async (req, res) => {
  res.send(
    page(
      { service: 'Lagoon', title: 'Home', person: (await personOf(lagoon.db, req))?.name },
      html`<h1>A small made-up social world</h1>
        <p>Everything an application would find out there, in here. Look around as its audience would.</p>
        <ul class="services">
          ${SERVICES.map(
            ({ path, name, about }) =>
              html`<li class="box">
                <h2><a href="/${path}/">${name}</a></h2>
                ${about}
              </li>`,
          )}
        </ul>
        <div class="box">
          <h2><a href="/control">Control</a></h2>
          Let things go wrong.
        </div>`,
    ),
  );
});
app.use(peopleRoutes(lagoon.db));
for (const service of SERVICES) app.use(`/${service.path}`, service.routes(lagoon));
app.use('/control', controlRoutes(lagoon));
app.use((error: Error, _req: Request, res: Response, _next: NextFunction) => {
  const status = error instanceof ZodError ? 400 : ((error as { status?: number }).status ?? 500);
  if (status >= 500) console.error(error);
  if (!res.headersSent)
    res.status(status).json({
      error: {
        code: status >= 500 ? 'unwell' : 'bad_request',
        message: status >= 500 ? 'Something broke on our side.' : error.message,
      },
    });
});

const server = app.listen(config.port, '127.0.0.1', () => console.log(`Lagoon at ${config.origin}`));
const cannotListen = (port: number) => (error: Error) => {
  console.error(`Lagoon cannot listen on port ${port}: ${error.message}`);
  process.exit(1);
};
server.on('error', cannotListen(config.port));
const mail = config.mailPort ? startMail(lagoon, config.mailPort, cannotListen(config.mailPort)) : undefined;
for (const signal of ['SIGINT', 'SIGTERM'] as const) {
  process.once(signal, () => {
    mail?.close();
    server.close();
    server.closeAllConnections();
    void lagoon.db.end().finally(() => process.exit(0));
  });
}
