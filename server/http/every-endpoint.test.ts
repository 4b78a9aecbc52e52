// Every endpoint, from the one list: asked as it is meant to be, and with what belongs to another brand. One that is new and
// is not asked here fails.
import { keepContact } from '../store/contacts.ts';
import { writeOpml } from '@playa/core/feeds/opml.ts';
import { USUAL_POLICY } from '@playa/core/desk/policy.ts';
import { usualVoice } from '@playa/core/voice/voice.ts';
import { newPost, type WrittenPost } from '@playa/core/posts/written.ts';
import { NO_TIMETABLE } from '@playa/core/timetable/timetable.ts';
import { readFile } from 'node:fs/promises';
import type { Server } from 'node:http';
import { fileURLToPath } from 'node:url';
import { Validator } from '@seriousme/openapi-schema-validator';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { slotsIn } from '@playa/core/model/state.ts';
import { revisionOf } from '../db/revision.ts';
import { change, select } from '../db/database.ts';
import { addNotices } from '../store/notices.ts';
import * as users from '../store/users.ts';
import { setAside } from '../store/set-aside.ts';
import { addWorkflow } from '../store/workflows.ts';
import { openHouse, type House } from '../testing/house.ts';
import { drawnPicture } from '../testing/pictures.ts';
import { PASSWORD, Visitor } from '../testing/visitor.ts';
import { live, newVideos, uploadNow } from '../testing/workflow.ts';
import { hashPassword } from '../vault/password.ts';
import { addSheetRows } from '../sheets/edit-rows.ts';
import { makePost } from '../posts/keep-post.ts';
import { makeSheet } from '../sheets/keep-sheet.ts';
import { makeHook } from '../watch/hooks.ts';
import { lookNow } from '../watch/look.ts';
import { watchOutlet } from '../watch/watchable.ts';
import { pause } from '../workflows/go-live.ts';
import { makeApp } from './app.ts';
import { clientAddresses } from './contract/client-addresses.ts';
import { clientTypes } from './contract/client-types.ts';
import { openApiDocument } from './contract/document.ts';
import { nextPage } from './contract/pages.ts';
import { pathOf, type Endpoint } from './contract/endpoint.ts';
import { allEndpoints } from './endpoints/index.ts';
import { ChangeTail } from './events.ts';
import { runsOf } from '../testing/runs-of.ts';

let house: House;
let server: Server;
let tail: ChangeTail;
let mo: Visitor;
let ids: Awaited<ReturnType<typeof furnish>>;
const SILENT = { listen: () => undefined, endSessions: () => undefined };
const ENDPOINTS = allEndpoints(SILENT);

beforeAll(async () => {
  house = await openHouse();
  const { pool } = house.services;
  const hash = await hashPassword(PASSWORD);
  await change(pool, 'UPDATE users SET password_hash = ? WHERE id = ?', [hash, house.mo]);
  const ines = await users.addUser(pool, { email: 'ines@marram.example', name: 'Ines Duarte', passwordHash: hash });
  await users.addMembership(pool, ines, house.bakehouse);
  tail = new ChangeTail(house.services);
  server = makeApp(house.services, tail).listen(Number(house.env.PLAYA_PORT), '127.0.0.1');
  mo = new Visitor(house.env.PLAYA_ORIGIN!);
  await mo.signIn('mo@ternbay.example');
  ids = await furnish();
});
afterAll(async () => {
  tail?.stop();
  server?.closeAllConnections();
  server?.close();
  await house?.close();
});

const asking = { instruction: 'Be kind.', about: 'name: Ana', longest: 200, variety: 0.5, seed: 1 };

