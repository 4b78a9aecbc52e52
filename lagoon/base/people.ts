import { randomBytes } from 'node:crypto';
import { Router, urlencoded, type Request } from 'express';
import { rows, type Database } from './db.ts';
import { html, page } from './html.ts';

export interface Person {
  id: number;
  name: string;
}

/** 256 random bits, as text that fits anywhere. */
export function randomToken(): string {
  return randomBytes(32).toString('base64url');
}

/** Who is looking at Lagoon, if anyone has said so. */
export async function personOf(db: Database, req: Request): Promise<Person | undefined> {
  const token = /(?:^|;\s*)lagoon_person=([\w-]{43})/.exec(req.headers.cookie ?? '')?.[1];
  if (!token) return undefined;
  const found = await rows<Person>(
    db,
    'SELECT p.id, p.name FROM sign_ins s JOIN people p ON p.id = s.person_id WHERE s.token = ?',
    [token],
  );
  return found[0];
}

/** Only places inside Lagoon. */
function localPath(value: unknown): string {
  return typeof value === 'string' && /^\/(?![/\\])/.test(value) ? value : '/';
}

/** Signing in at Lagoon: a made-up world needs no passwords, one chooses who to be. */
export function peopleRoutes(db: Database): Router {
  const router = Router();
  router.get('/sign-in', async (req, res) => {
    const next = localPath(req.query.next);
    const people = await rows<Person>(db, 'SELECT id, name FROM people ORDER BY id');
    res.send(
      page(
        { service: 'Lagoon', title: 'Sign in', person: (await personOf(db, req))?.name },
        html`<div class="box">
          <h1>Who are you?</h1>
          <p class="soft">This world is made up, so there are no passwords here.</p>
          <form method="post" action="/sign-in">
            <input type="hidden" name="next" value="${next}" />
            <div class="row">
              ${people.map((each) => html`<button name="person" value="${each.id}">${each.name}</button>`)}
            </div>
          </form>
        </div>`,
      ),
    );
  });
  router.post('/sign-in', urlencoded({ extended: false }), async (req, res) => {
    const token = randomToken();
    const person = await rows<Person>(db, 'SELECT id, name FROM people WHERE id = ?', [Number(req.body?.person) || 0]);
    if (!person[0]) return void res.status(400).send('There is nobody of that name here.');
    await db.query('INSERT INTO sign_ins (token, person_id) VALUES (?, ?)', [token, person[0].id]);
    res.cookie('lagoon_person', token, { httpOnly: true, sameSite: 'lax' });
    res.redirect(303, localPath(req.body.next));
  });
  return router;
}
