import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import type { World } from '../model/world.ts';
import { readDelimited } from '../sheets/delimited.ts';
import { guessPostMap, importPosts } from './import-posts.ts';

const NOW = Date.UTC(2026, 10, 26, 12);
const world: World = {
  timeZone: 'Europe/Lisbon',
  locale: 'pt',
  outlets: new Map([
    [1, { id: 1, kind: 'page', name: 'Tern Bay Lidos', accountId: 1 }],
    [2, { id: 2, kind: 'microblog', name: '@ternbaylidos', accountId: 1 }],
    [3, { id: 3, kind: 'page', name: 'Twin, page', accountId: 1 }],
    [4, { id: 4, kind: 'board', name: 'Twin, board', accountId: 1 }],
    [5, { id: 5, kind: 'sheet', name: 'A sheet', accountId: null, acts: ['record'] }],
  ]),
  watches: new Map(),
};
const FILE = `Date,Channel,Copy,URL,Status,Who
25.12.2026 10:30,"Tern Bay Lidos; @ternbaylidos",Christmas dip {not a token},https://lidos.example/dip,ready,Ana
,,Ask for coldest swims,,idea,
,,,,,Ana
soon,Nowhere,Lost,not a link,maybe,
25.11.2026 10:30,Tern Bay Lidos,Too late,,ready,
26.12.2026 9:00,Twin,Which one?,,,
26.12.2026 9:00,"Twin (board); Twin, page; Twin",That one,,,
26.12.2026 9:00,"Twin, page",This one,,,
`;
const rowsOf = (text: string) => importPosts(readDelimited(text), guessPostMap(readDelimited(text)[0]!), world, NOW);

describe('a file of posts', () => {
  it('is read by what its columns are called', () => {
    expect(guessPostMap(['Date', 'Channel', 'COPY', 'url', 'Status', 'Who', 'Text'])).toEqual([
      'when',
      'where',
      'words',
      'link',
      'state',
      null,
      null,
    ]);
  });
  it('becomes posts: moments of the brand’s wall clock, outlets by name, words as they stand', () => {
    const [dip, idea] = rowsOf(FILE);
    expect(dip).toMatchObject({
      line: 2,
      state: 'ready',
      title: 'Christmas dip {not a token}',
      at: Date.UTC(2026, 11, 25, 10, 30),
      problems: [],
      post: {
        link: 'https://lidos.example/dip',
        publish: { outlets: [1, 2], when: { type: 'moment', at: '2026-12-25T10:30' } },
      },
    });
    expect(idea).toMatchObject({ line: 3, state: 'idea', at: null, problems: [] });
  });
  it('says what is wrong with each of its rows, and leaves out those that say nothing', () => {
    const problems = rowsOf(FILE).map(({ line, problems: wrong }) => [line, wrong.map(({ column }) => column)]);
    expect(problems).toEqual([
      [2, []],
      [3, []],
      [5, ['when', 'where', 'link', 'state']],
      [6, ['when']],
      [7, ['where']],
      [8, ['where']],
      [9, []],
    ]);
    expect(rowsOf(FILE)[4]!.problems[0]!.says).toBe('Several are called “Twin”: Twin, page; Twin, board.');
    expect(rowsOf(FILE)[2]!.problems.map(({ says }) => says)).toEqual([
      '“soon” cannot be read as a date and a time, or can be read in two ways.',
      'There is no outlet called “Nowhere”.',
      '“not a link” is no web address.',
      '“maybe” is none of idea, draft and ready.',
    ]);
  });
  it('is never more than its rows, whatever stands in it', () => {
    fc.assert(
      fc.property(fc.array(fc.array(fc.string({ maxLength: 30 }), { maxLength: 6 }), { maxLength: 8 }), (rows) => {
        const read = importPosts(
          [['when', 'where', 'words', 'link', 'state'], ...rows],
          ['when', 'where', 'words', 'link', 'state'],
          world,
          NOW,
        );
        expect(read.length).toBeLessThanOrEqual(rows.length);
        for (const row of read)
          if (row.state === 'ready' && row.problems.length === 0) expect(row.at).toBeGreaterThan(NOW - 1);
      }),
    );
  });
});
