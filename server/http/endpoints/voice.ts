import { z } from 'zod';
import { ACT_INPUTS } from '@playa/core/model/acts.ts';
import { draftedSchema } from '@playa/core/model/drafted.ts';
import { usualVoice, voiceSchema, MOST_FACTS, tooManyFacts } from '@playa/core/voice/voice.ts';
import { draftEntry, keepVoice, textModels, tryDraft } from '../../desk/voice.ts';
import { revisionOf } from '../../db/revision.ts';
import { voiceOf } from '../../store/users.ts';
import { brandEndpoint, id } from '../contract/endpoint.ts';
import { revision, seenRevision } from '../contract/schemas.ts';
import { Problem } from '../problem.ts';
import { placesAnswered } from './desk-answer.ts';

const modelSchema = z.object({ id, name: z.string() });

/** How a brand sounds when it answers, and drafts of text models. */
export const voiceEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/desk/voice',
    name: 'openVoice',
    says: 'How the brand sounds when it answers, and what it may tell.',
    may: 'see',
    answer: z.object({
      voice: voiceSchema,
      revision,
      usual: voiceSchema.meta({ description: 'As it is as long as nobody has said anything.' }),
      outlets: z.array(modelSchema).meta({ description: 'Where it answers.' }),
      models: z.array(modelSchema).meta({ description: 'The text models it can ask.' }),
    }),
    async run({ services, brand }) {
      const [voice, outlets, models] = await Promise.all([
        voiceOf(services.pool, brand.id),
        placesAnswered(services.pool, brand.id),
        textModels(services, brand.id),
      ]);
      const named = models.map(({ id: each, name }) => ({ id: each, name }));
      return { voice, revision: revisionOf(voice), usual: usualVoice(brand.locale), outlets, models: named };
    },
  }),
  brandEndpoint({
    method: 'put',
    path: '/desk/voice',
    name: 'keepVoice',
    says: 'Keeps how the brand sounds. What is drafted from now on is worded and checked by it.',
    may: 'run',
    body: z.object({ voice: voiceSchema, revision: seenRevision }),
    answer: null,
    async run({ services, brand, body: { voice, revision: seen } }) {
      if (tooManyFacts(voice).length > 0)
        throw new Problem(422, `The facts are too long to be told at once: ${MOST_FACTS} characters at most.`);
      await keepVoice(services, brand.id, voice, seen);
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/drafts/try',
    name: 'tryDraft',
    says: 'Has a text model draft something now, for seeing it; nothing is kept or sent to anybody.',
    may: 'compose',
    body: z.object({ outlet: id.meta({ description: 'The text model.' }), input: ACT_INPUTS.draft }),
    answer: draftedSchema,
    run: ({ services, brand, body: { outlet, input } }) => tryDraft(services, brand.id, outlet, input),
  }),
  brandEndpoint({
    method: 'post',
    path: '/desk/entries/{item}/draft',
    name: 'draftAnswer',
    says: 'Has a text model draft an answer to an entry, in the brand’s voice.',
    may: 'decide',
    params: z.object({ item: id }),
    body: z.object({
      model: id.optional().meta({ description: 'The first that the brand has when left out.' }),
      instruction: z.string().max(2000).default(''),
      before: z
        .number()
        .int()
        .min(0)
        .max(1000)
        .default(0)
        .meta({ description: 'Drafts before it: another is wanted.' }),
    }),
    answer: draftedSchema.extend({ model: z.string() }),
    run: ({ services, brand, params: { item }, body }) => draftEntry(services, brand.id, item, body),
  }),
];
