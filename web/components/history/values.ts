// What was and what became, in words: some is kept as data, which nobody reads.
import { policySchema, sayRow, type PolicyDoes } from '@playa/core/desk/policy.ts';
import type { AuditEntry } from '../../lib/types.ts';

/** What was before, and what it is since; null where there is nothing to say. */
export interface SaidValues {
  was: string | null;
  became: string | null;
}

const ELSE: Record<PolicyDoes, string> = {
  post: 'everything else goes out by itself',
  hold: 'everything else waits for a yes',
  ignore: 'everything else is not answered',
};

type Things = Record<string, unknown>;

/** An object that was kept as JSON; undefined for anything else. */
function readObject(text: string | null): Things | undefined {
  if (!text?.startsWith('{')) return undefined;
  try {
    return JSON.parse(text) as Things;
  } catch {
    // Cut, because it was very long: then it is shown as it is.
    return undefined;
  }
}

function sayPolicy(thing: Things): string | undefined {
  const policy = policySchema.safeParse(thing).data;
  if (!policy) return undefined;
  const rows = policy.rows.map((row) => sayRow(row, row.outlet === undefined ? null : 'one of our places'));
  const copies = policy.copyTo.length === 0 ? [] : [`copies to ${policy.copyTo.length}`];
  return [...rows, ELSE[policy.otherwise], ...copies].join('; ');
}

const plain = (value: unknown): string => {
  if (value === '' || value === null || value === undefined) return 'nothing';
  if (!Array.isArray(value)) return typeof value === 'object' ? JSON.stringify(value) : String(value);
  if (value.length === 0) return 'none';
  return value.map((each) => (typeof each === 'object' ? JSON.stringify(each) : String(each))).join(', ');
};
/** "signOff" as "sign off". */
const spoken = (key: string) => key.replace(/([A-Z])/g, (letter) => ` ${letter.toLowerCase()}`);

/** What of two objects is not the same, by its names. */
function differences(before: Things, after: Things): SaidValues {
  const keys = [...new Set([...Object.keys(before), ...Object.keys(after)])].filter(
    (key) => JSON.stringify(before[key]) !== JSON.stringify(after[key]),
  );
  const say = (thing: Things) => keys.map((key) => `${spoken(key)}: ${plain(thing[key])}`).join('; ');
  return { was: say(before), became: say(after) };
}

/** What a deed says of what was and what became. */
export function sayValues({ about, name, was, became }: AuditEntry): SaidValues {
  if (about !== 'brand') return { was, became };
  const [before, after] = [readObject(was), readObject(became)];
  if (!before || !after) return { was, became };
  if (name !== 'policy') return differences(before, after);
  return { was: sayPolicy(before) ?? was, became: sayPolicy(after) ?? became };
}
