import { z } from 'zod';
import { stepsSending } from '@playa/core/workflow/uses.ts';
import { mustBeAt, revisionOf } from '../../db/revision.ts';
import { inTransaction } from '../../db/database.ts';
import { LARGEST_FILM, takeFile, worldFile } from '../../media/library.ts';
import { addAudit } from '../../store/audit.ts';
import { noteChange } from '../../store/changes.ts';
import { deleteFile, describeFile, filesPage, lockFile, type StoredFile } from '../../store/files.ts';
import { postsUsing } from '../../posts/uses.ts';
import { usesOf, usesOfEach } from '../../world/uses.ts';
import { brandEndpoint, id } from '../contract/endpoint.ts';
import { byId, cutPage, nextPage, pageQuery } from '../contract/pages.ts';
import { fileSchema, revision, seenRevision, useSchema } from '../contract/schemas.ts';
import { Problem } from '../problem.ts';

const name = z.string().trim().min(1, 'A file needs a name.').max(200);
const fileWithUses = fileSchema.extend({ revision, uses: z.array(useSchema) }).meta({ id: 'FileWithUses' });
/** The revision of what people say of a file. */
const said = ({ name: called, alt }: Pick<StoredFile, 'name' | 'alt'>) => revisionOf({ name: called, alt });
const shown = (file: StoredFile, uses: z.input<typeof useSchema>[]) => ({
  ...worldFile(file),
  revision: said(file),
  uses,
});
const using = (file: number) => (definition: Parameters<typeof stepsSending>[0]) => stepsSending(definition, file);

/** The brand's own pictures and films. */
export const fileEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/files',
    name: 'listFiles',
    says: 'The brand’s own pictures and films, the newest first, with where they are used.',
    may: 'see',
    query: pageQuery(byId, 60),
    answer: z.object({ files: z.array(fileWithUses), ...nextPage }),
    async run({ services: { pool }, brand, query: { after, most } }) {
      const found = await filesPage(pool, brand.id, after?.after ?? null, most + 1);
      const { page, next } = cutPage(found, most, (file) => ({ after: file.id }));
      const uses = await usesOfEach(
        pool,
        brand.id,
        page.map((file) => using(file.id)),
      );
      return { files: page.map((file, index) => shown(file, uses[index]!)), next };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/files',
    name: 'addFile',
    says: 'Takes a picture or film: the bytes are the body, so that a film need not be in memory as a whole.',
    may: 'compose',
    query: z.object({ name }),
    takes: 'application/octet-stream',
    status: 201,
    answer: z.object({ file: fileWithUses }),
    async run({ services, brand, user, query, req }) {
      if (Number(req.headers['content-length'] ?? 0) > LARGEST_FILM)
        throw new Problem(413, `A film can have ${LARGEST_FILM / 1e6} MB at most, and this one has more.`);
      const file = await takeFile(services, { brandId: brand.id, userId: user.id }, query.name, req);
      return { file: shown(file, []) };
    },
  }),
  brandEndpoint({
    method: 'put',
    path: '/files/{id}',
    name: 'describeFile',
    says: 'Names a file and says what it shows.',
    may: 'compose',
    params: z.object({ id }),
    body: z.object({ name, alt: z.string().trim().max(1000), revision: seenRevision }),
    answer: null,
    async run({ services: { pool, clock, actor }, brand, params, body: { revision: seen, ...told } }) {
      await inTransaction(pool, async (db) => {
        const file = await lockFile(db, brand.id, params.id);
        if (!file) throw new Problem(404, 'There is no such file.');
        mustBeAt('what this file says', said(file), seen);
        await describeFile(db, brand.id, params.id, told);
        const deed = { brandId: brand.id, did: 'changed', about: 'file', id: params.id, name: told.name } as const;
        const values = { was: `${file.name}: ${file.alt}`, became: `${told.name}: ${told.alt}` };
        await addAudit(db, actor, { ...deed, ...values }, clock());
        await noteChange(db, brand.id, 'workflows', null, clock());
      });
    },
  }),
  brandEndpoint({
    method: 'delete',
    path: '/files/{id}',
    name: 'deleteFile',
    says: 'Deletes a file that no live workflow sends.',
    may: 'compose',
    params: z.object({ id }),
    answer: null,
    async run({ services: { pool, clock, actor }, brand, params }) {
      const live = (await usesOf(pool, brand.id, using(params.id))).filter((use) => use.live);
      if (live.length > 0)
        throw new Problem(409, `“${live[0]!.workflow}” is live and sends it. Take it out there first.`);
      const [post] = await postsUsing(pool, brand.id, using(params.id));
      if (post !== undefined)
        throw new Problem(409, `The post “${post}” is ready and sends it. Take it out there first.`);
      await inTransaction(pool, async (db) => {
        if (!(await deleteFile(db, brand.id, params.id))) throw new Problem(404, 'There is no such file.');
        await addAudit(db, actor, { brandId: brand.id, did: 'deleted', about: 'file', id: params.id }, clock());
        await noteChange(db, brand.id, 'workflows', null, clock());
      });
    },
  }),
];
