import { z } from 'zod';
import { renameField } from '@playa/core/workflow/rename-field.ts';
import { hasTokens, SNIPPET_NAME, snippetField } from '@playa/core/workflow/snippets.ts';
import { mustBeAt, revisionOf } from '../../db/revision.ts';
import { inTransaction } from '../../db/database.ts';
import { addAudit } from '../../store/audit.ts';
import { noteChange } from '../../store/changes.ts';
import { deleteSnippet, keepSnippet, snippetsOf, snippetsPage } from '../../store/snippets.ts';
import { rewriteDefinitions } from '../../store/versions.ts';
import { changesBy, usingSnippet } from '../../workflows/snippets.ts';
import { askAgain } from '../../posts/keep-post.ts';
import { postsUsing } from '../../posts/uses.ts';
import { usesOf, usesOfEach } from '../../world/uses.ts';
import { brandEndpoint } from '../contract/endpoint.ts';
import { byName, cutPage, nextPage, pageQuery } from '../contract/pages.ts';
import { revision, seenRevision, useSchema } from '../contract/schemas.ts';
import { Problem } from '../problem.ts';

const name = z.string().regex(SNIPPET_NAME, 'A name starts with a letter, has no spaces and at most 40 characters.');
const text = z.string().trim().min(1, 'A snippet needs words.').max(4000);
const params = z.object({ name });

/** The brand's snippets: what they say, where they are used, and what changing one changes. */
export const snippetEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/snippets',
    name: 'listSnippets',
    says: 'The brand’s snippets, with where they are used.',
    may: 'see',
    query: pageQuery(byName, 200),
    answer: z.object({
      snippets: z.array(
        z
          .object({ name: z.string(), text: z.string(), revision, uses: z.array(useSchema) })
          .meta({ id: 'SnippetWithUses' }),
      ),
      ...nextPage,
    }),
    async run({ services: { pool }, brand, query: { after, most } }) {
      const found = await snippetsPage(pool, brand.id, after?.after ?? '', most + 1);
      const { page, next } = cutPage(found, most, ({ name: last }) => ({ after: last }));
      const uses = await usesOfEach(
        pool,
        brand.id,
        page.map((snippet) => usingSnippet(snippet.name)),
      );
      return {
        snippets: page.map((snippet, index) => ({
          ...snippet,
          revision: revisionOf(snippet.text),
          uses: uses[index]!,
        })),
        next,
      };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/snippets/{name}/changes',
    name: 'previewSnippetChange',
    says: 'What would be said with other words in a snippet. Nothing is kept.',
    may: 'see',
    params,
    body: z.object({ text: text.nullable() }),
    answer: z.object({
      changes: z.array(
        z
          .object({
            workflow: z.string(),
            outlet: z.string(),
            before: z.string(),
            after: z.string(),
            trouble: z.string().nullable(),
          })
          .meta({ id: 'SnippetChange' }),
      ),
    }),
    run: async ({ services, brand, params: asked, body }) => ({
      changes: await changesBy(services.pool, brand.id, asked.name, body.text),
    }),
  }),
  brandEndpoint({
    method: 'put',
    path: '/snippets/{name}',
    name: 'keepSnippet',
    says: 'Keeps a snippet, under another name where one is given: every wording that uses it goes on using it.',
    may: 'compose',
    params,
    body: z.object({
      text,
      rename: name.optional(),
      revision: seenRevision.nullable().meta({ description: 'Of what was seen; null for a new one.' }),
    }),
    answer: null,
    async run({ services, brand, params: { name: before }, body }) {
      const { pool, clock, actor } = services;
      const next = body.rename ?? before;
      const [post] = next === before ? [] : await postsUsing(pool, brand.id, usingSnippet(before));
      if (post !== undefined)
        throw new Problem(409, `The post “${post}” is ready and says it under this name. Take it out there first.`);
      const live = hasTokens(body.text)
        ? (await usesOf(pool, brand.id, usingSnippet(before))).find((use) => use.live)
        : undefined;
      if (live)
        throw new Problem(
          409,
          `“${live.workflow}” is live and uses it: the fields in it would go out as they stand. Make another snippet of it.`,
        );
      await inTransaction(pool, async (db) => {
        const known = await snippetsOf(db, brand.id, true);
        const there = known.find((each) => each.name === before);
        mustBeAt(`“${before}”`, there ? revisionOf(there.text) : null, body.revision);
        if (next !== before) {
          if (known.some((each) => each.name === next))
            throw new Problem(409, `There is a snippet called “${next}” already.`);
          await rewriteDefinitions(db, brand.id, null, (definition) =>
            renameField(definition, snippetField(before), snippetField(next)),
          );
          await deleteSnippet(db, brand.id, before);
        }
        await keepSnippet(db, brand.id, { name: next, text: body.text }, clock());
        const was = there?.text ?? null;
        const deed = { brandId: brand.id, about: 'snippet', name: next, was, became: body.text } as const;
        await addAudit(db, actor, { ...deed, did: was === null ? 'made' : 'changed' }, clock());
        await noteChange(db, brand.id, 'workflows', null, clock());
      });
      // A yes was to what it said before.
      await askAgain(services, brand.id, usingSnippet(next));
    },
  }),
  brandEndpoint({
    method: 'delete',
    path: '/snippets/{name}',
    name: 'deleteSnippet',
    says: 'Deletes a snippet that no live workflow uses.',
    may: 'compose',
    params,
    answer: null,
    async run({ services: { pool, clock, actor }, brand, params: asked }) {
      const live = (await usesOf(pool, brand.id, usingSnippet(asked.name))).filter((use) => use.live);
      if (live.length > 0)
        throw new Problem(409, `“${live[0]!.workflow}” is live and uses it. Take it out there first.`);
      const [post] = await postsUsing(pool, brand.id, usingSnippet(asked.name));
      if (post !== undefined)
        throw new Problem(409, `The post “${post}” is ready and says it. Take it out there first.`);
      await inTransaction(pool, async (db) => {
        if (!(await deleteSnippet(db, brand.id, asked.name))) throw new Problem(404, 'There is no such snippet.');
        const deed = { brandId: brand.id, did: 'deleted', about: 'snippet', name: asked.name } as const;
        await addAudit(db, actor, deed, clock());
        await noteChange(db, brand.id, 'workflows', null, clock());
      });
    },
  }),
];
