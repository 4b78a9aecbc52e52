import { createServer } from 'node:net';
import { Stop } from './say.mjs';

function tryPort(port) {
  return new Promise((resolve, reject) => {
    const server = createServer();
    server.once('error', reject);
    server.listen(port, '127.0.0.1', () => {
      const taken = server.address().port;
      server.close(() => resolve(taken));
    });
  });
}

/** A port nobody listens on. */
export const freePort = () => tryPort(0);

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
