import { Router } from 'express';
import { simpleParser } from 'mailparser';
import { SMTPServer } from 'smtp-server';
import { html, prose, when } from '../base/html.ts';
import type { Lagoon } from '../base/lagoon.ts';
import { show } from '../base/screen.ts';
import { Things } from '../base/things.ts';

const TITLE = 'Lagoon Mail';
const LARGEST = 5 * 1024 * 1024;

export interface Letter {
  to: string[];
  from: string;
  subject: string;
  text: string;
  messageId: string;
}

/** Lagoon Mail: a mailbox that receives real SMTP (RFC 5321), and a page to read it. */
export function mailRoutes(lagoon: Lagoon): Router {
  const letters = new Things<Letter>(lagoon, 'mail', 'letter');
  const router = Router();
  router.get('/', (req, res) =>
    show(lagoon, TITLE, req, res, 'Mailbox', async () => {
      const all = await letters.list({ most: 100 });
      return html`<h1>Mailbox</h1>
        ${all.length ? '' : html`<p class="soft">No letters yet.</p>`}
        ${all.map(
          (letter) =>
            html`<article class="box" data-letter="${letter.id}">
              <b>${letter.body.subject}</b> <span class="soft">${when(letter.createdAt, lagoon.clock.now())}</span>
              <p class="soft">from ${letter.body.from} to ${letter.body.to.join(', ')}</p>
              <div>${prose(letter.body.text)}</div>
            </article>`,
        )}`;
    }),
  );
  return router;
}

/**
 * The server that takes letters. Whoever sends has to sign in.
 *
 * @param cannotListen told when the port cannot be had
 */
export function startMail(lagoon: Lagoon, port: number, cannotListen: (error: Error) => void): SMTPServer {
  const letters = new Things<Letter>(lagoon, 'mail', 'letter');
  const server = new SMTPServer({
    banner: TITLE,
    authMethods: ['PLAIN', 'LOGIN'],
    // On loopback only, where there is nobody to listen in.
    allowInsecureAuth: true,
    disabledCommands: ['STARTTLS'],
    size: LARGEST,
    onAuth({ username, password }, _session, answer) {
      if (username && password === 'letters') answer(null, { user: username });
      else answer(new Error('These credentials are not known.'));
    },
    onRcptTo({ address }, _session, answer) {
      if (/^nobody@/i.test(address)) {
        const error = new Error('There is no such mailbox here.') as Error & { responseCode: number };
        error.responseCode = 550;
        return answer(error);
      }
      answer();
    },
    onData(stream, session, answer) {
      simpleParser(stream)
        .then((mail) =>
          letters.add(
            {
              to: session.envelope.rcptTo.map(({ address }) => address),
              from: session.envelope.mailFrom ? session.envelope.mailFrom.address : '',
              subject: mail.subject ?? '',
              text: mail.text ?? '',
              messageId: mail.messageId ?? '',
            },
            lagoon.clock.now(),
          ),
        )
        .then(() => answer())
        .catch((error: Error) => answer(error));
    },
  });
  server.on('error', (error) => {
    // A connection that breaks off is nothing; a port that is taken means that no letter ever arrives.
    if ((error as NodeJS.ErrnoException).syscall === 'listen') cannotListen(error);
    else console.error('Lagoon Mail:', error.message);
  });
  server.listen(port, '127.0.0.1');
  return server;
}
