// npm test: everything the tests need, then all of them. `npm test -- unit` or `-- e2e` runs only a part. The hour at which
// they run is set, a different one each day; PLAYA_TEST_HOUR names one.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { needInterface } from './lib/build.mjs';
import { startMariadb } from './lib/mariadb.mjs';
import { needDebianPackages, needNode, needNpmPackages, needRoom } from './lib/needs.mjs';
import { Stop, runMain, say } from './lib/say.mjs';
import { aheadFor, hourInTurn } from './lib/set-clock.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const part = process.argv[2] ?? 'all';
const hour = process.env.PLAYA_TEST_HOUR ?? hourInTurn();
if (!['all', 'check', 'unit', 'e2e'].includes(part)) {
  console.error('npm test takes nothing, or one of: check, unit, e2e');
  process.exit(2);
}

await runMain(async () => {
  needNode();
  needRoom(root, 4000);
  needDebianPackages([
    'mariadb-server',
    ...(part === 'all' || part === 'unit' ? ['unicode-data'] : []),
    ...(part === 'all' || part === 'e2e' ? ['chromium', 'fonts-noto-color-emoji'] : []),
  ]);
  needNpmPackages(root);

  // A folder, a database and ports of its own: a demonstration may run meanwhile.
  mkdirSync(join(root, '.playa'), { recursive: true });
  const folder = mkdtempSync(join(root, '.playa', 'test-'));
  let mariadb;
  const clean = async () => {
    await mariadb?.stop();
    rmSync(folder, { recursive: true, force: true });
  };
  for (const signal of ['SIGINT', 'SIGTERM']) process.once(signal, () => void clean().finally(() => process.exit(130)));

  const results = [];
  try {
    if (part === 'all' || part === 'check') {
      results.push(await step('lint', 'npx', ['eslint', '.', '--max-warnings', '0']));
      results.push(await step('import circles', 'npm', ['run', '--silent', 'circles']));
      results.push(await step('format', 'npx', ['prettier', '--check', '--log-level', 'warn', '.']));
      results.push(await step('types', 'npm', ['run', '--silent', 'types']));
    }
    if (part !== 'check') {
      mariadb = await startMariadb({ folder, password: 'tests', quick: true });
      say(`The clock of these tests is set: ${hour}.`);
      const env = { PLAYA_TEST_DATABASE: mariadb.url(''), PLAYA_TEST_AHEAD: String(aheadFor(hour)) };
      if (part !== 'e2e')
        results.push(
          await suite(
            'unit and integration',
            [
              'vitest',
              'run',
              ...['core', 'components', 'server'].flatMap((project) => ['--project', project]),
              '--reporter=default',
              '--reporter=json',
              '--outputFile.json=' + join(folder, 'vitest.json'),
            ],
            env,
            join(folder, 'vitest.json'),
            readVitest,
          ),
        );
      if (part !== 'e2e') {
        const report = join(folder, 'large.json');
        results.push(
          await suite(
            'queries on a large database',
            [
              'vitest',
              'run',
              '--project',
              'large',
              '--reporter=default',
              '--reporter=json',
              `--outputFile.json=${report}`,
            ],
            env,
            report,
            readVitest,
          ),
        );
      }
      if (part !== 'e2e')
        results.push(await step('faults, the short form', 'node', ['bin/faults.mjs', '--short'], env));
      if (part !== 'unit') {
        needInterface(root);
        const report = join(folder, 'playwright.json');
        results.push(
          await suite(
            'browser',
            ['playwright', 'test', '--config', 'e2e/playwright.config.ts'],
            { ...env, PLAYWRIGHT_JSON_OUTPUT_NAME: report },
            report,
            readPlaywright,
          ),
        );
      }
    }
  } finally {
    await clean();
  }
  const passed = results.reduce((sum, each) => sum + each.passed, 0);
  const failed = results.reduce((sum, each) => sum + each.failed, 0);
  say('');
  // What failed is said again at the end: of a long log often only the end is kept.
  for (const { name, passed: good, failed: bad, which = [], secondTry = [] } of results) {
    say(`${bad ? '✗' : '✓'} ${name}: ${good} passed${bad ? `, ${bad} failed` : ''}`);
    for (const each of which) say(`    ${each}`);
    for (const each of secondTry) say(`    only at the second try: ${each}`);
  }
  if (part !== 'check') say(`The clock was set: ${hour}.`);
  say(`\n${passed} passed, ${failed} failed`);
  if (failed > 0) process.exitCode = 1;
});

function run(command, args, env = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, {
      cwd: root,
      stdio: ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, ...env },
    });
    child.once('error', reject);
    child.once('exit', (code) => resolve(code ?? 1));
  });
}

/** A check that passes or fails as a whole. */
async function step(name, command, args) {
  say(`— ${name}`);
  const code = await run(command, args);
  return { name, passed: code === 0 ? 1 : 0, failed: code === 0 ? 0 : 1 };
}

/** A test runner whose own report is counted. One that fails without a failed test in its report fails all the same. */
async function suite(name, args, env, report, read) {
  say(`— ${name}`);
  const code = await run('npx', args, env);
  if (!existsSync(report)) throw new Stop(`The ${name} tests did not run.`);
  const counts = read(JSON.parse(readFileSync(report, 'utf8')));
  if (counts.passed + counts.failed === 0) throw new Stop(`The ${name} tests found nothing to run.`);
  return {
    name,
    passed: counts.passed,
    failed: code !== 0 ? Math.max(1, counts.failed) : counts.failed,
    which: counts.which,
    secondTry: counts.secondTry,
  };
}

function readVitest(report) {
  const files = report.testResults ?? [];
  return {
    passed: report.numPassedTests,
    failed: report.numFailedTests + (report.numFailedTestSuites > 0 && report.numFailedTests === 0 ? 1 : 0),
    which: files.flatMap((file) => [
      ...(file.status === 'failed' && file.message ? [`${file.name}: ${firstLines(file.message)}`] : []),
      ...(file.assertionResults ?? [])
        .filter((test) => test.status === 'failed')
        .map((test) => `${test.fullName} (${file.name}): ${firstLines(test.failureMessages?.[0] ?? '')}`),
    ]),
  };
}

function readPlaywright(report) {
  const inSuite = (suite) => [...(suite.specs ?? []), ...(suite.suites ?? []).flatMap(inSuite)];
  const specs = (report.suites ?? []).flatMap(inSuite);
  const named = (some) => some.map((spec) => `${spec.title} (${spec.file}:${spec.line})`);
  return {
    passed: report.stats.expected + report.stats.flaky,
    failed: report.stats.unexpected,
    which: named(specs.filter((spec) => !spec.ok)),
    secondTry: named(specs.filter((spec) => spec.tests.some((test) => test.status === 'flaky'))),
  };
}

function firstLines(text) {
  return text.trim().split('\n').slice(0, 4).join(' ').slice(0, 400);
}
