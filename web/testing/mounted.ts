// What components are tested on: mounted as they are in the interface, before a server that is made up.
import { VueQueryPlugin } from '@tanstack/vue-query';
import { mount, type DOMWrapper, type VueWrapper } from '@vue/test-utils';
import { createPinia, setActivePinia } from 'pinia';
import { vi } from 'vitest';
import type { Component } from 'vue';
import { createMemoryHistory, createRouter, type RouteLocationNormalizedLoaded } from 'vue-router';
import { makeQueryClient } from '../lib/query-client.ts';
import { useSession } from '../stores/session.ts';

/** What was asked of the server. */
export interface AskedFor {
  method: string;
  /** Below /api. */
  path: string;
  body: unknown;
}

/** A server that answers what a test says, and remembers what it was asked. */
export class Answering {
  readonly asked: AskedFor[] = [];
  readonly #answers: [method: string, path: RegExp, answer: (asked: AskedFor) => unknown][] = [];

  /** Takes the place of the network, and gives the test stores of its own. */
  constructor() {
    vi.stubGlobal('fetch', async (url: string, { method, body }: { method: string; body: string | null }) => {
      const asked = { method, path: url.replace(/^\/api/, ''), body: body === null ? undefined : JSON.parse(body) };
      this.asked.push(asked);
      const found = this.#answers.find(([of, path]) => of === method && path.test(asked.path));
      return answerOf(found ? await found[2](asked) : undefined);
    });
    // Nothing is told of by itself.
    vi.stubGlobal(
      'EventSource',
      class {
        addEventListener() {}
        close() {}
      },
    );
    setActivePinia(createPinia());
    const session = useSession();
    session.brands = [{ id: 1, name: 'Tern Bay Lidos', timeZone: 'Europe/Lisbon', locale: 'en', role: 'member' }];
    session.brandId = 1;
  }

  /** @param answer the body, or a promise of it; undefined for none (204); an error to refuse */
  to(method: string, path: RegExp, answer: (asked: AskedFor) => unknown = () => undefined): this {
    this.#answers.push([method, path, answer]);
    return this;
  }
}

/** A refusal, as the server words it. */
export class Refusal {
  readonly status: number;
  readonly title: string;
  readonly details: object;
  /** @param details what a program is told besides */
  constructor(status: number, title: string, details: object = {}) {
    this.status = status;
    this.title = title;
    this.details = details;
  }
}

function answerOf(answer: unknown): Response {
  if (answer === undefined) return new Response(null, { status: 204 });
  const status = answer instanceof Refusal ? answer.status : 200;
  const body = answer instanceof Refusal ? { status, title: answer.title, ...answer.details } : answer;
  return new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } });
}

const nowhere = { template: '<div />' };

/**
 * Mounts a component into the document, so that the focus is where it would be.
 *
 * @param at the address it is opened at
 * @param queryClient what is known already
 */
export function mounted(
  component: Component,
  props: Record<string, unknown> = {},
  at?: string,
  queryClient = makeQueryClient(),
): VueWrapper {
  const history = createMemoryHistory();
  if (at !== undefined) history.push(at);
  const router = createRouter({
    history,
    routes: [
      { path: '/', component: nowhere },
      { path: '/:brand?/today', name: 'today', component: nowhere },
      { path: '/:brand/workflows/:id', name: 'run-sheet', component: nowhere },
      { path: '/:brand?/accounts', name: 'accounts', component: nowhere },
      ...[
        'calendar',
        'desk',
        'desk-numbers',
        'people',
        'post',
        'new-post',
        'logbook',
        'sheets',
        'sheet',
        'workflows',
      ].map((name) => ({
        path: `/:brand/${name}/:id?`,
        name,
        component: nowhere,
      })),
    ],
  });
  if (at !== undefined) router.currentRoute.value = router.resolve(at) as RouteLocationNormalizedLoaded;
  const kept: [typeof VueQueryPlugin, object] = [VueQueryPlugin, { queryClient }];
  return mount(component, { props, global: { plugins: [router, kept] }, attachTo: document.body });
}

/** The button whose label or words begin so. @throws an error that names the buttons there are */
export function button(wrapper: Pick<VueWrapper, 'findAll'> | DOMWrapper<Element>, name: string) {
  const all = wrapper.findAll('button');
  const called = (each: (typeof all)[number]) => (each.attributes('aria-label') ?? each.text()).trim();
  const found = all.find((each) => called(each).startsWith(name));
  if (!found) throw new Error(`There is no button “${name}” among ${all.map(called).join(', ')}.`);
  return found;
}

/** Waits until something holds. What is loaded when it is first wanted takes its time on a busy machine. */
export const eventually = (check: () => void): Promise<void> => vi.waitFor(check, { timeout: 20_000 });
