// A whole live driver in miniature: a network, an outbox with leases, two workers that crash at any point, answers that
// are lost, clocks that jump. Whatever happens in whatever order, the audience must see each effect once (at a blind
// network at most once, and what is missing is held), and nothing may be stuck that is not held.
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Item } from '../items/item.ts';
import { rehearseItem } from '../rehearsal/rehearse.ts';
import { VirtualTables } from '../rehearsal/virtual.ts';
import type { Step } from '../steps/index.ts';
import { definitionSchema, type Definition } from '../workflow/definition.ts';
import { NO_SETTINGS } from '../workflow/settings.ts';
import type { World } from '../model/world.ts';
import { advance } from './advance.ts';
import { postsAhead } from './ahead.ts';
import type { Outcome } from '../model/acts.ts';
import { stepOf, type Trace } from '../model/cells.ts';
import type { Effect } from '../model/effects.ts';
import { nextMove, type Repeats } from './next-move.ts';
import { compile } from './program.ts';
import { settleCells } from './settle-cells.ts';
import { askerOf } from './slots.ts';
import { nextWake, runStateSchema, slotsIn, type RunEvent, type RunState } from '../model/state.ts';

const world: World = {
  timeZone: 'Europe/Lisbon',
  locale: 'en',
  outlets: new Map([1, 2, 3].map((id) => [id, { id, kind: 'page' as const, name: `Page ${id}`, accountId: 1 }])),
  watches: new Map([[1, { id: 1, name: 'A channel', things: 'videos' }]]),
};

type Perform = Extract<Effect, { do: 'perform' }>;
interface Entry {
  effect: Perform;
  unsure: boolean;
  lease: number | null;
  leaseUntil: number;
  dueAt: number;
}
interface Worker {
  key: string;
  lease: number;
  sent: Outcome | null;
}

const LEASE = 1000;
const sampleAnswer = { found: true, who: 'Mo' };

/** The world outside and the database, as far as one run needs them. */
class Miniature {
  now = 1_000_000;
  state: RunState | null = null;
  trace: Trace = {};
  readonly outbox = new Map<string, Entry>();
  /** What the audience sees, by key; keyed networks refuse repeats. */
  readonly seen: { key: string; effect: Perform }[] = [];
  readonly workers: (Worker | null)[] = [null, null];
  readonly tables = new VirtualTables('Europe/Lisbon');
  #leases = 0;
  readonly program: ReturnType<typeof compile>;
  item: Item;
  /** What came of acts, by key. */
  readonly outcomes = new Map<string, Outcome>();
  readonly repeats: Repeats;

  constructor(definition: Definition, item: Item, repeats: Repeats) {
    this.program = compile(definition, world);
    this.item = item;
    this.repeats = repeats;
  }

  /** One transaction: the event, and whatever the interpreter asks meanwhile. */
  take(first: RunEvent): void {
    const events: RunEvent[] = [first];
    for (let event = events.shift(); event; event = events.shift()) {
      const context = { item: this.item, watch: 1, now: this.now, run: 'r' };
      const result = advance(this.program, this.state, event, context);
      // What is stored must come back as it was.
      this.state = runStateSchema.parse(JSON.parse(JSON.stringify(result.state)));
      for (const step of result.forget ?? [])
        for (const place of Object.keys(this.trace)) if (stepOf(place) === step) delete this.trace[place];
      this.trace = { ...this.trace, ...result.trace };
      if (event.type === 'done') {
        this.outcomes.set(event.key, event.outcome);
        this.trace = { ...this.trace, ...settleCells(this.trace, new Map([[event.key, { done: event.outcome }]])) };
      }
      for (const effect of result.effects) {
        if (effect.do === 'perform' && !this.outbox.has(effect.key))
          this.outbox.set(effect.key, { effect, unsure: false, lease: null, leaseUntil: 0, dueAt: this.now });
        if (effect.do === 'ask')
          events.push({
            type: 'answered',
            key: effect.key,
            answer: this.tables.answer(effect.ask, this.now, askerOf(effect.key)),
          });
      }
    }
  }

  /** The thing the run is about says something else: what was not sent yet is taken back, and it goes on with that. */
  change(fields: Item['fields']): void {
    const { state } = this;
    const open = state?.status === 'waiting' || state?.status === 'held';
    if (!state || !open) return;
    const item = { ...this.item, fields };
    const event = (takenBack: ReadonlySet<string>): RunEvent => ({
      type: 'changed',
      trace: this.trace,
      outcomes: this.outcomes,
      takenBack,
    });
    const takenBack = new Set(
      [...this.outbox].flatMap(([key, entry]) => (entry.lease === null && !entry.unsure ? [key] : [])),
    );
    const context = { item, watch: 1, now: this.now, run: 'r' };
    if (advance(this.program, state, event(takenBack), context).kept) return;
    this.item = item;
    for (const key of takenBack) this.outbox.delete(key);
    this.take(event(takenBack));
  }

