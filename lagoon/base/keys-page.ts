import { Router, urlencoded } from 'express';
import { html } from './html.ts';
import { giveKey, keysOf, revokeKey } from './keys.ts';
import type { Lagoon } from './lagoon.ts';
import { formText, show, somebody } from './screen.ts';

/** The page of a service on which a person makes keys for applications. */
export function keysPage(lagoon: Lagoon, service: string, title: string): Router {
  const router = Router();
  const at = `${lagoon.config.origin}/${service}/keys`;
  router.get('/', async (req, res) => {
    const person = await somebody(lagoon, req, res);
    if (!person) return;
    const keys = await keysOf(lagoon, service, person.id);
    await show(
      lagoon,
      title,
      req,
      res,
      'Keys',
      html`<h1>Keys for applications</h1>
        ${keys
          .filter((key) => !key.revoked)
          .map(
            (key) =>
              html`<form class="box row" method="post" action="${at}">
                <b>${key.name}</b> <code data-key>${key.token}</code>
                <button class="plain" name="revoke" value="${key.token}">Revoke</button>
              </form>`,
          )}
        <form class="box" method="post" action="${at}">
          <label>Name<input name="name" required maxlength="60" placeholder="What it is for" /></label>
          <button>Make a key</button>
        </form>`,
    );
  });
  router.post('/', urlencoded({ extended: false }), async (req, res) => {
    const person = await somebody(lagoon, req, res);
    if (!person) return;
    const gone = formText(req, 'revoke');
    if (gone) await revokeKey(lagoon, service, person.id, gone);
    else await giveKey(lagoon, { service, person: person.id, name: formText(req, 'name') || 'A key' });
    res.redirect(303, at);
  });
  return router;
}
