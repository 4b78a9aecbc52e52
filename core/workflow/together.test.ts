import { Graph, alg } from '@dagrejs/graphlib';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Step } from '../steps/index.ts';
import { NO_SETTINGS } from './settings.ts';
import { circleThrough, problemsTogether, setsOff, type Beside } from './together.ts';
import type { World, WorldWatch } from '../model/world.ts';

/** Outlet n shows what is posted there at watch n; watch 9 is somebody else's. */
const world: World = {
  timeZone: 'Europe/Lisbon',
  locale: 'en',
  outlets: new Map([1, 2, 3, 4].map((id) => [id, { id, kind: 'page' as const, name: `Page ${id}`, accountId: 1 }])),
  watches: new Map<number, WorldWatch>([
    ...[1, 2, 3, 4].map((id): [number, WorldWatch] => [
      id,
      { id, name: `News of page ${id}`, things: 'posts', shows: [id] },
    ]),
    [9, { id: 9, name: 'A channel', things: 'videos' }],
  ]),
};
const flow = (
  id: number,
  watches: number[],
  outlets: number[],
  more: { own?: 'start'; steps?: Step[] } = {},
): Beside => ({
  id,
  name: `Workflow ${id}`,
  definition: {
    schema: 1,
    sources: watches.map((watch, index) => ({ id: `source${index}`, watch })),
    steps: [
      { id: 'words', verb: 'compose', name: 'caption', text: '{$title}' },
      { id: 'post', verb: 'publish', outlets, caption: 'caption', card: null },
      ...(more.steps ?? []),
    ],
    settings: { ...NO_SETTINGS, ...(more.own && { own: more.own }) },
  },
});
const says = (mine: Beside, others: Beside[] = []) =>
  problemsTogether(mine, others, world).map(({ level, says }) => [level, says]);

describe('circles', () => {
  it('of one workflow, known again by default and endless when it takes its own posts', () => {
    expect(says(flow(1, [1], [1]))).toEqual([
      ['advice', 'What this posts appears at what it watches. Playa knows its own posts again and leaves them out.'],
    ]);
    expect(says(flow(1, [1], [1], { own: 'start' }))).toEqual([
      ['harm', 'What this posts appears at what it watches: it would go round without end.'],
    ]);
    expect(says(flow(1, [9], [1]))).toEqual([]);
  });

  it('through others, endless only if each takes what Playa posts', () => {
    const one = flow(1, [3], [1], { own: 'start' });
    const two = flow(2, [1], [2], { own: 'start' });
    const three = flow(3, [2], [3], { own: 'start' });
    const way = 'What this posts sets off “Workflow 2”, then “Workflow 3”, and that sets off this again';
    expect(says(one, [two, three])).toEqual([['harm', `${way}: it would go round without end.`]]);
    expect(says(one, [two, flow(3, [2], [3])])[0]![0]).toBe('advice');
    expect(says(one, [two])).toEqual([]);
  });

  it('over tables: rows that another workflow adds are news', () => {
    const rows = (outlet: number): Step[] => [
      { id: 'row', verb: 'record', outlet, match: null, values: [{ column: 'A', value: 'x' }], as: 'row' },
    ];
    const one = flow(1, [2], [], { steps: rows(1) });
    const two = flow(2, [1], [], { steps: rows(2) });
    expect(says(one, [two])[0]![0]).toBe('harm');
    expect(says(flow(1, [1], [], { steps: rows(1) }))[0]![0]).toBe('advice');
  });

  it('are found exactly where a graph library finds them, by a way that is one', () => {
    const some = fc.subarray([1, 2, 3, 4, 9]);
    const outlets = fc.subarray([1, 2, 3, 4]);
    fc.assert(
      fc.property(fc.array(fc.tuple(some, outlets), { minLength: 1, maxLength: 7 }), (made) => {
        const all = made.map(([watches, posts], index) => flow(index + 1, watches, posts));
        const graph = new Graph();
        for (const each of all) graph.setNode(String(each.id));
        for (const one of all)
          for (const other of all) if (setsOff(one, other, world)) graph.setEdge(String(one.id), String(other.id));
        // Kept apart from what is tested: the strongly connected components, and loops of one (Tarjan 1972).
        const circular = new Set(
          alg
            .tarjan(graph)
            .filter((component) => component.length > 1 || graph.hasEdge(component[0]!, component[0]!))
            .flat(),
        );
        for (const each of all) {
          const way = circleThrough(each, all, (one, other) => setsOff(one, other, world));
          expect(way !== null).toBe(circular.has(String(each.id)));
          if (!way) continue;
          expect(way[0]).toBe(each);
          way.forEach((one, index) => {
            expect(graph.hasEdge(String(one.id), String(way[(index + 1) % way.length]!.id))).toBe(true);
          });
          expect(new Set(way).size).toBe(way.length);
        }
      }),
      { numRuns: 500 },
    );
  });
});

describe('the same thing twice', () => {
  it('names another workflow that posts from the same source to the same outlet, and where', () => {
    const [problem] = problemsTogether(flow(1, [9], [1, 2]), [flow(2, [9], [2, 3]), flow(3, [9], [4])], world);
    expect(problem).toMatchObject({ level: 'advice' });
    expect(problem!.says).toMatch(/^“Workflow 2” posts from A channel to Page 2 too/);
  });

  it('names another that answers the same', () => {
    const reply: Step[] = [{ id: 'reply', verb: 'reply', outlet: null, where: 'item', to: 'id', caption: 'caption' }];
    const found = problemsTogether(flow(1, [9], [], { steps: reply }), [flow(2, [9], [], { steps: reply })], world);
    expect(found.map(({ says }) => says)).toEqual([expect.stringMatching(/^“Workflow 2” answers A channel too/)]);
    expect(problemsTogether(flow(1, [9], [], { steps: reply }), [flow(2, [1], [], { steps: reply })], world)).toEqual(
      [],
    );
  });
});

describe('keywords', () => {
  const reply: Step = { id: 'reply', verb: 'reply', outlet: 1, to: 'id', caption: 'caption' };
  const test = (op: string, value: string) => ({ type: 'test' as const, field: 'text', op, value });
  const asks = (...items: object[]): Step =>
    ({ id: 'asks', verb: 'check', condition: { type: 'group', match: 'all', items } }) as Step;
  const any = (...items: object[]) => ({ type: 'group' as const, match: 'any' as const, items });
  const on = (id: number, ...steps: Step[]) => flow(id, [9], [], { steps: [...steps, reply] });

  it('that two workflows answer are named, also in each other’s misspellings', () => {
    const mine = on(1, asks(test('mentions', 'timetable, prices')));
    expect(says(mine, [on(2, asks(test('mentions', 'timetables')))])).toEqual([
      [
        'advice',
        '“Workflow 2” answers “timetable” at A channel too. What one has answered waits for you in the other.',
      ],
    ]);
  });
  it('kept apart are no reason to say anything', () => {
    expect(says(on(1, asks(test('mentions', 'timetable'))), [on(2, asks(test('mentions', 'sauna')))])).toEqual([]);
  });
  it('of which another thing is enough do not keep workflows apart', () => {
    const loose = on(2, asks(any(test('mentions', 'sauna'), test('contains', '?'))));
    expect(says(on(1, asks(test('mentions', 'timetable'))), [loose])[0]![1]).toMatch(/keep their checks apart/);
    const both = on(2, asks(any(test('mentions', 'sauna'), test('mentions', 'time table'))));
    expect(says(on(1, asks(test('mentions', 'timetable'))), [both])[0]![1]).toMatch(/answers “timetable”/);
  });
});
