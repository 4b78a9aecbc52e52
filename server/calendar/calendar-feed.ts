// A brand's calendar for other calendars: what is out, what is planned and what is being written.
import { randomBytes } from 'node:crypto';
import { DateTime } from 'luxon';
import { KIND_RULES } from '@playa/core/outlets/kinds.ts';
import { writeCalendar, type CalendarEvent } from '@playa/core/feeds/write-calendar.ts';
import type { Services } from '../base/services.ts';
import { brandOfFeed } from '../store/brand-feeds.ts';
import { brandById } from '../store/users.ts';
import { openCalendar, type PostInCalendar } from './open-calendar.ts';

const DAY = 86_400_000;
/** So much of it is in a file, or at an address: a month back and half a year ahead. */
export const SPAN = { back: 31 * DAY, ahead: 183 * DAY };
/** How often another calendar may ask again, seconds. */
const REFRESH = 3600;

/** How a post stands, in a word or two. */
export const STATE_WORDS: Readonly<Record<PostInCalendar['state'], string>> = {
  out: 'is out',
  deleted: 'was deleted',
  sending: 'on its way',
  planned: 'planned',
  ahead: 'to come',
  account: 'waits for its account',
  paused: 'paused',
  idea: 'an idea',
  draft: 'a draft',
  approval: 'waits for a yes',
  ended: 'was ended',
};

const STATUS: Readonly<Record<PostInCalendar['state'], CalendarEvent['status']>> = {
  out: 'confirmed',
  sending: 'confirmed',
  planned: 'confirmed',
  deleted: 'cancelled',
  ended: 'cancelled',
  ahead: 'tentative',
  account: 'tentative',
  paused: 'tentative',
  idea: 'tentative',
  draft: 'tentative',
  approval: 'tentative',
};

/**
 * A brand's calendar as iCalendar.
 *
 * @param span milliseconds since 1970 UTC
 */
export async function brandCalendar(
  services: Services,
  brand: { id: number; name: string },
  span: { from: number; to: number },
): Promise<string> {
  const { config, clock } = services;
  const { posts, outlets } = await openCalendar(services, brand.id, span);
  const names = new Map(outlets.map(({ id, name }) => [id, name]));
  const met = new Map<string, number>();
  /** The same post has the same number whether it is written, planned or out; one that is posted again is another. */
  const numberOf = ({ post, runId, workflowId, itemId, outlet }: PostInCalendar) => {
    const id =
      post !== null
        ? `post.${post}.${outlet}`
        : runId !== null
          ? `run.${runId}.${outlet}`
          : `item.${itemId}.${workflowId}.${outlet}`;
    const before = met.get(id) ?? 0;
    met.set(id, before + 1);
    return before === 0 ? id : `${id}.${before + 1}`;
  };
  const page = (path: string) => `${config.origin}/${brand.id}/${path}`;
  const events = [...posts]
    .sort((a, b) => a.at - b.at)
    .map((post): CalendarEvent => {
      const { at, title, outlet, text, state, url, workflowId } = post;
      const here = post.post !== null ? page(`posts/${post.post}`) : page(`workflows/${workflowId}?reading=happened`);
      return {
        id: numberOf(post),
        at,
        title,
        outlet: names.get(outlet) ?? 'an outlet that is gone',
        text,
        says: STATE_WORDS[state],
        url: url ?? here,
        status: STATUS[state],
      };
    });
  return writeCalendar({ name: brand.name, host: new URL(config.origin).host, refresh: REFRESH, now: clock() }, events);
}

/** The calendar under a secret address; undefined when there is none there. */
export async function calendarFeed(services: Services, token: string): Promise<string | undefined> {
  const brandId = await brandOfFeed(services.pool, 'calendar', token);
  const brand = brandId === null ? undefined : await brandById(services.pool, brandId);
  if (!brand) return undefined;
  const now = services.clock();
  return brandCalendar(services, brand, { from: now - SPAN.back, to: now + SPAN.ahead });
}

/** An address that nobody guesses. */
export const newToken = (): string => randomBytes(16).toString('hex');

/** A calendar as lines of a table, with its head. */
export function calendarTable(
  { posts, outlets }: Pick<Awaited<ReturnType<typeof openCalendar>>, 'posts' | 'outlets'>,
  zone: string,
): string[][] {
  const same = (name: string) => outlets.filter((each) => each.name === name).length > 1;
  const names = new Map(
    outlets.map(({ id, name, kind }) => [id, same(name) ? `${name} (${KIND_RULES[kind].name})` : name]),
  );
  return [
    ['When', 'Where', 'State', 'Words', 'Address', 'Workflow'],
    ...[...posts]
      .sort((a, b) => a.at - b.at)
      .map(({ at, outlet, state, text, title, url, workflow }) => [
        DateTime.fromMillis(at, { zone }).toFormat('yyyy-MM-dd HH:mm'),
        names.get(outlet) ?? '',
        STATE_WORDS[state],
        text ?? title,
        url ?? '',
        workflow,
      ]),
  ];
}
