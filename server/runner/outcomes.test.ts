import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { CONNECTORS } from '../connectors/index.ts';
import { slotsIn } from '@playa/core/model/state.ts';
import { NetworkTrouble, type Connector, type Repeats } from '../connectors/connector.ts';
import { change, select } from '../db/database.ts';
import { runBy } from '../store/runs.ts';
import { accountBy } from '../store/accounts.ts';
import { auditOf } from '../store/audit.ts';
import { logEntriesSince } from '../store/logbook.ts';
import { storyOf } from '../store/tries.ts';
import { openHouse, type House } from '../testing/house.ts';
import { live, newVideos } from '../testing/workflow.ts';
import { decide, tryRunAgain } from '../workflows/decide.ts';
import { pause as pauseWorkflow, resume } from '../workflows/go-live.ts';
import { cancelRun } from '../workflows/run-actions.ts';
import { lookNow } from '../watch/look.ts';
import { leaseOf, performEffects } from './perform-effects.ts';
import { takeRuns } from './take-runs.ts';
import { heldRuns, runsOf } from '../testing/runs-of.ts';

/** A network whose answers the test decides, over what its audience would see. */
class MadeUpNetwork {
  repeats: Repeats = 'keyed';
  seen: { key: string; text: string }[] = [];
  next: ('ok' | 'lost' | 'unsent' | 'refuse')[] = [];
  looks = 0;
  connector: Connector = {
    ...CONNECTORS.pages,
    acts: {
      publish: {
        repeats: 'keyed',
        send: async (_session, _outlet, input, key) => {
          const what = this.next.shift() ?? 'ok';
          if (what === 'unsent') throw new NetworkTrouble('retry', 'It cannot be reached.');
          if (what === 'refuse') throw new NetworkTrouble('fix', 'It refuses the words.', { definite: true });
          const known = this.seen.findIndex((post) => post.key === key);
          if (this.repeats !== 'keyed' || known < 0) this.seen.push({ key, text: input.text });
          if (what === 'lost') throw new NetworkTrouble('unknown', 'It did not answer.');
          return { remoteId: String(this.seen.length), url: null, at: 0 };
        },
        find: async (_session, _outlet, input) => {
          this.looks++;
          const index = this.seen.findIndex((post) => post.text === input.text);
          return index < 0 ? undefined : { remoteId: String(index + 1), url: null, at: 0 };
        },
      },
    },
  };
}

let house: House;
let watch: number;
const network = new MadeUpNetwork();
const connectors = { ...CONNECTORS };
beforeAll(async () => {
  house = await openHouse({ connectors });
  await house.connect('pages');
  await house.connect('video');
  watch = await house.watch();
  await live(house, newVideos(watch, [await house.page()]));
});
afterAll(() => house?.close());
beforeEach(async () => {
  network.seen = [];
  network.next = [];
  network.looks = 0;
  connectors.pages = CONNECTORS.pages;
  await house.behave();
});

let films = 0;
async function newFilm(): Promise<string> {
  const title = `Film ${++films}`;
  await house.upload({ title });
  await lookNow(house.services, watch);
  await takeRuns(house.services);
  return `New: ${title}`;
}
async function later(milliseconds: number) {
  house.clock.now += milliseconds;
  await house.settle();
}
const postsOf = async (text: string) => (await house.posts()).filter((post) => post.text === text);
const held = async () =>
  (await heldRuns(house.services.pool, house.lidos)).flatMap((run) =>
    slotsIn(run.state!)
      .filter((slot) => slot.status === 'held')
      .map((slot) => ({ run, slot })),
  );

