import { spawn } from 'node:child_process';
import { setTimeout as pause } from 'node:timers/promises';
import { Stop } from './say.mjs';

/** Programs started together and stopped together, the last one first. */
export class Processes {
  #running = [];
  #stopping = false;

  /**
   * Starts a TypeScript program of the project.
   *
   * @param {{ name: string, root: string, script: string, env: Record<string, string>, quiet?: boolean, onExit?: (code: number | null) => void }} options
   */
  start({ name, root, script, env, quiet = false, onExit }) {
    const child = spawn(process.execPath, ['--import', 'tsx', script], {
      cwd: root,
      env: { ...process.env, ...env },
      stdio: ['ignore', quiet ? 'ignore' : 'inherit', 'inherit'],
      detached: true,
    });
    const ended = new Promise((resolve) => child.once('exit', resolve));
    this.#running.push({ name, child, ended });
    child.once('exit', (code) => {
      if (!this.#stopping) onExit?.(code);
    });
    return child;
  }

  async stop() {
    this.#stopping = true;
    for (const { child, ended } of this.#running.splice(0).reverse()) {
      if (child.exitCode !== null || child.signalCode !== null) continue;
      child.kill('SIGTERM');
      const late = setTimeout(() => child.kill('SIGKILL'), 8000);
      await ended;
      clearTimeout(late);
    }
  }
}

/** Waits until an address answers. */
export async function waitFor(url, what, seconds = 60) {
  const until = Date.now() + seconds * 1000;
  while (Date.now() < until) {
    try {
      if ((await fetch(url, { signal: AbortSignal.timeout(2000) })).ok) return;
    } catch {
      // Not yet.
    }
    await pause(60);
  }
  throw new Stop(`${what} did not come up within ${seconds} seconds.`);
}
