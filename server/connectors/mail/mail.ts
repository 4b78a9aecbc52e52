import { cutUnits } from '@playa/core/text/graphemes.ts';
import { createTransport, type Transporter } from 'nodemailer';
import { z } from 'zod';
import { isPublic } from '../../guard/addresses.ts';
import { FetchTrouble } from '../../guard/guard.ts';
import { NetworkTrouble, type Connector, type Session } from '../connector.ts';

const filledIn = z.object({
  server: z.string().default(''),
  user: z.string(),
  password: z.string(),
  from: z.email(),
});

/** A subject has at most so many characters (RFC 5322 section 2.1.1: a line should have no more than 78). */
const SUBJECT = 78;

/** The mail server: what was filled in, or the one this installation is set up with. */
function serverOf(session: Session, server: string): { host: string; port: number } {
  const url = server ? `smtp://${server.replace(/^smtps?:\/\//, '')}` : session.network.base;
  if (!URL.canParse(url)) throw new NetworkTrouble('fix', 'The mail server is not an address.');
  const { hostname, port } = new URL(url);
  return { host: hostname, port: Number(port) || 587 };
}

async function withServer<T>(session: Session, work: (mail: Transporter, from: string) => Promise<T>): Promise<T> {
  session.spent?.();
  const { server, user, password, from } = filledIn.parse(JSON.parse(await session.token()));
  const { host, port } = serverOf(session, server);
  let address: string;
  try {
    // The same rule as for the web: nothing inside a private network but what the operator allows.
    address = await session.guard.resolve(host, port);
  } catch (error) {
    if (error instanceof FetchTrouble)
      throw new NetworkTrouble(error.kind === 'refused' ? 'fix' : 'retry', error.message);
    throw error;
  }
  const mail = createTransport({
    host: address,
    port,
    secure: port === 465,
    // The password goes over a network only where nobody can read it; the operator's own machine is let through.
    requireTLS: isPublic(address),
    auth: { user, pass: password },
    tls: { servername: host },
    connectionTimeout: 8000,
    greetingTimeout: 8000,
    socketTimeout: session.answerWithin,
  });
  try {
    return await work(mail, from);
  } catch (error) {
    throw mailTrouble(session.network.name, error);
  } finally {
    mail.close();
  }
}

/** What an answer of the mail server means (RFC 5321 section 4.2.1: 4 is for now, 5 for good). */
function mailTrouble(name: string, error: unknown): NetworkTrouble {
  if (error instanceof NetworkTrouble) return error;
  const { code, responseCode, command, response } = error as {
    code?: string;
    responseCode?: number;
    command?: string;
    response?: string;
  };
  if (code === 'EAUTH') return new NetworkTrouble('reconnect', `${name} does not accept the user and password.`);
  if (responseCode !== undefined && responseCode >= 500)
    return new NetworkTrouble('fix', `${name} refuses the letter: ${response ?? responseCode}`, { definite: true });
  if (responseCode !== undefined && responseCode >= 400)
    return new NetworkTrouble('wait', `${name} cannot take the letter at the moment.`, { definite: true });
  // Once the letter itself was on its way, silence may mean that it arrived.
  if (command === 'DATA') return new NetworkTrouble('unknown', `${name} did not say whether it took the letter.`);
  return new NetworkTrouble('retry', `${name} cannot be reached.`);
}

/** Mail by SMTP (RFC 5321). A letter that was handed over cannot be looked for. */
export const mail: Connector = {
  kind: 'mail',
  purpose: 'letters',
  signIn: {
    by: 'form',
    help: 'The mail server and the mailbox that letters are sent from, as your mail program has them.',
    fields: [
      { name: 'server', label: 'Mail server', secret: false, hint: 'mail.example.org:587', optional: true },
      { name: 'user', label: 'User', secret: false },
      { name: 'password', label: 'Password', secret: true },
      { name: 'from', label: 'Address of the mailbox', secret: false },
    ],
  },
  limits: { account: { capacity: 20, perSecond: 0.5 } },

  async whoAmI(session) {
    return withServer(session, async (transport, from) => {
      await transport.verify();
      return { remoteId: from, name: from };
    });
  },

  async outlets(session) {
    const { from } = filledIn.parse(JSON.parse(await session.token()));
    return [{ kind: 'mailbox', remoteId: from, name: from, address: null, feed: null }];
  },

  acts: {
    message: {
      repeats: 'blind',
      async send(session, _mailbox, input, key) {
        if (!z.email().safeParse(input.to).success)
          throw new NetworkTrouble('fix', `“${input.to}” is not a mail address.`, { definite: true });
        return withServer(session, async (transport, from) => {
          const [first = ''] = input.text.split('\n');
          const sent = await transport.sendMail({
            from,
            to: input.to,
            subject: cutUnits(input.subject || first, SUBJECT),
            text: input.text,
            // The same for every try, so that mailboxes that look for doubles find them.
            messageId: `<${key.replace(/[^\w.-]/g, '-')}@${from.split('@')[1]}>`,
          });
          return { remoteId: sent.messageId, url: null, at: session.now() };
        });
      },
    },
  },
};
