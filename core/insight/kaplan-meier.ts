// How long something takes when some of it is not over yet: the product-limit estimate (E. L. Kaplan and P. Meier,
// "Nonparametric Estimation from Incomplete Observations", Journal of the American Statistical Association 53, 1958).
// Leaving out what still waits would make the slow look quick.

/** One thing that was waited for, or still is. */
export interface Waited {
  /** How long it took, or has been waited for so far; any unit, 0 and more. */
  time: number;
  /** It is over. */
  over: boolean;
}

/** A share that still waits from a time on, until the next. */
export interface Step {
  time: number;
  /** From 1 to 0: of all, what waits longer than that. */
  waiting: number;
}

/**
 * The share of things that wait longer than a time, as steps down, one for each time at which something came to its end.
 * What still waits counts as waiting for as long as it is known to.
 *
 * @example kaplanMeier([{ time: 1, over: true }, { time: 2, over: false }]) // [{ time: 1, waiting: 0.5 }]
 */
export function kaplanMeier(waited: readonly Waited[]): Step[] {
  const sorted = [...waited].sort((a, b) => a.time - b.time);
  const steps: Step[] = [];
  let atRisk = sorted.length;
  let waiting = 1;
  for (let index = 0; index < sorted.length;) {
    const { time } = sorted[index]!;
    let ended = 0;
    let gone = 0;
    // What is cut short at the same time was still at risk then.
    for (; index < sorted.length && sorted[index]!.time === time; index++) {
      gone++;
      if (sorted[index]!.over) ended++;
    }
    if (ended > 0) {
      waiting *= 1 - ended / atRisk;
      steps.push({ time, waiting });
    }
    atRisk -= gone;
  }
  return steps;
}

/**
 * The time by which a share is over: 0.5 gives the median.
 *
 * @returns null where it is not known yet: too much still waits
 */
export function timeUntil(steps: readonly Step[], share: number): number | null {
  // Products of fractions are a hair off: half is half.
  return steps.find(({ waiting }) => waiting <= 1 - share + 1e-9)?.time ?? null;
}
