// Ports for programs that start later: nobody else may have them by then.
import { execFile } from 'node:child_process';
import { createSocket } from 'node:dgram';
import { readFileSync } from 'node:fs';
import { createServer, type Server } from 'node:net';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { describe, expect, it } from 'vitest';
import { freePort } from './lib/ports.mjs';

const library = fileURLToPath(new URL('lib/ports.mjs', import.meta.url));

/** Another program that asks for ports, and ends (or is killed) with what it has. */
async function asked(many: number, end = ''): Promise<number[]> {
  const script = `const { freePort } = await import(${JSON.stringify(library)});
    const ports = [];
    for (let n = 0; n < ${many}; n++) ports.push(await freePort());
    console.log(JSON.stringify(ports));
    ${end}`;
  const run = promisify(execFile)(process.execPath, ['--input-type=module', '-e', script]);
  const { stdout } = await run.catch((error: { stdout: string }) => error);
  return JSON.parse(stdout) as number[];
}

const listen = (port: number) =>
  new Promise<Server>((resolve, reject) => {
    const server = createServer().once('error', reject);
    server.listen(port, '127.0.0.1', () => resolve(server));
  });

describe('a free port', () => {
  it('is none that the system gives to connections, so that nobody’s request takes it meanwhile', async () => {
    // ip(7), ip_local_port_range: from where the kernel takes the near end of a connection.
    const [from, to] = readFileSync('/proc/sys/net/ipv4/ip_local_port_range', 'utf8').trim().split(/\s+/).map(Number);
    for (let n = 0; n < 50; n++) {
      const port = await freePort();
      expect(port >= from! && port <= to!, `${port} lies within ${from} to ${to}`).toBe(false);
    }
  });

  it('is given once, however many programs ask at the same time', async () => {
    const all = (await Promise.all([1, 2, 3, 4].map(() => asked(300, 'setTimeout(() => undefined, 4000);')))).flat();
    expect(new Set(all).size).toBe(1200);
  }, 60_000);

  it('is none on which somebody listens', async () => {
    const server = await listen(0);
    const { port } = server.address() as { port: number };
    const mine = await Promise.all(Array.from({ length: 20 }, freePort));
    expect(mine).not.toContain(port);
    expect(new Set(mine).size).toBe(20);
    for (const each of mine) (await listen(each)).close();
    server.close();
  });

  it('can be had again when whoever had it is gone, killed or not', async () => {
    const [first, second] = [await asked(5, 'process.kill(process.pid, "SIGKILL");'), await asked(5)];
    for (const port of [...first, ...second]) {
      const held = createSocket('udp4');
      await new Promise<void>((done, fail) => held.once('error', fail).bind(port, '127.0.0.1', done));
      held.close();
    }
  });
});
