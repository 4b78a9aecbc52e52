import { Router, urlencoded } from 'express';
import { html } from './html.ts';
import { giveKey, keysOf } from './keys.ts';
import type { Lagoon } from './lagoon.ts';
import { formText, show, somebody } from './screen.ts';
import type { Things } from './things.ts';

/** The page of a service on which a person makes bots, each with its token. @param says what its number is for */
export function botsPage(
  lagoon: Lagoon,
  service: string,
  title: string,
  bots: Things<{ name: string }>,
  says: (number: number | null) => string,
): Router {
  const router = Router();
  const at = `${lagoon.config.origin}/${service}/bots`;
  router.get('/', async (req, res) => {
    const person = await somebody(lagoon, req, res);
    if (!person) return;
    const keys = await keysOf(lagoon, service, person.id);
    await show(
      lagoon,
      title,
      req,
      res,
      'Bots',
      html`<h1>Your bots</h1>
        ${keys.map(
          (key) =>
            html`<div class="box">
              <b>${key.name}</b> <code data-key>${key.token}</code>
              <p class="soft">${says(key.thing_id)}</p>
            </div>`,
        )}
        <form class="box" method="post" action="${at}">
          <label>Name<input name="name" required maxlength="40" /></label><button>Make a bot</button>
        </form>`,
    );
  });
  router.post('/', urlencoded({ extended: false }), async (req, res) => {
    const person = await somebody(lagoon, req, res);
    if (!person) return;
    const name = formText(req, 'name') || 'A bot';
    const bot = await bots.add({ name }, lagoon.clock.now(), { owner: person.id });
    await giveKey(lagoon, { service, person: person.id, name, bot });
    res.redirect(303, at);
  });
  return router;
}