  wake(): void {
    const due = this.state && nextWake(this.state);
    if (due !== null && due <= this.now) this.take({ type: 'woke' });
  }

  /** One small step of one worker: claim, send, or record. */
  work(number: number, fate: 'well' | 'lost' | 'refused' | 'unwell'): void {
    const worker = this.workers[number]!;
    if (!worker) {
      for (const entry of this.outbox.values()) {
        const free = entry.lease === null ? entry.dueAt <= this.now : entry.leaseUntil <= this.now;
        if (!free) continue;
        // From here on it counts as perhaps sent.
        if (entry.lease !== null) entry.unsure = true;
        entry.lease = ++this.#leases;
        entry.leaseUntil = this.now + LEASE;
        this.workers[number] = { key: entry.effect.key, lease: entry.lease, sent: null };
        return;
      }
      return this.wake();
    }
    const entry = this.outbox.get(worker.key);
    const holds = entry?.lease === worker.lease;
    if (worker.sent) {
      // Recording: the lease decides who settles the effect, but a late answer still tells the run.
      if (holds) this.outbox.delete(worker.key);
      this.take({ type: 'done', key: worker.key, outcome: worker.sent });
      this.workers[number] = null;
      return;
    }
    // A worker that was asleep past its lease gives up before it sends.
    if (!entry || !holds || entry.leaseUntil <= this.now) return void (this.workers[number] = null);
    const { effect } = entry;
    const move = nextMove(effect.action === 'call' ? 'keyed' : this.repeats, entry.unsure);
    const give = (event: RunEvent) => {
      this.outbox.delete(worker.key);
      this.workers[number] = null;
      this.take(event);
    };
    if (move === 'ask') return give({ type: 'failed', key: effect.key, says: '?', unknown: true });
    if (move === 'look' && this.seen.some((made) => made.key === effect.key)) {
      worker.sent = this.#outcome(effect);
      return;
    }
    if (fate === 'refused')
      return give({ type: 'failed', key: effect.key, says: 'no', unknown: entry.unsure && this.repeats !== 'keyed' });
    if (fate === 'unwell') {
      entry.lease = null;
      entry.dueAt = this.now + 50;
      this.workers[number] = null;
      return;
    }
    if (!(this.repeats === 'keyed' && this.seen.some((made) => made.key === effect.key)))
      this.seen.push({ key: effect.key, effect });
    if (fate === 'lost') {
      entry.unsure = true;
      entry.lease = null;
      entry.dueAt = this.now + 50;
      this.workers[number] = null;
      return;
    }
    worker.sent = this.#outcome(effect);
  }

  #outcome(effect: Perform): Outcome {
    const made: Outcome = { remoteId: `m-${effect.key}`, url: null, at: this.now };
    if (effect.action === 'call') made.result = { status: 200, body: sampleAnswer };
    return made;
  }

  get settled(): boolean {
    return (
      this.outbox.size === 0 &&
      this.workers.every((worker) => worker === null) &&
      !!this.state &&
      nextWake(this.state) === null
    );
  }

  /** Lets time pass until nothing more happens by itself. */
  rest(): void {
    for (let round = 0; round < 4000 && !this.settled; round++) {
      this.work(round % 2, 'well');
      if (this.workers.some((worker) => worker)) continue;
      const next = [...this.outbox.values()].map((entry) => (entry.lease === null ? entry.dueAt : entry.leaseUntil));
      const wake = this.state && nextWake(this.state);
      if (wake !== null) next.push(wake);
      if (next.length > 0) this.now = Math.max(this.now, Math.min(...next));
    }
  }
}

const test = (field: string, op: 'filled' | 'contains' | 'above', value?: string | number) => ({
  type: 'group' as const,
  match: 'all' as const,
  items: [{ type: 'test' as const, field, op, value }],
});

