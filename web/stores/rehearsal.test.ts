import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { nextTick } from 'vue';
import type { ComposeStep } from '@playa/core/steps/compose.ts';
import type { PublishStep } from '@playa/core/steps/publish.ts';
import { item, MadeUpServer } from '../testing/made-up-server.ts';
import type { RehearsalNews, RehearsalOrder } from '../workers/rehearsal.worker.ts';
import { useEditor } from './editor.ts';
import { useRehearsal } from './rehearsal.ts';

// The rehearsal's store with the worker's own code behind it; only the thread between them is made up, and copies what
// goes over it as a real one does.
interface WorkerSide {
  onmessage: ((event: { data: RehearsalOrder }) => void) | null;
  postMessage: (news: RehearsalNews) => void;
}
let server: MadeUpServer;
let orders: RehearsalOrder[];
let threads: { onmessage: ((event: { data: RehearsalNews }) => void) | null }[];
let side: WorkerSide;

beforeEach(async () => {
  vi.useFakeTimers();
  server = new MadeUpServer();
  orders = [];
  threads = [];
  side = { onmessage: null, postMessage: () => undefined };
  vi.stubGlobal('self', side);
  vi.resetModules();
  await import('../workers/rehearsal.worker.ts');
  vi.stubGlobal(
    'Worker',
    class {
      onmessage: ((event: { data: RehearsalNews }) => void) | null = null;
      onerror: ((event: { message: string }) => void) | null = null;
      constructor() {
        threads.push(this);
        side.postMessage = (news) => this.onmessage?.({ data: structuredClone(news) });
      }
      postMessage(order: RehearsalOrder) {
        orders.push(order);
        side.onmessage!({ data: structuredClone(order) });
      }
      terminate() {
        side.postMessage = () => undefined;
      }
    },
  );
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

async function opened() {
  const editor = useEditor();
  const rehearsal = useRehearsal();
  await editor.open(7);
  editor.reading = 'rehearsal';
  await settled();
  return { editor, rehearsal };
}
/** The pause before a rehearsal begins, and all that follows. */
async function settled() {
  await nextTick();
  await vi.advanceTimersByTimeAsync(500);
}
const write = (editor: ReturnType<typeof useEditor>, text: string) =>
  editor.changeStep<ComposeStep>('w', (step) => (step.text = text), 'text');

describe('a rehearsal', () => {
  it('adds up all items once it is looked at, and filters by what became of them', async () => {
    const { rehearsal } = await opened();
    expect(rehearsal.running).toBe(false);
    // Films of more than a minute, of the watched channel: 20 down to 9, without the one of another channel.
    expect(rehearsal.news).toMatchObject({ finished: true, of: 13 });
    expect(rehearsal.news!.summary).toMatchObject({ posts: 12 });
    rehearsal.show('posted');
    expect(rehearsal.shown).toHaveLength(12);
    rehearsal.show('too-long');
    expect(rehearsal.shown).toEqual([]);
  });
  it('follows what is typed after a short pause, and copies the items over only once', async () => {
    const { editor, rehearsal } = await opened();
    for (const text of ['{$title}!', '{$title}!!', `{$title} ${'x'.repeat(2000)}`]) write(editor, text);
    await settled();
    expect(orders).toHaveLength(2);
    expect(orders[0]!.items!.these).toHaveLength(13);
    expect([orders[1]!.items, orders[1]!.recent, orders[1]!.world]).toEqual([undefined, undefined, undefined]);
    expect(rehearsal.news!.summary).toMatchObject({ posts: 0, tooLong: 12 });
    rehearsal.show('too-long');
    expect(rehearsal.shown).toHaveLength(12);
    rehearsal.show('too-long', 1);
    expect(rehearsal.shown).toHaveLength(12);
    // At another outlet nothing is too long; another choice forgets the outlet.
    rehearsal.show('too-long', 2);
    expect(rehearsal.shown).toEqual([]);
    rehearsal.show('too-long');
    expect([rehearsal.at, rehearsal.shown.length]).toEqual([0, 12]);
    editor.changeStep<PublishStep>('p', (step) => (step.outlets = []));
    await settled();
    expect(rehearsal.news!.summary.tooLong).toBe(0);
  });
  it('is told only what has come or changed since', async () => {
    const { editor, rehearsal } = await opened();
    server.since = [item(21), { ...item(20), fields: { ...item(20).fields, length: 10 } }, item(19)];
    await editor.loadItems();
    await settled();
    expect(orders).toHaveLength(2);
    expect(orders[1]!.items).toMatchObject({ only: false, these: [{ id: 21 }, { id: 20 }] });
    // One more of more than a minute, and one that no longer is.
    expect(rehearsal.news).toMatchObject({ of: 14, summary: { posts: 12 } });
  });
  it('is not worth a thread while nobody looks, and one that was stopped begins anew with everything', async () => {
    const { editor, rehearsal } = await opened();
    editor.reading = 'samples';
    write(editor, 'Other words');
    await settled();
    expect(orders).toHaveLength(1);
    rehearsal.stop();
    editor.reading = 'rehearsal';
    await settled();
    expect(threads).toHaveLength(2);
    expect(orders.at(-1)!.items!.these).toHaveLength(13);
    expect(rehearsal.news!.summary.repeats).toBe(0);
    expect(rehearsal.running).toBe(false);
  });
});