/** One of everything that the lidos can have. */
async function furnish() {
  const { services, lidos, clock } = house;
  const { pool } = services;
  const account = await house.connect('pages');
  const rooms = await house.connect('rooms');
  const page = await house.page();
  const watch = await house.watch();
  const workflow = await live(house, newVideos(watch, [page]));
  await uploadNow(house, watch, 'A film of the lidos');
  const [done] = await runsOf(pool, lidos, workflow, 10);
  const holding = newVideos(watch, [page]);
  holding.steps.splice(1, 0, { id: 'ask', verb: 'hold', question: 'Is it good?', text: 'caption' });
  const holds = await live(house, holding);
  await uploadNow(house, watch, 'A film that is asked about');
  await uploadNow(house, watch, 'Another that is asked about');
  const [held, another] = await runsOf(pool, lidos, holds, 10);
  const later = newVideos(watch, [page], 'Later: {$title}');
  Object.assign(later.steps[1]!, { when: { type: 'moment', at: '2035-01-01T09:00' } });
  const plans = await live(house, later);
  await uploadNow(house, watch, 'A film for later');
  const paused = await live(house, newVideos(watch, [page], 'Paused: {$title}'));
  await pause(services, lidos, paused);
  const draft = await addWorkflow(pool, lidos, 'A draft', newVideos(watch, [page], 'Draft: {$title}'), clock.now);
  const thrown = await addWorkflow(pool, lidos, 'Another draft', newVideos(watch, [page]), clock.now);
  const hook = await makeHook(services, lidos, 'Closures');
  const owner = {
    brandId: lidos,
    to: [house.mo],
    onceKey: 'a',
    workflowId: workflow,
    runId: null,
    text: 'Look at this',
  };
  await addNotices(pool, owner, clock.now);
  await setAside(
    pool,
    { brandId: lidos, kind: 'item', once: 'x', watchId: watch, what: 'A thing', why: 'It is too deep.' },
    clock.now,
  );
  const columns = [{ key: 'title', name: 'Title', type: 'text' as const }];
  const sheet = await makeSheet(services, lidos, { name: 'A sheet of the lidos', columns });
  const [row] = await addSheetRows(services, lidos, sheet, [{ title: 'A row of the lidos' }]);
  await house.connect('listings');
  const listing = (await house.outlet('Tern Bay Lido')).id;
  const reviews = await watchOutlet(services, lidos, listing, 'reviews');
  await lookNow(services, reviews);
  await house.play({ do: 'review', location: 'Tern Bay Lido', by: 'Ana Prata', stars: 5, text: 'A swim of the lidos' });
  await lookNow(services, reviews);
  await house.connect('sheets');
  await house.connect('text-model');
  const model = (await house.outlet('Tide, small')).id;
  const number = async (sql: string, values: unknown[]) => (await select<{ id: number }>(pool, sql, values))[0]!.id;
  const cell = done!.trace.post;
  return {
    account,
    rooms,
    page,
    watch,
    workflow,
    paused,
    draft,
    thrown,
    hook,
    holds,
    done: done!.id,
    item: done!.itemId,
    planned: await number("SELECT id FROM effects WHERE workflow_id = ? AND status = 'planned'", [plans]),
    post: cell?.kind === 'posts' ? cell.posts[0]!.key! : '',
    held: held!.id,
    another: another!.id,
    key: slotsIn(held!.state!)[0]!.key,
    notice: await number('SELECT id FROM notices WHERE brand_id = ? ORDER BY id DESC LIMIT 1', [lidos]),
    aside: await number('SELECT id FROM set_aside WHERE brand_id = ? ORDER BY id DESC LIMIT 1', [lidos]),
    written: await makePost(services, lidos, { state: 'draft', post: saying('A post of the lidos', page) }),
    listing,
    model,
    table: (await house.outlet('Marketing · Plan')).id,
    said: await number('SELECT item_id AS id FROM desk_entries WHERE brand_id = ? ORDER BY item_id DESC LIMIT 1', [
      lidos,
    ]),
    person: await number('SELECT id FROM contacts WHERE brand_id = ? AND name = ?', [lidos, 'Ana Prata']),
    otherContact: await keepContact(house.services.pool, lidos, { person: 'other', name: 'Bea Lund' }, house.clock.now),
    sheet,
    row: row!.id,
    file: 0,
    ticket: '',
  };
}
type Ids = typeof ids;
/** A post by hand for a day that is far away. */
function saying(text: string, outlet: number): WrittenPost {
  const post = newPost([outlet], '2035-02-01T09:00');
  return { ...post, compose: { ...post.compose, text } };
}
/** By what rules the sheet is kept in step. */
const inStep = () => ({
  columns: [{ key: 'title', there: 'Caption' }],
  match: null,
  wins: 'here',
  deletions: true,
});
const DAY = 86_400_000;
const clock = () => house.clock.now;

