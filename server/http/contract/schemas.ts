// What answers are made of, each described once.
import { z } from 'zod';
import { DESK_KINDS } from '@playa/core/desk/entry.ts';
import { ACT_INPUTS, REVISIONS, type ActName } from '@playa/core/model/acts.ts';
import { traceSchema } from '@playa/core/model/cells.ts';
import { outletDetailsSchema } from '@playa/core/model/world.ts';
import { groupSchema } from '@playa/core/conditions/condition.ts';
import { fieldsSchema, fieldValueSchema } from '@playa/core/items/item.ts';
import { jsonSchemaSchema } from '@playa/core/items/json-schema.ts';
import { NETWORK_KINDS } from '@playa/core/outlets/networks.ts';
import { OUTLET_KINDS } from '@playa/core/outlets/kinds.ts';
import { shapeFieldsSchema, shapeSchema } from '@playa/core/shapes/shape.ts';
import { writtenPostSchema } from '@playa/core/posts/written.ts';
import { timetableSchema } from '@playa/core/timetable/timetable.ts';
import { stepSchema } from '@playa/core/steps/index.ts';
import { definitionSchema } from '@playa/core/workflow/definition.ts';

// What is used in many places, or lies inside itself, has a name of its own in the document.
z.globalRegistry.add(fieldValueSchema, { id: 'FieldValue' });
z.globalRegistry.add(fieldsSchema, { id: 'Fields', description: 'The fields of an item by name.' });
z.globalRegistry.add(jsonSchemaSchema, { id: 'LearnedSchema' });
z.globalRegistry.add(groupSchema, { id: 'Condition' });
z.globalRegistry.add(shapeSchema, { id: 'Shape', description: 'What a value is: its type, and what lies inside it.' });
z.globalRegistry.add(timetableSchema, {
  id: 'Timetable',
  description: 'When an outlet publishes, by the brand’s clock.',
});
z.globalRegistry.add(stepSchema, { id: 'Step' });
z.globalRegistry.add(definitionSchema, { id: 'Definition', description: 'What a workflow does.' });
z.globalRegistry.add(writtenPostSchema, { id: 'WrittenPost', description: 'A post written by hand.' });
z.globalRegistry.add(traceSchema, { id: 'Trace', description: 'The cells of a run by place.' });

/** A moment: milliseconds since 1970 UTC. */
export const moment = z.number();
export const id = z.number().int();
export const outletKind = z.enum(OUTLET_KINDS).meta({ id: 'OutletKind' });
export const networkKind = z.enum(NETWORK_KINDS).meta({ id: 'NetworkKind' });
const actName = z.enum(Object.keys(ACT_INPUTS) as ActName[]).meta({ id: 'ActName' });
export const workflowStatus = z.enum(['draft', 'live', 'paused']).meta({ id: 'WorkflowStatus' });

/** Of something as it is shown; what changes it carries the one that was seen. */
export const revision = z.string().max(40);
/** The one that a change carries. */
export const seenRevision = revision.meta({
  description: 'Of what was seen. 409 with the present one as `current` where somebody has changed it since.',
});

/** What something made is known by from now on. */
export const madeSchema = z.object({ id });

export const problemSchema = z
  .object({ level: z.enum(['harm', 'advice']), step: z.string().nullable(), says: z.string() })
  .meta({ id: 'WorthALook' });

export const phraseSchema = z
  .array(z.union([z.string(), z.object({ name: z.string(), kind: z.enum(['outlet', 'watch']), id })]))
  .meta({ id: 'Phrase', description: 'A sentence whose names of things are marked.' });

export const itemSchema = z
  .object({
    id,
    watch: id,
    identity: z.string(),
    publishedAt: moment.nullable(),
    seenAt: moment,
    fields: fieldsSchema,
  })
  .meta({ id: 'Item' });

export const useSchema = z
  .object({ workflowId: id, workflow: z.string(), steps: z.number(), live: z.boolean() })
  .meta({ id: 'Use', description: 'A workflow that uses something of the brand’s own.' });

const mediaFacts = {
  bytes: z.number().nullable(),
  mediaType: z.string().nullable(),
  width: z.number().nullable(),
  height: z.number().nullable(),
  seconds: z.number().nullable(),
};
export const fileSchema = z
  .object({
    id,
    type: z.enum(['picture', 'video']),
    name: z.string(),
    alt: z.string(),
    url: z.string(),
    ...mediaFacts,
  })
  .meta({ id: 'BrandFile' });

export const worldOutletSchema = z
  .object({
    id,
    kind: outletKind,
    name: z.string(),
    accountId: id.nullable(),
    acts: z.array(actName).readonly().optional(),
    revisions: z.array(z.enum(REVISIONS)).readonly().optional(),
    details: outletDetailsSchema.optional(),
    timetable: timetableSchema.optional(),
    trouble: z.string().optional(),
  })
  .meta({ id: 'WorldOutlet' });

export const worldWatchSchema = z
  .object({
    id,
    name: z.string(),
    things: z.string(),
    said: z.enum(DESK_KINDS).optional(),
    outlet: id.optional(),
    internal: z.boolean().optional(),
    shape: shapeFieldsSchema.optional(),
    shows: z.array(id).readonly().optional(),
  })
  .meta({ id: 'WorldWatch' });

export const besideSchema = z.object({ id, name: z.string(), definition: definitionSchema }).meta({ id: 'Beside' });

export const outletSchema = z
  .object({
    id,
    brandId: id,
    accountId: id.nullable(),
    kind: outletKind,
    remoteId: z.string(),
    name: z.string(),
    address: z.string().nullable(),
    feed: z.string().nullable(),
    gone: z.boolean(),
    details: outletDetailsSchema,
    byHand: z.boolean(),
    trouble: z.string().nullable(),
    remedy: z.string().nullable(),
    checkedAt: moment.nullable(),
  })
  .meta({ id: 'Outlet' });

export const noticeSchema = z
  .object({
    id,
    workflowId: id.nullable(),
    workflow: z.string().nullable(),
    runId: id.nullable(),
    text: z.string(),
    at: moment,
  })
  .meta({ id: 'Notice' });

export const doneSchema = z
  .object({
    id,
    aboutId: id.nullable(),
    by: z.string().nullable().meta({ description: 'Null for Playa itself.' }),
    did: z.string(),
    was: z.string().nullable(),
    became: z.string().nullable(),
    at: moment,
  })
  .meta({ id: 'Done', description: 'Who did what, and when.' });
