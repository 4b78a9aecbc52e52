// The workflow that somebody asks about.
import { z, ZodError } from 'zod';
import { Problem } from '../problem.ts';
import * as workflows from '../../store/workflows.ts';
import type { Services } from '../../base/services.ts';
import { id } from '../contract/endpoint.ts';

export const revision = z.number().int().positive();
export const params = z.object({ id });
/** Of a workflow whose draft cannot be read. */
export const UNREADABLE =
  'Playa cannot read this workflow; another version of Playa may have written it. It stays as it is.';
/** @throws Problem 404 or, when it cannot be read, 409 */
export async function own({ pool }: Services, brandId: number, workflow: number): Promise<workflows.Workflow> {
  const found = await workflows.workflowBy(pool, brandId, workflow).catch((error: unknown) => {
    if (error instanceof ZodError || error instanceof SyntaxError) throw new Problem(409, UNREADABLE);
    throw error;
  });
  if (!found) throw new Problem(404, 'There is no such workflow.');
  return found;
}

/** The same, where it is changed. @throws Problem 409 for what Playa keeps itself */
export async function changeable(services: Services, brandId: number, workflow: number): Promise<workflows.Workflow> {
  const found = await own(services, brandId, workflow);
  if (found.own) throw new Problem(409, 'Playa keeps this workflow itself. It can be paused, and let go on.');
  return found;
}
