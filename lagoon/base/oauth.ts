// OAuth 2.0 for one service: authorisation code (RFC 6749 section 4.1) with PKCE, S256 only (RFC 7636), exact redirect
// addresses and rotating refresh tokens (RFC 9700 sections 2.1 and 4.14), revocation (RFC 7009).
import { createHash, timingSafeEqual } from 'node:crypto';
import { Router, urlencoded, type Request, type Response } from 'express';
import type { Clock } from './clock.ts';
import type { Client } from './config.ts';
import { rows, type Database } from './db.ts';
import { html, page } from './html.ts';
import { personOf, randomToken, type Person } from './people.ts';

export interface ServiceSignIn {
  service: string;
  title: string;
  /** What each scope allows, in the words of the consent page. */
  scopes: Record<string, string>;
}

export interface Access {
  person: Person;
  client: string;
  scopes: string[];
  grant: string;
}

const CODE_LIFE = 60_000;
const ACCESS_LIFE = 3_600_000;
const REFRESH_LIFE = 60 * 86_400_000;

export function oauthRoutes(db: Database, clock: Clock, clients: readonly Client[], signIn: ServiceSignIn): Router {
  const router = Router();
  const form = urlencoded({ extended: false });

  /** The request as far as it can be trusted; undefined after having answered. */
  function readRequest(query: Record<string, unknown>, res: Response) {
    const client = clients.find((each) => each.id === query.client_id);
    const redirect = String(query.redirect_uri ?? '');
    // Section 4.1.2.1: with a wrong client or address nobody may be sent anywhere.
    if (!client || !client.redirectUris.includes(redirect)) {
      res
        .status(400)
        .send(
          page(
            { service: signIn.title, title: 'Not allowed' },
            html`<p>
              This application is not known here, or asks to answer to an address that it has not registered.
            </p>`,
          ),
        );
      return undefined;
    }
    const back = (values: Record<string, string>) => {
      const url = new URL(redirect);
      for (const [name, value] of Object.entries(values)) url.searchParams.set(name, value);
      if (query.state) url.searchParams.set('state', String(query.state));
      res.redirect(303, url.href);
      return undefined;
    };
    if (query.response_type !== 'code') return back({ error: 'unsupported_response_type' });
    if (query.code_challenge_method !== 'S256' || !/^[\w-]{43}$/.test(String(query.code_challenge ?? ''))) {
      return back({ error: 'invalid_request', error_description: 'PKCE with S256 is required.' });
    }
    const scopes = String(query.scope ?? '')
      .split(' ')
      .filter(Boolean);
    if (scopes.length === 0 || scopes.some((scope) => !signIn.scopes[scope])) return back({ error: 'invalid_scope' });
    return { client, redirect, scopes, challenge: String(query.code_challenge), back };
  }

  router.get('/authorize', async (req, res) => {
    const asked = readRequest(req.query, res);
    if (!asked) return;
    const person = await personOf(db, req);
    if (!person) return void res.redirect(303, `/sign-in?next=${encodeURIComponent(req.originalUrl)}`);
    res.send(
      page(
        { service: signIn.title, title: 'Allow access', person: person.name, here: req.originalUrl },
        html`<div class="box">
          <h1>${asked.client.name} asks for access</h1>
          <p>It would act for <b>${person.name}</b> and may:</p>
          <ul>
            ${asked.scopes.map((scope) => html`<li>${signIn.scopes[scope]}</li>`)}
          </ul>
          <form method="post" action="">
            ${Object.entries(req.query).map(([name, value]) => html`<input type="hidden" name="${name}" value="${String(value)}" />`)}
            <div class="row">
              <button name="answer" value="yes">Allow</button
              ><button class="plain" name="answer" value="no">Refuse</button>
            </div>
          </form>
          <p class="soft">
            Not ${person.name}? <a href="/sign-in?next=${encodeURIComponent(req.originalUrl)}">Be someone else</a>.
          </p>
        </div>`,
      ),
    );
  });

  router.post('/authorize', form, async (req, res) => {
    const asked = readRequest(req.body ?? {}, res);
    if (!asked) return;
    const person = await personOf(db, req);
    if (!person) return void res.status(403).send('Sign in first.');
    if (req.body.answer !== 'yes') return asked.back({ error: 'access_denied' });
    const code = randomToken();
    await db.query(
      'INSERT INTO codes (code, service, client_id, person_id, redirect_uri, challenge, scope, expires_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?)',
      [
        code,
        signIn.service,
        asked.client.id,
        person.id,
        asked.redirect,
        asked.challenge,
        asked.scopes.join(' '),
        clock.now() + CODE_LIFE,
      ],
    );
    return asked.back({ code });
  });

  router.post('/token', form, async (req, res) => {
    res.set('Cache-Control', 'no-store');
    const client = authenticate(req, clients);
    if (!client) return void res.status(401).json({ error: 'invalid_client' });
    const body = req.body as Record<string, string | undefined>;
    if (body.grant_type === 'authorization_code') return void (await exchangeCode(body, client, res));
    if (body.grant_type === 'refresh_token') return void (await refresh(body, client, res));
    res.status(400).json({ error: 'unsupported_grant_type' });
  });

  async function exchangeCode(body: Record<string, string | undefined>, client: Client, res: Response) {
    const refuse = () => void res.status(400).json({ error: 'invalid_grant' });
    interface Code {
      person_id: number;
      client_id: string;
      redirect_uri: string;
      challenge: string;
      scope: string;
      expires_at: number;
      used: number;
      grant_id: string | null;
    }
    const [code] = await rows<Code>(db, 'SELECT * FROM codes WHERE code = ? AND service = ?', [
      body.code ?? '',
      signIn.service,
    ]);
    if (
      !code ||
      code.client_id !== client.id ||
      code.redirect_uri !== body.redirect_uri ||
      code.expires_at < clock.now()
    )
      return refuse();
    // A code used twice may have been stolen: what it gave is taken back (RFC 6749 section 4.1.2).
    if (code.used) {
      if (code.grant_id) await db.query('UPDATE grants SET revoked = 1 WHERE id = ?', [code.grant_id]);
      return refuse();
    }
    if (challengeFor(body.code_verifier ?? '') !== code.challenge) return refuse();
    const grant = randomToken();
    const [claimed] = await db.query<import('mysql2').ResultSetHeader>(
      'UPDATE codes SET used = 1, grant_id = ? WHERE code = ? AND used = 0',
      [grant, body.code],
    );
    if (claimed.affectedRows === 0) return refuse();
    await db.query(
      'INSERT INTO grants (id, service, client_id, person_id, scope, created_at) VALUES (?, ?, ?, ?, ?, ?)',
      [grant, signIn.service, client.id, code.person_id, code.scope, clock.now()],
    );
    res.json(await issue(grant, code.scope));
  }

  async function refresh(body: Record<string, string | undefined>, client: Client, res: Response) {
    const refuse = () => void res.status(400).json({ error: 'invalid_grant' });
    interface Old {
      grant_id: string;
      expires_at: number;
      used: number;
      client_id: string;
      revoked: number;
      scope: string;
    }
    const [old] = await rows<Old>(
      db,
      "SELECT t.grant_id, t.expires_at, t.used, g.client_id, g.revoked, g.scope FROM tokens t JOIN grants g ON g.id = t.grant_id WHERE t.token = ? AND t.kind = 'refresh' AND g.service = ?",
      [body.refresh_token ?? '', signIn.service],
    );
    if (!old || old.client_id !== client.id || old.revoked || old.expires_at < clock.now()) return refuse();
    const [claimed] = await db.query<import('mysql2').ResultSetHeader>(
      'UPDATE tokens SET used = 1 WHERE token = ? AND used = 0',
      [body.refresh_token],
    );
    if (claimed.affectedRows === 0) {
      // A refresh token seen twice has been copied: the whole grant ends (RFC 9700 section 4.14.2).
      await db.query('UPDATE grants SET revoked = 1 WHERE id = ?', [old.grant_id]);
      return refuse();
    }
    res.json(await issue(old.grant_id, old.scope));
  }

  async function issue(grant: string, scope: string) {
    const access = randomToken();
    const refreshToken = randomToken();
    await db.query('INSERT INTO tokens (token, grant_id, kind, expires_at) VALUES (?, ?, ?, ?), (?, ?, ?, ?)', [
      access,
      grant,
      'access',
      clock.now() + ACCESS_LIFE,
      refreshToken,
      grant,
      'refresh',
      clock.now() + REFRESH_LIFE,
    ]);
    return {
      access_token: access,
      token_type: 'Bearer',
      expires_in: ACCESS_LIFE / 1000,
      refresh_token: refreshToken,
      scope,
    };
  }

  router.post('/revoke', form, async (req, res) => {
    const client = authenticate(req, clients);
    if (!client) return void res.status(401).json({ error: 'invalid_client' });
    await db.query(
      'UPDATE grants g JOIN tokens t ON t.grant_id = g.id SET g.revoked = 1 WHERE t.token = ? AND g.client_id = ?',
      [String(req.body?.token ?? ''), client.id],
    );
    // Also when there was nothing to revoke (RFC 7009 section 2.2).
    res.status(200).end();
  });

  return router;
}

