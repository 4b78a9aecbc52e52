import { advance } from '../engine/advance.ts';
import { compile } from '../engine/program.ts';
import { askerOf } from '../engine/slots.ts';
import type { Fields } from '../items/item.ts';
import type { Outcome } from '../model/acts.ts';
import { cellsOf, type Trace } from '../model/cells.ts';
import type { Effect } from '../model/effects.ts';
import { runStateSchema, slotsIn, type RunEvent, type RunState } from '../model/state.ts';
import type { World } from '../model/world.ts';
import { VirtualTables } from '../rehearsal/virtual.ts';
import type { Definition } from '../workflow/definition.ts';

/** One run, driven by hand. */
export class Driven {
  state: RunState | null = null;
  trace: Trace = {};
  effects: Effect[] = [];
  now = Date.UTC(2026, 10, 23, 12);
  program;
  fields: Fields;
  readonly tables = new VirtualTables('Europe/Lisbon');
  constructor(definition: Definition, fields: Fields, world: World) {
    this.program = compile(definition, world);
    this.fields = fields;
  }
  take(event: RunEvent): this {
    const events = [event];
    this.effects = [];
    for (let next = events.shift(); next; next = events.shift()) {
      const item = { identity: 'id:1', publishedAt: null, fields: this.fields };
      const result = advance(this.program, this.state, next, { item, watch: 1, now: this.now, run: 'r' });
      this.state = runStateSchema.parse(JSON.parse(JSON.stringify(result.state)));
      for (const step of result.forget ?? [])
        for (const { place } of cellsOf(this.trace, step)) delete this.trace[place];
      Object.assign(this.trace, result.trace);
      for (const effect of result.effects) {
        this.effects.push(effect);
        if (effect.do === 'ask')
          events.push({
            type: 'answered',
            key: effect.key,
            answer: this.tables.answer(effect.ask, this.now, askerOf(effect.key)),
          });
      }
    }
    return this;
  }
  performs = () => this.effects.flatMap((effect) => (effect.do === 'perform' ? [effect] : []));
  done(key: string, outcome: Partial<Outcome> = {}): this {
    return this.take({
      type: 'done',
      key,
      outcome: { remoteId: 'm1', url: 'https://x.example/m1', at: this.now, ...outcome },
    });
  }
  doneAll(outcome: Partial<Outcome> = {}): this {
    for (const effect of this.performs()) this.done(effect.key, outcome);
    return this;
  }
  held = () => slotsIn(this.state!).filter((slot) => slot.status === 'held');
}