interface Call {
  params?: Record<string, string | number>;
  query?: Record<string, string | number>;
  body?: unknown;
  /** What it answers; 200, 201, 202 or 204, as it says of itself, when left out. */
  status?: number;
  /** What later calls have to know. */
  learn?: (body: Record<string, unknown>) => void;
}

/** How each is asked, in an order in which all of them work. */
const CALLS: [name: string, call: (x: Ids) => Call | Promise<Call>][] = [
  ['whoAmI', () => ({})],
  ['countWaiting', () => ({})],
  ['openToday', () => ({})],
  ['listWorkflows', () => ({})],
  ['addWorkflow', (x) => ({ body: { name: 'One more', definition: newVideos(x.watch, [x.page]) } })],
  ['openWorkflow', (x) => ({ params: { id: x.workflow } })],
  [
    'saveDraft',
    (x) => ({
      params: { id: x.draft },
      body: { name: 'A draft', definition: newVideos(x.watch, [x.page], 'Saved: {$title}'), revision: 1 },
    }),
  ],
  ['goLive', (x) => ({ params: { id: x.draft }, body: { revision: 2 } })],
  ['pauseWorkflow', (x) => ({ params: { id: x.draft } })],
  ['listBusyItems', (x) => ({ params: { id: x.workflow } })],
  ['listMissed', (x) => ({ params: { id: x.paused } })],
  ['resumeWorkflow', (x) => ({ params: { id: x.paused }, body: {} })],
  ['takeItem', (x) => ({ params: { id: x.paused }, body: { item: x.item } })],
  ['listRuns', (x) => ({ params: { id: x.workflow } })],
  ['countOpenRuns', (x) => ({ params: { id: x.workflow } })],
  ['moveRuns', (x) => ({ params: { id: x.holds } })],
  ['dropBackfill', (x) => ({ params: { id: x.workflow } })],
  ['decide', (x) => ({ params: { id: x.held }, body: { key: x.key, decision: { do: 'skip' } } })],
  ['tryRunAgain', (x) => ({ params: { id: x.another }, status: 409 })],
  ['cancelRun', (x) => ({ params: { id: x.another } })],
  ['previewRerun', (x) => ({ params: { id: x.done, step: 'post' } })],
  ['rerun', (x) => ({ params: { id: x.done }, body: { from: 'words' } })],
  ['deleteWorkflow', (x) => ({ params: { id: x.thrown } })],
  ['listSources', () => ({})],
  ['findSource', () => ({ body: { text: '@ternbaylidos' } })],
  ['watchFeed', () => ({ body: { url: `${house.lagoon}/video/on/oldquayfilms` } })],
  ['exportFeeds', () => ({ status: 200 })],
  [
    'watchFeeds',
    () => ({
      body: { text: writeOpml('Feeds', [{ name: 'Bakehouse', url: `${house.lagoon}/video/on/marrambakehouse` }], 0) },
    }),
  ],
  ['wakeSources', (x) => ({ body: { watches: [x.watch] } })],
  ['watchOutlet', (x) => ({ body: { outlet: x.page, what: 'comments' } })],
  ['makeHook', () => ({ body: { name: 'Another hook' } })],
  ['makeSchedule', () => ({ body: { name: 'Daily', rule: 'FREQ=DAILY', start: '2026-11-26T09:00' } })],
  ['previewSchedule', () => ({ body: { rule: 'FREQ=DAILY', start: '2026-11-26T09:00' } })],
  ['listItems', (x) => ({ query: { watches: x.watch } })],
  ['testHook', (x) => ({ params: { id: x.hook }, body: { body: { pool: 'Old Quay', open: false } } })],
  ['openHook', (x) => house.settle().then(() => ({ params: { id: x.hook } }))],
  ['renameSourceField', (x) => ({ params: { id: x.hook }, body: { from: 'pool', to: 'place' } })],
  ['changeHook', (x) => ({ params: { id: x.hook }, body: { signed: true } })],
  ['listAccounts', () => ({})],
  ['listNetworks', () => ({})],
  ['listWatchable', () => ({})],
  ['beginConnect', () => ({ body: { kind: 'pages', backTo: '/accounts' } })],
  ['connectByForm', () => ({ body: { kind: 'text-model', values: { token: 'no such token' } }, status: 422 })],
  ['openOutlet', (x) => ({ params: { id: x.account }, body: { address: 'https://lidos.example/' }, status: 422 })],
  [
    'createOutlet',
    (x) => ({ params: { id: x.account }, body: { what: 'board', values: { name: 'Boards' } }, status: 422 }),
  ],
  ['renameAccount', (x) => ({ params: { id: x.account }, body: { name: 'Our pages' } })],
  ['refreshOutlets', (x) => ({ params: { id: x.account } })],
  ['checkOutlet', (x) => ({ params: { id: x.page } })],
  ['sendTestPost', (x) => ({ params: { id: x.page }, learn: (body) => void (x.ticket = String(body.ticket)) })],
  ['removeTestPost', (x) => ({ params: { id: x.page, ticket: x.ticket } })],
  [
    'tryCall',
    () => ({
      body: { method: 'GET', url: `${house.lagoon}/style.css`, headers: [], body: null, secret: null, expect: null },
      status: 422,
    }),
  ],
  ['keepSecret', () => ({ params: { name: 'lookups' }, body: { value: 'sesame' } })],
  ['listSecrets', () => ({})],
  ['deleteSecret', () => ({ params: { name: 'lookups' } })],
  ['openLogbookStory', (x) => ({ params: { key: x.post } })],
  ['forecastCalendar', () => ({ query: { from: clock() - DAY, to: clock() + 7 * DAY } })],
  ['openCalendar', () => ({ query: { from: clock() - 40 * DAY, to: clock() + DAY } })],
  ['movePost', (x) => ({ body: { effect: x.planned, to: clock() + 90 * DAY, others: 'stay', preview: false } })],
  ['keepTimetable', (x) => ({ params: { id: x.page }, body: { timetable: NO_TIMETABLE, revision: 0 } })],
  ['exportCalendar', () => ({ query: { from: clock() - 40 * DAY, to: clock() + DAY, as: 'ics' }, status: 200 })],
  ['openCalendarAddress', () => ({})],
  ['setCalendarAddress', () => ({ body: { on: true } })],
  ['startWritten', () => ({})],
  ['readWorld', () => ({})],
  ['makeWritten', (x) => ({ body: { state: 'idea', post: saying('An idea', x.page) } })],
  ['importPosts', () => ({ query: { then: 'keep-good' }, body: Buffer.from('Words,State\nAn idea,idea\n') })],
  ['openWritten', (x) => ({ params: { id: x.written } })],
  ['moveWritten', (x) => ({ params: { id: x.written }, body: { outlet: x.page, to: clock() + 2 * DAY } })],
  [
    'changeWritten',
    (x) => ({ params: { id: x.written }, body: { state: 'ready', post: saying('Ready', x.page), revision: 2 } }),
  ],
  ['approveWritten', (x) => ({ params: { id: x.written }, body: { revision: 3 } })],
  ['deleteWritten', (x) => ({ params: { id: x.written } })],
  ['keepApproval', () => ({ body: { by: 'anybody' } })],
  ['openDesk', () => ({ query: { order: 'atRisk', words: 'swim' } })],
  ['openDeskEntry', (x) => ({ params: { item: x.said } })],
  ['openContact', (x) => ({ params: { contact: x.person } })],
  [
    'sendAnswers',
    (x) => ({
      body: {
        answers: [
          { itemId: x.said, text: 'Thank you', held: null, seen: { text: 'A swim of the lidos', answered: false } },
        ],
      },
    }),
  ],
  ['callAnswersBack', (x) => ({ body: { items: [x.said] } })],
  ['tendDesk', (x) => ({ body: { items: [x.said], tend: { do: 'assign', to: house.mo } } })],
  ['openForAnswering', (x) => ({ params: { item: x.said }, body: { open: true } })],
  ['lookForDesk', () => ({})],
  ['openDeskNumbers', () => ({ query: { weeks: '4' } })],
  ['openVoice', () => ({})],
  ['keepVoice', () => ({ body: { voice: usualVoice('en'), revision: revisionOf(usualVoice('en')) } })],
  ['tryDraft', (x) => ({ body: { outlet: x.model, input: asking } })],
  ['draftAnswer', (x) => ({ params: { item: x.said }, body: {} })],
  ['openPolicy', () => ({})],
  ['tryPolicy', () => ({ body: { policy: USUAL_POLICY } })],
  ['keepPolicy', () => ({ body: { policy: USUAL_POLICY, revision: revisionOf(USUAL_POLICY) } })],
  ['listDeskSources', () => ({})],
  ['setDeskSource', (x) => ({ body: { outletId: x.listing, what: 'reviews', listens: true } })],
  ['listContacts', () => ({ query: { words: 'Ana' } })],
  [
    'noteContact',
    (x) => ({
      params: { contact: x.person },
      body: { labels: { add: ['regular'] }, notes: { text: 'Swims at seven', revision: revisionOf('') } },
    }),
  ],
  ['mergeContacts', (x) => ({ params: { contact: x.person }, body: { other: x.otherContact } })],
  ['separateContacts', (x) => ({ params: { contact: x.person, other: x.otherContact } })],
  ['exportContact', (x) => ({ params: { contact: x.person } })],
  ['setStopWords', () => ({ body: { words: 'stop, enough' } })],
  ['readLogbook', () => ({ query: { words: 'film' } })],
  ['openLogbook', () => ({})],
  ['exportLogbook', () => ({ query: { as: 'csv' }, status: 200 })],
  ['listUntidy', () => ({})],
  ['openFeed', () => ({})],
  ['setFeed', () => ({ body: { on: true } })],
  ['readAudit', () => ({ query: { about: 'workflow', by: house.mo } })],
  ['listSheets', () => ({})],
  ['makeSheet', () => ({ body: { name: 'One more sheet', columns: [{ key: 'title', name: 'Title', type: 'text' }] } })],
  ['makeSheetFromFile', () => ({ query: { name: 'From a file' }, body: Buffer.from('Title,Seats\nLane swim,12\n') })],
  ['openSheet', (x) => ({ params: { id: x.sheet } })],
  ['changeSheet', (x) => ({ params: { id: x.sheet }, body: { revision: 1, name: 'The plan of the lidos' } })],
  ['listSheetRows', (x) => ({ params: { id: x.sheet } })],
  ['addSheetRows', (x) => ({ params: { id: x.sheet }, body: { rows: [{ title: 'Added' }] } })],
  [
    'editSheetRows',
    (x) => ({
      params: { id: x.sheet },
      body: { edits: [{ row: x.row, cells: [{ key: 'title', before: 'A row of the lidos', after: 'Written over' }] }] },
    }),
  ],
  ['deleteSheetRows', (x) => ({ params: { id: x.sheet }, body: { rows: [x.row], deleted: true } })],
  ['openSheetRow', (x) => ({ params: { id: x.sheet, row: x.row } })],
  ['findClipped', (x) => ({ params: { id: x.sheet }, body: { url: 'https://ternbay.example/rail' } })],
  [
    'importIntoSheet',
    (x) => ({ params: { id: x.sheet }, query: { then: 'keep' }, body: Buffer.from('Title\nFrom a file\n') }),
  ],
  ['exportSheet', (x) => ({ params: { id: x.sheet }, query: { as: 'csv' }, status: 200 })],
  ['listTablesElsewhere', () => ({})],
  ['previewSheetSync', (x) => ({ params: { id: x.sheet }, body: { outletId: x.table, rules: inStep() } })],
  [
    'keepSheetInStep',
    (x) => ({ params: { id: x.sheet }, body: { outletId: x.table, rules: inStep(), revision: null } }),
  ],
  ['sayOfSheetSync', (x) => ({ params: { id: x.sheet }, body: { paused: true } })],
  ['leaveSheetApart', (x) => ({ params: { id: x.sheet } })],
  ['deleteSheet', (x) => ({ params: { id: x.sheet } })],
  ['restoreSheet', (x) => ({ params: { id: x.sheet } })],
  ['keepView', () => ({ params: { place: 'desk', name: 'Two stars' }, body: { query: 'stars=2' } })],
  ['listViews', () => ({ params: { place: 'desk' } })],
  ['dropView', () => ({ params: { place: 'desk', name: 'Two stars' } })],
  ['keepSnippet', () => ({ params: { name: 'sign-off' }, body: { text: 'Your crew', revision: null } })],
  ['listSnippets', () => ({})],
  ['previewSnippetChange', () => ({ params: { name: 'sign-off' }, body: { text: 'Our crew' } })],
  ['deleteSnippet', () => ({ params: { name: 'sign-off' } })],
  [
    'addFile',
    async (x) => ({
      query: { name: 'Tide wall' },
      body: await drawnPicture(400, 300),
      learn: (body) => void (x.file = (body.file as { id: number }).id),
    }),
  ],
  ['listFiles', () => ({})],
  [
    'describeFile',
    (x) => ({
      params: { id: x.file },
      body: { name: 'The tide wall', alt: 'A wall', revision: revisionOf({ name: 'Tide wall', alt: '' }) },
    }),
  ],
  ['deleteFile', (x) => ({ params: { id: x.file } })],
  ['saidLately', (x) => ({ query: { outlets: x.page } })],
  ['previewLink', () => ({ query: { url: `${house.lagoon}/pages/p/tern-bay-lidos` } })],
  ['editPost', (x) => ({ params: { key: x.post }, body: { text: 'Put right' } })],
  ['listPostEdits', (x) => ({ params: { key: x.post } })],
  ['pinPost', (x) => ({ params: { key: x.post }, body: { on: true }, status: 409 })],
  ['deletePost', (x) => ({ params: { key: x.post } })],
  ['listNotices', () => ({})],
  ['putNoticeAway', (x) => ({ params: { id: x.notice } })],
  ['putAsideAway', (x) => ({ params: { id: x.aside } })],
  ['eraseContact', (x) => ({ params: { contact: x.person } })],
  ['disconnectAccount', (x) => ({ params: { id: x.rooms } })],
  ['finishConnect', () => ({ status: 303 })],
  ['readTrouble', () => ({ params: { token: 'nobody.signed' }, status: 404 })],
  ['readHealth', () => ({})],
  ['readDocument', () => ({})],
  ['listSignInWays', () => ({})],
  ['signInToDemo', () => ({ status: 404 })],
  ['signOutEverywhere', () => ({})],
  ['signIn', () => ({ body: { email: 'mo@ternbay.example', password: PASSWORD } })],
  ['signOut', () => ({})],
];
/** The stream of events never ends by itself: it has tests of its own (told.test.ts). */
const APART = ['listen'];

