import { createHash } from 'node:crypto';
import * as oauth from 'oauth4webapi';
import { z } from 'zod';
import type { ConsentSignIn } from '../connectors/connector.ts';
import { NetworkTrouble } from '../connectors/connector.ts';
import type { NetworkConfig } from '../connectors/network-config.ts';
import { FetchTrouble, type Guard } from '../guard/guard.ts';

/** What a sign-in at a network gives. Kept only sealed. */
export const tokensSchema = z.object({ access: z.string().min(1), refresh: z.string().nullable() });
export type Tokens = z.infer<typeof tokensSchema>;
export interface Granted {
  tokens: Tokens;
  /** When the access token ends, milliseconds since 1970; null when the network does not say. */
  expiresAt: number | null;
  /** What was given, with spaces between; null when the network does not say. */
  scopes?: string | null;
}

/** The OAuth 2.0 client for one network: RFC 6749 with PKCE (RFC 7636), as RFC 9700 wants it. */
export class OAuthClient {
  readonly #server: oauth.AuthorizationServer;
  readonly #client: oauth.Client;
  readonly #authentication: oauth.ClientAuth;
  readonly #options: {
    [oauth.customFetch]: (
      url: string,
      options: oauth.CustomFetchOptions<string, URLSearchParams | undefined>,
    ) => Promise<Response>;
    [oauth.allowInsecureRequests]: boolean;
  };
  readonly #network: NetworkConfig;
  readonly #signIn: ConsentSignIn;
  readonly #redirect: string;

  constructor(network: NetworkConfig, signIn: ConsentSignIn, guard: Guard, redirect: string) {
    this.#network = network;
    this.#signIn = signIn;
    this.#redirect = redirect;
    const { base } = network;
    this.#server = {
      issuer: base,
      authorization_endpoint: base + signIn.authorize,
      token_endpoint: base + signIn.token,
      revocation_endpoint: base + signIn.revoke,
    };
    this.#client = { client_id: network.clientId };
    this.#authentication = oauth.ClientSecretBasic(network.clientSecret);
    this.#options = {
      [oauth.customFetch]: (url, options) => throughGuard(guard, url, options),
      // Only a network whose configured address is plain http is spoken to without TLS: the simulated one on loopback.
      [oauth.allowInsecureRequests]: base.startsWith('http:'),
    };
  }

  /** A new consent: where to send the person, and what to remember until they come back. */
  async begin(): Promise<{ url: string; state: string; verifier: string }> {
    const verifier = oauth.generateRandomCodeVerifier();
    const state = oauth.generateRandomState();
    const url = new URL(this.#server.authorization_endpoint!);
    url.searchParams.set('response_type', 'code');
    url.searchParams.set('client_id', this.#client.client_id);
    url.searchParams.set('redirect_uri', this.#redirect);
    url.searchParams.set('scope', Object.keys(this.#signIn.scopes).join(' '));
    url.searchParams.set('state', state);
    url.searchParams.set('code_challenge', await oauth.calculatePKCECodeChallenge(verifier));
    url.searchParams.set('code_challenge_method', 'S256');
    return { url: url.href, state, verifier };
  }

  /** Turns the code in the answer into tokens. @throws NetworkTrouble */
  async finish(answer: URLSearchParams, state: string, verifier: string, now: number): Promise<Granted> {
    return this.#trouble(async () => {
      const checked = oauth.validateAuthResponse(this.#server, this.#client, answer, state);
      const response = await oauth.authorizationCodeGrantRequest(
        this.#server,
        this.#client,
        this.#authentication,
        checked,
        this.#redirect,
        verifier,
        this.#options,
      );
      return granted(await oauth.processAuthorizationCodeResponse(this.#server, this.#client, response), null, now);
    });
  }

  /** @throws NetworkTrouble `reconnect` when the network refuses the refresh token */
  async refresh(token: string, now: number): Promise<Granted> {
    return this.#trouble(async () => {
      const response = await oauth.refreshTokenGrantRequest(
        this.#server,
        this.#client,
        this.#authentication,
        token,
        this.#options,
      );
      return granted(await oauth.processRefreshTokenResponse(this.#server, this.#client, response), token, now);
    });
  }

  /** Gives the grant back (RFC 7009). A network that cannot be reached does not keep us from forgetting it. */
  async revoke(token: string): Promise<void> {
    try {
      await oauth.processRevocationResponse(
        await oauth.revocationRequest(this.#server, this.#client, this.#authentication, token, this.#options),
      );
    } catch {
      // Nothing more can be done from here.
    }
  }

  async #trouble<T>(work: () => Promise<T>): Promise<T> {
    try {
      return await work();
    } catch (error) {
      const { name } = this.#network;
      if (error instanceof oauth.ResponseBodyError) {
        if (error.error === 'invalid_grant')
          throw new NetworkTrouble('reconnect', `${name} no longer accepts the sign-in.`);
        throw new NetworkTrouble('fix', `${name} refuses the sign-in (${error.error}).`);
      }
      if (error instanceof oauth.AuthorizationResponseError) {
        throw new NetworkTrouble(
          'fix',
          error.error === 'access_denied'
            ? `Access was refused at ${name}. Nothing was connected.`
            : `${name} refuses the sign-in (${error.error}).`,
        );
      }
      const cause = error instanceof FetchTrouble ? error : (error as { cause?: unknown }).cause;
      if (cause instanceof FetchTrouble) throw new NetworkTrouble('retry', cause.message);
      throw new NetworkTrouble('retry', `${name} answered the sign-in in a way Playa does not understand.`);
    }
  }
}

function granted(answer: oauth.TokenEndpointResponse, oldRefresh: string | null, now: number): Granted {
  return {
    // A network that does not rotate keeps the refresh token it gave (RFC 6749 section 6).
    tokens: { access: answer.access_token, refresh: answer.refresh_token ?? oldRefresh },
    expiresAt: answer.expires_in === undefined ? null : now + answer.expires_in * 1000,
    scopes: answer.scope ?? null,
  };
}

async function throughGuard(
  guard: Guard,
  url: string,
  options: oauth.CustomFetchOptions<string, URLSearchParams | undefined>,
): Promise<Response> {
  const answer = await guard.fetch(url, {
    method: options.method as 'GET' | 'POST',
    headers: { ...options.headers, ...(options.body ? { 'content-type': 'application/x-www-form-urlencoded' } : {}) },
    body: options.body?.toString(),
    limit: 100_000,
  });
  const bodyless = answer.status === 204 || answer.status === 304;
  return new Response(bodyless ? null : new Uint8Array(answer.body), {
    status: answer.status,
    headers: answer.headers,
  });
}

/** What a state is remembered by. */
export const hashState = (state: string): Buffer => createHash('sha256').update(state).digest();
