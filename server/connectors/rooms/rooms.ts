import { LINK, LONG_TEXT, MOMENT, object, TEXT } from '@playa/core/shapes/shape.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { z } from 'zod';
import { escapeMarkdown } from '@playa/core/captions/write/markdown.ts';
import { call, cannot, jsonBody, pagesBack, webAddress, type CallOptions } from '../answers.ts';
import type { Connector, RemoteOutlet, Session } from '../connector.ts';

const channelSchema = z.object({
  id: z.string().min(1),
  name: z.string(),
  url: webAddress,
  permissions: z.array(z.string()),
  read_only: z.boolean(),
});
const communitiesSchema = z.object({
  communities: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      channels: z.array(channelSchema),
      groups: z.array(z.object({ id: z.string(), name: z.string() })),
    }),
  ),
});
const messageSchema = z.object({
  id: z.string().min(1),
  author: z.string(),
  by_bot: z.string().nullable(),
  content: z.string(),
  card: z.object({ title: z.string(), text: z.string() }).nullable(),
  url: webAddress,
  timestamp: z.iso.datetime().transform((text) => Date.parse(text)),
});
type Message = z.infer<typeof messageSchema>;
const errorSchema = z.object({ message: z.string().max(500) });
const manner: CallOptions = {
  show: (token) => ({ authorization: `Bot ${token}` }),
  message: (body) => errorSchema.safeParse(body).data?.message,
};
const outcomeOf = (message: Message) => ({ remoteId: message.id, url: message.url, at: message.timestamp });
const messagesAt = (outlet: string) => `/api/channels/${encodeURIComponent(outlet)}/messages`;

async function outletsOf(session: Session): Promise<RemoteOutlet[]> {
  const { communities } = await call(session, '/api/bot/communities', communitiesSchema, manner);
  return communities.flatMap((community) =>
    community.channels.map((channel): RemoteOutlet => ({
      kind: 'room',
      remoteId: channel.id,
      name: `#${channel.name} · ${community.name}`,
      address: channel.url,
      feed: null,
      details: { within: community.name, groups: community.groups },
    })),
  );
}

/** The message as rooms take it: in words, in a card, or both. Only words can call a group. */
function bodyOf(input: Parameters<NonNullable<Connector['acts']['publish']>['send']>[2], key?: string) {
  const show = input.show ?? 'text';
  const picture = input.media?.find(({ type }) => type === 'picture')?.url ?? null;
  const words = input.markup ?? escapeMarkdown(input.text);
  const first = input.text.split('\n', 1)[0] ?? '';
  const rest = words.split('\n').slice(1);
  const card =
    show === 'text'
      ? null
      : {
          title: cutUnits(input.title || first, 200) || 'News',
          text: input.title ? words : rest.join('\n').trim(),
          colour: input.colour ?? null,
          picture,
          link: input.card,
        };
  return {
    content: show === 'card' && !input.mention ? '' : show === 'card' ? ' ' : words,
    ...(card ? { card } : {}),
    mention_groups: input.mention ? [input.mention] : [],
    ...(key === undefined ? {} : { nonce: key }),
  };
}

/** Chat rooms: a bot writes texts and cards where it was invited, and may call groups. */
export const rooms: Connector = {
  kind: 'rooms',
  purpose: 'telling the team',
  signIn: {
    by: 'form',
    help: 'Make a bot at the network, invite it to your community with the permissions to read, write and mention, and copy its token.',
    fields: [{ name: 'token', label: 'Token of the bot', secret: true }],
  },
  limits: { account: { capacity: 20, perSecond: 1 }, outlet: { capacity: 5, perSecond: 0.5 } },
  allowance: { calls: 3000, per: 'hour' },

  async whoAmI(session) {
    const bot = await call(session, '/api/bot', z.object({ id: z.string(), name: z.string() }), manner);
    return { remoteId: bot.id, name: bot.name };
  },

  outlets: outletsOf,

  async check(session, outlet) {
    const { communities } = await call(session, '/api/bot/communities', communitiesSchema, manner);
    const channel = communities.flatMap((community) => community.channels).find((each) => each.id === outlet);
    if (!channel)
      return {
        ok: false,
        trouble: 'The bot is not invited here.',
        remedy: 'Invite it to the community, then check again.',
      };
    if (channel.read_only)
      return {
        ok: false,
        trouble: 'Only people may write in this room.',
        remedy: 'Choose another room, or let bots write here, then check again.',
      };
    const missing = ['read', 'write'].filter((each) => !channel.permissions.includes(each));
    if (missing.length === 0) return { ok: true };
    return {
      ok: false,
      trouble: `The bot may not ${missing.join(' and ')} here.`,
      remedy: 'Give it the permission where you look after the community, then check again.',
    };
  },

  watches: {
    messages: {
      things: 'messages',
      shows: ['publish'],
      outlet: 'room',
      shape: { text: LONG_TEXT, person: object({ name: TEXT }), published: MOMENT, link: LINK, id: TEXT },
      read: (session, outlet, seen) =>
        pagesBack<string>(seen, async (cursor) => {
          const page = await call(
            session,
            messagesAt(outlet) + (cursor ? `?before=${cursor}` : ''),
            z.array(messageSchema),
            manner,
          );
          return {
            cursor: page.length === 50 ? page.at(-1)!.id : null,
            // What bots say, this one among them, starts nothing.
            items: page
              .filter((message) => message.by_bot === null)
              .map((message) => ({
                identity: `message:${message.id}`,
                publishedAt: message.timestamp,
                fields: {
                  text: message.content,
                  person: { name: message.author },
                  published: new Date(message.timestamp).toISOString(),
                  link: message.url,
                  id: message.id,
                },
              })),
          };
        }),
    },
  },

  acts: {
    // A nonce is known again only for ten minutes, so after an unknown outcome the room is looked through.
    publish: {
      repeats: 'findable',
      async send(session, outlet, input, key) {
        const options = {
          ...manner,
          ...jsonBody(bodyOf(input, key.slice(-180))),
          method: 'POST' as const,
          writes: true,
        };
        return outcomeOf(await call(session, messagesAt(outlet), messageSchema, options));
      },
      async find(session, outlet, input, since) {
        const body = bodyOf(input);
        const recent = await call(session, messagesAt(outlet), z.array(messageSchema), manner);
        const found = recent.find(
          (message) =>
            message.by_bot !== null &&
            message.timestamp >= since - 60_000 &&
            message.content === body.content &&
            (message.card?.title ?? null) === (body.card?.title ?? null),
        );
        return found && outcomeOf(found);
      },
    },
    revise: {
      offers: ['edit', 'delete'],
      repeats: 'keyed',
      async send(session, outlet, input) {
        const at = `${messagesAt(outlet)}/${encodeURIComponent(input.post)}`;
        if (input.change === 'edit') {
          const options = {
            ...manner,
            ...jsonBody({ content: input.markup ?? escapeMarkdown(input.text ?? '') }),
            method: 'PATCH' as const,
            writes: true,
          };
          return outcomeOf(await call(session, at, messageSchema, options));
        }
        if (input.change !== 'delete') throw cannot(session, input.change);
        await call(session, at, z.unknown(), { ...manner, method: 'DELETE', writes: true, gone: true });
        return { remoteId: input.post, url: null, at: session.now() };
      },
    },
  },
};
