// Ports for programs that are started with their number: chosen now, listened on later by somebody else.
import { createSocket } from 'node:dgram';
import { randomInt } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { Stop } from './say.mjs';

/** Above every port that browsers refuse to open (the Fetch standard, section 2.9 "Port blocking": 10080 is the last). */
const LOWEST = 12_000;
const HIGHEST = 65_535;
/** How many are looked at before it is said that there is none. */
const TRIES = 500;

/**
 * Where to look: outside the range from which the system takes the near end of connections (ip(7),
 * `ip_local_port_range`). A port from there is free at one moment and the end of somebody's request at the next.
 */
function range() {
  let from = 32_768;
  let to = 60_999;
  try {
    [from, to] = readFileSync('/proc/sys/net/ipv4/ip_local_port_range', 'utf8').trim().split(/\s+/).map(Number);
  } catch {
    // Not Linux: what Linux has.
  }
  const below = [LOWEST, from - 1];
  const above = [to + 1, HIGHEST];
  const size = ([first, last]) => last - first + 1;
  const [first, last] = size(below) >= size(above) ? below : above;
  return size([first, last]) >= 1000 ? [first, last] : [LOWEST, HIGHEST];
}

function tryPort(port) {
  return new Promise((resolve, reject) => {
    const server = createServer();
    server.once('error', reject);
    server.listen({ port, host: '127.0.0.1', exclusive: true }, () => server.close(() => resolve(port)));
  });
}

/**
 * Keeps other programs that ask here from the port, by holding the same number for UDP, which nobody of ours uses. The
 * system gives it back when this process ends, however it ends.
 */
function claim(port) {
  return new Promise((resolve, reject) => {
    const socket = createSocket('udp4');
    socket.once('error', reject);
    socket.bind({ port, address: '127.0.0.1', exclusive: true }, () => {
      socket.unref();
      resolve();
    });
  });
}

const taken = (error) => error.code === 'EADDRINUSE' || error.code === 'EACCES';

/**
 * A port of this machine on which nobody listens, that no connection takes and that is given to nobody else while this
 * process lives.
 *
 * @returns {Promise<number>}
 * @throws Stop where there is none
 */
export async function freePort() {
  const [first, last] = range();
  for (let tries = 0; tries < TRIES; tries++) {
    const port = randomInt(first, last + 1);
    try {
      await claim(port);
      return await tryPort(port);
    } catch (error) {
      if (!taken(error)) throw error;
    }
  }
  throw new Stop(`Of ${TRIES} ports between ${first} and ${last} none is free.`);
}

/** Makes sure that a port can be had, or says how to choose another. */
export async function needPort(port, variable) {
  try {
    await tryPort(port);
  } catch (error) {
    if (error.code !== 'EADDRINUSE') throw error;
    throw new Stop(
      `Port ${port} is in use by another program (perhaps Playa runs already). Stop it, or choose another port: ${variable}=${port + 20} npm start`,
    );
  }
}
