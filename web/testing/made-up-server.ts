// What the stores are tested on: a server that is made up, with one workflow of a brand.
import { createPinia, setActivePinia } from 'pinia';
import { vi } from 'vitest';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { useSession } from '../stores/session.ts';

export const definition = (): Definition => ({
  schema: 1,
  sources: [{ id: 's', watch: 1 }],
  steps: [
    {
      id: 'c',
      verb: 'check',
      condition: { type: 'group', match: 'all', items: [{ type: 'test', field: 'length', op: 'longer', value: 60 }] },
    },
    { id: 'w', verb: 'compose', name: 'caption', text: '{$title}' },
    { id: 'p', verb: 'publish', outlets: [1], caption: 'caption', card: 'link' },
  ],
});
export const item = (id: number, watch = 1) => ({
  id,
  watch,
  identity: `id:${id}`,
  publishedAt: id * 1000,
  seenAt: id * 1000,
  fields: { title: `Film ${id}`, length: id * 10, link: `https://x.example/${id}` },
});

export class MadeUpServer {
  /** Every draft that was saved, oldest first. */
  saves: { name: string; revision: number; definition: Definition }[] = [];
  /** What it says to a draft. */
  answer = (revision: number): { status: number; body: object } => ({ status: 200, body: { revision: revision + 1 } });
  /** Everything that was asked, oldest first: "GET /api/brands/1/items?…". */
  asked: string[] = [];
  /** What has come or changed since, for whoever asks so. */
  since: ReturnType<typeof item>[] = [];
  /** Twelve films of the watched channel, newest first, and one of another. */
  items = [...Array.from({ length: 12 }, (_, n) => item(20 - n)), item(5, 2)];

  /** Takes the place of the network, and gives every test stores of its own. */
  constructor() {
    vi.stubGlobal('localStorage', { getItem: () => null, setItem: () => undefined });
    vi.stubGlobal('fetch', (path: string, options: { method: string; body: string | null }) =>
      Promise.resolve(this.#reply(path, options)),
    );
    setActivePinia(createPinia());
    useSession().brandId = 1;
  }

  #reply(path: string, options: { method: string; body: string | null }): Response {
    const reply = (status: number, body: object) =>
      new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } });
    this.asked.push(`${options.method} ${path}`);
    if (options.method === 'PUT') {
      const sent = JSON.parse(options.body!) as MadeUpServer['saves'][number];
      this.saves.push(sent);
      const { status, body } = this.answer(sent.revision);
      return reply(status, body);
    }
    if (path.includes('/items'))
      return reply(200, {
        items: path.includes('since=') ? this.since : this.items,
        until: 1,
        partly: false,
        next: null,
      });
    if (path.includes('/world'))
      return reply(200, {
        timeZone: 'UTC',
        locale: 'en',
        things: [
          { of: 'outlet', outlet: { id: 1, kind: 'page', name: 'A page', accountId: 1 } },
          { of: 'watch', watch: { id: 1, name: 'A channel', things: 'videos' } },
          { of: 'colleague', colleague: { id: 1, name: 'Mo Okoro' } },
        ],
        next: null,
      });
    if (path.includes('/runs')) return reply(200, { runs: [], counts: null, next: null });
    if (path.includes('/posts/lately')) return reply(200, { posts: [] });
    return reply(200, {
      id: 7,
      name: 'Films',
      status: 'draft',
      draft: definition(),
      draftRevision: 3,
      liveVersion: null,
      live: null,
    });
  }
}
