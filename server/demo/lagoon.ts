import type { Services } from '../base/services.ts';

// What the demonstration does at Lagoon as a person would: saying yes on a consent page, and moving Lagoon's clock so
// that a month can be lived through in a moment. Only the demonstration knows Lagoon; connectors do not.

function originOf(services: Services): string {
  const network = services.config.networks.video ?? services.config.networks.pages;
  if (!network) throw new Error('The demonstration needs Lagoon: PLAYA_NETWORKS is empty.');
  return new URL(network.base).origin;
}

/** Waits until Lagoon answers. */
export async function lagoonIsUp(services: Services): Promise<void> {
  for (let tries = 0; ; tries++) {
    try {
      await services.guard.fetch(`${originOf(services)}/style.css`);
      return;
    } catch (error) {
      if (tries > 150) throw error;
      await new Promise((done) => setTimeout(done, 100));
    }
  }
}

/** Sets Lagoon's clock; null is the real time. */
export async function setLagoonClock(services: Services, now: number | null): Promise<void> {
  const answer = await fetch(`${originOf(services)}/control/api/clock`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ now }),
  });
  if (!answer.ok) throw new Error(`Lagoon's clock could not be set (${answer.status}).`);
}

/** Plays somebody of Lagoon's people, or a colleague who works there. */
export async function playAtLagoon(services: Services, act: object): Promise<void> {
  const answer = await fetch(`${originOf(services)}/control/api/acts`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ act }),
  });
  if (!answer.ok) throw new Error(`Lagoon did not play ${JSON.stringify(act)} (${answer.status}).`);
}

/** Signs in at Lagoon as one of its people and says yes on a consent page. Returns the answer that Playa is sent. */
export async function consentAs(services: Services, person: number, consentPage: string): Promise<URLSearchParams> {
  const form = (values: Record<string, string>) => ({
    method: 'POST',
    redirect: 'manual' as const,
    body: new URLSearchParams(values),
  });
  const signedIn = await fetch(`${originOf(services)}/sign-in`, form({ person: String(person), next: '/' }));
  const cookie = signedIn.headers.getSetCookie()[0]?.split(';')[0] ?? '';
  const page = new URL(consentPage);
  const asked = Object.fromEntries(page.searchParams);
  const answer = await fetch(page.origin + page.pathname, {
    ...form({ ...asked, answer: 'yes' }),
    headers: { cookie },
  });
  const location = answer.headers.get('location');
  if (!location) throw new Error(`Lagoon did not accept the consent (${answer.status}).`);
  return new URL(location).searchParams;
}

/** Makes a key, or a bot with a key, for one of Lagoon's people, as on the service's own page. */
export async function lagoonKey(services: Services, service: string, person: number, name: string): Promise<string> {
  const answer = await fetch(`${originOf(services)}/control/api/keys`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ service, person, name }),
  });
  if (!answer.ok) throw new Error(`Lagoon gave no key for ${service} (${answer.status}).`);
  return ((await answer.json()) as { token: string }).token;
}
