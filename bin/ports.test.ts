// Ports for programs that start later: nobody else may have them by then.
import { spawn } from 'node:child_process';
import { createSocket } from 'node:dgram';
import { readFileSync } from 'node:fs';
import { createServer, type Server } from 'node:net';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { freePort } from './lib/ports.mjs';

const library = fileURLToPath(new URL('lib/ports.mjs', import.meta.url));

/** Another program that asks for ports, and holds them until it is killed. */
async function asking(many: number): Promise<{ ports: number[]; kill: () => Promise<void> }> {
  const script = `const { freePort } = await import(${JSON.stringify(library)});
    const ports = [];
    for (let n = 0; n < ${many}; n++) ports.push(await freePort());
    console.log(JSON.stringify(ports));
    setInterval(() => undefined, 1000);`;
  const child = spawn(process.execPath, ['--input-type=module', '-e', script], {
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  let said = '';
  for await (const piece of child.stdout) if ((said += String(piece)).includes('\n')) break;
  const ended = new Promise<void>((done) => child.once('exit', () => done()));
  return { ports: JSON.parse(said) as number[], kill: () => (child.kill('SIGKILL'), ended) };
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
    // All of them live until the last has what it asked for.
    const programs = await Promise.all([1, 2, 3, 4].map(() => asking(200)));
    const all = programs.flatMap(({ ports }) => ports);
    expect(new Set(all).size).toBe(800);
    await Promise.all(programs.map(({ kill }) => kill()));
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

  it('can be had again when whoever had it is gone, and not before', async () => {
    const hold = async (port: number) => {
      const socket = createSocket('udp4');
      await new Promise<void>((done, fail) => socket.once('error', fail).bind(port, '127.0.0.1', done));
      socket.close();
    };
    const { ports, kill } = await asking(5);
    for (const port of ports) await expect(hold(port)).rejects.toThrow('EADDRINUSE');
    await kill();
    for (const port of ports) await hold(port);
  }, 60_000);
});
