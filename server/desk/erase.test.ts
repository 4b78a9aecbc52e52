// Somebody who asks to be forgotten is, on a real database and a real Lagoon that goes on showing what they wrote.
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { select } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { contactBy } from '../store/contacts-shown.ts';
import { rowsOfSheet } from '../store/sheet-rows.ts';
import { sheetBy } from '../store/sheets.ts';
import { editSheetRows } from '../sheets/edit-rows.ts';
import { makeSheet } from '../sheets/keep-sheet.ts';
import { openHouse, testNow, type House } from '../testing/house.ts';
import { runsOf } from '../testing/runs-of.ts';
import { live } from '../testing/workflow.ts';
import { lookNow } from '../watch/look.ts';
import { watchOutlet } from '../watch/watchable.ts';
import { eraseContact } from './erase.ts';
import { noteContact } from './contact.ts';
import { CALL_BACK, DeskTrouble, sendOff } from './send.ts';

let house: House;
let mo: Services;
let reviews: number;
let workflow: number;

beforeAll(async () => {
  house = await openHouse();
  house.clock.now = testNow();
  await house.connect('listings');
  mo = { ...house.services, actor: { kind: 'person', userId: house.mo } };
  reviews = await watchOutlet(house.services, house.lidos, (await house.outlet('Tern Bay Lido')).id, 'reviews');
  await lookNow(house.services, reviews);
  const answering: Definition = {
    schema: 1,
    sources: [{ id: 'source', watch: reviews }],
    steps: [
      { id: 'words', verb: 'compose', name: 'answer', text: 'Dear {$person.name}, thank you for “{$text}”' },
      { id: 'reply', verb: 'reply', outlet: null, where: 'item', to: 'id', caption: 'answer' },
    ],
  };
  workflow = await live(house, answering);
});
afterAll(() => house?.close());

async function review(by: string, stars: number, text: string) {
  const id = await house.play({ do: 'review', location: 'Tern Bay Lido', by, stars, text });
  await lookNow(house.services, reviews);
  await house.settle();
  const [row] = await select<{ item_id: number; contact_id: number }>(
    house.services.pool,
    'SELECT item_id, contact_id FROM desk_entries ORDER BY item_id DESC LIMIT 1',
    [],
  );
  return { id, item: row!.item_id, person: row!.contact_id };
}

/** Every text column of the database in which these words stand, as table.column. */
async function whereSaid(words: string): Promise<string[]> {
  const columns = await select<{ t: string; c: string }>(
    house.services.pool,
    `SELECT table_name AS t, column_name AS c FROM information_schema.columns
     WHERE table_schema = DATABASE() AND data_type IN ('varchar', 'char', 'text', 'mediumtext', 'longtext')`,
    [],
  );
  const found: string[] = [];
  for (const { t, c } of columns) {
    const rows = await select(house.services.pool, `SELECT 1 FROM \`${t}\` WHERE \`${c}\` LIKE ? LIMIT 1`, [
      `%${words}%`,
    ]);
    if (rows.length > 0) found.push(`${t}.${c}`);
  }
  return found;
}

