import type { Router } from 'express';
import { z } from 'zod';
import { apiOf, callerOf, Refusal, type Manner } from '../base/api.ts';
import type { Lagoon } from '../base/lagoon.ts';
import { Things, type Thing } from '../base/things.ts';
import type { Channel, RoomMessage, RoomStore } from './store.ts';

const LONGEST = { text: 2000, title: 200, card: 3000 };
/** A repeated nonce is recognised for as long as this. */
const NONCE_LIFE = 10 * 60_000;

const manner: Manner = {
  service: 'rooms',
  title: 'Lagoon Rooms',
  sign: { header: 'Authorization', scheme: 'Bot' },
  refuse: (res, status, code, message) => void res.status(status).json({ code, message }),
};

/** The interface of Lagoon Rooms, for bots. A nonce keeps a message from being said twice, but only for a while. */
export function roomsApi(lagoon: Lagoon, store: RoomStore): Router {
  const { clock, config } = lagoon;
  const base = `${config.origin}/rooms`;
  const nonces = new Things<{ message: number }>(lagoon, 'rooms', 'nonce');
  return apiOf(lagoon, manner, (routes) => {
    const channelFor = async (id: unknown, bot: number, permission: string) => {
      const channel = await store.channels.get(id);
      const allowed = channel && (await store.permissionsOf(channel.parent!, bot));
      if (!channel || !allowed)
        throw new Refusal(404, 'unknown_channel', 'There is no such channel, or the bot was not invited there.');
      if (!allowed.includes(permission))
        throw new Refusal(
          403,
          'missing_permission',
          `The bot may not ${permission} here. Whoever looks after the community can allow it.`,
        );
      if (permission === 'write' && channel.body.readOnly)
        throw new Refusal(403, 'read_only', 'Bots may not write in this channel.');
      return { channel, allowed };
    };
    const view = (message: Thing<RoomMessage>) => ({
      id: String(message.id),
      author: message.body.by,
      by_bot: message.body.bot === null ? null : String(message.body.bot),
      content: message.body.text,
      card: message.body.card,
      url: `${base}/c/${message.parent}#${message.id}`,
      timestamp: new Date(message.createdAt).toISOString(),
    });
    const channelView = (channel: Thing<Channel>, allowed: string[]) => ({
      id: String(channel.id),
      name: channel.body.name,
      url: `${base}/c/${channel.id}`,
      permissions: channel.body.readOnly ? allowed.filter((each) => each === 'read') : allowed,
      read_only: channel.body.readOnly,
    });

    routes.get('/bot', async (_req, res) => {
      const { bot } = callerOf(res);
      const found = await store.bots.get(bot);
      res.json({ id: String(bot), name: found?.body.name ?? 'A bot' });
    });
    routes.get('/bot/communities', async (_req, res) => {
      const bot = callerOf(res).bot ?? 0;
      const communities = await store.communities.list({ order: 'oldest', most: 200 });
      const shown = await Promise.all(
        communities.map(async (community) => {
          const allowed = await store.permissionsOf(community.id, bot);
          if (!allowed) return [];
          const [channels, groups] = await Promise.all([
            store.channels.list({ parent: community.id, order: 'oldest', most: 200 }),
            store.groups.list({ parent: community.id, order: 'oldest', most: 200 }),
          ]);
          return [
            {
              id: String(community.id),
              name: community.body.name,
              channels: channels.map((channel) => channelView(channel, allowed)),
              groups: groups.map((group) => ({ id: String(group.id), name: group.body.name })),
            },
          ];
        }),
      );
      res.json({ communities: shown.flat() });
    });
    routes.get('/channels/:id', async (req, res) => {
      const { channel, allowed } = await channelFor(req.params.id, callerOf(res).bot ?? 0, 'read');
      res.json(channelView(channel, allowed));
    });
    routes.get('/channels/:id/messages', async (req, res) => {
      const { channel } = await channelFor(req.params.id, callerOf(res).bot ?? 0, 'read');
      const before = Number(req.query.before) || undefined;
      const found = await store.messages.list({ parent: channel.id, before, most: 50 });
      res.json(found.map(view));
    });
    routes.post('/channels/:id/messages', async (req, res) => {
      const card = z.object({
        title: z.string().max(LONGEST.title),
        text: z.string().max(LONGEST.card).default(''),
        colour: z
          .string()
          .regex(/^#[0-9a-f]{6}$/i)
          .nullish(),
        picture: z.url().nullish(),
        link: z.url().nullish(),
      });
      const asked = z
        .object({
          content: z.string().max(LONGEST.text).default(''),
          card: card.nullish(),
          mention_groups: z.array(z.string()).max(10).default([]),
          nonce: z.string().max(190).optional(),
        })
        .parse(req.body);
      const bot = callerOf(res).bot ?? 0;
      const { channel, allowed } = await channelFor(req.params.id, bot, 'write');
      if (!asked.content.trim() && !asked.card) throw new Refusal(400, 'empty', 'A message needs words or a card.');
      if (asked.mention_groups.length && !allowed.includes('mention'))
        throw new Refusal(403, 'missing_permission', 'The bot may not mention groups here.');
      const groups = (await store.groups.list({ parent: channel.parent!, most: 200 })).map((group) => group.id);
      const unknown = asked.mention_groups.find((group) => !groups.includes(Number(group)));
      if (unknown) throw new Refusal(404, 'unknown_group', 'There is no such group in this community.');
      const nonceKey = asked.nonce && `${bot}:${channel.id}:${asked.nonce}`;
      const said = nonceKey ? await nonces.byKey(nonceKey) : undefined;
      if (said && said.createdAt > clock.now() - NONCE_LIFE) {
        const before = await store.messages.get(said.body.message);
        if (before) return void res.json(view(before));
      }
      const by = (await store.bots.get(bot))?.body.name ?? 'A bot';
      const body: RoomMessage = {
        by,
        bot,
        text: asked.content,
        card: asked.card
          ? {
              title: asked.card.title,
              text: asked.card.text,
              colour: asked.card.colour ?? null,
              picture: asked.card.picture ?? null,
              link: asked.card.link ?? null,
            }
          : null,
        groups: asked.mention_groups.map(Number),
      };
      const id = await store.messages.add(body, clock.now(), { parent: channel.id });
      if (nonceKey && !said) await nonces.add({ message: id }, clock.now(), { key: nonceKey });
      res.json(view((await store.messages.get(id))!));
    });
    const ownMessage = async (channel: string, id: string, bot: number) => {
      await channelFor(channel, bot, 'write');
      const message = await store.messages.get(id);
      if (!message || String(message.parent) !== channel || message.body.bot !== bot)
        throw new Refusal(404, 'unknown_message', 'There is no such message of this bot.');
      return message;
    };
    routes.patch('/channels/:channel/messages/:id', async (req, res) => {
      const { content } = z.object({ content: z.string().trim().min(1).max(LONGEST.text) }).parse(req.body);
      const message = await ownMessage(req.params.channel, req.params.id, callerOf(res).bot ?? 0);
      await store.messages.change(message.id, { ...message.body, text: content }, clock.now());
      res.json(view((await store.messages.get(message.id))!));
    });
    routes.delete('/channels/:channel/messages/:id', async (req, res) => {
      const message = await ownMessage(req.params.channel, req.params.id, callerOf(res).bot ?? 0);
      await store.messages.remove(message.id);
      res.status(204).end();
    });
  });
}
