import { Router } from 'express';
import { z } from 'zod';
import { stepsSending } from '@playa/core/workflow/uses.ts';
import { inTransaction } from '../../db/database.ts';
import { LARGEST_FILM, takeFile, worldFile } from '../../media/library.ts';
import type { Services } from '../../base/services.ts';
import { noteChange } from '../../store/changes.ts';
import { deleteFile, describeFile, filesOf } from '../../store/files.ts';
import { usesOf } from '../../workflows/uses.ts';
import { Problem } from '../problem.ts';
import { brandOf, visitorOf } from '../sign-in.ts';

const nameSchema = z.string().trim().min(1, 'A file needs a name.').max(200);
const idSchema = z.coerce.number().int().positive();

/** The brand's own pictures and films. */
export function fileRoutes(services: Services): Router {
  const { pool, clock } = services;
  const router = Router({ mergeParams: true });
  const using = (id: number) => (definition: Parameters<typeof stepsSending>[0]) => stepsSending(definition, id);

  router.get('/files', async (req, res) => {
    const brand = brandOf(req, res);
    const files = await filesOf(pool, brand.id);
    const uses = await Promise.all(files.map(({ id }) => usesOf(pool, brand.id, using(id))));
    res.json({ files: files.map((file, index) => ({ ...worldFile(file), uses: uses[index] })) });
  });

  // The bytes are the body, so that a film need not be in memory as a whole.
  router.post('/files', async (req, res) => {
    const brand = brandOf(req, res);
    const { name } = z.object({ name: nameSchema }).parse(req.query);
    if (Number(req.headers['content-length'] ?? 0) > LARGEST_FILM)
      throw new Problem(413, `A film can have ${LARGEST_FILM / 1e6} MB at most, and this one has more.`);
    const file = await takeFile(services, { brandId: brand.id, userId: visitorOf(res).user.id }, name, req);
    res.status(201).json({ file: { ...worldFile(file), uses: [] } });
  });

  router.put('/files/:id', async (req, res) => {
    const brand = brandOf(req, res);
    const told = z.object({ name: nameSchema, alt: z.string().trim().max(1000) }).parse(req.body);
    await inTransaction(pool, async (db) => {
      if (!(await describeFile(db, brand.id, idSchema.parse(req.params.id), told)))
        throw new Problem(404, 'There is no such file.');
      await noteChange(db, brand.id, 'workflows', null, clock());
    });
    res.status(204).end();
  });

  router.delete('/files/:id', async (req, res) => {
    const brand = brandOf(req, res);
    const id = idSchema.parse(req.params.id);
    const live = (await usesOf(pool, brand.id, using(id))).filter((use) => use.live);
    if (live.length > 0)
      throw new Problem(409, `“${live[0]!.workflow}” is live and sends it. Take it out there first.`);
    await inTransaction(pool, async (db) => {
      if (!(await deleteFile(db, brand.id, id))) throw new Problem(404, 'There is no such file.');
      await noteChange(db, brand.id, 'workflows', null, clock());
    });
    res.status(204).end();
  });
  return router;
}
