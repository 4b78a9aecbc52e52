import { z } from 'zod';
import { escapeHtml } from '@playa/core/captions/write/html.ts';
import type { Outcome, PublishInput } from '@playa/core/model/acts.ts';
import { call, jsonBody, webAddress, type CallOptions } from '../answers.ts';
import { NetworkTrouble, type Connector, type RemoteOutlet, type Session } from '../connector.ts';
import { chatAddress } from './addresses.ts';

const ok = <T>(schema: z.ZodType<T>) => z.object({ ok: z.literal(true), result: schema });
const chatSchema = z.object({
  id: z.number().int(),
  title: z.string(),
  type: z.enum(['channel', 'group']),
  link: webAddress,
  administrator: z.boolean(),
});
const sentSchema = z.object({ message_id: z.number().int(), date: z.number(), link: webAddress });
const errorSchema = z.object({ ok: z.literal(false), error: z.string(), description: z.string().max(500) });
const manner: CallOptions = {
  show: (token) => ({ 'x-bot-token': token }),
  message: (body) => errorSchema.safeParse(body).data?.description,
};

const chatOf = async (session: Session, address: string) =>
  (await call(session, `/bot/chat?chat=${encodeURIComponent(address)}`, ok(chatSchema), manner)).result;

const outletOf = (chat: z.infer<typeof chatSchema>): RemoteOutlet => ({
  kind: 'broadcast',
  remoteId: String(chat.id),
  name: chat.title,
  address: chat.link,
  feed: null,
});

async function ask(session: Session, what: string, body: object): Promise<Outcome> {
  const options = { ...manner, ...jsonBody(body), method: 'POST' as const, writes: true };
  const { result } = await call(session, `/bot/${what}`, ok(sentSchema), options);
  return { remoteId: String(result.message_id), url: result.link, at: result.date * 1000 };
}

/** The words in the network's markup; as they are where nothing is formatted. */
const markupOf = ({ text, markup }: { text: string; markup?: string | undefined }) => markup ?? escapeHtml(text);

function send(session: Session, chat: string, input: PublishInput): Promise<Outcome> {
  const common = { chat, silent: input.silent ?? false, html: true };
  const media = input.media?.find(({ type }) => type !== 'video');
  if (media) return ask(session, `send-${media.type}`, { ...common, url: media.url, caption: markupOf(input) });
  return ask(session, 'send-text', { ...common, text: markupOf(input), preview: input.preview ?? true });
}

/**
 * Broadcast networks: a bot sends to channels and groups in which it is an administrator. It neither knows a request
 * again nor shows what was sent, so after an unknown outcome a person has to look.
 */
export const broadcast: Connector = {
  kind: 'broadcast',
  purpose: 'broadcasting',
  signIn: {
    by: 'form',
    help: 'Make a bot at the network, make it an administrator of your channel, and copy its token.',
    fields: [{ name: 'token', label: 'Token of the bot', secret: true }],
  },
  limits: { account: { capacity: 20, perSecond: 1 }, outlet: { capacity: 5, perSecond: 0.3 } },
  allowance: { calls: 2000, per: 'hour' },

  async whoAmI(session) {
    const schema = ok(z.object({ id: z.number().int(), name: z.string() }));
    const { result } = await call(session, '/bot/me', schema, manner);
    return { remoteId: String(result.id), name: result.name };
  },

  // A bot is not told where it is. What was added by its address is looked at again.
  async outlets(session, known) {
    const chats = known.map(async (id) => {
      try {
        return [outletOf(await chatOf(session, id))];
      } catch (error) {
        if (error instanceof NetworkTrouble && error.kind === 'fix') return [];
        throw error;
      }
    });
    return (await Promise.all(chats)).flat();
  },

  openHint: '@ternbaywater, the address of the channel, or an invite link',
  async open(session, pasted) {
    const address = chatAddress(pasted);
    return address === undefined ? undefined : outletOf(await chatOf(session, address));
  },

  async check(session, outlet) {
    const chat = await chatOf(session, outlet);
    if (chat.administrator) return { ok: true };
    return { ok: false, trouble: 'The bot is not an administrator here.', remedy: 'Add it, then check again.' };
  },

  acts: {
    publish: { repeats: 'blind', send },
    revise: {
      offers: ['edit', 'delete', 'pin', 'unpin', 'forward'],
      // To edit, pin or delete again changes nothing; to forward again would be seen twice.
      repeats: 'blind',
      async send(session, chat, input) {
        const body = { chat, message_id: Number(input.post) };
        if (input.change === 'edit')
          return ask(session, 'edit', {
            ...body,
            text: markupOf({ text: input.text ?? '', markup: input.markup }),
            html: true,
          });
        if (input.change === 'forward') return ask(session, 'forward', { ...body, to: input.toRemote });
        if (input.change !== 'delete') return ask(session, input.change, body);
        const options = { ...manner, ...jsonBody(body), method: 'POST' as const, writes: true, gone: true };
        await call(session, '/bot/delete', z.unknown(), options);
        return { remoteId: input.post, url: null, at: session.now() };
      },
    },
  },
};
