// Editors of a list of things, of which one is open: what was typed for one stays while another is looked at.
import { computed, shallowReactive } from 'vue';
import type { SendForm } from './form.ts';

interface Draft<Values> {
  typed: Values;
  /** The revision that it is typed over. */
  seen: string | null;
}

/**
 * What was typed in a form for several things, by their keys.
 *
 * @example
 * const drafts = useDrafts(form);
 * function open(file: File) {
 *   drafts.leave(String(chosen.value), seen);
 *   chosen.value = file.id;
 *   seen = drafts.enter(String(file.id), { name: file.name }, file.revision);
 * }
 */
export function useDrafts<Values extends object>(form: SendForm<Values>) {
  const kept = shallowReactive(new Map<string, Draft<Values>>());
  return {
    /** Whether something was typed for a thing that is not open. */
    has: (key: string) => kept.has(key),
    /** For how many things. */
    count: computed(() => kept.size),
    /** Another thing is about to be opened: what was typed for this one is kept. */
    leave(key: string, seen: string | null): void {
      if (form.changed.value) kept.set(key, { typed: { ...form.values.value }, seen });
      else kept.delete(key);
    },
    /**
     * Opens a thing, with what was typed for it before.
     *
     * @returns the revision that stands behind what the form now says
     */
    enter(key: string, there: Values, seen: string | null): string | null {
      form.reset(there);
      const draft = kept.get(key);
      if (!draft) return seen;
      kept.delete(key);
      for (const name of Object.keys(draft.typed) as (keyof Values & string)[]) form.set(name, draft.typed[name]);
      return draft.seen;
    },
    /** What was sent for a thing is kept there: it is no draft any more, unless more was typed meanwhile. */
    settle(key: string, sent: Values): void {
      if (JSON.stringify(kept.get(key)?.typed) === JSON.stringify(sent)) kept.delete(key);
    },
  };
}
