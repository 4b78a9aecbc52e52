import { createHash } from 'node:crypto';
import { json, Router } from 'express';
import { z } from 'zod';
import { html } from '../base/html.ts';
import type { Lagoon } from '../base/lagoon.ts';
import { show } from '../base/screen.ts';
import { Things } from '../base/things.ts';

const TITLE = 'Lagoon Look-ups';

interface LookUp {
  name: string;
}

/** A number of a name, always the same. */
const numberOf = (name: string): number =>
  createHash('sha256').update(name.trim().toLowerCase()).digest().readUInt32BE(0);

/** It takes one to three minutes. */
const readyAfter = (name: string): number => (60 + (numberOf(name) % 121)) * 1000;

/** One in ten is known. */
const isKnown = (name: string): boolean => numberOf(name) % 10 === 0;

/** Lagoon Look-ups: asked about somebody, it says so later, and mostly that it knows nobody of that name. */
export function lookUpRoutes(lagoon: Lagoon): Router {
  const lookUps = new Things<LookUp>(lagoon, 'lookups', 'lookup');
  const router = Router();
  router.get('/', (req, res) =>
    show(lagoon, TITLE, req, res, TITLE, async () => {
      const latest = await lookUps.list({ most: 20 });
      return html`<h1>Look-ups</h1>
        <p>POST /lookups/v1/people with a name, then GET what it gives until it is done. Nine in ten are not found.</p>
        <table>
          ${latest.map(
            ({ id, body }) =>
              html`<tr>
                <td>${id}</td>
                <td>${body.name}</td>
                <td>${isKnown(body.name) ? 'known' : 'not known'}</td>
              </tr>`,
          )}
        </table>`;
    }),
  );
  router.post('/v1/people', json({ limit: '10kb' }), async (req, res) => {
    const asked = z.object({ name: z.string().min(1).max(300) }).safeParse(req.body);
    if (!asked.success) return void res.status(422).json({ error: 'A name is wanted.' });
    const id = await lookUps.add({ name: asked.data.name }, lagoon.clock.now());
    res.status(202).json({ id, status: 'pending' });
  });
  router.get('/v1/people/:id', async (req, res) => {
    const found = await lookUps.get(req.params.id);
    if (!found) return void res.status(404).json({ error: 'There is no such look-up.' });
    const { name } = found.body;
    if (lagoon.clock.now() < found.createdAt + readyAfter(name))
      return void res.json({ id: found.id, status: 'pending' });
    if (!isKnown(name)) return void res.json({ id: found.id, status: 'not found' });
    const since = 2010 + (numberOf(name) % 15);
    res.json({ id: found.id, status: 'found', person: { name, member_since: since } });
  });
  return router;
}
