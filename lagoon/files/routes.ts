import { Router } from 'express';
import { minimatch } from 'minimatch';
import { z } from 'zod';
import { apiOf, callerOf, needScope, Refusal, signInOf, type Manner } from '../base/api.ts';
import { html, when } from '../base/html.ts';
import type { Lagoon } from '../base/lagoon.ts';
import { missing, show } from '../base/screen.ts';
import { Things, type Thing } from '../base/things.ts';
import { picture } from '../base/pictures.ts';

const TITLE = 'Lagoon Files';
const LARGEST = 8 * 1024 * 1024;

export interface Folder {
  name: string;
}
export interface StoredFile {
  name: string;
  type: string;
  size: number;
  /** Pictures of the made-up world are drawn from their seed; what was uploaded is kept as it came. */
  seed: string | null;
  content: string | null;
}

const manner: Manner = {
  service: 'files',
  title: TITLE,
  sign: { scopes: { 'files.read': 'see your folders and files', 'files.write': 'put files into them' } },
  refuse: (res, status, tag, summary) =>
    void res.status(status).json({ error_summary: `${tag}/`, error: { tag, summary } }),
};

/** Lagoon Files: folders with files that can be found by name or pattern and have a public link. */
export function filesRoutes(lagoon: Lagoon): Router {
  const { clock, config, faults } = lagoon;
  const base = `${config.origin}/files`;
  const folders = new Things<Folder>(lagoon, 'files', 'folder');
  const files = new Things<StoredFile>(lagoon, 'files', 'file');
  const router = Router();
  router.use('/oauth', faults.middleware('files-sign-in'), signInOf(lagoon, manner));
  router.use('/api', apiOf(lagoon, manner, api));
  const linkOf = (file: Thing<StoredFile>) => `${base}/public/${file.id}/${encodeURIComponent(file.body.name)}`;

  router.get('/', (req, res) =>
    show(lagoon, TITLE, req, res, 'Folders', async () => {
      const all = await folders.list({ order: 'oldest' });
      return html`<h1>Folders</h1>
        <ul>
          ${all.map((each) => html`<li><a href="${base}/f/${each.id}">${each.body.name}</a></li>`)}
        </ul>`;
    }),
  );
  router.get('/f/:id', async (req, res) => {
    const folder = await folders.get(req.params.id);
    if (!folder) return missing(lagoon, TITLE, req, res);
    await show(lagoon, TITLE, req, res, folder.body.name, async () => {
      const all = await files.list({ parent: folder.id, order: 'oldest', most: 300 });
      return html`<h1>${folder.body.name}</h1>
        <ul class="films">
          ${all.map(
            (file) =>
              html`<li data-file="${file.body.name}">
                ${file.body.type.startsWith('image/') ? html`<img src="${linkOf(file)}" alt="" />` : ''}
                <div>
                  <a href="${linkOf(file)}">${file.body.name}</a><br /><span class="soft"
                    >${when(file.createdAt, clock.now())}</span
                  >
                </div>
              </li>`,
          )}
        </ul>`;
    });
  });
  router.get('/public/:id/:name', async (req, res) => {
    const file = await files.get(req.params.id);
    if (!file || file.body.name !== req.params.name) return missing(lagoon, TITLE, req, res);
    res.set('X-Content-Type-Options', 'nosniff').type(file.body.type);
    if (file.body.seed) return void res.send(await picture(file.body.seed, 1080, 1080));
    if (!file.body.type.startsWith('image/')) res.attachment(file.body.name);
    res.send(Buffer.from(file.body.content ?? '', 'base64'));
  });
  return router;

  function api(routes: Router) {
    const own = async (id: unknown, person: number) => {
      const folder = await folders.get(id);
      if (folder?.owner !== person) throw new Refusal(404, 'no_folder', 'There is no such folder, or it is not yours.');
      return folder;
    };
    const view = (file: Thing<StoredFile>) => ({
      id: `file:${file.id}`,
      name: file.body.name,
      mime: file.body.type,
      bytes: file.body.size,
      link: linkOf(file),
      modified: new Date(file.updatedAt).toISOString(),
    });
    routes.get('/account', (_req, res) => {
      const { person } = callerOf(res);
      res.json({ account_id: `acc:${person.id}`, display_name: person.name });
    });
    routes.get('/folders', async (_req, res) => {
      const mine = await folders.list({ owner: callerOf(res).person.id, order: 'oldest' });
      res.json({
        folders: mine.map((each) => ({ id: String(each.id), name: each.body.name, page: `${base}/f/${each.id}` })),
      });
    });
    routes.get('/folders/:id/files', async (req, res) => {
      const folder = await own(req.params.id, callerOf(res).person.id);
      const all = await files.list({ parent: folder.id, most: 1000 });
      const { name, pattern } = req.query;
      const matching = all.filter(
        (file) =>
          (typeof name !== 'string' || file.body.name === name) &&
          (typeof pattern !== 'string' || minimatch(file.body.name, pattern, { nocase: true })),
      );
      res.json({ entries: matching.slice(0, 200).map(view), has_more: matching.length > 200 });
    });
    routes.post('/folders/:id/files', async (req, res) => {
      needScope(res, 'files.write');
      const asked = z
        .object({
          name: z
            .string()
            .trim()
            .min(1)
            .max(120)
            .regex(/^[^/\\]+$/),
          mime: z.string().max(100),
          base64: z.string(),
        })
        .parse(req.body);
      const folder = await own(req.params.id, callerOf(res).person.id);
      const size = Buffer.byteLength(asked.base64, 'base64');
      if (size > LARGEST) throw new Refusal(413, 'too_large', 'A file has at most 8 MB.');
      const same = (await files.list({ parent: folder.id, most: 1000 })).find((file) => file.body.name === asked.name);
      const body = { name: asked.name, type: asked.mime, size, seed: null, content: asked.base64 };
      if (same) await files.change(same.id, body, clock.now());
      const id = same?.id ?? (await files.add(body, clock.now(), { parent: folder.id }));
      res.status(201).json(view((await files.get(id))!));
    });
  }
}
