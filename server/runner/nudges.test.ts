import { getEventListeners } from 'node:events';
import { pino } from 'pino';
import { describe, expect, it } from 'vitest';
import { Nudges } from '../base/nudges.ts';
import { repeat } from '../work.ts';

const log = pino({ level: 'silent' });

describe('waiting for work', () => {
  it('leaves nothing behind, however often one waits', async () => {
    const nudges = new Nudges();
    const stop = new AbortController();
    let rounds = 0;
    const done = repeat(
      { nudges, log },
      stop.signal,
      async () => {
        // Counted while it goes on: what a round leaves behind would add up here.
        expect(nudges.waiting).toBe(0);
        expect(getEventListeners(stop.signal, 'abort')).toHaveLength(0);
        if (++rounds === 3000) stop.abort();
        return 0;
      },
      0.01,
    );
    await done;
    expect(rounds).toBe(3000);
    expect(nudges.waiting).toBe(0);
    expect(getEventListeners(stop.signal, 'abort')).toHaveLength(0);
  });

  it('ends at a nudge, also at one that came while it was looked for work', async () => {
    const nudges = new Nudges();
    const stop = new AbortController();
    const since = nudges.count;
    nudges.nudge();
    await nudges.wait(60_000, since, stop.signal);
    const waiting = nudges.wait(60_000, nudges.count, stop.signal);
    nudges.nudge();
    await waiting;
    // Where only time helps, a nudge does not.
    let over = false;
    const timed = nudges.wait(60_000, null, stop.signal).then(() => (over = true));
    nudges.nudge();
    await Promise.resolve();
    expect(over).toBe(false);
    stop.abort();
    await timed;
  });
});
