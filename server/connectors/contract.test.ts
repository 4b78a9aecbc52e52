import { misfits } from '@playa/core/shapes/conforms.ts';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { hasMedia, REVISIONS, type ActInput, type Outcome } from '@playa/core/model/acts.ts';
import { purposeOf, wordRules } from '@playa/core/outlets/length.ts';
import { refusal } from '@playa/core/captions/say.ts';
import { writtenText } from '@playa/core/captions/written.ts';
import { openOutlet } from '../accounts/outlets.ts';
import { sessionFor } from '../accounts/sessions.ts';
import { accountBy } from '../store/accounts.ts';
import { outletsOf } from '../store/outlets.ts';
import { openHouse, type House, testNow } from '../testing/house.ts';
import { CONTRACTS, UNICODE, type ContractAct } from '../testing/contract.ts';
import { NetworkTrouble, type Handler, type Session } from './connector.ts';

let house: House;
beforeAll(async () => {
  // Silence has to be met within the test's patience.
  house = await openHouse();
  house.services.config.answerWithin = 700;
});
afterAll(() => house?.close());

describe.each(CONTRACTS)('$kind', (contract) => {
  const { kind, acts } = contract;
  let accountId: number;
  let session: Session;
  beforeAll(async () => {
    await house.behave();
    accountId = await house.connect(kind);
    if (kind === 'broadcast') await openOutlet(house.services, house.lidos, accountId, '@ternbaywater');
    session = sessionFor(house.services, (await accountBy(house.services.pool, house.lidos, accountId))!);
  });
  const troubleOf = (work: Promise<unknown>) =>
    work.then(
      () => undefined,
      (error: unknown) => (error instanceof NetworkTrouble ? error : Promise.reject(error)),
    );
  const known = async () =>
    (await outletsOf(house.services.pool, house.lidos))
      .filter((each) => each.accountId === accountId)
      .map((each) => each.remoteId);
  let count = 0;
  const key = () => `contract.${kind}.${++count}`;

  it('lists its outlets, says who signed in, and looks whether they may be used', async () => {
    const own = (await outletsOf(house.services.pool, house.lidos)).filter((each) => each.accountId === accountId);
    expect(own.length).toBeGreaterThan(0);
    expect(new Set(own.map((outlet) => outlet.kind))).toEqual(new Set([contract.outlets.kind]));
    expect(own.map((outlet) => outlet.name)).toEqual(expect.arrayContaining(contract.outlets.some));
    const connector = house.services.connectors[kind];
    expect((await connector.whoAmI(session)).remoteId).not.toBe('');
    const usable = own.find((outlet) => outlet.name === (acts[0]?.outlet ?? outlet.name))!;
    if (connector.check) expect(await connector.check(session, usable.remoteId)).toEqual({ ok: true });
  });

  it('reads what can be watched, of the shape it promises', async () => {
    const own = (await outletsOf(house.services.pool, house.lidos)).filter((each) => each.accountId === accountId);
    for (const watchable of Object.values(house.services.connectors[kind].watches ?? {})) {
      const items = (
        await Promise.all(
          own
            .filter((outlet) => outlet.name !== '@mo.okoro')
            .map((outlet) => watchable.read(session, outlet.remoteId, new Set())),
        )
      ).flat();
      expect(new Set(items.map((item) => item.identity)).size).toBe(items.length);
      for (const outlet of own.filter((each) => each.name !== '@mo.okoro')) {
        const shape = typeof watchable.shape === 'function' ? watchable.shape(outlet.details) : watchable.shape;
        const there = outlet.kind === watchable.outlet ? await watchable.read(session, outlet.remoteId, new Set()) : [];
        for (const item of there) expect(misfits(shape, item.fields), outlet.name).toEqual([]);
        // Whatever is described is there in at least one of them, and nothing is there that is not described.
        const named = new Set(there.flatMap((item) => Object.keys(item.fields)));
        if (there.length === 0) continue;
        expect([...named].filter((name) => !Object.hasOwn(shape, name))).toEqual([]);
        if (kind !== 'sheets') for (const name of Object.keys(shape)) expect(named).toContain(name);
      }
    }
  });

  it('refuses what it does not offer to do to a post, without asking the network', async () => {
    const { revise } = house.services.connectors[kind].acts;
    if (!revise) return;
    for (const change of REVISIONS.filter((each) => !revise.offers.includes(each))) {
      const trouble = await troubleOf(revise.send(session, 'x', { post: '1', change, text: null }, key()));
      expect([change, trouble?.kind, trouble?.message]).toEqual([change, 'fix', expect.stringContaining(change)]);
    }
  });

  it.runIf(contract.reads !== contract.writes || acts.length === 0)(
    'retries reading after 500, and reads nothing half',
    async () => {
      await house.fault(contract.reads, { kind: 'error', status: 500 });
      expect(await troubleOf(house.services.connectors[kind].outlets(session, await known()))).toMatchObject({
        kind: 'retry',
      });
      await house.fault(contract.reads, { kind: 'garbled' });
      expect(await troubleOf(house.services.connectors[kind].outlets(session, await known()))).toMatchObject({
        kind: 'retry',
      });
      await house.behave();
    },
  );

  describe.each(acts.map((act) => ({ act, name: act.act })))('$name', ({ act }) => {
    const handler = () => house.services.connectors[kind].acts[act.act as 'publish'] as Handler<'publish'>;
    const remote = async () => (await house.outlet(act.outlet, accountId)).remoteId;
    const make = async (text: string) => (await act.input(house, text)) as ActInput<'publish'>;
    const send = async (input: ActInput<'publish'>, withKey = key()): Promise<Outcome> =>
      handler().send(session, await remote(), input, withKey);
    const there = async (text: string) =>
      (await (act as ContractAct).there(house)).filter((each) => each === text).length;

    it('succeeds, and says where and when', async () => {
      const text = `Once ${key()}`;
      const outcome = await send(await make(text));
      expect(await there(text)).toBe(1);
      expect(Math.abs(outcome.at - testNow())).toBeLessThan(60_000);
      if (outcome.url !== null) expect((await fetch(outcome.url)).status).toBe(200);
    });

    it('keeps every sign', async () => {
      const text = `${UNICODE} ${key()}`;
      await send(await make(text));
      expect(await there(text)).toBe(1);
    });

    it('takes the longest, and refuses what is longer as content', async () => {
      if (!act.longest) return;
      await send(await make(act.longest.fits));
      expect(await there(act.longest.fits)).toBe(1);
      const trouble = await troubleOf(send(await make(act.longest.tooLong)));
      expect(trouble).toMatchObject({ kind: 'fix', definite: true });
      expect(await there(act.longest.tooLong)).toBe(0);
    });

    it('takes as many hashtags and names as Playa thinks, and refuses one more', async () => {
      if (!act.crowded) return;
      await send(await make(act.crowded.fits));
      expect(await there(act.crowded.fits)).toBe(1);
      expect(await troubleOf(send(await make(act.crowded.tooMany)))).toMatchObject({ kind: 'fix', definite: true });
    });

    it('counts as the rules of its kind say', async () => {
      const purpose = purposeOf(act.act);
      if (purpose === null) return;
      const rules = wordRules(contract.outlets.kind, purpose, hasMedia(await make('x')));
      const refused = (text: string) => refusal(rules, writtenText(rules, text), 'it') !== undefined;
      expect(rules.limit === null).toBe(act.longest === null);
      if (act.longest) expect([act.longest.fits, act.longest.tooLong].map(refused)).toEqual([false, true]);
      if (act.longest) expect(writtenText(rules, act.longest.fits).length).toBe(rules.limit);
      if (act.crowded) expect([act.crowded.fits, act.crowded.tooMany].map(refused)).toEqual([false, true]);
    });

    it('is not done twice after silence: known by its key, or found again, or said to be blind', async () => {
      const text = `Silence ${key()}`;
      const input = await make(text);
      const sameKey = key();
      const since = testNow();
      await house.fault(contract.writes, { kind: 'hangAfter' });
      expect(await troubleOf(send(input, sameKey))).toMatchObject({ kind: 'unknown' });
      await house.behave();
      expect(await there(text)).toBe(1);
      if (handler().repeats === 'keyed') await send(input, sameKey);
      else if (handler().repeats === 'findable') {
        expect(await handler().find!(session, await remote(), input, since)).toMatchObject({
          remoteId: expect.any(String) as string,
        });
        const never = await make(`Never sent ${key()}`);
        expect(await handler().find!(session, await remote(), never, since)).toBeUndefined();
      }
      expect(await there(text)).toBe(1);
    });

    it('tells 500, 429 and a reply that makes no sense apart', async () => {
      await house.fault(contract.writes, { kind: 'error', status: 500 });
      expect(await troubleOf(send(await make(`Broken ${key()}`)))).toMatchObject({ kind: 'unknown' });
      await house.fault(contract.writes, { kind: 'limit', seconds: 7 });
      const limited = await troubleOf(send(await make(`Limited ${key()}`)));
      expect(limited).toMatchObject({ kind: 'wait', retryAfter: 7000, limited: true });
      const text = `Malformed ${key()}`;
      await house.fault(contract.writes, { kind: 'garbled' });
      expect(await troubleOf(send(await make(text)))).toMatchObject({ kind: 'unknown' });
      await house.behave();
    });
  });

  it('says that it has to be connected again once it was revoked', async () => {
    await house.revoke(kind);
    const trouble = await troubleOf(house.services.connectors[kind].whoAmI(session));
    expect(trouble).toMatchObject({ kind: 'reconnect' });
    // Said in a sentence that gives nothing away.
    expect(trouble!.message).not.toContain(await session.token());
  });
});
