import { sortedJson } from '../model/sorted-json.ts';
import { chanceOf } from './chance.ts';
import { countGraphemes, cutUnits } from '../text/graphemes.ts';
import { actText, type Act, type ActInput, type Outcome, type PublishInput } from '../model/acts.ts';
import type { ActCell, Cell, PostCell } from '../model/cells.ts';
import type { Effect, PlannedEffect } from '../model/effects.ts';
import type { Decision, Slot } from '../model/state.ts';

/**
 * The key of an effect. Networks see it, so it tells nothing about the brand. The generation changes only when a person
 * decides to try anew: the network may have remembered the key together with its refusal.
 *
 * @param target the outlet, or the number of the try for a step that asks again
 */
export function effectKey(run: string, place: string, target: string | number, generation: number): string {
  return `${run}.${place}.${target}.${generation}`;
}

/** Who asks, of an ask's key: its run and its place there, the same however often the run goes through its steps. */
export const askerOf = (key: string): string => key.split('.', 2).join('.');

export function slotFor(planned: PlannedEffect, key: string, generation: number): Slot {
  const { outlet, action, input, length, limit, left, trimmed, blocked, placing } = planned;
  return {
    key,
    outlet,
    action,
    input,
    length,
    limit,
    left,
    trimmed,
    generation,
    status: blocked ? 'held' : 'planned',
    outcome: undefined,
    says: blocked?.says,
    trouble: blocked?.trouble,
    fault: blocked?.fault,
    placing,
  } as Slot;
}

export function effectOf(slot: Slot, place: string): Effect {
  if (slot.status === 'held') return { do: 'hold', key: slot.key, place, says: slot.says ?? '' };
  const { key, outlet, action, input, placing } = slot;
  return { do: 'perform', key, place, outlet, action, input, placing } as Effect;
}

/** The slot in a new status, its trouble forgotten. */
export function settledSlot(slot: Slot, status: Slot['status'], outcome?: Outcome): Slot {
  const { key, outlet, action, input, length, limit, left, trimmed, generation } = slot;
  return {
    key,
    outlet,
    action,
    input,
    length,
    limit,
    left,
    trimmed,
    generation,
    status,
    outcome,
    says: undefined,
    trouble: undefined,
    fault: undefined,
  } as Slot;
}

/** What a person's decision makes of a held slot. `generation` is one that no key of the run has had. */
export function decidedSlot(slot: Slot, decision: Decision, now: number, generation: number): Slot {
  switch (decision.do) {
    case 'end':
    case 'skip':
      return settledSlot(slot, 'skipped');
    case 'itWentOut':
      return settledSlot(slot, 'done', { remoteId: '', url: decision.url ?? null, at: now });
    case 'retry': {
      // A question has no network to go to: the person's yes is its outcome.
      if (slot.action === 'hold') {
        const text = decision.text ?? slot.input.text;
        return settledSlot(slot, 'done', { remoteId: '', url: null, at: now, result: text === null ? {} : { text } });
      }
      const wanted = decision.input ?? (decision.text === undefined ? slot.input : withText(slot.input, decision.text));
      const input = overFound(slot, wanted);
      const text = actText({ action: slot.action, input } as Act);
      const same = wanted === slot.input;
      return {
        ...settledSlot(slot, 'planned'),
        input,
        // What has been tried goes at once; what was held beforehand goes when it was to.
        placing: slot.trouble === 'failed' || slot.trouble === 'unknown' || slot.found ? undefined : slot.placing,
        generation,
        key: slot.key.replace(/\.\d+$/, `.${generation}`),
        length: same || text === null ? slot.length : (decision.length ?? countGraphemes(text)),
        trimmed: same ? slot.trimmed : undefined,
      } as Slot;
    }
  }
}

/** Whoever says yes to an answer that was overtaken has seen what is there now, and means it beside or over that. */
function overFound(slot: Slot, input: Slot['input']): Slot['input'] {
  if (slot.action === 'publish' && slot.found) return { ...(input as PublishInput), again: true };
  if (slot.action !== 'reply' || !slot.found) return input;
  const { text, answers } = slot.found;
  return { ...(input as ActInput<'reply'>), ...(text === null ? {} : { was: text }), over: answers };
}

/** The input with other words; markup would say the old ones. */
function withText(input: Slot['input'], text: string): Slot['input'] {
  const changed = { ...input, text } as Slot['input'];
  if ('markup' in changed && actTextOf(input) !== text) delete changed.markup;
  return changed;
}
const actTextOf = (input: Slot['input']) => ('text' in input ? input.text : null);

// The objects below are written out field by field: rehearsals make tens of thousands a second, and a spread costs
// several times as much.

