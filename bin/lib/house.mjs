// What every way of starting Playa shares: the environment of its programs, for given ports, database and secrets.

/** @returns the environments of Lagoon and of Playa's own programs */
export function environments({ port, lagoonPort, databaseUrl, lagoonDatabaseUrl, secrets, demo, webDir }) {
  const origin = `http://127.0.0.1:${port}`;
  const lagoon = `http://127.0.0.1:${lagoonPort}`;
  const network = (path) => ({ base: `${lagoon}/${path}`, clientId: 'playa', clientSecret: secrets.lagoonClient });
  return {
    origin,
    lagoonOrigin: lagoon,
    lagoon: {
      LAGOON_PORT: String(lagoonPort),
      LAGOON_DATABASE_URL: lagoonDatabaseUrl,
      LAGOON_CLIENTS: JSON.stringify([
        { id: 'playa', name: 'Playa', secret: secrets.lagoonClient, redirectUris: [`${origin}/api/oauth/callback`] },
      ]),
    },
    playa: {
      PLAYA_PORT: String(port),
      PLAYA_ORIGIN: origin,
      PLAYA_DATABASE_URL: databaseUrl,
      PLAYA_VAULT_KEY: secrets.vaultKey,
      PLAYA_NETWORKS: JSON.stringify({
        video: { name: 'Lagoon Video', ...network('video') },
        pages: { name: 'Lagoon Pages', ...network('pages') },
      }),
      PLAYA_ALLOW_PRIVATE: `127.0.0.1:${lagoonPort}`,
      PLAYA_DEMO: demo ? '1' : '0',
      PLAYA_WEB_DIR: webDir,
    },
  };
}
