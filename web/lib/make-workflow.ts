import type { Group } from '@playa/core/conditions/condition.ts';
import type { Column } from '@playa/core/sheets/column.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { call } from './api.ts';
import type { OpenedSheet } from './types.ts';

/** A short id for a step, unlike the others of its workflow. */
export function stepId(): string {
  return Array.from(crypto.getRandomValues(new Uint8Array(6)), (byte) => (byte % 36).toString(36)).join('');
}

/** Makes a workflow to begin with: something to watch, a caption, somewhere to publish. Returns its number. */
export async function makeWorkflow(brand: number, watch: number | null = null): Promise<number> {
  const definition: Definition = {
    schema: 1,
    sources: [{ id: stepId(), watch }],
    steps: [
      { id: stepId(), verb: 'compose', name: 'caption', text: '{$title}' },
      { id: stepId(), verb: 'publish', outlets: [], caption: 'caption', card: 'link' },
    ],
  };
  return (await call('addWorkflow', { brand }, { body: { name: 'New workflow', definition } })).id;
}

/**
 * Makes a workflow that publishes rows of a sheet: those that become ready where the sheet says so by a choice, otherwise
 * every new one. Returns its number.
 *
 * @param spread each goes at the next free time of its outlet, so that a batch is spread over the week
 */
export async function makeSheetWorkflow(
  brand: number,
  sheet: Pick<OpenedSheet, 'columns' | 'watchId' | 'name'>,
  spread = false,
): Promise<number> {
  const columns = sheet.columns as Column[];
  const words =
    columns.find(({ type }) => type === 'longText') ?? columns.find(({ type }) => type === 'text') ?? columns[0]!;
  const title = columns.find(({ type }) => type === 'text');
  const link = columns.find(({ type }) => type === 'link');
  const when = readyWhen(columns);
  const definition: Definition = {
    schema: 1,
    sources: [{ id: stepId(), watch: sheet.watchId, ...(when && { trigger: { on: 'becomes', when } }) }],
    steps: [
      {
        id: stepId(),
        verb: 'compose',
        name: 'caption',
        text: spread && title && title !== words ? `{$${title.key}}\n{$${words.key}}` : `{$${words.key}}`,
      },
      {
        id: stepId(),
        verb: 'publish',
        outlets: [],
        caption: 'caption',
        card: link?.key ?? null,
        ...(spread && { when: { type: 'free' } }),
      },
    ],
  };
  const name = cutUnits(`Rows of ${sheet.name}`, 120);
  return (await call('addWorkflow', { brand }, { body: { name, definition } })).id;
}

/** When a row is ready: a choice says so, and its moment has come, as far as the sheet has columns for either. */
function readyWhen(columns: readonly Column[]): Group | undefined {
  for (const column of columns) {
    if (column.type !== 'choice') continue;
    const ready = column.options.find(({ value }) => /\bready\b/i.test(value));
    if (!ready) continue;
    const moment = columns.find(({ type }) => type === 'moment');
    return {
      type: 'group',
      match: 'all',
      items: [
        { type: 'test', field: column.key, op: 'is', value: ready.value },
        ...(moment ? [{ type: 'test' as const, field: moment.key, op: 'hasCome' as const }] : []),
      ],
    };
  }
  return undefined;
}
