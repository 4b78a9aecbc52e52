import { Router } from 'express';
import { z } from 'zod';
import { renameField } from '@playa/core/workflow/rename-field.ts';
import { SNIPPET_NAME, snippetField } from '@playa/core/workflow/snippets.ts';
import { inTransaction } from '../../db/database.ts';
import type { Services } from '../../base/services.ts';
import { noteChange } from '../../store/changes.ts';
import { deleteSnippet, keepSnippet, snippetsOf } from '../../store/snippets.ts';
import { rewriteDefinitions } from '../../store/workflows.ts';
import { changesBy, usingSnippet } from '../../workflows/snippets.ts';
import { usesOf } from '../../workflows/uses.ts';
import { Problem } from '../problem.ts';
import { brandOf } from '../sign-in.ts';

const nameSchema = z
  .string()
  .regex(SNIPPET_NAME, 'A name starts with a letter, has no spaces and at most 40 characters.');
const textSchema = z.string().trim().min(1, 'A snippet needs words.').max(4000);

/** The brand's snippets: what they say, where they are used, and what changing one changes. */
export function snippetRoutes(services: Services): Router {
  const { pool, clock } = services;
  const router = Router({ mergeParams: true });

  router.get('/snippets', async (req, res) => {
    const brand = brandOf(req, res);
    const snippets = await snippetsOf(pool, brand.id);
    const uses = await Promise.all(snippets.map((snippet) => usesOf(pool, brand.id, usingSnippet(snippet.name))));
    res.json({ snippets: snippets.map((snippet, index) => ({ ...snippet, uses: uses[index] })) });
  });

  // Nothing is kept: what would be said with other words.
  router.post('/snippets/:name/changes', async (req, res) => {
    const brand = brandOf(req, res);
    const { text } = z.object({ text: textSchema.nullable() }).parse(req.body);
    res.json({ changes: await changesBy(pool, brand.id, nameSchema.parse(req.params.name), text) });
  });

  router.put('/snippets/:name', async (req, res) => {
    const brand = brandOf(req, res);
    const name = nameSchema.parse(req.params.name);
    const asked = z.object({ text: textSchema, rename: nameSchema.optional() }).parse(req.body);
    const next = asked.rename ?? name;
    await inTransaction(pool, async (db) => {
      const known = await snippetsOf(db, brand.id);
      if (next !== name) {
        if (known.some((each) => each.name === next))
          throw new Problem(409, `There is a snippet called “${next}” already.`);
        // Every wording that uses it goes on using it.
        await rewriteDefinitions(db, brand.id, null, (definition) =>
          renameField(definition, snippetField(name), snippetField(next)),
        );
        await deleteSnippet(db, brand.id, name);
      }
      await keepSnippet(db, brand.id, { name: next, text: asked.text }, clock());
      await noteChange(db, brand.id, 'workflows', null, clock());
    });
    res.status(204).end();
  });

  router.delete('/snippets/:name', async (req, res) => {
    const brand = brandOf(req, res);
    const name = nameSchema.parse(req.params.name);
    const live = (await usesOf(pool, brand.id, usingSnippet(name))).filter((use) => use.live);
    if (live.length > 0) throw new Problem(409, `“${live[0]!.workflow}” is live and uses it. Take it out there first.`);
    await inTransaction(pool, async (db) => {
      if (!(await deleteSnippet(db, brand.id, name))) throw new Problem(404, 'There is no such snippet.');
      await noteChange(db, brand.id, 'workflows', null, clock());
    });
    res.status(204).end();
  });
  return router;
}
