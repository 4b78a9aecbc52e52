import { z } from 'zod';
import { inTransaction } from '../../db/database.ts';
import { addAudit } from '../../store/audit.ts';
import { noteChange } from '../../store/changes.ts';
import { noticesFor, putNoticeAway } from '../../store/notices.ts';
import { putAsideAway } from '../../store/set-aside.ts';
import { brandEndpoint, id } from '../contract/endpoint.ts';
import { byId, cutPage, nextPage, pageQuery } from '../contract/pages.ts';
import { noticeSchema } from '../contract/schemas.ts';
import { Problem } from '../problem.ts';

/** What workflows, or Playa itself, have told the person who is signed in; and what could not be taken. */
export const noticeEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/notices',
    name: 'listNotices',
    says: 'What the person who is signed in has been told, newest first.',
    may: 'see',
    query: pageQuery(byId, 50),
    answer: z.object({ notices: z.array(noticeSchema), ...nextPage }),
    async run({ services: { pool }, brand, user, query: { after, most } }) {
      const found = await noticesFor(pool, brand.id, user.id, most + 1, after?.after ?? null);
      const { page, next } = cutPage(found, most, (notice) => ({ after: notice.id }));
      return { notices: page, next };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/notices/{id}/away',
    name: 'putNoticeAway',
    says: 'The person has read a notice.',
    may: 'see',
    params: z.object({ id }),
    answer: null,
    async run({ services: { pool, clock }, brand, user, params }) {
      if (!(await putNoticeAway(pool, brand.id, user.id, params.id, clock())))
        throw new Problem(404, 'This notice has already been put away.');
      await noteChange(pool, brand.id, 'workflows', null, clock());
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/aside/{id}/away',
    name: 'putAsideAway',
    says: 'A person has seen what Playa could not take.',
    may: 'decide',
    params: z.object({ id }),
    answer: null,
    run: ({ services: { pool, clock, actor }, brand, params }) =>
      inTransaction(pool, async (db) => {
        const thing = await putAsideAway(db, brand.id, params.id, clock());
        if (thing === null) throw new Problem(404, 'Somebody has already put this away.');
        const { why, watchId, workflowId, source } = thing;
        const from =
          watchId === null && workflowId !== null
            ? ({ about: 'workflow', id: workflowId } as const)
            : ({ about: 'source', id: watchId ?? undefined } as const);
        // Not what it was: somebody's words may be in it.
        const deed = { brandId: brand.id, did: 'put away', ...from, name: source ?? undefined, was: why } as const;
        await addAudit(db, actor, deed, clock());
        await noteChange(db, brand.id, 'watches', null, clock());
      }),
  }),
];
