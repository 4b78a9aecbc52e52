// Signing in and out. What a password lets in is a session, known by a cookie.
import { randomBytes } from 'node:crypto';
import argon2 from 'argon2';
import type { Request, Response } from 'express';
import { z } from 'zod';
import type { Services } from '../../base/services.ts';
import { DEMO_EMAIL } from '../../demo/people.ts';
import * as users from '../../store/users.ts';
import { forgetTries, returnTry, takeTry } from '../../store/sign-in-tries.ts';
import { hashPassword } from '../../vault/password.ts';
import { openEndpoint } from '../contract/endpoint.ts';
import type { ChangeTail } from '../events.ts';
import { Problem } from '../problem.ts';
import { cookieOf, DEVICE_COOKIE, SESSION_COOKIE, sessionHashOf, tokenHash } from '../visitor.ts';

const SESSION_LIFE = 14 * 86_400_000;
const DEVICE_LIFE = 365 * 86_400_000;
/**
 * How fast passwords may be tried: at one person from devices that never signed in, from one place, and at one person
 * from a device of theirs. Nobody is locked out: whoever tries on gets another try after a while, and whoever tries at
 * somebody else slows down neither their devices nor them elsewhere.
 */
const TRIES = {
  person: { most: 6, another: 20_000 },
  place: { most: 40, another: 1000 },
  device: { most: 10, another: 5000 },
} as const;

const newToken = () => randomBytes(32).toString('base64url');

// Checked when there is no such person, so that the time taken does not tell.
let nobody: Promise<string> | undefined;

const cookie = ({ config }: Services, life: number) => ({
  httpOnly: true,
  sameSite: 'lax' as const,
  secure: config.origin.startsWith('https:'),
  maxAge: life,
  path: '/',
});

async function beginSession(services: Services, res: Response, userId: number): Promise<void> {
  const token = newToken();
  const now = services.clock();
  await users.addSession(services.pool, {
    tokenHash: tokenHash(token),
    userId,
    csrf: newToken(),
    now,
    expiresAt: now + SESSION_LIFE,
  });
  res.cookie(SESSION_COOKIE, token, cookie(services, SESSION_LIFE));
}

/** @throws Problem 429 where that was tried too often, 401 where the two do not belong together */
async function checkPassword(services: Services, req: Request, email: string, password: string) {
  const { pool, clock } = services;
  const now = clock();
  const device = cookieOf(req, DEVICE_COOKIE);
  const known = device !== undefined && (await users.knowsDevice(pool, tokenHash(device), email));
  const scopes = known
    ? ([[`device ${device} ${email.toLowerCase()}`, TRIES.device]] as const)
    : ([
        [`person ${email.toLowerCase()}`, TRIES.person],
        [`place ${req.ip ?? ''}`, TRIES.place],
      ] as const);
  for (const [scope, rule] of scopes) {
    const wait = await takeTry(pool, scope, rule, now);
    if (wait === 0) continue;
    const seconds = Math.ceil(wait / 1000);
    req.res?.set('Retry-After', String(seconds));
    throw new Problem(429, `That was tried very often. Try again in ${seconds} s; what you typed is kept.`);
  }
  const user = await users.userByEmail(pool, email);
  nobody ??= hashPassword(randomBytes(12).toString('hex'));
  const right = await argon2.verify(user?.passwordHash ?? (await nobody), password);
  if (!user || !right) throw new Problem(401, 'The address and the password do not belong together.');
  const [own, place] = scopes;
  await forgetTries(pool, own[0]);
  if (place) await returnTry(pool, place[0], place[1]);
  return { user, device: known ? device : newToken() };
}

/** @param tail ends the streams of sessions that are over */
export const signInEndpoints = (tail: Pick<ChangeTail, 'endSessions'>) => [
  openEndpoint({
    method: 'get',
    path: '/sign-in/ways',
    name: 'listSignInWays',
    says: 'Whether there is a door without a key: only the demonstration has one.',
    answer: z.object({ demo: z.boolean() }),
    run: async ({ services }) => ({ demo: services.config.demo }),
  }),
  openEndpoint({
    method: 'post',
    path: '/sign-in',
    name: 'signIn',
    says: 'Begins a session, known by a cookie.',
    body: z.object({ email: z.string().max(254), password: z.string().max(500) }),
    answer: null,
    refuses: { 401: 'The address and the password do not belong together.', 429: 'That was tried very often.' },
    async run({ services, body: { email, password }, req, res }) {
      const { user, device } = await checkPassword(services, req, email, password);
      await users.keepDevice(services.pool, tokenHash(device), user.id, services.clock());
      res.cookie(DEVICE_COOKIE, device, cookie(services, DEVICE_LIFE));
      await beginSession(services, res, user.id);
    },
  }),
  openEndpoint({
    method: 'post',
    path: '/sign-in/demo',
    name: 'signInToDemo',
    says: 'Begins a session of the demonstration’s own person; elsewhere there is no such door.',
    answer: null,
    refuses: { 404: 'This is no demonstration.', 503: 'It is still being set up.' },
    async run({ services, res }) {
      if (!services.config.demo) throw new Problem(404, 'There is nothing at this address.');
      const user = await users.userByEmail(services.pool, DEMO_EMAIL);
      if (!user) throw new Problem(503, 'The demonstration is still being set up. Try again in a moment.');
      await beginSession(services, res, user.id);
    },
  }),
  openEndpoint({
    method: 'post',
    path: '/sign-out',
    name: 'signOut',
    says: 'Ends the session of whoever asks, if there is one.',
    answer: null,
    async run({ services, req, res }) {
      const session = sessionHashOf(req);
      if (session) {
        await users.endSession(services.pool, session);
        tail.endSessions([session]);
      }
      res.clearCookie(SESSION_COOKIE, { path: '/' });
    },
  }),
];
