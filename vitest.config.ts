import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vitest/config';

/** The examples of property tests are the same each time. */
const PROPERTIES = './bin/lib/property-seed.ts';

export default defineConfig({
  test: {
    // All cores: most of these tests wait for a database or a network.
    maxWorkers: '100%',
    projects: [
      {
        test: {
          name: 'core',
          include: ['core/**/*.test.ts', 'bin/**/*.test.ts', 'web/{lib,stores}/**/*.test.ts'],
          testTimeout: 120_000,
          setupFiles: PROPERTIES,
        },
      },
      {
        // Components, mounted in a document without a browser.
        plugins: [vue()],
        test: {
          name: 'components',
          include: ['web/{components,views}/**/*.test.ts'],
          environment: 'happy-dom',
          setupFiles: PROPERTIES,
          testTimeout: 30_000,
        },
      },
      {
        // These share one MariaDB; each file makes its own databases.
        test: {
          name: 'server',
          include: ['server/**/*.test.ts', 'lagoon/**/*.test.ts'],
          exclude: ['server/testing/large/**'],
          setupFiles: PROPERTIES,
          testTimeout: 30_000,
          hookTimeout: 60_000,
        },
      },
      {
        // A database with a million items: by itself, since it wants the machine.
        test: {
          name: 'large',
          include: ['server/testing/large/**/*.test.ts'],
          testTimeout: 300_000,
          hookTimeout: 1_200_000,
        },
      },
    ],
  },
});
