import type { Request, Response } from 'express';
import { ask } from '../store/facts.ts';
import type { Services } from '../base/services.ts';

/** Whoever asks wants to know now. */
const PATIENCE = 2000;

/** Whether Playa can do anything: 200 when the database answers, otherwise 503. */
export function health({ pool, log }: Services) {
  return async (_req: Request, res: Response): Promise<void> => {
    let timer: NodeJS.Timeout | undefined;
    const late = new Promise<never>((_, failed) => {
      timer = setTimeout(() => failed(new Error('The database does not answer in time.')), PATIENCE);
    });
    try {
      await Promise.race([ask(pool), late]);
      res.json({ ok: true });
    } catch (error) {
      log.warn({ err: error }, 'the database does not answer');
      res.status(503).json({ ok: false, title: 'The database does not answer.' });
    } finally {
      clearTimeout(timer);
    }
  };
}
