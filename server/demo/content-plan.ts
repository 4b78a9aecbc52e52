// The demonstration's sheets: a content plan in use, and a list of a second brand's.
import { DateTime } from 'luxon';
import { CLIPS } from '@playa/core/sheets/clip.ts';
import { CONTENT_PLAN } from '@playa/core/sheets/content-plan.ts';
import type { Cell } from '@playa/core/sheets/cell.ts';
import type { Column } from '@playa/core/sheets/column.ts';
import { columnsLike } from '@playa/core/sheets/guess-pairs.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { NO_SETTINGS } from '@playa/core/workflow/settings.ts';
import type { Services } from '../base/services.ts';
import { sheetBy, type Sheet } from '../store/sheets.ts';
import { addSheetRows } from '../sheets/edit-rows.ts';
import { makeSheet } from '../sheets/keep-sheet.ts';
import { keepInStep } from '../sheets/sync/keep.ts';
import { outletBy } from '../store/outlets.ts';

/** New films become rows of the plan, to be worded by somebody. */
export const filmsIntoPlan = (films: number, sheet: Sheet): Definition => ({
  schema: 1,
  sources: [{ id: 'source', watch: films }],
  steps: [
    {
      id: 'row',
      verb: 'record',
      outlet: sheet.outletId,
      match: null,
      values: [
        { column: 'title', value: '{$title}' },
        { column: 'address', value: '{$link}' },
        { column: 'picture', value: '{$thumbnail.url}' },
        { column: 'hashtags', value: '#lidolife' },
        { column: 'status', value: 'in progress' },
      ],
      as: 'row',
    },
  ],
});

/** Rows that are ready go out when their time has come; where and when is written back. */
export const planGoesOut = (sheet: Sheet, outlet: number): Definition => ({
  schema: 1,
  sources: [
    {
      id: 'source',
      watch: sheet.watchId,
      trigger: {
        on: 'becomes',
        when: {
          type: 'group',
          match: 'all',
          items: [
            { type: 'test', field: 'status', op: 'is', value: 'ready' },
            { type: 'test', field: 'copy', op: 'filled' },
            { type: 'test', field: 'goes_out', op: 'hasCome' },
          ],
        },
      },
    },
  ],
  steps: [
    { id: 'words', verb: 'compose', name: 'caption', text: '{$copy} {$hashtags}' },
    { id: 'post', verb: 'publish', outlets: [outlet], caption: 'caption', card: 'address', as: 'post' },
    {
      id: 'back',
      verb: 'record',
      outlet: null,
      where: 'item',
      match: null,
      values: [
        { column: 'status', value: 'posted' },
        { column: 'post', value: '{$post.url}' },
        { column: 'posted_at', value: '{$post.at}' },
      ],
      as: 'written',
    },
  ],
  settings: { ...NO_SETTINGS, oldest: null },
});

const ZONE = 'Europe/Lisbon';

/** Rows of the crew: in so many days from now, at a time of day. */
function crewRows(now: number): Record<string, Cell>[] {
  const at = (days: number, time: string) =>
    `${DateTime.fromMillis(now, { zone: ZONE }).plus({ days }).toISODate()} ${time}`;
  const who = 'Mo Okoro';
  return [
    {
      title: 'Winter opening times',
      copy: 'From Monday the pools open an hour later. The kettle does not.',
      hashtags: '#lidolife',
      who,
      status: 'ready',
      goes_out: at(-5, '09:00'),
    },
    {
      title: 'First frost',
      copy: 'First frost on the steps at Gannet Point. Grit is down, the rail is new, the water is 11 degrees.',
      hashtags: '#coldwater',
      who,
      status: 'ready',
      goes_out: at(-2, '08:00'),
    },
    {
      title: 'Volunteers wanted',
      copy: 'Two hours on a Sunday, a wetsuit if you have one, cake in any case: we are looking for lifeguards’ helpers.',
      hashtags: '#lidolife #volunteers',
      who,
      status: 'ready',
      goes_out: at(1, '09:00'),
    },
    {
      title: 'Lantern swim',
      copy: 'Lantern swim at Old Quay on the longest night. Tickets from Friday.',
      hashtags: '#lanternswim',
      who,
      status: 'ready',
      goes_out: at(3, '18:00'),
    },
    {
      title: 'Tide tables for next year',
      copy: 'They are here.',
      who,
      status: 'in progress',
      goes_out: at(6, '09:00'),
    },
    { title: 'Thank the harbour crew', who, status: 'idea', goes_out: 'after the dredging' },
    { title: 'A film of the new rail', status: 'idea' },
  ];
}

