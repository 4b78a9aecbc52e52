// @vitest-environment happy-dom
import { flushPromises, type VueWrapper } from '@vue/test-utils';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { defineComponent, h, nextTick, ref, type Ref } from 'vue';
import { Answering, eventually, mounted, Refusal } from '../testing/mounted.ts';
import { usePages, useResource, useWholeList, type Resource } from './resource.ts';

let server: Answering;
let shown: VueWrapper | undefined;
/** The connections by which browsers are told what changes; one goes on for a while after its last listener. */
const told: { tell: (topic: string, ref?: number) => void }[] = [];

beforeEach(() => {
  server = new Answering();
  vi.stubGlobal(
    'EventSource',
    class {
      readonly #listeners: [string, (event: { data: string }) => void][] = [];
      constructor() {
        told.push({
          tell: (topic, of) => {
            for (const [name, then] of this.#listeners)
              if (name === 'change') then({ data: JSON.stringify({ topic, ref: of ?? null }) });
          },
        });
      }
      addEventListener(name: string, then: (event: { data: string }) => void) {
        this.#listeners.push([name, then]);
      }
      close() {}
    },
  );
});
afterEach(() => {
  shown?.unmount();
  vi.unstubAllGlobals();
});

/** A part of the screen that has a resource. */
function having<T>(use: () => T): T {
  let made: T | undefined;
  shown = mounted(
    defineComponent({
      setup() {
        made = use();
        return () => h('div');
      },
    }),
  );
  return made!;
}
const news = async (topic: string, of?: number) => {
  for (const each of told) each.tell(topic, of);
  // Several changes at once are one call.
  await new Promise((resolve) => setTimeout(resolve, 200));
  await flushPromises();
};
const asked = (path: RegExp) => server.asked.filter((each) => path.test(each.path)).length;

describe('a resource', () => {
  const numbers = (weeks: Ref<number>) => () =>
    useResource('openDeskNumbers', () => ({ brand: 1 }), { query: () => ({ weeks: weeks.value }) });

  it('is read when it is wanted, and anew when news names its topics, no other', async () => {
    let waits = 3;
    server.to('GET', /today$/, () => ({ waits }));
    const { data, busy } = having(() => useResource('openToday', () => ({ brand: 1 }), { topics: ['runs'] }));
    expect(busy.value).toBe(true);
    await eventually(() => expect(data.value).toEqual({ waits: 3 }));
    waits = 4;
    await news('accounts');
    expect(asked(/today/)).toBe(1);
    await news('runs');
    await eventually(() => expect(data.value).toEqual({ waits: 4 }));
    expect(asked(/today/)).toBe(2);
  });
  it('takes several changes at once for one, and does not heed what it need not', async () => {
    server.to('GET', /today$/, () => ({ waits: 1 }));
    const { data } = having(() =>
      useResource('openToday', () => ({ brand: 1 }), {
        topics: ['runs'],
        heed: (of) => of.of('runs', ({ ref: about }) => about !== 9),
      }),
    );
    await eventually(() => expect(data.value).toBeDefined());
    await news('runs', 9);
    expect(asked(/today/)).toBe(1);
    for (const each of told) for (let run = 1; run < 6; run++) each.tell('runs', run);
    await news('runs', 7);
    expect(asked(/today/)).toBe(2);
  });
  it('keeps what was read when it cannot be read anew, says why, and takes that back', async () => {
    let answer: unknown = { waits: 1 };
    server.to('GET', /today$/, () => answer);
    const { data, trouble, load } = having(() => useResource('openToday', () => ({ brand: 1 })));
    await eventually(() => expect(data.value).toEqual({ waits: 1 }));
    answer = new Refusal(503, 'The database is away.');
    await load();
    expect([data.value, trouble.value]).toEqual([{ waits: 1 }, 'The database is away.']);
    answer = { waits: 2 };
    await load();
    expect([data.value, trouble.value]).toEqual([{ waits: 2 }, '']);
  });
  it('shows what was asked before until the answer to another question is there', async () => {
    const weeks = ref(4);
    let let4: (() => void) | undefined;
    server
      .to('GET', /weeks=4$/, () => ({ weeks: 4 }))
      .to('GET', /weeks=12$/, () => new Promise((resolve) => (let4 = () => resolve({ weeks: 12 }))));
    const { data } = having(numbers(weeks)) as unknown as Resource<{ weeks: number }>;
    await eventually(() => expect(data.value).toEqual({ weeks: 4 }));
    weeks.value = 12;
    await flushPromises();
    expect(data.value).toEqual({ weeks: 4 });
    let4!();
    await eventually(() => expect(data.value).toEqual({ weeks: 12 }));
  });
  it('never shows one thing for another, nor an answer that comes late', async () => {
    const which = ref<number | null>(1);
    const late: (() => void)[] = [];
    server
      .to('GET', /workflows\/1\/open$/, () => new Promise((resolve) => late.push(() => resolve({ of: 1 }))))
      .to('GET', /workflows\/2\/open$/, () => ({ of: 2 }));
    const { data } = having(() =>
      useResource('countOpenRuns', () => (which.value === null ? null : { brand: 1, id: which.value })),
    );
    await flushPromises();
    which.value = 2;
    await nextTick();
    expect(data.value).toBeUndefined();
    await eventually(() => expect(data.value).toEqual({ of: 2 }));
    for (const resolve of late) resolve();
    await flushPromises();
    expect(data.value).toEqual({ of: 2 });
    which.value = null;
    await flushPromises();
    expect(data.value).toBeUndefined();
    const before = server.asked.length;
    await news('runs');
    expect(server.asked.length).toBe(before);
  });
  it('is read once for all parts of the screen that show it', async () => {
    server.to('GET', /today$/, () => ({ waits: 1 }));
    const [one, other] = having(() => [0, 1].map(() => useResource('openToday', () => ({ brand: 1 }))));
    await eventually(() => expect(other!.data.value).toEqual({ waits: 1 }));
    expect(one!.data.value).toEqual({ waits: 1 });
    expect(asked(/today/)).toBe(1);
  });
});

describe('a list', () => {
  beforeEach(() => {
    server
      .to('GET', /sheets$/, () => ({ sheets: ['a'], next: 'x' }))
      .to('GET', /sheets\?after=x$/, () => ({ sheets: ['b'], next: null }));
  });
  it('is read to its end', async () => {
    const { data } = having(() => useWholeList('listSheets', () => ({ brand: 1 })));
    await eventually(() => expect(data.value?.flatMap((page) => page.sheets)).toEqual(['a', 'b']));
  });
  it('goes on by pages when asked, and leaves whoever has read on where they are', async () => {
    const { data, more, further } = having(() => usePages('listSheets', () => ({ brand: 1 }), { topics: ['sheets'] }));
    await eventually(() => expect(data.value?.map((page) => page.sheets)).toEqual([['a']]));
    expect(more.value).toBe(true);
    await news('sheets');
    expect(asked(/sheets$/)).toBe(2);
    await further();
    await eventually(() => expect(data.value?.map((page) => page.sheets)).toEqual([['a'], ['b']]));
    expect(more.value).toBe(false);
    await news('sheets');
    expect(asked(/sheets/)).toBe(3);
  });
  it('says what goes wrong with a further page, and keeps the ones before', async () => {
    server.to('GET', /contacts$/, () => ({ contacts: ['a'], next: 'y' }));
    server.to('GET', /contacts\?after=y$/, () => new Refusal(503, 'The database is away.'));
    const { data, trouble, further } = having(() => usePages('listContacts', () => ({ brand: 1 })));
    await eventually(() => expect(data.value).toHaveLength(1));
    await further();
    await eventually(() => expect(trouble.value).toBe('The database is away.'));
    expect(data.value?.map((page) => page.contacts)).toEqual([['a']]);
  });
});
