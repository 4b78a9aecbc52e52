// What an address can do to whoever fetches it, besides answering.
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { Guard } from './guard.ts';

describe('a fetch', () => {
  const ports: number[] = [];
  const servers: Server[] = [];
  const heard: IncomingMessage[] = [];
  let answer: (req: IncomingMessage, res: ServerResponse) => void;
  let guard: Guard;
  const drips = new Set<NodeJS.Timeout>();

  beforeAll(async () => {
    for (let n = 0; n < 2; n++) {
      const server = createServer((req, res) => {
        heard.push(req);
        answer(req, res);
      });
      await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
      servers.push(server);
      ports.push((server.address() as { port: number }).port);
    }
    guard = new Guard([...ports.map((port) => `127.0.0.1:${port}`), `localhost:${ports[0]}`]);
  });
  afterEach(() => {
    for (const drip of drips) clearInterval(drip);
    drips.clear();
    heard.length = 0;
  });
  afterAll(async () => {
    await guard.close();
    for (const server of servers) server.closeAllConnections();
    for (const server of servers) server.close();
  });
  const at = (path: string, which = 0) => `http://127.0.0.1:${ports[which]}${path}`;
  /** Sends a byte every few milliseconds, without end: always alive, never done. */
  const drip = (res: ServerResponse) => {
    const timer = setInterval(() => res.write('.'), 10);
    drips.add(timer);
    res.on('close', () => clearInterval(timer));
  };

  it('of a redirect whose body drips follows it at once', async () => {
    answer = (req, res) => {
      if (req.url === '/there') return void res.end('here');
      res.writeHead(302, { location: '/there' });
      drip(res);
    };
    expect((await guard.fetch(at('/'), { timeout: 2000 })).body.toString()).toBe('here');
  });

  it.each([
    ['a body that drips', (_: IncomingMessage, res: ServerResponse) => drip(res.writeHead(200))],
    ['silence', () => undefined],
    [
      'redirects that each take their time',
      (req: IncomingMessage, res: ServerResponse) =>
        void setTimeout(() => res.writeHead(302, { location: `${req.url}x` }).end(), 60),
    ],
    [
      'a redirect to a body that drips',
      (req: IncomingMessage, res: ServerResponse) =>
        req.url === '/drip' ? drip(res.writeHead(200)) : void res.writeHead(307, { location: '/drip' }).end(),
    ],
  ])('of %s ends at its deadline', async (_, how) => {
    answer = how;
    await expect(guard.fetch(at('/'), { timeout: 150 })).rejects.toMatchObject({ kind: 'timeout', sent: true });
  });

  it('takes nothing of the caller’s to another origin', async () => {
    answer = (req, res) =>
      req.url === '/elsewhere' ? void res.writeHead(302, { location: at('/', 1) }).end() : void res.end();
    const headers = { 'x-api-key': 'secret', authorization: 'Bearer secret', cookie: 'a=b', accept: 'text/plain' };
    await guard.fetch(at('/elsewhere'), { headers: { ...headers, 'idempotency-key': 'k' } });
    const { headers: got } = heard.at(-1)!;
    expect(got).toMatchObject({ accept: 'text/plain' });
    expect(JSON.stringify(got)).not.toContain('secret');
    expect(got).not.toHaveProperty('cookie');
    expect(got).not.toHaveProperty('idempotency-key');
  });

  it.each([307, 308])('with a body does not follow a %i to another origin', async (status) => {
    answer = (_, res) => void res.writeHead(status, { location: at('/', 1) }).end();
    await expect(guard.fetch(at('/'), { method: 'POST', body: 'words' })).rejects.toMatchObject({
      kind: 'redirects',
      sent: false,
    });
    expect(heard).toHaveLength(1);
  });

  it.each([307, 308])('with a body follows a %i at the same origin, with all it has', async (status) => {
    answer = (req, res) =>
      req.url === '/' ? void res.writeHead(status, { location: '/next' }).end() : void res.end(req.headers['x-key']);
    const { body } = await guard.fetch(at('/'), { method: 'POST', body: 'words', headers: { 'x-key': 'k' } });
    expect(body.toString()).toBe('k');
    expect(heard.at(-1)!.method).toBe('POST');
  });

  it('reaches what the operator lets through by its name', async () => {
    answer = (_, res) => void res.end('by name');
    expect((await guard.fetch(`http://localhost:${ports[0]}/`)).body.toString()).toBe('by name');
    // The same name at another port is not let through.
    await expect(guard.fetch(`http://localhost:${ports[1]}/`)).rejects.toMatchObject({ kind: 'refused' });
  });

  it('with a header that cannot be written counts as not sent', async () => {
    answer = (_, res) => void res.end();
    await expect(guard.fetch(at('/'), { headers: { 'x-note': 'a\nb' } })).rejects.toMatchObject({
      kind: 'header',
      sent: false,
    });
    await expect(guard.fetch(at('/'), { headers: { 'x-note': 'sea 🏊' } })).rejects.toMatchObject({ kind: 'header' });
    expect(heard).toHaveLength(0);
  });

  it('to what is no address at all is refused', async () => {
    answer = (_, res) => void res.writeHead(302, { location: 'http://[' }).end();
    await expect(guard.fetch(at('/'))).rejects.toMatchObject({ kind: 'address' });
  });
});
