import type { Request, Response, Router } from 'express';
import { z } from 'zod';
import { apiOf, callerOf, Refusal, type Manner } from '../base/api.ts';
import type { Lagoon } from '../base/lagoon.ts';
import { graphemes } from '../base/text.ts';
import { Things, type Thing } from '../base/things.ts';
import { readMarkup } from './markup.ts';

const LONGEST = { text: 4000, caption: 1000 };

export interface Chat {
  /** Null for one that is entered by its invite link only. */
  handle: string | null;
  invite: string;
  title: string;
  type: 'channel' | 'group';
  subscribers: number;
  /** Bots that look after it. */
  admins: number[];
}
export interface Sent {
  /** Markup as it is shown. */
  shown: string;
  words: string;
  media: { type: 'picture' | 'audio' | 'file'; url: string } | null;
  poll: { question: string; options: string[] } | null;
  silent: boolean;
  preview: boolean;
  pinned: boolean;
  edited: boolean;
  forwardedFrom: string | null;
  bot: number;
}

const manner: Manner = {
  service: 'broadcast',
  title: 'Lagoon Broadcast',
  sign: { header: 'X-Bot-Token' },
  refuse: (res, status, error, description) => void res.status(status).json({ ok: false, error, description }),
};

/**
 * The interface of Lagoon Broadcast, for bots: one address for each thing to do. It neither recognises a repeated
 * request nor shows a bot what it has sent.
 */
