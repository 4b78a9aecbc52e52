import { pino, type Logger } from 'pino';

/** Messages of the database that repeat what was to be stored. */
const HOLDS_VALUES = /Duplicate entry|Incorrect \S+ value:|Truncated incorrect|Invalid JSON text/;

/**
 * An error as it may be logged: never with the values of a query, which hold what people wrote, tokens and addresses.
 */
export function loggedError(error: Error): Record<string, unknown> {
  const safe = (text: string) => (HOLDS_VALUES.test(text) ? text.replace(/'(?:[^'\\]|\\.)*'/g, "'…'") : text);
  const { code, errno, sqlState, status } = error as Partial<Record<'code' | 'errno' | 'sqlState' | 'status', unknown>>;
  return {
    type: error.name,
    message: safe(error.message),
    stack: safe(error.stack ?? ''),
    ...Object.fromEntries(Object.entries({ code, errno, sqlState, status }).filter(([, value]) => value !== undefined)),
    ...(error.cause instanceof Error && { cause: loggedError(error.cause) }),
  };
}

/** Request bodies and headers are never logged; they hold passwords and tokens. */
export function openLog(level: string): Logger {
  return pino({
    level,
    base: undefined,
    redact: ['*.token', '*.password', '*.authorization'],
    serializers: { err: (error: unknown) => (error instanceof Error ? loggedError(error) : error) },
  });
}