describe('an outcome nobody heard of', () => {
  const use = (repeats: Repeats) => {
    network.repeats = repeats;
    connectors.pages = { ...network.connector, acts: { publish: { ...network.connector.acts.publish!, repeats } } };
  };
  it('is sent again under the same key where the network refuses repeats', async () => {
    use('keyed');
    network.next = ['lost'];
    const text = await newFilm();
    await house.settle();
    expect(network.seen).toHaveLength(1);
    await later(600_000);
    expect(network.seen.filter((post) => post.text === text)).toHaveLength(1);
    expect(await held()).toEqual([]);
  });
  it('is looked for first where it can be found', async () => {
    use('findable');
    network.next = ['lost'];
    const text = await newFilm();
    await house.settle();
    await later(600_000);
    expect(network.looks).toBe(1);
    expect(network.seen.filter((post) => post.text === text)).toHaveLength(1);
    expect(await held()).toEqual([]);
  });
  it('is put before a person where nobody can know, and never sent again by itself', async () => {
    use('blind');
    network.next = ['lost'];
    const text = await newFilm();
    await house.settle();
    await later(600_000);
    await later(6_000_000);
    expect(network.seen.filter((post) => post.text === text)).toHaveLength(1);
    const [waiting] = await held();
    expect(waiting!.slot).toMatchObject({ trouble: 'unknown', input: { text } });
    await decide(house.services, house.lidos, waiting!.run.id, waiting!.slot.key, { do: 'itWentOut' });
    await house.settle();
    expect(await held()).toEqual([]);
    expect(network.seen.filter((post) => post.text === text)).toHaveLength(1);
    expect((await logEntriesSince(house.services.pool, house.lidos, 0, 10)).some((entry) => entry.text === text)).toBe(
      true,
    );
  });
  it('is nothing to ask about when it was never sent', async () => {
    use('blind');
    network.next = ['unsent', 'unsent'];
    const text = await newFilm();
    await house.settle();
    await later(20_000);
    await later(60_000);
    expect(network.seen.filter((post) => post.text === text)).toHaveLength(1);
    expect(await held()).toEqual([]);
  });
});

