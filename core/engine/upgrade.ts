/**
 * Brings a state that an older Playa stored into today's form, so that runs which wait while a new version is deployed
 * go on. A state of today's form is returned as it is.
 *
 * The first form knew only straight lists of steps: an index, the texts made, and the acts of the step it stood at,
 * whose keys name the step.
 */
export function upgradeState(stored: unknown): unknown {
  if (typeof stored !== 'object' || stored === null || 'root' in stored) return stored;
  const old = stored as {
    status: string;
    texts: Record<string, string>;
    slots: { key: string; generation: number }[];
  };
  const [first] = old.slots;
  const open = old.status === 'waiting' || old.status === 'held';
  return {
    status: old.status,
    root: {
      at: open && first ? first.key.split('.')[1] : null,
      values: old.texts,
      ...(open && first ? { wait: { for: 'acts', slots: old.slots, tries: 0 } } : {}),
    },
    generation: Math.max(1, ...old.slots.map((slot) => slot.generation)),
    failures: 0,
  };
}
