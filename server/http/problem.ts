import type { NextFunction, Request, Response } from 'express';
import type { Logger } from 'pino';
import { ZodError } from 'zod';
import { NetworkTrouble } from '../connectors/connector.ts';
import { ChangedMeanwhile } from '../db/revision.ts';
import { CannotTake } from '../media/library.ts';
import { RecurrenceError } from '@playa/core/timetable/recurrence.ts';
import { UnreadableOpml } from '@playa/core/feeds/opml.ts';
import { UnreadableTable } from '@playa/core/sheets/delimited.ts';
import { DeskTrouble } from '../desk/send.ts';
import { PostTrouble } from '../posts/check-post.ts';
import { SheetTrouble } from '../sheets/keep-sheet.ts';
import { NoRoom } from '../store/room.ts';
import { CannotRename } from '../watch/rename.ts';
import { CannotMove } from '../workflows/move-post.ts';
import { CannotDecide } from '../workflows/decide.ts';
import { NotReady } from '../workflows/go-live.ts';

/** The sorts of refusal that a program can tell apart. They stay as they are: clients go by them. */
export const CODES = [
  'signed-out',
  'forbidden',
  'not-found',
  'conflict',
  'too-large',
  'unreadable',
  'not-ready',
  'too-often',
  'network',
  'unavailable',
  'fault',
] as const;
export type Code = (typeof CODES)[number];

/** The code that goes with a status, where nothing more exact is said. */
const CODE_OF: Record<number, Code> = {
  401: 'signed-out',
  403: 'forbidden',
  404: 'not-found',
  409: 'conflict',
  413: 'too-large',
  422: 'unreadable',
  429: 'too-often',
  502: 'network',
  503: 'unavailable',
};

/** A refusal: an HTTP status and a sentence for the person (RFC 9457 problem details). */
export class Problem extends Error {
  readonly status: number;
  readonly code: Code;
  readonly extra: Record<string, unknown>;
  /** @param extra what a program may want to know besides */
  constructor(status: number, title: string, extra: Record<string, unknown> = {}, code?: Code) {
    super(title);
    this.status = status;
    this.code = code ?? CODE_OF[status] ?? (status >= 500 ? 'fault' : 'unreadable');
    this.extra = extra;
  }
}

const POST_STATUS = { gone: 404, stale: 409, out: 409, missing: 422, yes: 403 } as const;
const SHEET_STATUS = { gone: 404, stale: 409, used: 409, full: 422 } as const;

function toProblem(error: unknown): Problem {
  if (error instanceof Problem) return error;
  if (error instanceof ZodError) {
    const first = error.issues[0];
    return new Problem(
      422,
      first ? `${first.path.join('.') || 'The request'}: ${first.message}` : 'The request is not complete.',
      { issues: error.issues },
    );
  }
  if (error instanceof NotReady) return new Problem(422, error.message, { reasons: error.reasons }, 'not-ready');
  if (error instanceof CannotDecide || error instanceof CannotRename || error instanceof CannotMove)
    return new Problem(409, error.message);
  if (error instanceof ChangedMeanwhile) return new Problem(409, error.message, { current: error.current });
  if (error instanceof SheetTrouble)
    return new Problem(
      SHEET_STATUS[error.why],
      error.message,
      error.current === undefined ? {} : { current: error.current },
    );
  if (error instanceof DeskTrouble) return new Problem(409, error.message, { why: error.why });
  if (error instanceof PostTrouble)
    return new Problem(POST_STATUS[error.why], error.message, { why: error.why, reasons: error.reasons });
  if (error instanceof NoRoom) return new Problem(422, error.message);
  if (error instanceof UnreadableOpml) return new Problem(422, error.message);
  if (error instanceof UnreadableTable) return new Problem(422, error.message);
  if (error instanceof CannotTake) return new Problem(error.status, error.message);
  if (error instanceof RecurrenceError) return new Problem(422, error.message);
  if (error instanceof NetworkTrouble) return new Problem(error.kind === 'fix' ? 422 : 502, error.message);
  const status = (error as { status?: number }).status;
  if (status === 413) return new Problem(413, 'This is too large to save.');
  if (status !== undefined && status >= 400 && status < 500)
    return new Problem(status, 'The request could not be read.');
  return new Problem(500, 'Something went wrong in Playa itself. What you typed is kept; try again.');
}

/** Answers errors as application/problem+json. */
export function problemHandler(log: Logger) {
  return (error: unknown, req: Request, res: Response, _next: NextFunction): void => {
    const problem = toProblem(error);
    if (problem.status >= 500) log.error({ err: error, path: req.path }, 'a request failed');
    if (res.headersSent) return void res.end();
    res
      .status(problem.status)
      .type('application/problem+json')
      .send(
        JSON.stringify({
          type: `/problems/${problem.code}`,
          code: problem.code,
          title: problem.message,
          status: problem.status,
          ...problem.extra,
        }),
      );
  };
}
