import type { Request, Response } from 'express';
import { html, page, type Html } from './html.ts';
import type { Lagoon } from './lagoon.ts';
import { personOf, type Person } from './people.ts';

/** Sends a page of a service, with who is looking at it. */
export async function show(
  lagoon: Lagoon,
  service: string,
  req: Request,
  res: Response,
  title: string,
  body: Html | ((person: Person | undefined) => Html | Promise<Html>),
): Promise<void> {
  const person = await personOf(lagoon.db, req);
  const content = typeof body === 'function' ? await body(person) : body;
  res.send(page({ service, title, person: person?.name, here: req.originalUrl }, content));
}

export async function missing(lagoon: Lagoon, service: string, req: Request, res: Response): Promise<void> {
  res.status(404);
  await show(lagoon, service, req, res, 'Not here', html`<p>There is nothing at this address, or not any more.</p>`);
}

/** The person looking, or a detour through the sign-in. */
export async function somebody(lagoon: Lagoon, req: Request, res: Response): Promise<Person | undefined> {
  const person = await personOf(lagoon.db, req);
  if (!person)
    res.redirect(
      303,
      `/sign-in?next=${encodeURIComponent(req.method === 'GET' ? req.originalUrl : req.baseUrl || '/')}`,
    );
  return person;
}

/** What came in a form, as text. */
export const formText = (req: Request, name: string): string =>
  String((req.body as Record<string, unknown> | undefined)?.[name] ?? '')
    .replace(/\r\n/g, '\n')
    .trim();