let count = 0;
const id = () => `s${++count}`;
const plain: fc.Arbitrary<Step> = fc.oneof(
  fc
    .constantFrom('title', 'nothing', 'score')
    .map((field): Step => ({ id: id(), verb: 'check', condition: test(field, 'filled') })),
  fc
    .constantFrom('{$title}', '{$title} {$entry}', '{$answer.who}: {$title}')
    .map((text): Step => ({ id: id(), verb: 'compose', name: 'caption', text })),
  fc
    .subarray([1, 2, 3], { minLength: 1 })
    .map((outlets): Step => ({ id: id(), verb: 'publish', outlets, caption: 'caption', card: null, as: 'post' })),
  fc
    .integer({ min: 0, max: 5000 })
    .map((seconds): Step => ({ id: id(), verb: 'wait', until: { type: 'duration', seconds } })),
  fc.boolean().map((again): Step => ({
    id: id(),
    verb: 'call',
    method: 'GET',
    url: 'https://lookups.example/{$title}',
    headers: [],
    body: null,
    as: 'answer',
    sample: sampleAnswer,
    keyed: true,
    again: again ? { until: test('answer.missing', 'filled'), every: 60, times: 3 } : null,
    whenNot: 'on',
  })),
  fc
    .constant(0)
    .map((): Step => ({ id: id(), verb: 'label', person: 'title', name: 'title', add: ['seen'], remove: [] })),
);
/** Which wording comes next depends on what was worded before, and so on which element answered first. */
const varied: fc.Arbitrary<Step> = fc.oneof(
  { weight: 6, arbitrary: plain },
  {
    weight: 1,
    arbitrary: fc.constant(0).map((): Step => ({
      id: id(),
      verb: 'compose',
      name: 'caption',
      text: 'One',
      others: ['Two', 'Three {$title}'],
    })),
  },
);
const stepsOf = (leaf: fc.Arbitrary<Step>) =>
  fc.letrec<{ step: Step; steps: Step[] }>((tie) => ({
    steps: fc.array(tie('step'), { minLength: 1, maxLength: 4 }),
    step: fc.oneof(
      { maxDepth: 2, withCrossShrink: true },
      leaf,
      leaf,
      fc
        .tuple(tie('steps'), tie('steps'), fc.constantFrom('asks' as const, 'chance' as const))
        .map(([one, other, by]): Step => ({
          id: id(),
          verb: 'split',
          by,
          cases: [
            { id: 'a', name: '', when: test('score', 'above', 5), share: 1, steps: one },
            { id: 'b', name: '', when: test('title', 'contains', 'e'), share: 2, steps: other },
          ],
          otherwise: [],
        })),
      fc.tuple(tie('steps'), fc.boolean()).map(([inside, together]): Step => ({
        id: id(),
        verb: 'foreach',
        list: 'entries',
        as: 'entry',
        most: null,
        together,
        steps: inside,
      })),
    ),
  })).steps;
const items = fc.record({
  title: fc.constantFrom('Cold water', 'Lengths', ''),
  score: fc.integer({ min: 0, max: 10 }),
  entries: fc.array(fc.string({ maxLength: 4 }), { maxLength: 3 }),
});

type Move =
  | { what: 'work'; worker: 0 | 1; fate: 'well' | 'lost' | 'refused' | 'unwell' }
  | { what: 'crash'; worker: 0 | 1 }
  | { what: 'time'; by: number }
  | { what: 'changed'; fields: Item['fields'] }
  | { what: 'again' };
const movesWith = (...more: fc.WeightedArbitrary<Move>[]) =>
  fc.array(
    fc.oneof(
      ...more,
      {
        weight: 6,
        arbitrary: fc.record({
          what: fc.constant('work' as const),
          worker: fc.constantFrom(0 as const, 1 as const),
          fate: fc.constant('well' as const),
        }),
      },
      {
        weight: 2,
        arbitrary: fc.record({
          what: fc.constant('work' as const),
          worker: fc.constantFrom(0 as const, 1 as const),
          fate: fc.constantFrom('lost' as const, 'refused' as const, 'unwell' as const),
        }),
      },
      {
        weight: 2,
        arbitrary: fc.record({ what: fc.constant('crash' as const), worker: fc.constantFrom(0 as const, 1 as const) }),
      },
      // An hour either way is a clock that was set; the rest is time that passes.
      {
        weight: 2,
        arbitrary: fc.record({
          what: fc.constant('time' as const),
          by: fc.constantFrom(100, 1100, 70_000, 3_600_000, -3_600_000),
        }),
      },
      { weight: 1, arbitrary: fc.record({ what: fc.constant('again' as const) }) },
    ),
    { maxLength: 60 },
  );
const moves = movesWith();
/** Also what a person or the network does to the thing meanwhile. */
const movesAndChanges = movesWith({
  weight: 2,
  arbitrary: fc.record({ what: fc.constant('changed' as const), fields: items }),
});