const named = (name: string): Endpoint => ENDPOINTS.find(({ described }) => described.name === name)!;

function addressOf(endpoint: Endpoint, brand: number, { params = {}, query }: Call): string {
  const path = pathOf(endpoint).replace(/\{(\w+)\}/g, (_, name: string) =>
    encodeURIComponent(name === 'brand' ? brand : params[name] || '0'),
  );
  return query ? `${path}?${new URLSearchParams(query as Record<string, string>)}` : path;
}
const ask = (visitor: Visitor, endpoint: Endpoint, brand: number, call: Call) =>
  visitor.ask(endpoint.described.method.toUpperCase(), addressOf(endpoint, brand, call), call.body);

describe('every endpoint', () => {
  it('is tried here', () => {
    const tried = [...CALLS.map(([name]) => name), ...APART].sort();
    expect(tried).toEqual(ENDPOINTS.map(({ described }) => described.name).sort());
  });

  // Before they are asked as they are meant to be, so that what is asked for is still there.
  it('shows and does nothing to another brand, whichever way its numbers are given', async () => {
    const ines = new Visitor(house.env.PLAYA_ORIGIN!);
    await ines.signIn('ines@marram.example');
    const before = JSON.stringify((await mo.ask('GET', `/brands/${house.lidos}/today`)).body.held);
    for (const [name, make] of CALLS) {
      const endpoint = named(name);
      if (endpoint.of !== 'brand') continue;
      const call = await make({ ...ids });
      // Under the other brand's number: it does not exist for her.
      const shut = await ask(ines, endpoint, house.lidos, call);
      expect(shut.status, name).toBe(404);
      expect(shut.body.title, name).toBe('There is no such brand.');
      // Under her own brand's number, with what belongs to the other in the path, the query and the body.
      const asked = await ask(ines, endpoint, house.bakehouse, call);
      const said = JSON.stringify(asked.body ?? {});
      if (!PUBLIC.has(name))
        expect(said, name).not.toMatch(/of the lidos|asked about|Tern Bay Lidos"|ternbay\.example|A draft|sesame/);
      const touches = Object.entries(call.params ?? {}).some(([param]) => param === 'id' || param === 'key');
      if (touches && endpoint.described.method !== 'get' && !HARMLESS.has(name))
        expect(asked.status, name).toBeGreaterThanOrEqual(400);
    }
    expect(JSON.stringify((await mo.ask('GET', `/brands/${house.lidos}/today`)).body.held)).toBe(before);
    const { body } = await mo.ask('GET', `/brands/${house.lidos}/workflows`);
    const status = new Map((body.workflows as { id: number; status: string }[]).map((each) => [each.id, each.status]));
    expect([status.get(ids.workflow), status.get(ids.paused), status.get(ids.draft)]).toEqual([
      'live',
      'paused',
      'draft',
    ]);
  });

  it('that lists goes through its pages by the cursor: in ones it is the same as at once', async () => {
    const paged = ENDPOINTS.filter(
      ({ answer }) => answer instanceof z.ZodObject && answer.shape.next === nextPage.next,
    );
    expect(paged.map(({ described }) => described.name).sort()).toEqual(Object.keys(LISTS).sort());
    const long: string[] = [];
    for (const endpoint of paged) {
      const { name } = endpoint.described;
      const call = await CALLS.find(([each]) => each === name)![1]({ ...ids });
      const page = async (query: object) => {
        const { body } = await ask(mo, endpoint, house.lidos, { ...call, query: { ...call.query, ...query } });
        return { things: body[LISTS[name]!] as unknown[], next: body.next as string | null };
      };
      const whole = await page({});
      const ones: unknown[] = [];
      let next: string | null = null;
      do {
        const one = await page({ most: 1, ...(next === null ? {} : { after: next }) });
        // Pages of outlets have what these offer: several things, or none.
        if (!OF_OUTLETS.has(name)) expect(one.things.length, name).toBeLessThanOrEqual(1);
        ones.push(...one.things);
        ({ next } = one);
      } while (next !== null && ones.length <= whole.things.length);
      expect(ones, name).toEqual(whole.things);
      if (whole.things.length > 1) long.push(name);
    }
    // Lists of one thing say nothing about cursors.
    expect(long).toEqual(expect.arrayContaining(['listWorkflows', 'listSources', 'listAccounts', 'listWatchable']));
  });

  it.each(CALLS)('answers what it says: %s', async (name, make) => {
    const endpoint = named(name);
    const call = await make(ids);
    const before = await deeds();
    const answer =
      call.status === 303
        ? await fetch(`${house.env.PLAYA_ORIGIN}/api${addressOf(endpoint, 0, call)}`, {
            redirect: 'manual',
            headers: { cookie: mo.cookie },
          }).then(({ status }) => ({ status, body: {} }))
        : await ask(mo, endpoint, house.lidos, call);
    const good = endpoint.answer === null ? 204 : (endpoint.described.status ?? 200);
    // A server that checks its answers turns one that is not as described into a fault.
    expect(answer.status, JSON.stringify(answer.body)).toBe(call.status ?? good);
    if (answer.status >= 400) {
      const { code, type } = answer.body as { code?: string; type?: string };
      expect(type).toBe(`/problems/${code}`);
    }
    call.learn?.(answer.body as Record<string, unknown>);
    if (endpoint.of !== 'brand' || endpoint.described.method === 'get' || answer.status >= 400) return;
    const after = await deeds();
    // Whoever changes something is written down with it.
    expect({ name, written: after.by - before.by > 0 }).toEqual({ name, written: !UNWRITTEN.has(name) });
  });
});

const OF_OUTLETS = new Set(['listWatchable', 'listDeskSources', 'listTablesElsewhere']);
/** How much has been done, by whom is asking. */
async function deeds(): Promise<{ by: number }> {
  const [row] = await select<{ by: number }>(
    house.services.pool,
    "SELECT COUNT(*) AS `by` FROM audit WHERE actor = 'person' AND actor_id = ?",
    [house.mo],
  );
  return { by: Number(row!.by) };
}
/** What changes nothing of the brand's: tries and looks, and what is one's own. */
const UNWRITTEN = new Set<string>([
  // What is only looked at or tried.
  ...['findSource', 'wakeSources', 'previewSchedule', 'testHook', 'refreshOutlets', 'checkOutlet', 'lookForDesk'],
  ...['tryDraft', 'draftAnswer', 'tryPolicy', 'findClipped', 'previewSheetSync', 'previewSnippetChange', 'tryCall'],
  // Nothing of it is there before the person is back from the network.
  'beginConnect',
  // One's own.
  ...['keepView', 'dropView', 'putNoticeAway', 'openForAnswering'],
  // Written down when it goes, ten seconds later; what is called back never went.
  ...['sendAnswers', 'callAnswersBack'],
  // Rows have a history of their own, cell by cell.
  ...['addSheetRows', 'editSheetRows', 'deleteSheetRows', 'importIntoSheet'],
  // Here there is nothing to move or to let go of.
  ...['moveRuns', 'dropBackfill'],
]);
/** Lists in pages: what each calls its things. */
const LISTS: Record<string, string> = {
  listWorkflows: 'workflows',
  readWorld: 'things',
  listRuns: 'runs',
  listSources: 'watches',
  listItems: 'items',
  listWatchable: 'watchable',
  listAccounts: 'accounts',
  listSecrets: 'secrets',
  listSnippets: 'snippets',
  listFiles: 'files',
  listNotices: 'notices',
  listSheets: 'sheets',
  listSheetRows: 'rows',
  listTablesElsewhere: 'tables',
  listDeskSources: 'sources',
  listContacts: 'contacts',
  openDesk: 'entries',
  readLogbook: 'entries',
  readAudit: 'entries',
};

/** What anybody can see, whoever they are: pages and feeds of the web. */
const PUBLIC = new Set(['findSource', 'watchFeeds', 'previewLink']);
/** What does nothing where there is nothing, and says so with a count. */
const HARMLESS = new Set(['moveRuns', 'dropBackfill']);

describe('the document of all endpoints', () => {
  const document = openApiDocument(ENDPOINTS);
  it('is valid OpenAPI 3.1, as a published validator sees it', async () => {
    const { valid, errors } = await new Validator().validate(JSON.parse(JSON.stringify(document)));
    expect(errors).toBeUndefined();
    expect(valid).toBe(true);
  });
  it('is served to whoever asks', async () => {
    const served = (await (await fetch(`${house.env.PLAYA_ORIGIN}/api/openapi.json`)).json()) as { paths: object };
    expect(Object.keys(served.paths)).toEqual(Object.keys(document.paths!));
  });
  it('is where the interface’s types and addresses come from: made anew, they are what is there', async () => {
    const there = (name: string) => readFile(fileURLToPath(new URL(`../../web/lib/${name}`, import.meta.url)), 'utf8');
    expect(await clientTypes(document), 'npm run api-types writes them').toBe(await there('api-types.ts'));
    expect(clientAddresses(document), 'npm run api-types writes them').toBe(await there('api-addresses.ts'));
  });
});