describe('at Lagoon', () => {
  it('a post whose answer never came appears once', async () => {
    await house.fault('pages', { kind: 'errorAfter', status: 500 });
    const text = await newFilm();
    await house.settle();
    expect(await postsOf(text)).toHaveLength(1);
    await later(60_000);
    expect(await postsOf(text)).toHaveLength(1);
    const [run] = await runsOf(house.services.pool, house.lidos, 1, 200).then((runs) =>
      runs.filter((each) => JSON.stringify(each.trace).includes(text)),
    );
    expect(run!.status).toBe('done');
  });
  it('a 429 is waited out for as long as it says, and does not count as a failure', async () => {
    await house.fault('pages', { kind: 'limit', seconds: 40 });
    const text = await newFilm();
    await house.settle();
    await later(39_000);
    expect(await postsOf(text)).toHaveLength(0);
    await later(2_000);
    expect(await postsOf(text)).toHaveLength(1);
    const [effect] = await select<{ failures: number }>(
      house.services.pool,
      'SELECT failures FROM effects ORDER BY id DESC LIMIT 1',
    );
    expect(effect!.failures).toBe(0);
  });
  it('failures end held after the last try, and a person can go on from there', async () => {
    await house.fault('pages', { kind: 'error', status: 400 });
    const text = await newFilm();
    await house.settle();
    const [waiting] = await held();
    expect(waiting!.slot).toMatchObject({ trouble: 'failed', input: { text } });
    await expect(
      decide(house.services, house.lidos, waiting!.run.id, waiting!.slot.key, { do: 'retry', text: '  ' }),
    ).rejects.toThrow('Write some words first.');
    await expect(
      decide(house.services, house.bakehouse, waiting!.run.id, waiting!.slot.key, { do: 'skip' }),
    ).rejects.toThrow();
    await decide(house.services, house.lidos, waiting!.run.id, waiting!.slot.key, {
      do: 'retry',
      text: `${text}, mended`,
    });
    await house.settle();
    expect(await postsOf(`${text}, mended`)).toHaveLength(1);
    await expect(
      decide(house.services, house.lidos, waiting!.run.id, waiting!.slot.key, { do: 'skip' }),
    ).rejects.toThrow('no longer waits');
  });
  it('all that was tried, and what people did, is known of what went out in the end', async () => {
    const { pool } = house.services;
    await house.fault('pages', { kind: 'error', status: 500 });
    await house.fault('pages', { kind: 'limit', seconds: 40 });
    await house.fault('pages', { kind: 'error', status: 400 });
    const text = await newFilm();
    await house.settle();
    for (let minutes = 0; minutes < 30 && (await held()).length === 0; minutes++) await later(60_000);
    const [waiting] = await held();
    const mo = { ...house.services, actor: { kind: 'person' as const, userId: house.mo } };
    await decide(mo, house.lidos, waiting!.run.id, waiting!.slot.key, { do: 'retry', text: `${text}, once more` });
    await house.settle();
    const [entry] = await select<{ effect_key: string }>(pool, 'SELECT effect_key FROM logbook WHERE text = ?', [
      `${text}, once more`,
    ]);
    const told = await storyOf(pool, house.lidos, entry!.effect_key);
    expect(told!.story!.tries.map(({ kind }) => kind)).toEqual(['unknown', 'wait', 'fix']);
    expect(told!.story!.tries[0]!.says).toContain('500');
    expect(told!.story!.asked).toBeLessThan(told!.story!.tries[0]!.at + 1);
    expect((await auditOf(pool, house.lidos, 'run', [told!.runId])).map(({ by }) => by)).toContain('Mo Okoro');
    expect(await storyOf(pool, house.bakehouse, entry!.effect_key)).toBeUndefined();
    const easy = await newFilm();
    await house.settle();
    const [other] = await select<{ effect_key: string }>(pool, 'SELECT effect_key FROM logbook WHERE text = ?', [easy]);
    expect((await storyOf(pool, house.lidos, other!.effect_key))!.story!.tries).toEqual([]);
  });
  it('a refused sign-in holds everything back until the account is connected again', async () => {
    await fetch(`${house.lagoon}/control/revoke-all`, { method: 'POST', redirect: 'manual' });
    const texts = [await newFilm(), await newFilm()];
    await house.settle();
    await later(600_000);
    const pages = (
      await select<{ id: number }>(house.services.pool, "SELECT id FROM accounts WHERE kind = 'pages'")
    )[0]!.id;
    expect(await accountBy(house.services.pool, house.lidos, pages)).toMatchObject({ status: 'reconnect' });
    expect(await postsOf(texts[0]!)).toHaveLength(0);
    expect(await house.connect('pages')).toBe(pages);
    await house.settle();
    for (const text of texts) expect(await postsOf(text)).toHaveLength(1);
  });
  it('many workers at once share the work and post each film once', async () => {
    const texts: string[] = [];
    for (let n = 0; n < 12; n++) texts.push(await newFilm());
    await Promise.all(
      Array.from({ length: 5 }, async () => {
        for (let n = 0; n < 6; n++) await performEffects(house.services, { most: 3 });
      }),
    );
    await house.settle();
    for (const text of texts) expect(await postsOf(text)).toHaveLength(1);
  });
  it('a worker that lost its claim changes nothing, yet what it heard is not forgotten', async () => {
    await house.fault('pages', { kind: 'slow', milliseconds: 600 });
    const text = await newFilm();
    const slow = performEffects(house.services);
    await new Promise((done) => setTimeout(done, 200));
    house.clock.now += leaseOf(house.services) + 1;
    await performEffects(house.services);
    await slow;
    await house.settle();
    expect(await postsOf(text)).toHaveLength(1);
    const effects = await select<{ status: string }>(
      house.services.pool,
      'SELECT status FROM effects WHERE JSON_VALUE(input, ?) = ?',
      ['$.text', text],
    );
    expect(effects).toEqual([{ status: 'done' }]);
  });
  it('a claim that a dead worker left is taken back with its run, and sends nothing for a paused workflow', async () => {
    // Claimed and never begun: the worker died in between.
    const claim = (text: string) =>
      change(
        house.services.pool,
        "UPDATE effects SET status = 'sending', lease = 'dead', due_at = ? WHERE JSON_VALUE(input, '$.text') = ?",
        [new Date(house.clock.now + 1000), text],
      );
    const ended = await newFilm();
    const parked = await newFilm();
    await claim(ended);
    await claim(parked);
    house.clock.now += 2000;
    const [run] = (await runsOf(house.services.pool, house.lidos, 1, 200)).filter((each) =>
      JSON.stringify(each.trace).includes(ended),
    );
    await cancelRun(house.services, house.lidos, run!.id);
    await pauseWorkflow(house.services, house.lidos, 1);
    await house.settle();
    expect(await postsOf(ended)).toHaveLength(0);
    expect(await postsOf(parked)).toHaveLength(0);
    await resume(house.services, house.lidos, 1);
    await house.settle();
    expect(await postsOf(ended)).toHaveLength(0);
    expect(await postsOf(parked)).toHaveLength(1);
  });
  it('what was done is not done again because its answer cannot be stored', async () => {
    const text = await newFilm();
    const { send } = connectors.pages.acts.publish!;
    let sent = 0;
    connectors.pages = {
      ...connectors.pages,
      acts: {
        ...connectors.pages.acts,
        publish: {
          ...connectors.pages.acts.publish!,
          send: async (...asked) => {
            sent++;
            // An answer that no run can hold, and a moment beyond all calendars.
            const huge = Array.from({ length: 60 }, () => 'x'.repeat(100_000));
            return { ...(await send(...asked)), at: Number.NaN, result: { huge } };
          },
        },
      },
    };
    try {
      await house.settle();
      house.clock.now += leaseOf(house.services) + 1000;
      await house.settle();
    } finally {
      connectors.pages = CONNECTORS.pages;
    }
    expect(sent).toBe(1);
    expect(await postsOf(text)).toHaveLength(1);
    const [effect] = await select<{ status: string }>(
      house.services.pool,
      "SELECT status FROM effects WHERE JSON_VALUE(input, '$.text') = ?",
      [text],
    );
    expect(effect).toEqual({ status: 'done' });
    // The run can be read, and the logbook dates the post by our clock.
    const run = (await runsOf(house.services.pool, house.lidos, 1, 5)).find((each) =>
      JSON.stringify(each.trace).includes(text),
    );
    expect(run).toMatchObject({ status: 'done', trouble: null });
    const [logged] = (await logEntriesSince(house.services.pool, house.lidos, 0, 50)).filter(
      (each) => each.text === text,
    );
    expect(Math.abs(logged!.at - house.clock.now)).toBeLessThan(3_600_000);
  });
  it('what was done and cannot be recorded is kept as done, and its run waits for a person', async () => {
    const { pool } = house.services;
    const text = await newFilm();
    // Stands for any fault the database has with one record, and with no other.
    await pool.query(
      `CREATE TRIGGER refuses BEFORE INSERT ON logbook FOR EACH ROW
       IF NEW.text = ${pool.escape(text)} THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'refused'; END IF`,
    );
    try {
      await house.settle();
      house.clock.now += leaseOf(house.services) + 1000;
      await house.settle();
    } finally {
      await pool.query('DROP TRIGGER refuses');
    }
    expect(await postsOf(text)).toHaveLength(1);
    const [kept] = await select<{ act: string; run: string; trouble: string }>(
      pool,
      `SELECT effects.status AS act, runs.status AS run, runs.trouble FROM effects JOIN runs ON runs.id = effects.run_id
       WHERE JSON_VALUE(effects.input, '$.text') = ?`,
      [text],
    );
    expect(kept).toEqual({ act: 'done', run: 'held', trouble: expect.stringContaining('not done again by itself') });
  });

  it('one run that Playa stumbles over does not keep the others waiting', async () => {
    await house.upload({ title: 'Broken' });
    await house.upload({ title: 'Whole' });
    await lookNow(house.services, watch);
    await change(
      house.services.pool,
      "UPDATE runs r JOIN items i ON i.id = r.item_id SET r.version = 99 WHERE JSON_VALUE(i.fields, '$.title') = 'Broken'",
    );
    await house.settle();
    expect(await postsOf('New: Whole')).toHaveLength(1);
    const stuck = await heldRuns(house.services.pool, house.lidos);
    expect(stuck.map((run) => run.trouble)).toContain(
      'Playa itself stumbled over this item. It is kept, and can be tried again.',
    );
  });
  it('a post that went out is never sent again because Playa stumbled afterwards', async () => {
    const text = await newFilm();
    const spoil = (version: number) =>
      change(house.services.pool, 'UPDATE runs SET version = ? WHERE JSON_EXTRACT(trace, ?) LIKE ?', [
        version,
        '$.words.text',
        `%${text}%`,
      ]);
    await spoil(99);
    await house.settle();
    await later(600_000);
    expect(await postsOf(text)).toHaveLength(1);
    const stuck = (await heldRuns(house.services.pool, house.lidos)).find((run) =>
      JSON.stringify(run.trace).includes(text),
    )!;
    expect(stuck.trouble).toContain('stumbled');
    expect((await logEntriesSince(house.services.pool, house.lidos, 0, 50)).some((entry) => entry.text === text)).toBe(
      true,
    );
    // Once the fault is mended, the run hears what came of its post and goes on.
    await spoil(1);
    await tryRunAgain(house.services, house.lidos, stuck.id);
    await house.settle();
    expect((await runBy(house.services.pool, house.lidos, stuck.id))!).toMatchObject({ status: 'done', trouble: null });
    expect(await postsOf(text)).toHaveLength(1);
    await expect(tryRunAgain(house.services, house.lidos, stuck.id)).rejects.toThrow('does not wait for that');
  });
});