function play(definition: Definition, fields: Item['fields'], repeats: Repeats, script: Move[]): Miniature {
  const mini = new Miniature(definition, { identity: 'id:1', publishedAt: 0, fields }, repeats);
  mini.take({ type: 'arrived' });
  for (const move of script) {
    if (move.what === 'work') mini.work(move.worker, move.fate);
    else if (move.what === 'crash') mini.workers[move.worker] = null;
    else if (move.what === 'time') mini.now += move.by;
    else if (move.what === 'changed') mini.change(move.fields);
    // Delivered twice: the item, and whatever has already been told.
    else {
      mini.take({ type: 'arrived' });
      const told = slotsIn(mini.state!).find((slot) => slot.status === 'done');
      if (told) mini.take({ type: 'done', key: told.key, outcome: told.outcome! });
    }
  }
  mini.rest();
  return mini;
}

const define = (list: Step[], more: Partial<Definition> = {}): Definition =>
  definitionSchema.parse({ schema: 1, sources: [{ id: 'src', watch: 1 }], steps: list, ...more });

/** What a trace says apart from when and under which key. */
function saying(trace: Trace): unknown {
  return Object.fromEntries(
    Object.entries(trace)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([place, cell]) => {
        switch (cell.kind) {
          case 'posts':
            return [place, cell.posts.map((post) => [post.outlet, post.text, post.length, post.trouble])];
          case 'acts':
            return [place, cell.acts.map((act) => [act.action, act.what, act.result])];
          case 'waits':
            return [place, ['waits', cell.why, cell.over]];
          default:
            return [place, cell];
        }
      }),
  );
}