/** Makes the content plan and fills it. Returns it. */
export async function makeContentPlan(services: Services, brandId: number, now: number): Promise<Sheet> {
  const id = await makeSheet(services, brandId, { name: 'Content plan', columns: [...CONTENT_PLAN] });
  await addSheetRows(services, brandId, id, crewRows(now));
  return (await sheetBy(services.pool, brandId, id))!;
}

/** A sheet of a table elsewhere, kept in step with it. */
export async function makeInStep(services: Services, brandId: number, table: number, name: string): Promise<void> {
  const there = (await outletBy(services.pool, brandId, table))!.details.columns ?? [];
  const columns = columnsLike(there);
  const id = await makeSheet(services, brandId, { name, columns });
  const pairs = columns.map(({ key }, index) => ({ key, there: there[index]!.name }));
  const rules = { columns: pairs, match: null, wins: 'there', deletions: true } as const;
  await keepInStep(services, brandId, id, { outletId: table, rules });
}

/** Clips take the next free times of an outlet, one after the other. */
export const clipsSpread = (sheet: Sheet, outlet: number): Definition => ({
  schema: 1,
  sources: [{ id: 'source', watch: sheet.watchId }],
  steps: [
    { id: 'words', verb: 'compose', name: 'caption', text: '{$note} {$title}' },
    {
      id: 'post',
      verb: 'publish',
      outlets: [outlet],
      caption: 'caption',
      card: 'address',
      when: { type: 'free' },
      as: 'post',
    },
    {
      id: 'back',
      verb: 'record',
      outlet: null,
      where: 'item',
      match: null,
      values: [{ column: 'post', value: '{$post.url}' }],
      as: 'written',
    },
  ],
});

/** Makes the sheet for clips. */
export async function makeClips(services: Services, brandId: number): Promise<Sheet> {
  const id = await makeSheet(services, brandId, { name: 'Clips', columns: [...CLIPS] });
  return (await sheetBy(services.pool, brandId, id))!;
}

/** What was clipped an hour ago: pages of the neighbours'. @param base where their network is */
export async function clipSome(services: Services, brandId: number, sheet: number, base: string): Promise<void> {
  const clips = [
    ['The seal is back', 'Our neighbour is home. Keep a hundred metres away, please:', '@tidetables'],
    ['Mind the steps', 'From the harbour, who should know:', '@harbourmaster'],
  ];
  await addSheetRows(
    services,
    brandId,
    sheet,
    clips.map(([title = '', note = '', of = '']) => ({ title, note, address: `${base}/${of}` })),
  );
}

const BAKES: readonly Column[] = [
  { key: 'loaf', name: 'Loaf', type: 'text' },
  { key: 'baked', name: 'Baked on', type: 'date' },
  { key: 'price', name: 'Price', type: 'number' },
  { key: 'vegan', name: 'Vegan', type: 'yesNo' },
];

/** A list of the other brand's. */
export async function makeBakes(services: Services, brandId: number, now: number): Promise<void> {
  const id = await makeSheet(services, brandId, { name: 'Bakes', columns: [...BAKES] });
  const day = (days: number) => DateTime.fromMillis(now, { zone: 'Europe/London' }).plus({ days }).toISODate();
  await addSheetRows(services, brandId, id, [
    { loaf: 'Marram rye', baked: day(-1), price: 4.5, vegan: true },
    { loaf: 'Saltmarsh sourdough', baked: day(0), price: 5, vegan: true },
    { loaf: 'Dune bun', baked: day(1), price: 2.2, vegan: false },
  ]);
}
