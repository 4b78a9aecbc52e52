import { expect, it } from 'vitest';
import { loggedError } from './log.ts';

it('errors of the database are logged without what was to be stored', () => {
  const error = Object.assign(new Error("Duplicate entry 'mo@ternbay.example' for key 'email'"), {
    code: 'ER_DUP_ENTRY',
    sql: "INSERT INTO users (email, password_hash) VALUES ('mo@ternbay.example', 's3cret')",
    sqlMessage: "Duplicate entry 'mo@ternbay.example' for key 'email'",
  });
  const logged = JSON.stringify(loggedError(new Error('This could not be stored.', { cause: error })));
  expect(logged).not.toMatch(/s3cret|ternbay/);
  expect(logged).toMatch(/ER_DUP_ENTRY/);
  expect(logged).toMatch(/could not be stored/);
});
