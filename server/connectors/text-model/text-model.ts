import { z } from 'zod';
import { call, jsonBody, type CallOptions } from '../answers.ts';
import type { Connector } from '../connector.ts';

const errorSchema = z.object({ error: z.object({ message: z.string().max(500) }) });
const manner: CallOptions = { message: (body) => errorSchema.safeParse(body).data?.error.message };
const modelsSchema = z.object({
  account: z.object({ id: z.string(), name: z.string() }),
  models: z.array(z.object({ id: z.string().min(1), name: z.string() })),
});

/** Text models that word what they are asked to. Nothing is published, so asking again does no harm. */
export const textModel: Connector = {
  kind: 'text-model',
  purpose: 'drafting',
  signIn: {
    by: 'form',
    help: 'Make a key for applications in the settings of the text model.',
    fields: [{ name: 'token', label: 'Key', secret: true }],
  },
  allowance: { calls: 2000, per: 'day' },

  async whoAmI(session) {
    const { account } = await call(session, '/v1/models', modelsSchema, manner);
    return { remoteId: account.id, name: account.name };
  },

  async outlets(session) {
    const { models } = await call(session, '/v1/models', modelsSchema, manner);
    return models.map((model) => ({ kind: 'model', remoteId: model.id, name: model.name, address: null, feed: null }));
  },

  acts: {
    draft: {
      repeats: 'keyed',
      async send(session, model, input) {
        const body = {
          model,
          instruction: input.instruction,
          input: input.about,
          max_characters: input.longest,
          variety: input.variety,
          seed: input.seed,
        };
        const schema = z.object({
          id: z.string(),
          text: z.string(),
          usage: z.object({ read: z.number(), written: z.number() }),
        });
        const drafted = await call(session, '/v1/drafts', schema, { ...manner, ...jsonBody(body), method: 'POST' });
        // A model does not always keep to what it was asked.
        const text = drafted.text.trim();
        return {
          remoteId: drafted.id,
          url: null,
          at: session.now(),
          result: { text, used: drafted.usage.read + drafted.usage.written },
        };
      },
    },
  },
};
