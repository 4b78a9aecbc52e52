import { pino, stdSerializers, type Logger } from 'pino';

/** Messages of the database that repeat what was to be stored. */
const WITH_VALUES = /^(?:Duplicate entry|Incorrect \S+ value:|Truncated incorrect|Invalid JSON text)/;

/**
 * An error as it may be logged: never with the values of a query, which hold what people wrote, tokens and addresses.
 */
export function loggedError(error: Error): Record<string, unknown> {
  const {
    sql: _sql,
    sqlMessage: _message,
    ...rest
  } = stdSerializers.err(error) as Record<string, unknown> & { message: string; stack: string };
  const safe = (text: string) =>
    WITH_VALUES.test(text.replace(/^Error: /, '')) ? text.replace(/'(?:[^'\\]|\\.)*'/g, "'…'") : text;
  const logged: Record<string, unknown> = { ...rest, message: safe(rest.message), stack: safe(rest.stack) };
  if (error.cause instanceof Error) logged.cause = loggedError(error.cause);
  return logged;
}

/** Request bodies and headers are never logged; they hold passwords and tokens. */
export function openLog(level: string): Logger {
  return pino({
    level,
    base: undefined,
    redact: ['*.token', '*.password', '*.authorization'],
    serializers: { err: loggedError },
  });
}
