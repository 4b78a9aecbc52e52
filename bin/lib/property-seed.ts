// Where property tests begin. A commit is judged by the same examples wherever and whenever it is tested; new ones are
// looked for on purpose: `npm run properties`.
import fc from 'fast-check';

/** Any number; another one is another set of examples. */
const USUAL = 20_261_126;

const seed = process.env.PLAYA_TEST_SEED === undefined ? USUAL : Number(process.env.PLAYA_TEST_SEED);
if (!Number.isInteger(seed)) throw new Error(`PLAYA_TEST_SEED is no whole number: ${process.env.PLAYA_TEST_SEED}`);
fc.configureGlobal({ seed });
