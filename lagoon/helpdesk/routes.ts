import { Router, urlencoded } from 'express';
import { z } from 'zod';
import { apiOf, callerOf, Refusal, type Manner } from '../base/api.ts';
import { html, prose, when } from '../base/html.ts';
import { keysPage } from '../base/keys-page.ts';
import type { Lagoon } from '../base/lagoon.ts';
import { once } from '../base/repeats.ts';
import { formText, missing, show, somebody } from '../base/screen.ts';
import { addTell, dropTell, tell } from '../base/tells.ts';
import { Things, type Thing } from '../base/things.ts';

const TITLE = 'Lagoon Helpdesk';
export const PRIORITIES = ['minor', 'normal', 'major'] as const;

export interface Queue {
  name: string;
}
export interface HelpRecord {
  summary: string;
  details: string;
  place: string;
  priority: (typeof PRIORITIES)[number];
  status: 'open' | 'closed';
  custom: Record<string, string>;
}
export interface TimelineEntry {
  text: string;
  by: string;
}

const manner: Manner = {
  service: 'helpdesk',
  title: TITLE,
  sign: { header: 'X-Api-Key' },
  refuse: (res, status, code, message) => void res.status(status).json({ result: null, problem: { code, message } }),
};
const numberOf = (id: number) => `REC${String(id).padStart(7, '0')}`;
const idOf = (number: string) => Number(/^REC0*(\d+)$/.exec(number)?.[1] ?? Number.NaN);

const recordView = (base: string, record: Thing<HelpRecord>) => ({
  number: numberOf(record.id),
  ...record.body,
  url: `${base}/r/${numberOf(record.id)}`,
  opened: new Date(record.createdAt).toISOString(),
  updated: new Date(record.updatedAt).toISOString(),
});

/** Tells of a record. */
export async function tellRecord(lagoon: Lagoon, event: 'record.opened', id: number) {
  const record = await new Things<HelpRecord>(lagoon, 'helpdesk', 'record').get(id);
  if (!record) return;
  tell(
    lagoon,
    { service: 'helpdesk', topic: 'records', about: record.parent!, signing: 'digest' },
    { event, record: recordView(`${lagoon.config.origin}/helpdesk`, record) },
  );
}

