import { Router } from 'express';
import { z } from 'zod';
import { apiOf, callerOf, type Manner } from '../base/api.ts';
import { rows } from '../base/db.ts';
import { html } from '../base/html.ts';
import { keysPage } from '../base/keys-page.ts';
import type { Lagoon } from '../base/lagoon.ts';
import { show } from '../base/screen.ts';
import { composeCarelessly } from './careless.ts';
import { compose } from './compose.ts';

const TITLE = 'Lagoon Text model';

const manner: Manner = {
  service: 'text-model',
  title: TITLE,
  sign: { header: 'Authorization', scheme: 'Bearer' },
  refuse: (res, status, type, message) => void res.status(status).json({ type: 'error', error: { type, message } }),
};

const MODELS = [
  { id: 'tide-small', name: 'Tide, small', write: compose },
  { id: 'tide-careless', name: 'Tide, careless', write: composeCarelessly },
];

/** Roughly what a text model counts: four characters are one. */
const pieces = (text: string) => Math.ceil(text.length / 4);

/** Lagoon Text model: a text model behind a key, which counts what it used. */
export function textModelRoutes(lagoon: Lagoon): Router {
  const { db } = lagoon;
  const router = Router();
  router.use('/keys', keysPage(lagoon, 'text-model', TITLE));
  router.get('/', (req, res) =>
    show(lagoon, TITLE, req, res, 'Usage', async (person) => {
      const used = person
        ? await rows<{ name: string; used: number }>(
            db,
            "SELECT name, used FROM given_keys WHERE service = 'text-model' AND person_id = ?",
            [person.id],
          )
        : [];
      return html`<h1>A text model</h1>
        <p>It words short answers. Applications reach it with a key.</p>
        <div class="box">
          <table>
            ${used.map(
              (key) =>
                html`<tr>
                  <td>${key.name}</td>
                  <td>${key.used} pieces used</td>
                </tr>`,
            )}
          </table>
          <a href="/text-model/keys">Keys for applications</a>
        </div>`;
    }),
  );
  router.use(
    '/v1',
    apiOf(lagoon, manner, (routes) => {
      routes.get('/models', (_req, res) => {
        const { person } = callerOf(res);
        res.json({
          account: { id: `a${person.id}`, name: person.name },
          models: MODELS.map(({ id, name }) => ({ id, name })),
        });
      });
      routes.post('/drafts', async (req, res) => {
        const asked = z
          .object({
            model: z.enum(['tide-small', 'tide-careless']),
            instruction: z.string().max(8000),
            input: z.string().max(8000),
            max_characters: z.number().int().min(10).max(5000),
            variety: z.number().min(0).max(1),
            seed: z.number().int(),
          })
          .parse(req.body);
        const write = MODELS.find(({ id }) => id === asked.model)!.write;
        const text = write({ ...asked, longest: asked.max_characters });
        const usage = { read: pieces(asked.instruction + asked.input), written: pieces(text) };
        await db.query('UPDATE given_keys SET used = used + ? WHERE token = ?', [
          usage.read + usage.written,
          callerOf(res).grant,
        ]);
        res.json({ id: `draft_${asked.seed}`, text, usage });
      });
    }),
  );
  return router;
}
