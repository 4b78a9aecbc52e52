// Lagoon's mail server where its port is taken.
import { createServer } from 'node:net';
import { expect, it } from 'vitest';
import { runLagoon } from '../testing/run-lagoon.ts';

it('does not start half: without its port for mail Lagoon ends, instead of losing letters', async () => {
  const taken = createServer();
  await new Promise<void>((done) => taken.listen(0, '127.0.0.1', done));
  const { port } = taken.address() as { port: number };
  await expect(
    runLagoon({ LAGOON_MAIL_PORT: String(port) }).then(async (lagoon) => {
      // It may answer for a moment before it notices.
      await expect
        .poll(
          () =>
            fetch(lagoon.origin).then(
              () => 'up',
              () => 'gone',
            ),
          { timeout: 10_000 },
        )
        .toBe('gone');
      await lagoon.close();
      throw new Error('ended');
    }),
  ).rejects.toThrow(/did not start|ended/);
  taken.close();
});
