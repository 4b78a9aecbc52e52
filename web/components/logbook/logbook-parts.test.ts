// Parts of the logbook: a row with as much of it as somebody wants, and how an entry came to go out.
import { flushPromises } from '@vue/test-utils';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { nextTick } from 'vue';
import type { LogbookEntry } from '../../lib/types.ts';
import { Answering, button, mounted, Refusal } from '../../testing/mounted.ts';
import { COLUMNS, useColumns, type LogbookColumn } from './columns.ts';
import EntryRow from './EntryRow.vue';
import EntryStory from './EntryStory.vue';

const AT = Date.UTC(2031, 10, 26, 9, 30);
const entry: LogbookEntry = {
  ...{
    id: 1,
    key: 'run.post.1.1',
    action: 'publish',
    at: AT,
    workflowId: 1,
    workflow: 'New films',
    runId: 4,
    itemId: 5,
  },
  ...{ outletId: 2, outlet: '@ternbaylidos', text: 'Low water at six', card: null, url: 'https://notes.example/7' },
  ...{ media: { type: 'picture', url: 'https://notes.example/7.jpg', alt: '' }, edited: true, deletedAt: null },
};
let server: Answering;
beforeEach(() => {
  server = new Answering();
  localStorage.clear();
});
afterEach(() => {
  document.body.innerHTML = '';
});

describe('a row', () => {
  const row = (without: LogbookColumn[] = [], chosen: boolean | null = null) =>
    mounted(EntryRow, {
      entry,
      outlet: { id: 2, name: '@ternbaylidos', kind: 'microblog', accountId: 1, revisions: ['delete'] },
      zone: 'Europe/Lisbon',
      opened: false,
      shows: (column: LogbookColumn) => !without.includes(column),
      chosen,
    });

  it('shows all of it where nobody has chosen', () => {
    const text = row().text();
    for (const part of [
      '09:30',
      'Low water at six',
      'posted · @ternbaylidos (microblog) · New films',
      'edited',
      'see it',
    ])
      expect(text).toContain(part);
    expect(row().find('img').exists()).toBe(true);
  });
  it.each([
    ['did', 'posted'],
    ['outlet', '@ternbaylidos'],
    ['workflow', 'New films'],
    ['link', 'see it'],
    ['since', 'edited'],
  ] as const)('without “%s” it does not say %s, and has its time and words', (column, part) => {
    const text = row([column]).text();
    expect(text).not.toContain(part);
    expect(text).toMatch(/09:30.*Low water at six/);
  });
  it('has no picture where nobody wants pictures', () => {
    expect(row(['picture']).find('img').exists()).toBe(false);
  });
  it('can be chosen only where something can be done with it', async () => {
    expect(row().find('input').exists()).toBe(false);
    const able = row([], false);
    await able.get('input').trigger('change');
    await able.get('button').trigger('click');
    expect(able.emitted()).toMatchObject({ choose: [[]], open: [[]] });
  });
});

describe('chosen columns', () => {
  it('are kept for the brand, and are those of a file', async () => {
    const { shows, inFiles, toggle } = useColumns(1);
    expect(inFiles.value).toBe('');
    expect(Object.keys(COLUMNS).every((each) => shows.value(each as LogbookColumn))).toBe(true);
    toggle('workflow');
    toggle('link');
    await nextTick();
    expect(inFiles.value).toBe('when,words,act,where,since');
    expect(useColumns(1).shows.value('workflow')).toBe(false);
    expect(useColumns(2).shows.value('workflow')).toBe(true);
    toggle('workflow');
    expect(shows.value('workflow')).toBe(true);
  });
});

describe('how it came to go out', () => {
  const tries = [
    { at: AT - 120_000, kind: 'unknown', says: 'It did not answer.' },
    { at: AT - 60_000, kind: 'wait', says: 'It asks to go slower.' },
  ];
  const done = [{ id: 1, by: 'Mo Okoro', did: 'tried again', became: null, at: AT - 30_000 }];
  const shown = async (answer: unknown) => {
    server.to('GET', /logbook\/.*\/story$/, () => answer);
    const story = mounted(EntryStory, { entry });
    await flushPromises();
    return story;
  };

  it('says every try with what came of it, and who did what', async () => {
    const story = await shown({ story: { asked: AT - 200_000, planned: AT - 130_000, tries }, done });
    const lines = story.findAll('ol li').map((line) => line.text());
    expect(lines).toHaveLength(5);
    expect(lines[2]).toMatch(/nobody knew whether it went out:.*It did not answer\./);
    expect(lines[4]).not.toContain('first try');
    expect(story.text()).toContain('Mo Okoro tried again');
    expect(server.asked[0]!.path).toContain('/logbook/run.post.1.1/story');
  });
  it('says that it went at the first try, or that it is no longer kept', async () => {
    expect((await shown({ story: { asked: AT, planned: null, tries: [] }, done: [] })).text()).toContain(
      'at the first try',
    );
    server = new Answering();
    expect((await shown({ story: null, done: [] })).text()).toContain('no longer kept');
  });
  it('can be asked for again when it could not be read', async () => {
    let broken = true;
    server.to('GET', /story$/, () => (broken ? new Refusal(500, 'Something broke.') : { story: null, done: [] }));
    const story = mounted(EntryStory, { entry });
    await flushPromises();
    expect(story.get('[role=alert]').text()).toContain('Something broke.');
    broken = false;
    await button(story, 'Try again').trigger('click');
    await flushPromises();
    expect(story.find('[role=alert]').exists()).toBe(false);
  });
});
