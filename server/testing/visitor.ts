// Somebody who asks the API as the interface does.

export const PASSWORD = 'gull on a groyne';

/** What tests read of answers. */
export interface Answer {
  title: string;
  csrf: string;
  name: string;
  id: number;
  current: number;
  reasons: string[];
  items: unknown[];
  [other: string]: unknown;
}

export class Visitor {
  readonly #origin: string;
  /** As a browser sends them. */
  cookie = '';
  csrf = '';
  constructor(origin: string) {
    this.#origin = origin;
  }
  async ask(method: string, path: string, body?: unknown, headers: Record<string, string> = {}) {
    const answer = await fetch(`${this.#origin}/api${path}`, {
      method,
      headers: {
        ...(body === undefined || body instanceof Uint8Array ? {} : { 'content-type': 'application/json' }),
        cookie: this.cookie,
        'x-csrf-token': this.csrf,
        ...headers,
      } as Record<string, string>,
      body: body === undefined ? null : body instanceof Uint8Array ? new Uint8Array(body) : JSON.stringify(body),
    });
    const sets = answer.headers.getSetCookie();
    const kept = new Map(
      this.cookie.split('; ').flatMap((pair) => (pair ? [pair.split('=', 2) as [string, string]] : [])),
    );
    for (const each of sets) {
      const [name = '', value = ''] = each.split(';')[0]!.split('=', 2);
      if (value === '') kept.delete(name);
      else kept.set(name, value);
    }
    this.cookie = [...kept].map(([name, value]) => `${name}=${value}`).join('; ');
    const set = sets.find((each) => each.startsWith('playa_session='));
    const text = await answer.text();
    const isJson = /[/+]json\b/.test(answer.headers.get('content-type') ?? '');
    return {
      status: answer.status,
      headers: answer.headers,
      set: set ?? '',
      body: (text && isJson ? JSON.parse(text) : undefined) as Answer,
    };
  }
  async signIn(email: string, password = PASSWORD) {
    const answer = await this.ask('POST', '/sign-in', { email, password });
    if (answer.status === 204) this.csrf = (await this.ask('GET', '/me')).body.csrf;
    return answer;
  }
}