/** Lagoon Helpdesk: numbered records with a timeline; it tells by web hook. */
export function helpdeskRoutes(lagoon: Lagoon): Router {
  const { db, clock, config } = lagoon;
  const base = `${config.origin}/helpdesk`;
  const queues = new Things<Queue>(lagoon, 'helpdesk', 'queue');
  const records = new Things<HelpRecord>(lagoon, 'helpdesk', 'record');
  const timeline = new Things<TimelineEntry>(lagoon, 'helpdesk', 'entry');
  const router = Router();
  const form = urlencoded({ extended: false });
  router.use('/keys', keysPage(lagoon, 'helpdesk', TITLE));
  router.use('/api', apiOf(lagoon, manner, api));

  const view = (record: Thing<HelpRecord>) => recordView(base, record);

  router.get('/', (req, res) =>
    show(lagoon, TITLE, req, res, 'Records', async (person) => {
      const all = await queues.list({ order: 'oldest' });
      const parts = await Promise.all(
        all.map(async (queue) => ({ queue, list: await records.list({ parent: queue.id, most: 40 }) })),
      );
      return html`<h1>Records</h1>
        ${parts.map(
          ({ queue, list }) =>
            html`<div class="box">
              <b>${queue.body.name}</b>
              <table>
                ${list.map(
                  (record) =>
                    html`<tr>
                      <td><a href="${base}/r/${numberOf(record.id)}">${numberOf(record.id)}</a></td>
                      <td>${record.body.priority}</td>
                      <td>${record.body.summary}</td>
                      <td class="soft">${when(record.createdAt, clock.now())}</td>
                    </tr>`,
                )}
              </table>
              ${
                person?.id === queue.owner
                  ? html`<form method="post" action="${base}/q/${queue.id}">
                      <label>What happened<input name="summary" required maxlength="160" /></label>
                      <label>Where<input name="place" maxlength="80" /></label>
                      <label>Details<textarea name="details" rows="2"></textarea></label>
                      <label
                        >Priority<select name="priority">
                          ${PRIORITIES.map((each) => html`<option>${each}</option>`)}
                        </select></label
                      >
                      <button>Open a record</button>
                    </form>`
                  : ''
              }
            </div>`,
        )}
        <p><a href="${base}/keys">Keys for applications</a></p>`;
    }),
  );
  router.post('/q/:id', form, async (req, res) => {
    const person = await somebody(lagoon, req, res);
    const queue = person && (await queues.get(req.params.id));
    if (!queue || queue.owner !== person.id) return;
    const priority = PRIORITIES.find((each) => each === formText(req, 'priority')) ?? 'normal';
    const body: HelpRecord = {
      summary: formText(req, 'summary'),
      details: formText(req, 'details'),
      place: formText(req, 'place'),
      priority,
      status: 'open',
      custom: {},
    };
    const id = await records.add(body, clock.now(), { parent: queue.id });
    await tellRecord(lagoon, 'record.opened', id);
    res.redirect(303, `${base}/r/${numberOf(id)}`);
  });
  router.get('/r/:number', async (req, res) => {
    const record = await records.get(idOf(req.params.number));
    if (!record) return missing(lagoon, TITLE, req, res);
    await show(lagoon, TITLE, req, res, numberOf(record.id), async () => {
      const entries = await timeline.list({ parent: record.id, order: 'oldest', most: 200 });
      return html`<div class="box">
          <span class="soft">${numberOf(record.id)} · ${record.body.priority} · ${record.body.status}</span>
          <h1>${record.body.summary}</h1>
          <p class="soft">${record.body.place}</p>
          <p>${prose(record.body.details)}</p>
          ${Object.entries(record.body.custom).map(([name, value]) => html`<p><b>${name}</b> ${prose(value)}</p>`)}
        </div>
        <div class="box">
          <b>Timeline</b>
          ${entries.map((entry) => html`<p data-entry="${entry.id}"><span class="soft">${entry.body.by}, ${when(entry.createdAt, clock.now())}</span><br />${prose(entry.body.text)}</p>`)}
        </div>`;
    });
  });
  return router;

  function api(routes: Router) {
    const ownQueue = async (id: unknown, person: number) => {
      const queue = await queues.get(id);
      if (queue?.owner !== person) throw new Refusal(404, 'no_queue', 'There is no such queue, or it is not yours.');
      return queue;
    };
    const ownRecord = async (number: string, person: number) => {
      const record = await records.get(idOf(number));
      if (!record) throw new Refusal(404, 'no_record', `There is no record ${number}.`);
      await ownQueue(record.parent, person);
      return record;
    };
    routes.get('/self', async (_req, res) => {
      const { person } = callerOf(res);
      const mine = await queues.list({ owner: person.id, order: 'oldest' });
      res.json({
        result: {
          user: `u${person.id}`,
          name: person.name,
          queues: mine.map((each) => ({ id: String(each.id), name: each.body.name })),
        },
      });
    });
    routes.get('/queues/:id/records', async (req, res) => {
      const queue = await ownQueue(req.params.id, callerOf(res).person.id);
      const offset = Math.max(0, Number(req.query.offset) || 0);
      const all = await records.list({ parent: queue.id, most: offset + 50 });
      res.json({ result: all.slice(offset).map(view), next_offset: all.length === offset + 50 ? offset + 50 : null });
    });
    routes.get('/records/:number', async (req, res) => {
      res.json({ result: view(await ownRecord(req.params.number, callerOf(res).person.id)) });
    });
    routes.post('/records/:number/timeline', async (req, res) => {
      const asked = z
        .object({ text: z.string().trim().min(1).max(4000), external_id: z.string().min(1).max(255) })
        .parse(req.body);
      const { client, person } = callerOf(res);
      const record = await ownRecord(req.params.number, person.id);
      const made = await once(db, { client, key: asked.external_id, request: [record.id, asked.text] }, () =>
        timeline.add({ text: asked.text, by: `${person.name}, by an application` }, clock.now(), { parent: record.id }),
      );
      if (made.kind === 'mismatch') throw new Refusal(422, 'id_reused', 'This external_id was used for another entry.');
      res.status(201).json({ result: { entry: `e${made.id}`, url: `${base}/r/${req.params.number}` } });
    });
    routes.patch('/records/:number', async (req, res) => {
      const { custom } = z.object({ custom: z.record(z.string().max(60), z.string().max(2000)) }).parse(req.body);
      const record = await ownRecord(req.params.number, callerOf(res).person.id);
      const body = { ...record.body, custom: { ...record.body.custom, ...custom } };
      await records.change(record.id, body, clock.now());
      res.json({ result: view((await records.get(record.id))!) });
    });
    routes.post('/queues/:id/hooks', async (req, res) => {
      const { person } = callerOf(res);
      const queue = await ownQueue(req.params.id, person.id);
      const { url, secret } = z.object({ url: z.url(), secret: z.string().min(16).max(200) }).parse(req.body);
      const asked = {
        service: 'helpdesk',
        topic: 'records',
        about: queue.id,
        callback: url,
        secret,
        person: person.id,
      };
      res.status(201).json({ result: { hook: await addTell(lagoon, asked) } });
    });
    routes.delete('/hooks/:id', async (req, res) => {
      await dropTell(lagoon, 'helpdesk', req.params.id, callerOf(res).person.id);
      res.status(204).end();
    });
  }
}
