// Lagoon as others meet it: in a process of its own, on a database of its own.
import { spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { fileURLToPath } from 'node:url';
import mysql from 'mysql2/promise';
import { freePort } from '../../bin/lib/ports.mjs';

export interface RunningLagoon {
  origin: string;
  /** Has somebody of the audience do something; gives the number of what it made. */
  play(act: { do: string } & Record<string, unknown>): Promise<number>;
  close(): Promise<void>;
}

export async function runLagoon(env: Record<string, string> = {}): Promise<RunningLagoon> {
  const server = process.env.PLAYA_TEST_DATABASE;
  if (!server) throw new Error('These tests need the test database: run them with npm test -- unit');
  const port = await freePort();
  const origin = `http://127.0.0.1:${port}`;
  const database = `lagoon_${randomBytes(5).toString('hex')}`;
  const lagoon = spawn(process.execPath, ['--import', 'tsx', 'lagoon/main.ts'], {
    cwd: fileURLToPath(new URL('../..', import.meta.url)),
    stdio: ['ignore', 'ignore', 'inherit'],
    env: {
      ...process.env,
      LAGOON_PORT: String(port),
      LAGOON_CLIENTS: '[]',
      LAGOON_DATABASE_URL: server.replace(/\/?$/, `/${database}`),
      ...env,
    },
  });
  const up = () =>
    fetch(`${origin}/style.css`).then(
      (answer) => answer.ok,
      () => false,
    );
  for (let tries = 0; !(await up()); tries++) {
    // A busy machine takes its time to start a program; one that has ended starts no more.
    if (tries > 1000 || lagoon.exitCode !== null) throw new Error('Lagoon did not start.');
    await new Promise((done) => setTimeout(done, 60));
  }
  return {
    origin,
    async play(act) {
      const answer = await fetch(`${origin}/control/api/acts`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ act }),
      });
      if (!answer.ok) throw new Error(`${act.do}: ${answer.status} ${await answer.text()}`);
      return ((await answer.json()) as { id: number }).id;
    },
    async close() {
      lagoon.kill('SIGKILL');
      const connection = await mysql.createConnection(server);
      await connection.query('DROP DATABASE IF EXISTS ??', [database]);
      await connection.end();
    },
  };
}
