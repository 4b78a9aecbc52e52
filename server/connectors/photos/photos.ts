import { z } from 'zod';
import { call, cannot, jsonBody, orGone } from '../answers.ts';
import type { Connector } from '../connector.ts';
import { NetworkTrouble } from '../connector.ts';
import { commentSchema, manner, photoSchema, profileSchema, result, type Profile } from './shapes.ts';
import { photoWatches } from './watches.ts';

const at = (seconds: number) => Math.round(seconds * 1000);
const path = (id: string) => encodeURIComponent(id);
const account = z.object({ id: z.string(), fullName: z.string(), profiles: z.array(profileSchema) });
const outletOf = (profile: Profile) => ({
  kind: 'photos' as const,
  remoteId: profile.id,
  name: `@${profile.handle}`,
  address: profile.page,
  feed: null,
});

/** Photo networks: photos with captions, comments, messages. Applications may only work with business profiles. */
export const photos: Connector = {
  kind: 'photos',
  purpose: 'photos',
  signIn: {
    by: 'consent',
    authorize: '/oauth/authorize',
    token: '/oauth/token',
    revoke: '/oauth/revoke',
    scopes: {
      profiles: 'list your profiles',
      photos: 'post photos',
      comments: 'read, answer and like comments',
      messages: 'read and write messages',
    },
  },
  allowance: { calls: 4000, per: 'hour' },
  limits: { account: { capacity: 10, perSecond: 0.5 } },

  async whoAmI(session) {
    const me = await call(session, '/api/account', result(account), manner);
    return { remoteId: me.result.id, name: me.result.fullName };
  },

  async outlets(session) {
    return (await call(session, '/api/account', result(account), manner)).result.profiles.map(outletOf);
  },

  async check(session, outlet) {
    try {
      await call(session, `/api/profiles/${path(outlet)}`, result(profileSchema), manner);
      return { ok: true };
    } catch (error) {
      if (!(error instanceof NetworkTrouble) || error.kind !== 'fix') throw error;
      return {
        ok: false,
        trouble: error.message,
        remedy: 'Make it a business profile in its settings at the network, then check again.',
      };
    }
  },

  watches: photoWatches,

  acts: {
    publish: {
      repeats: 'findable',
      async send(session, outlet, input) {
        const picture = input.media?.find(({ type }) => type === 'picture');
        if (!picture) throw new NetworkTrouble('fix', 'A photo needs a picture.');
        const { result: photo } = await call(session, `/api/profiles/${path(outlet)}/photos`, result(photoSchema), {
          ...manner,
          ...jsonBody({ pictureUrl: picture.url, caption: input.text, altText: picture.alt }),
          method: 'POST',
          writes: true,
        });
        return { remoteId: photo.id, url: photo.page, at: at(photo.takenAt) };
      },
      async find(session, outlet, input, since) {
        const schema = result(z.object({ photos: z.array(photoSchema) }));
        const picture = input.media?.find(({ type }) => type === 'picture');
        const { photos: all } = (await call(session, `/api/profiles/${path(outlet)}/photos?count=100`, schema, manner))
          .result;
        const photo = all.find(
          (each) =>
            each.caption === input.text && each.pictureUrl === picture?.url && at(each.takenAt) >= since - 60_000,
        );
        return photo && { remoteId: photo.id, url: photo.page, at: at(photo.takenAt) };
      },
    },

    reply: {
      repeats: 'findable',
      async standing(session, _outlet, input) {
        const at = `/api/comments/${path(input.to)}`;
        const comment = await orGone(call(session, at, result(commentSchema), manner));
        if (!comment) return undefined;
        const schema = result(z.object({ replies: z.array(commentSchema.extend({ byUs: z.boolean() })) }));
        const { replies } = (await call(session, `${at}/replies`, schema, manner)).result;
        return { text: comment.result.text, answers: replies.filter((each) => each.byUs).map((each) => each.text) };
      },
      async send(session, _outlet, input) {
        const { result: comment } = await call(
          session,
          `/api/comments/${path(input.to)}/replies`,
          result(commentSchema),
          { ...manner, ...jsonBody({ text: input.text }), method: 'POST', writes: true },
        );
        return { remoteId: comment.id, url: comment.page, at: at(comment.writtenAt) };
      },
      async find(session, _outlet, input, since) {
        const schema = result(z.object({ replies: z.array(commentSchema.extend({ byUs: z.boolean() })) }));
        const { replies } = (await call(session, `/api/comments/${path(input.to)}/replies`, schema, manner)).result;
        const found = replies.find(
          (each) => each.byUs && each.text === input.text && at(each.writtenAt) >= since - 60_000,
        );
        return found && { remoteId: found.id, url: found.page, at: at(found.writtenAt) };
      },
    },

    // The network knows a message again by its ref.
    message: {
      repeats: 'keyed',
      async send(session, outlet, input, key) {
        const schema = result(z.object({ id: z.string(), sentAt: z.number() }));
        const { result: sent } = await call(session, `/api/profiles/${path(outlet)}/messages`, schema, {
          ...manner,
          ...jsonBody({ to: input.to, text: input.text, ref: key }),
          method: 'POST',
          writes: true,
        });
        return { remoteId: sent.id, url: null, at: at(sent.sentAt) };
      },
    },

    // To like twice is to like once.
    react: {
      repeats: 'keyed',
      async send(session, _outlet, input) {
        const options = { ...manner, method: 'PUT' as const, writes: true };
        await call(session, `/api/comments/${path(input.to)}/like`, result(z.unknown()), options);
        return { remoteId: '', url: null, at: session.now() };
      },
    },

    revise: {
      offers: ['delete'],
      repeats: 'keyed',
      async send(session, _outlet, input) {
        if (input.change !== 'delete') throw cannot(session, input.change);
        const options = { ...manner, method: 'DELETE' as const, writes: true, gone: true };
        const what = input.post.startsWith('c') ? 'comments' : 'photos';
        await call(session, `/api/${what}/${path(input.post)}`, z.unknown(), options);
        return { remoteId: input.post, url: null, at: session.now() };
      },
    },
  },
};