describe('exactly once, for any program under any interleaving of two workers', () => {
  it.each<Repeats>(['keyed', 'findable', 'blind'])('%s networks', (repeats) => {
    fc.assert(
      fc.property(
        stepsOf(varied),
        items,
        moves,
        fc.constantFrom('hold' as const, 'skip' as const, 'end' as const),
        (list, fields, script, onFailure) => {
          const definition = define(list, { settings: { ...NO_SETTINGS, onFailure: { do: onFailure } } });
          const mini = play(definition, fields, repeats, script);
          // The audience saw each effect once.
          const keys = mini.seen.filter(({ effect }) => effect.action !== 'call').map(({ key }) => key);
          expect(new Set(keys).size).toBe(keys.length);
          // Nothing is stuck that is not held.
          expect(mini.settled).toBe(true);
          const { status } = mini.state!;
          expect(['done', 'stopped', 'held']).toContain(status);
          if (status === 'held') expect(slotsIn(mini.state!).some((slot) => slot.status === 'held')).toBe(true);
          // What a cell says was posted, the audience has; and nothing else.
          const posted = Object.entries(mini.trace).flatMap(([place, cell]) =>
            cell.kind === 'posts'
              ? cell.posts.filter((post) => post.status === 'posted').map((post) => `r.${place}.${post.outlet}.1`)
              : [],
          );
          const published = mini.seen.filter(({ effect }) => effect.action === 'publish').map(({ key }) => key);
          expect(posted.filter((key) => !published.includes(key))).toEqual([]);
          const unsure = slotsIn(mini.state!)
            .filter((slot) => slot.trouble === 'unknown')
            .map((slot) => slot.key);
          expect(published.filter((key) => !posted.includes(key) && !unsure.includes(key))).toEqual([]);
        },
      ),
      { numRuns: 400 },
    );
  });

  it.each<Repeats>(['keyed', 'findable', 'blind'])('%s networks: nothing is posted that was not ahead', (repeats) => {
    fc.assert(
      fc.property(stepsOf(varied), items, moves, (list, fields, script) => {
        const definition = define(list);
        const ahead = postsAhead(definition, null);
        const mini = play(definition, fields, repeats, script);
        const said = ({ step, outlet }: { step: string; outlet: number }) => `${step} ${outlet}`;
        const published = new Set(
          mini.seen
            .filter(({ effect }) => effect.action === 'publish')
            .map(({ effect }) => said({ step: stepOf(effect.place), outlet: effect.outlet! })),
        );
        const known = new Set(ahead.map(said));
        expect([...published].filter((post) => !known.has(post))).toEqual([]);
        // What was sure went out, or waits for a person, or was refused: it was come to.
        if (mini.state!.status === 'done')
          for (const post of ahead.filter(({ sure }) => sure)) expect(mini.trace[post.step]?.kind).toBe('posts');
        // Once it has ended, nothing is ahead.
        if (mini.state!.status !== 'held') expect(postsAhead(definition, mini.state)).toEqual([]);
      }),
      { numRuns: 400 },
    );
  });

  it('a refusal that a run hears while it stands elsewhere is not waited for after another change', () => {
    const test = (field: string, op: 'above' | 'filled' | 'contains', value?: number | string) => ({
      type: 'group' as const,
      match: 'all' as const,
      items: [{ type: 'test' as const, field, op, value }],
    });
    const call = { method: 'GET', url: 'https://lookups.example/{$title}', headers: [], body: null, as: 'answer' };
    const steps = [
      {
        id: 'way',
        verb: 'split',
        by: 'asks',
        cases: [
          { id: 'a', name: '', when: test('score', 'above', 5), share: 1, steps: [] },
          {
            id: 'b',
            name: '',
            when: test('title', 'contains', 'e'),
            share: 1,
            steps: [
              { id: 'ask', verb: 'call', ...call, sample: { found: true }, keyed: true, again: null, whenNot: 'on' },
            ],
          },
        ],
        otherwise: [],
      },
      { id: 'seen', verb: 'label', person: 'title', name: 'title', add: ['seen'], remove: [] },
    ] as unknown as Step[];
    const at = (score: number) => ({ title: 'Cold water', score, entries: [] });
    const mini = play(define(steps), at(6), 'findable', [
      { what: 'work', worker: 0, fate: 'well' },
      // The label is on its way; the run is sent another way, where it waits for an answer, and hears that it was refused.
      { what: 'changed', fields: at(0) },
      { what: 'work', worker: 0, fate: 'refused' },
      { what: 'changed', fields: at(0) },
    ]);
    expect(mini.settled).toBe(true);
    expect(['done', 'held']).toContain(mini.state!.status);
  });

  it.each<Repeats>(['keyed', 'findable', 'blind'])('%s networks, while the thing itself is changed', (repeats) => {
    fc.assert(
      fc.property(stepsOf(varied), items, movesAndChanges, (list, fields, script) => {
        const mini = play(define(list), fields, repeats, script);
        expect(mini.settled).toBe(true);
        const { status } = mini.state!;
        expect(['done', 'stopped', 'held']).toContain(status);
        if (status === 'held') expect(slotsIn(mini.state!).some((slot) => slot.status === 'held')).toBe(true);
        // Nobody saw the same act of a step twice, in whichever words: a key differs from another by more than how often
        // the run was gone through.
        const places = mini.seen
          .filter(({ effect }) => effect.action === 'publish')
          .map(({ effect }) => `${effect.place} ${effect.outlet}`);
        expect(new Set(places).size).toBe(places.length);
        // What a cell says was posted, the audience has, in those words.
        for (const cell of Object.values(mini.trace)) {
          if (cell.kind !== 'posts') continue;
          for (const post of cell.posts.filter((each) => each.status === 'posted')) {
            const said = mini.seen.find(({ key }) => key === post.key)?.effect;
            expect(said?.action === 'publish' && said.input.text).toBe(post.text);
          }
        }
      }),
      { numRuns: 400 },
    );
  });

  it('a run that has sent nothing yet comes out as one that began with the thing as it is now', () => {
    fc.assert(
      fc.property(stepsOf(plain), items, items, fc.integer({ min: 0, max: 6 }), (list, before, after, worked) => {
        const definition = define(list);
        const mini = new Miniature(definition, { identity: 'id:1', publishedAt: 0, fields: before }, 'keyed');
        mini.take({ type: 'arrived' });
        for (let step = 0; step < worked; step++) mini.work(0, 'well');
        mini.workers[0] = null;
        const open = mini.state!.status === 'waiting';
        fc.pre(open && mini.seen.length === 0 && [...mini.outbox.values()].every((entry) => entry.lease === null));
        mini.change(after);
        mini.rest();
        const item = { identity: 'id:1', publishedAt: 0, fields: after, id: 1, watch: 1, seenAt: 0 };
        const rehearsed = rehearseItem(compile(definition, world), item, 1_000_000);
        expect(mini.state!.status).toBe(rehearsed.outcome);
        expect(saying(mini.trace)).toEqual(saying(rehearsed.trace));
      }),
      { numRuns: 300 },
    );
  });

  it('a run that goes well says what the rehearsal said', () => {
    fc.assert(
      fc.property(stepsOf(plain), items, moves, (list, fields, script) => {
        const definition = define(list);
        const calm = script.filter((move) => move.what !== 'work' || move.fate !== 'refused');
        const mini = play(definition, fields, 'keyed', calm);
        const item = { identity: 'id:1', publishedAt: 0, fields, id: 1, watch: 1, seenAt: 0 };
        const rehearsed = rehearseItem(compile(definition, world), item, 1_000_000);
        expect(mini.state!.status).toBe(rehearsed.outcome);
        expect(saying(mini.trace)).toEqual(saying(rehearsed.trace));
      }),
      { numRuns: 400 },
    );
  });
});