describe('somebody who asks to be forgotten', () => {
  it('is: their words and their name are nowhere any more, and what was done stays', async () => {
    const glad = await review('Sefa Quill', 5, 'Zwischenwasser was lovely');
    await noteContact(mo, house.lidos, glad.person, {
      labels: { add: ['Zwischenlabel'], remove: [] },
      notes: { text: 'Zwischennotiz' },
    });
    const waits = await review('Sefa Quill', 1, 'Zwischenwasser was cold');
    const by = await review('Sefa Quill', 2, 'Zwischenwasser was odd');
    expect(by.person).toBe(glad.person);
    // One was answered by itself, one waits for a yes, one is answered by hand.
    await sendOff(mo, house.lidos, house.mo, [{ itemId: by.item, text: 'Sorry, Sefa. Zwischenantwort.', held: null }]);
    house.clock.now += CALL_BACK;
    await house.settle();
    // And answered once more: the first answer by hand is theirs too.
    await sendOff(mo, house.lidos, house.mo, [{ itemId: by.item, text: 'Sefa, once more.', held: null }]);
    house.clock.now += CALL_BACK;
    await house.settle();
    const other = await review('Teo Vance', 5, 'Nothing of the kind');
    expect((await whereSaid('Sefa')).length).toBeGreaterThan(4);
    const before = await runsOf(house.services.pool, house.lidos, workflow, 20);
    expect(await eraseContact(mo, house.lidos, glad.person)).toBeGreaterThanOrEqual(3);
    for (const words of ['Sefa', 'Quill', 'Zwischenwasser', 'Zwischenlabel', 'Zwischennotiz'])
      expect(await whereSaid(words), words).toEqual([]);
    // What we said stays in the logbook, without them.
    const said = await select<{ text: string }>(house.services.pool, 'SELECT text FROM logbook ORDER BY id', []);
    expect(said.map(({ text }) => text)).toContain('Sorry, …. Zwischenantwort.');
    const after = await runsOf(house.services.pool, house.lidos, workflow, 20);
    expect(after).toHaveLength(before.length);
    expect(after.every(({ status }) => !['new', 'waiting', 'held'].includes(status))).toBe(true);
    expect(await contactBy(house.services.pool, house.lidos, glad.person)).toMatchObject({
      name: 'Somebody',
      labels: [],
    });
    expect(await contactBy(house.services.pool, house.lidos, other.person)).toMatchObject({ name: 'Teo Vance' });
    // Nobody answers what was forgotten, and its source showing it again brings nothing back.
    await house.play({ do: 'edit-review', id: waits.id, text: 'Zwischenwasser is still cold' });
    await lookNow(house.services, reviews);
    await house.settle();
    expect(await whereSaid('Zwischenwasser')).toEqual([]);
    const [audit] = await select<{ actor_id: number }>(
      house.services.pool,
      "SELECT actor_id FROM audit WHERE did = 'erased' AND about_id = ?",
      [glad.person],
    );
    expect(audit).toEqual({ actor_id: house.mo });
  });

  it('is somebody new when they write again; who wanted to be left alone still is', async () => {
    const first = await review('Jonas Fell', 5, 'Here I am');
    await eraseContact(mo, house.lidos, first.person);
    const again = await review('Jonas Fell', 5, 'And once more');
    expect(again.person).not.toBe(first.person);
    const stopped = await review('Bea Lund', 5, 'Please leave me alone');
    await noteContact(mo, house.lidos, stopped.person, { leftAlone: 'They said so.' });
    await eraseContact(mo, house.lidos, stopped.person);
    const later = await review('Bea Lund', 5, 'A word more');
    expect(later.person).toBe(stopped.person);
    expect(await contactBy(house.services.pool, house.lidos, later.person)).toMatchObject({
      leftAlone: 'They said so.',
    });
  });

  it('goes from the rows that a workflow wrote about them, and from what was done with those', async () => {
    const plan = await makeSheet(mo, house.lidos, {
      name: 'What visitors say',
      columns: [
        { key: 'who', name: 'Who', type: 'text' },
        { key: 'said', name: 'Said', type: 'longText' },
        { key: 'stars', name: 'Stars', type: 'number' },
      ],
    });
    const sheet = (await sheetBy(house.services.pool, house.lidos, plan))!;
    await live(house, {
      schema: 1,
      sources: [{ id: 'source', watch: reviews }],
      steps: [
        {
          ...{ id: 'row', verb: 'record', outlet: sheet.outletId, match: null, as: 'row' },
          values: [
            { column: 'who', value: '{$person.name}' },
            { column: 'said', value: '{$text}' },
            { column: 'stars', value: '{$stars}' },
          ],
        },
      ],
    });
    await live(house, {
      schema: 1,
      sources: [{ id: 'source', watch: sheet.watchId }],
      steps: [
        { id: 'line', verb: 'compose', name: 'line', text: '{$Who}: {$Said}' },
        { id: 'ask', verb: 'hold', question: 'Good?', text: 'line' },
        { id: 'tell', verb: 'notify', to: [], text: '{$line}' },
      ],
    });
    const glad = await review('Wanda Oake', 5, 'Zwischenzeile was lovely');
    await review('Teo Vance', 4, 'Neben der Zeile');
    const rows = async () => [...(await rowsOfSheet(house.services.pool, house.lidos, plan, null, 10))];
    const written = (await rows()).find(({ cells }) => cells.who === 'Wanda Oake')!;
    // A colleague has put it otherwise, so that the history has both.
    await editSheetRows(mo, house.lidos, plan, [
      { row: written.id, cells: [{ key: 'who', before: 'Wanda Oake', after: 'Wanda O.' }] },
    ]);
    await house.settle();
    expect(await whereSaid('Wanda')).toContain('sheet_rows.cells');
    await eraseContact(mo, house.lidos, glad.person);
    await house.settle();
    for (const words of ['Wanda', 'Zwischenzeile']) expect(await whereSaid(words), words).toEqual([]);
    expect((await rows()).map(({ cells }) => [cells.who, cells.said, cells.stars])).toEqual([
      ['… O.', '…', 5],
      ['Teo Vance', 'Neben der Zeile', 4],
    ]);
  });

  it('is nobody of another brand', async () => {
    const mine = await review('Priya Marsh', 5, 'Mine');
    await expect(eraseContact(mo, house.bakehouse, mine.person)).rejects.toThrow(DeskTrouble);
    expect(await contactBy(house.services.pool, house.lidos, mine.person)).toMatchObject({ name: 'Priya Marsh' });
  });

  it('is no longer in what is being gathered, and what others put in goes on without them', async () => {
    const gathering: Definition = {
      schema: 1,
      sources: [{ id: 'source', watch: reviews }],
      steps: [
        {
          ...{ id: 'all', verb: 'gather', take: 'text', as: 'said', between: '; ', order: null, most: null },
          from: { type: 'runs', group: null, closing: { at: null, count: null, silence: 3600 } },
          whenEmpty: 'stop',
        },
        {
          id: 'tell',
          verb: 'notify',
          to: [],
          text: '{$said}',
          sticky: false,
        } as unknown as Definition['steps'][number],
      ],
    };
    const id = await live(house, gathering);
    const first = await review('Priya Marsh', 5, 'Zwischengesammelt von mir');
    await review('Teo Vance', 5, 'Und von mir');
    await eraseContact(mo, house.lidos, first.person);
    expect(await whereSaid('Zwischengesammelt')).toEqual([]);
    house.clock.now += 2 * 3_600_000;
    await house.settle();
    const told = (await runsOf(house.services.pool, house.lidos, id, 10)).flatMap((run) =>
      run.trace.all?.kind === 'text' ? [run.trace.all.text] : [],
    );
    expect(told).toEqual(['Und von mir']);
  });
});