export function broadcastApi(lagoon: Lagoon): Router {
  const { clock, config } = lagoon;
  const base = `${config.origin}/broadcast`;
  const chats = new Things<Chat>(lagoon, 'broadcast', 'chat');
  const messages = new Things<Sent>(lagoon, 'broadcast', 'message');
  const bots = new Things<{ name: string }>(lagoon, 'broadcast', 'bot');
  return apiOf(lagoon, manner, (routes) => {
    const done = (res: Response, result: unknown) => void res.json({ ok: true, result });
    const chatBy = async (text: string) => {
      const byInvite = async () =>
        (await chats.list({ most: 500 })).find((each) => each.body.invite === text.replace(/^\+/, ''));
      const found = text.startsWith('@')
        ? await chats.byKey(text.slice(1).toLowerCase())
        : text.startsWith('+')
          ? await byInvite()
          : await chats.get(text);
      if (!found) throw new Refusal(400, 'chat_not_found', 'There is no such channel or group.');
      return found;
    };
    const chatFor = async (text: string, res: Response) => {
      const chat = await chatBy(text);
      if (!chat.body.admins.includes(callerOf(res).bot ?? 0))
        throw new Refusal(403, 'not_administrator', 'The bot is not an administrator here.');
      return chat;
    };
    const view = (message: Thing<Sent>, chat: Thing<Chat>) => ({
      message_id: message.id,
      chat: { id: chat.id, title: chat.body.title },
      date: Math.floor(message.createdAt / 1000),
      link: `${base}/c/${chat.body.handle ?? chat.id}/${message.id}`,
    });
    const chat = z.string().min(1).max(200);
    const common = { chat, silent: z.boolean().default(false) };
    const text = (source: string, markup: boolean, longest: number) => {
      const read = markup ? readMarkup(source) : { shown: readPlain(source), words: source };
      if (typeof read === 'string') throw new Refusal(400, 'bad_markup', read);
      if (graphemes(read.words) > longest)
        throw new Refusal(400, 'too_long', `At most ${longest} characters; this has ${graphemes(read.words)}.`);
      return read;
    };
    const send = async (res: Response, where: string, sent: Omit<Sent, 'bot' | 'pinned' | 'edited'>) => {
      const to = await chatFor(where, res);
      const body: Sent = { ...sent, bot: callerOf(res).bot ?? 0, pinned: false, edited: false };
      const id = await messages.add(body, clock.now(), { parent: to.id });
      done(res, view((await messages.get(id))!, to));
    };
    const plain = { media: null, poll: null, forwardedFrom: null };

    routes.get('/me', async (_req, res) => {
      const bot = await bots.get(callerOf(res).bot);
      done(res, { id: callerOf(res).bot, name: bot?.body.name ?? 'A bot' });
    });
    routes.get('/chat', async (req, res) => {
      const found = await chatBy(String(req.query.chat ?? ''));
      const { handle, title, type, admins, subscribers } = found.body;
      const link = `${base}/c/${handle ?? found.id}`;
      done(res, {
        id: found.id,
        handle,
        title,
        type,
        subscribers,
        link,
        administrator: admins.includes(callerOf(res).bot ?? 0),
      });
    });
    routes.post('/send-text', async (req, res) => {
      const asked = z
        .object({
          ...common,
          text: z.string().trim().min(1),
          html: z.boolean().default(false),
          preview: z.boolean().default(true),
        })
        .parse(req.body);
      await send(res, asked.chat, {
        ...plain,
        ...text(asked.text, asked.html, LONGEST.text),
        silent: asked.silent,
        preview: asked.preview,
      });
    });
    for (const type of ['picture', 'audio', 'file'] as const) {
      routes.post(`/send-${type}`, async (req: Request, res: Response) => {
        const asked = z
          .object({ ...common, url: z.url(), caption: z.string().default(''), html: z.boolean().default(false) })
          .parse(req.body);
        await send(res, asked.chat, {
          ...plain,
          ...text(asked.caption, asked.html, LONGEST.caption),
          media: { type, url: asked.url },
          silent: asked.silent,
          preview: false,
        });
      });
    }
    routes.post('/send-poll', async (req, res) => {
      const asked = z
        .object({
          ...common,
          question: z.string().trim().min(1).max(300),
          options: z.array(z.string().trim().min(1).max(100)).min(2).max(10),
        })
        .parse(req.body);
      const poll = { question: asked.question, options: asked.options };
      await send(res, asked.chat, {
        ...plain,
        shown: '',
        words: asked.question,
        poll,
        silent: asked.silent,
        preview: false,
      });
    });
    const one = z.object({ chat, message_id: z.number().int() });
    const messageFor = async (asked: z.infer<typeof one>, res: Response) => {
      const where = await chatFor(asked.chat, res);
      const message = await messages.get(asked.message_id);
      if (message?.parent !== where.id) throw new Refusal(400, 'message_not_found', 'There is no such message here.');
      return { where, message };
    };
    routes.post('/edit', async (req, res) => {
      const asked = one.extend({ text: z.string().trim().min(1), html: z.boolean().default(false) }).parse(req.body);
      const { where, message } = await messageFor(asked, res);
      const longest = message.body.media ? LONGEST.caption : LONGEST.text;
      await messages.change(
        message.id,
        { ...message.body, ...text(asked.text, asked.html, longest), edited: true },
        clock.now(),
      );
      done(res, view(message, where));
    });
    routes.post('/delete', async (req, res) => {
      const { message } = await messageFor(one.parse(req.body), res);
      await messages.remove(message.id);
      done(res, true);
    });
    for (const pinned of [true, false]) {
      routes.post(pinned ? '/pin' : '/unpin', async (req: Request, res: Response) => {
        const { where, message } = await messageFor(one.parse(req.body), res);
        await messages.change(message.id, { ...message.body, pinned }, clock.now());
        done(res, view(message, where));
      });
    }
    routes.post('/forward', async (req, res) => {
      const asked = one.extend({ to: chat }).parse(req.body);
      const { where, message } = await messageFor(asked, res);
      await send(res, asked.to, { ...message.body, forwardedFrom: where.body.title });
    });
  });
}

const readPlain = (text: string) =>
  text.replace(/[&<>"']/g, (char) => `&#${char.charCodeAt(0)};`).replace(/\n/g, '<br>');