/** The cell of a step that acts, from where its acts stand. */
export function slotsCell(slots: readonly Slot[], now: number, result?: (outcome: Outcome) => string): Cell {
  if (slots.length === 0 || slots[0]!.action === 'publish') {
    return {
      kind: 'posts',
      posts: slots.map((slot) => {
        const { outcome } = slot;
        const input = slot.input as PublishInput;
        return {
          outlet: slot.outlet ?? 0,
          status: slot.status === 'done' ? 'posted' : slot.status,
          text: input.text,
          card: input.card,
          more: moreOf(input),
          length: slot.length ?? 0,
          limit: slot.limit ?? null,
          left: slot.left,
          trimmed: slot.trimmed,
          at: outcome === undefined ? now : outcome.at,
          url: outcome?.url ?? undefined,
          says: slot.says,
          trouble: slot.trouble,
          fault: slot.fault,
          key: slot.key,
        };
      }),
    };
  }
  return { kind: 'acts', acts: slots.map((slot) => actCell(slot, now, result)) };
}

/** Which row, and what is written into it. */
function sayRecord({ match, row, values, before }: ActInput<'record'>): string {
  if (row !== undefined) {
    const changes = Object.entries(values).filter(([column, value]) => (before?.[column] ?? '') !== value);
    return `in this row${sayParts(changes.map(([column, value]) => `${column}: ${before?.[column] || '–'} → ${value || '–'}`))}`;
  }
  const which = match ? `in the row where ${match.column} is ${match.value}` : 'a new row';
  return `${which}${sayParts(Object.entries(values).flatMap(([column, value]) => (value ? [`${column}: ${value}`] : [])))}`;
}

/** The first of what is written into a row, as far as there is room. */
function sayParts(parts: readonly string[]): string {
  const said = parts.join(' · ');
  return said === '' ? '' : `: ${said.length > 100 ? `${cutUnits(said, 99).trimEnd()}…` : said}`;
}

/** Most posts are text and card alone. */
function moreOf(input: PublishInput): PostCell['more'] {
  if (
    input.title === undefined &&
    input.media === undefined &&
    input.show === undefined &&
    input.silent === undefined &&
    input.markup === undefined
  )
    return undefined;
  const { text: _text, card: _card, ...more } = input;
  return more;
}

function actCell(slot: Slot, now: number, result?: (outcome: Outcome) => string): ActCell {
  const { outcome } = slot;
  return {
    action: slot.action,
    outlet: slot.outlet,
    status: slot.status,
    what: sayAct(slot),
    text: actText(slot) ?? undefined,
    length: slot.length,
    limit: slot.limit,
    trimmed: slot.trimmed,
    result: outcome === undefined || slot.action === 'hold' ? undefined : result?.(outcome),
    at: outcome === undefined ? now : outcome.at,
    url: outcome?.url ?? undefined,
    says: slot.says,
    trouble: slot.trouble,
    fault: slot.fault,
    key: slot.key,
    asked: askedBy(slot),
  };
}

/**
 * What an act asks, of those that change nothing anywhere: when a run comes to it again with other input, its answer of
 * before answers something else. Undefined for what is done once and for all.
 */
export function askedBy(act: Act): number | undefined {
  const asks =
    act.action === 'find' ||
    act.action === 'draft' ||
    // Safe by RFC 9110, section 9.2.1.
    (act.action === 'call' && act.input.method === 'GET');
  return asks ? chanceOf(sortedJson(act.input)) : undefined;
}

/** The cell of a step that would act, were it not switched off. */
export function wouldBeCell(effects: readonly PlannedEffect[], now: number): Cell {
  const cell = slotsCell(
    effects.map((effect) => slotFor(effect, '', 0)),
    now,
  );
  for (const each of cell.kind === 'posts' ? cell.posts : cell.kind === 'acts' ? cell.acts : []) {
    each.key = undefined;
    each.status = 'would';
  }
  return cell;
}

/** What an act does, in a few words. */
export function sayAct(act: Act): string {
  switch (act.action) {
    case 'publish':
      return 'post';
    case 'reply':
      return 'reply';
    case 'message':
      return 'message';
    case 'react':
      return act.input.reaction;
    case 'revise':
      return act.input.change;
    case 'record':
      return sayRecord(act.input);
    case 'find':
      return `${act.input.what} with ${act.input.by} ${act.input.value}`;
    case 'draft':
      return 'draft';
    case 'label':
      return [...act.input.add.map((label) => `+${label}`), ...act.input.remove.map((label) => `−${label}`)].join(' ');
    case 'notify':
      return act.input.to.length === 0
        ? 'everybody'
        : act.input.to.length === 1
          ? 'a colleague'
          : `${act.input.to.length} colleagues`;
    case 'call':
      return `${act.input.method} ${act.input.url.replace(/^https?:\/\//, '')}`;
    case 'hold':
      return 'your yes';
  }
}
