import { Router } from 'express';
import { z } from 'zod';
import { apiOf, callerOf, needScope, Refusal, signInOf, type Manner } from '../base/api.ts';
import { bare, html, when } from '../base/html.ts';
import type { Lagoon } from '../base/lagoon.ts';
import { once } from '../base/repeats.ts';
import { missing, show } from '../base/screen.ts';
import { graphemes } from '../base/text.ts';
import { Things, type Thing } from '../base/things.ts';

const TITLE = 'Lagoon Boards';
const LONGEST = { title: 100, description: 500 };

export interface Board {
  name: string;
  about: string;
}
export interface BoardPicture {
  section: number | null;
  picture: string;
  title: string;
  description: string;
  link: string | null;
}

/** Problem details (RFC 9457). */
const manner: Manner = {
  service: 'boards',
  title: TITLE,
  sign: { scopes: { 'boards:read': 'see your boards', 'boards:write': 'make boards and put pictures on them' } },
  refuse: (res, status, code, detail) =>
    void res
      .status(status)
      .type('application/problem+json')
      .json({
        type: `${TITLE.toLowerCase().replace(' ', '/')}/${code}`,
        title: code.replaceAll('_', ' '),
        detail,
        status,
      }),
};

/** Lagoon Boards: boards with sections, and pictures on them. */
export function boardsRoutes(lagoon: Lagoon): Router {
  const { db, clock, config, faults } = lagoon;
  const base = `${config.origin}/boards`;
  const boards = new Things<Board>(lagoon, 'boards', 'board');
  const sections = new Things<{ name: string }>(lagoon, 'boards', 'section');
  const pictures = new Things<BoardPicture>(lagoon, 'boards', 'picture');
  const router = Router();
  router.use('/oauth', faults.middleware('boards-sign-in'), signInOf(lagoon, manner));
  router.use('/v1', apiOf(lagoon, manner, api));

  router.get('/', (req, res) =>
    show(lagoon, TITLE, req, res, 'Boards', async () => {
      const all = await boards.list({ order: 'oldest' });
      return html`<h1>Boards</h1>
        <ul>
          ${all.map((each) => html`<li><a href="${base}/b/${each.id}">${each.body.name}</a> <span class="soft">${each.body.about}</span></li>`)}
        </ul>`;
    }),
  );
  router.get('/b/:id', async (req, res) => {
    const board = await boards.get(req.params.id);
    if (!board) return missing(lagoon, TITLE, req, res);
    await show(lagoon, TITLE, req, res, board.body.name, async () => {
      const [parts, all] = await Promise.all([
        sections.list({ parent: board.id, order: 'oldest' }),
        pictures.list({ parent: board.id, most: 200 }),
      ]);
      const grid = (list: Thing<BoardPicture>[]) =>
        html`<ul class="films">
          ${list.map(
            (entry) =>
              html`<li data-post="${entry.id}">
                <a href="${base}/picture/${entry.id}"><img src="${entry.body.picture}" alt="" /></a>
                <div><b>${entry.body.title}</b></div>
              </li>`,
          )}
        </ul>`;
      return html`<h1>${board.body.name}</h1>
        <p class="soft">${board.body.about}</p>
        ${grid(all.filter((entry) => entry.body.section === null))}
        ${parts.map(
          (part) =>
            html`<h2>${part.body.name}</h2>
              ${grid(all.filter((entry) => entry.body.section === part.id))}`,
        )}`;
    });
  });
  router.get('/picture/:id', async (req, res) => {
    const entry = await pictures.get(req.params.id);
    if (!entry) return missing(lagoon, TITLE, req, res);
    await show(
      lagoon,
      TITLE,
      req,
      res,
      entry.body.title,
      html`<article class="box post" data-post="${entry.id}">
        <div class="screen"><img src="${entry.body.picture}" alt="" /></div>
        <h1>${entry.body.title}</h1>
        <span class="soft">${when(entry.createdAt, clock.now())}</span>
        <div class="message">${bare(entry.body.description)}</div>
        ${entry.body.link ? html`<a href="${entry.body.link}">${entry.body.link}</a>` : ''}
        <p><a href="${base}/b/${entry.parent}">The whole board</a></p>
      </article>`,
    );
  });
  return router;

  function api(routes: Router) {
    const boardView = async (board: Thing<Board>) => ({
      id: String(board.id),
      name: board.body.name,
      about: board.body.about,
      url: `${base}/b/${board.id}`,
      sections: (await sections.list({ parent: board.id, order: 'oldest' })).map((part) => ({
        id: String(part.id),
        name: part.body.name,
      })),
    });
    const entryView = (entry: Thing<BoardPicture>) => ({
      id: String(entry.id),
      board: String(entry.parent),
      ...entry.body,
      section: entry.body.section === null ? null : String(entry.body.section),
      url: `${base}/picture/${entry.id}`,
      created: new Date(entry.createdAt).toUTCString(),
    });
    const own = async (id: unknown, person: number) => {
      const board = await boards.get(id);
      if (board?.owner !== person) throw new Refusal(404, 'no_board', 'There is no such board, or it is not yours.');
      return board;
    };
    const ownEntry = async (id: unknown, person: number) => {
      const entry = await pictures.get(id);
      if (!entry) throw new Refusal(404, 'no_picture', 'There is no such picture.');
      await own(entry.parent, person);
      return entry;
    };
    const name = z.object({ name: z.string().trim().min(1).max(50), about: z.string().max(200).default('') });

    routes.get('/me', (_req, res) => {
      const { person } = callerOf(res);
      res.json({ id: String(person.id), name: person.name });
    });
    routes.get('/boards', async (req, res) => {
      const size = Math.min(25, Number(req.query.size) || 10);
      const all = await boards.list({ owner: callerOf(res).person.id, order: 'oldest', most: 500 });
      const from = (Math.max(1, Number(req.query.page) || 1) - 1) * size;
      res.json({
        data: await Promise.all(all.slice(from, from + size).map(boardView)),
        page: { total: all.length, next: from + size < all.length ? from / size + 2 : null },
      });
    });
    routes.post('/boards', async (req, res) => {
      needScope(res, 'boards:write');
      const asked = name.parse(req.body);
      const { person } = callerOf(res);
      const mine = await boards.list({ owner: person.id, most: 500 });
      if (mine.some((board) => board.body.name.toLowerCase() === asked.name.toLowerCase()))
        throw new Refusal(422, 'name_taken', 'You already have a board of this name.');
      const id = await boards.add(asked, clock.now(), { owner: person.id });
      res.status(201).json(await boardView((await boards.get(id))!));
    });
    routes.post('/boards/:id/sections', async (req, res) => {
      needScope(res, 'boards:write');
      const asked = name.parse(req.body);
      const board = await own(req.params.id, callerOf(res).person.id);
      const id = await sections.add({ name: asked.name }, clock.now(), { parent: board.id });
      res.status(201).json({ id: String(id), name: asked.name, board: String(board.id) });
    });
    routes.get('/boards/:id/pictures', async (req, res) => {
      const board = await own(req.params.id, callerOf(res).person.id);
      const before = Number(req.query.before) || undefined;
      const found = await pictures.list({ parent: board.id, before, most: 50 });
      res.json({ data: found.map(entryView), page: { before: found.length === 50 ? String(found.at(-1)!.id) : null } });
    });
    routes.post('/pictures', async (req, res) => {
      needScope(res, 'boards:write');
      const asked = z
        .object({
          board: z.string(),
          section: z.string().nullish(),
          picture: z.url(),
          title: z.string().trim().min(1),
          description: z.string().default(''),
          link: z.url().nullish(),
          ref: z.string().min(1).max(255),
        })
        .parse(req.body);
      const { client, person } = callerOf(res);
      const board = await own(asked.board, person.id);
      const section = asked.section ? await sections.get(asked.section) : undefined;
      if (asked.section && section?.parent !== board.id)
        throw new Refusal(404, 'no_section', 'There is no such section.');
      for (const part of ['title', 'description'] as const)
        if (graphemes(asked[part]) > LONGEST[part])
          throw new Refusal(422, `${part}_long`, `A ${part} has at most ${LONGEST[part]} characters.`);
      const entry: BoardPicture = {
        section: section?.id ?? null,
        picture: asked.picture,
        title: asked.title,
        description: asked.description,
        link: asked.link ?? null,
      };
      const made = await once(db, { client, key: asked.ref, request: [board.id, entry] }, () =>
        pictures.add(entry, clock.now(), { parent: board.id }),
      );
      if (made.kind === 'mismatch') throw new Refusal(422, 'ref_reused', 'This ref was used for another picture.');
      const stored = await pictures.get(made.id);
      if (!stored) throw new Refusal(410, 'deleted', 'The picture put there under this ref has been deleted since.');
      res.status(made.kind === 'made' ? 201 : 200).json(entryView(stored));
    });
    routes.patch('/pictures/:id', async (req, res) => {
      needScope(res, 'boards:write');
      const entry = await ownEntry(req.params.id, callerOf(res).person.id);
      const { description } = z.object({ description: z.string().max(LONGEST.description) }).parse(req.body);
      await pictures.change(entry.id, { ...entry.body, description }, clock.now());
      res.json(entryView((await pictures.get(entry.id))!));
    });
    routes.delete('/pictures/:id', async (req, res) => {
      needScope(res, 'boards:write');
      await pictures.remove((await ownEntry(req.params.id, callerOf(res).person.id)).id);
      res.status(204).end();
    });
  }
}
