import type { NextFunction, Request, Response } from 'express';
import { Problem } from './problem.ts';

/** No request of the interface comes near this; deeper ones would overflow whoever reads them. */
const DEEPEST = 64;

/** Refuses bodies that are nested without end, before anything walks through them. */
export function notTooDeep(req: Request, _res: Response, next: NextFunction): void {
  let level: unknown[] = [req.body];
  for (let depth = 0; level.length > 0; depth++) {
    if (depth > DEEPEST) throw new Problem(422, `The request is nested more than ${DEEPEST} deep.`);
    level = level.flatMap((value) => (value !== null && typeof value === 'object' ? Object.values(value) : []));
  }
  next();
}