/** The S256 challenge for a verifier (RFC 7636 section 4.2). */
export function challengeFor(verifier: string): string {
  return createHash('sha256').update(verifier, 'ascii').digest('base64url');
}

function authenticate(req: Request, clients: readonly Client[]): Client | undefined {
  let id = String(req.body?.client_id ?? '');
  let secret = String(req.body?.client_secret ?? '');
  const basic = /^Basic (.+)$/i.exec(req.headers.authorization ?? '')?.[1];
  if (basic) {
    const [user, password] = Buffer.from(basic, 'base64').toString('utf8').split(':', 2).map(decodeURIComponent);
    id = user ?? '';
    secret = password ?? '';
  }
  const client = clients.find((each) => each.id === id);
  if (!client) return undefined;
  const hash = (text: string) => createHash('sha256').update(text).digest();
  return timingSafeEqual(hash(secret), hash(client.secret)) ? client : undefined;
}

/** Who a request acts for, by its bearer token (RFC 6750). */
export async function accessOf(db: Database, clock: Clock, service: string, req: Request): Promise<Access | undefined> {
  const token = /^Bearer ([\w-]{43})$/i.exec(req.headers.authorization ?? '')?.[1];
  if (!token) return undefined;
  interface Found {
    person_id: number;
    name: string;
    client_id: string;
    scope: string;
    grant_id: string;
  }
  const [found] = await rows<Found>(
    db,
    `SELECT g.person_id, p.name, g.client_id, g.scope, g.id AS grant_id FROM tokens t
     JOIN grants g ON g.id = t.grant_id JOIN people p ON p.id = g.person_id
     WHERE t.token = ? AND t.kind = 'access' AND t.expires_at > ? AND g.revoked = 0 AND g.service = ?`,
    [token, clock.now(), service],
  );
  return (
    found && {
      person: { id: found.person_id, name: found.name },
      client: found.client_id,
      scopes: found.scope.split(' '),
      grant: found.grant_id,
    }
  );
}
