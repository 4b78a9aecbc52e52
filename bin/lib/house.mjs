// What every way of starting Playa shares: the environment of its programs, for given ports, database and secrets.

/** The kinds of network that Lagoon has, each under its own name. */
export const LAGOON_KINDS = [
  'video',
  'pages',
  'microblog',
  'photos',
  'boards',
  'professional',
  'rooms',
  'broadcast',
  'listings',
  'bookings',
  'sheets',
  'files',
  'helpdesk',
  'text-model',
];

/** @returns the environments of Lagoon and of Playa's own programs */
export function environments({
  port,
  lagoonPort,
  mailPort,
  databaseUrl,
  lagoonDatabaseUrl,
  secrets,
  demo,
  webDir,
  clockAhead = 0,
}) {
  const origin = `http://127.0.0.1:${port}`;
  const lagoon = `http://127.0.0.1:${lagoonPort}`;
  const network = (path) => ({
    name: `Lagoon ${path[0].toUpperCase()}${path.slice(1).replace('-', ' ')}`,
    base: `${lagoon}/${path}`,
    clientId: 'playa',
    clientSecret: secrets.lagoonClient,
  });
  return {
    origin,
    lagoonOrigin: lagoon,
    lagoon: {
      LAGOON_PORT: String(lagoonPort),
      LAGOON_CLOCK_AHEAD: String(clockAhead),
      // A week is lived through in seconds when the demonstration is set up.
      LAGOON_WRITES_PER_MINUTE: '1200',
      LAGOON_MAIL_PORT: String(mailPort),
      LAGOON_DATABASE_URL: lagoonDatabaseUrl,
      LAGOON_CLIENTS: JSON.stringify([
        { id: 'playa', name: 'Playa', secret: secrets.lagoonClient, redirectUris: [`${origin}/api/oauth/callback`] },
      ]),
    },
    playa: {
      PLAYA_PORT: String(port),
      PLAYA_CLOCK_AHEAD: String(clockAhead),
      PLAYA_ORIGIN: origin,
      PLAYA_DATABASE_URL: databaseUrl,
      PLAYA_VAULT_KEY: secrets.vaultKey,
      PLAYA_VAULT_OLD_KEYS: (secrets.oldVaultKeys ?? []).join(','),
      PLAYA_NETWORKS: JSON.stringify({
        ...Object.fromEntries(LAGOON_KINDS.map((kind) => [kind, network(kind)])),
        mail: { name: 'Lagoon Mail', base: `smtp://127.0.0.1:${mailPort}` },
        webhook: { name: 'Web hooks', base: origin },
      }),
      PLAYA_ALLOW_PRIVATE: `127.0.0.1:${lagoonPort},127.0.0.1:${mailPort}`,
      PLAYA_DEMO: demo ? '1' : '0',
      PLAYA_WEB_DIR: webDir,
    },
  };
}
