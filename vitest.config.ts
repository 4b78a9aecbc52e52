import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    // All cores: most of these tests wait for a database or a network.
    maxWorkers: '100%',
    projects: [
      {
        test: {
          name: 'core',
          include: ['core/**/*.test.ts', 'bin/**/*.test.ts', 'web/**/*.test.ts'],
          testTimeout: 120_000,
        },
      },
      {
        // These share one MariaDB; each file makes its own databases.
        test: {
          name: 'server',
          include: ['server/**/*.test.ts', 'lagoon/**/*.test.ts'],
          testTimeout: 30_000,
          hookTimeout: 60_000,
        },
      },
    ],
  },
});
