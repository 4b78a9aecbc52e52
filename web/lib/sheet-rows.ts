import { sortedJson } from '@playa/core/model/sorted-json.ts';
import { stepBranches, type Step } from '@playa/core/steps/index.ts';
import type { Branch } from '@playa/core/steps/verb.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import type { Source } from '@playa/core/workflow/source.ts';
import { allSteps, type Placed } from '@playa/core/workflow/tree.ts';
import type { World } from '@playa/core/model/world.ts';

/** A row of the run sheet. */
export type SheetRow =
  /** `others` are watched alike: one row for all places at which people write. */
  | { type: 'source'; id: string; number: string; source: Source; others: readonly Source[] }
  | { type: 'rules'; id: typeof RULES }
  | { type: 'step'; id: string; number: string; placed: Placed }
  /** The head of a list of steps inside a step; steps are added to it. */
  | { type: 'band'; id: string; label: string; depth: number; step: string; branch: string; empty: boolean };

export const RULES = '~rules';
/** The band over the steps for failures. */
export const FAILURES = '~failure';
export const bandId = (step: string, branch: string) => `${step}/${branch}`;

/**
 * Sources that are watched alike: the same is written at them, and the same of it starts the workflow. Forty locations
 * are one row.
 *
 * @param saidAt what people write at a watch: reviews, comments; undefined where nobody writes
 * @returns the sources with those like them, in the order of the first of each
 */
export function alikeSources(
  sources: readonly Source[],
  saidAt: (watch: number) => string | undefined,
): { source: Source; others: Source[]; at: number }[] {
  const found = new Map<string, { source: Source; others: Source[]; at: number }>();
  for (const [at, source] of sources.entries()) {
    const { id, watch, ...rules } = source;
    const said = watch === null ? undefined : saidAt(watch);
    const key = said === undefined ? id : `${said}\n${sortedJson(rules)}`;
    const first = found.get(key);
    if (first) first.others.push(source);
    else found.set(key, { source, others: [], at });
  }
  return [...found.values()];
}

/** The rows of a definition in the order of the sheet. @param saidAt what people write at a watch */
export function sheetRows(
  definition: Definition,
  saidAt: (watch: number) => string | undefined = () => undefined,
): SheetRow[] {
  const rows: SheetRow[] = alikeSources(definition.sources, saidAt).map(({ source, others, at }) => ({
    type: 'source',
    id: source.id,
    number: others.length > 0 ? numbers(definition, source, others) : String(at + 1),
    source,
    others,
  }));
  rows.push({ type: 'rules', id: RULES });
  const placed = new Map(allSteps(definition).map((each) => [each.step.id, each]));
  const visit = (steps: readonly Step[]) => {
    for (const step of steps) {
      const at = placed.get(step.id)!;
      rows.push({ type: 'step', id: step.id, number: at.number, placed: at });
      const branches = stepBranches(step);
      for (const branch of branches) {
        // The steps of a For each need no heading but when there are none.
        if (branches.length > 1 || branch.steps.length === 0) rows.push(bandOf(step, branch, at.depth));
        visit(branch.steps);
      }
    }
  };
  visit(definition.steps);
  const failure = definition.settings?.onFailure;
  if (failure?.do === 'steps') {
    const label = 'When something fails';
    const empty = failure.steps.length === 0;
    rows.push({ type: 'band', id: FAILURES, label, depth: 0, step: FAILURES, branch: FAILURES, empty });
    visit(failure.steps);
  }
  return rows;
}

/** The numbers of sources that are one row: those that follow one another as "1–3". */
function numbers({ sources }: Definition, source: Source, others: readonly Source[]): string {
  const first = sources.indexOf(source) + 1;
  const last = first + others.length;
  return others.every((each, index) => sources[first + index] === each) ? `${first}–${last}` : String(first);
}

function bandOf(step: Step, branch: Branch, depth: number): SheetRow {
  const empty = branch.steps.length === 0;
  return {
    type: 'band',
    id: bandId(step.id, branch.id),
    label: branch.label,
    depth,
    step: step.id,
    branch: branch.id,
    empty,
  };
}

/** The list of steps that a band heads, inside the given definition. */
export function listOfBand(definition: Definition, band: string): Step[] | undefined {
  if (band === FAILURES) {
    const failure = definition.settings?.onFailure;
    return failure?.do === 'steps' ? failure.steps : undefined;
  }
  const [id, branch] = band.split('/');
  const step = allSteps(definition).find((each) => each.step.id === id)?.step;
  return step && stepBranches(step).find((each) => each.id === branch)?.steps;
}

/** What a source is called: by what is watched. */
export const nameOfSource = (world: Pick<World, 'watches'>, watchId: number | null): string =>
  watchId === null ? 'nothing yet' : (world.watches.get(watchId)?.name ?? 'gone');
