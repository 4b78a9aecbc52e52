// Rows and posts by hand that wait for their time, as any program and any people may have it: several runs at the same
// outlets, times of a timetable that each is held by one, rows corrected, moved and withdrawn, runs ended, workers that crash.
// Nothing goes out twice, nothing is lost, nothing goes out in words that were withdrawn, or before its moment.
import fc from 'fast-check';
import { DateTime } from 'luxon';
import { describe, expect, it } from 'vitest';
import type { Fields, Item } from '../items/item.ts';
import type { Outcome } from '../model/acts.ts';
import { stepOf, type Trace } from '../model/cells.ts';
import type { Effect } from '../model/effects.ts';
import { nextWake, runStateSchema, slotsIn, type Decision, type RunEvent, type RunState } from '../model/state.ts';
import type { World } from '../model/world.ts';
import { newPost, postFields, postMoments, type WrittenPost } from '../posts/written.ts';
import { VirtualTables } from '../rehearsal/virtual.ts';
import type { Step } from '../steps/index.ts';
import type { PublishWhen } from '../steps/publish-when.ts';
import { localMoment } from '../text/local-moment.ts';
import { Places } from '../timetable/earliest.ts';
import { placeable } from '../timetable/placing.ts';
import { reflow } from '../timetable/reflow.ts';
import { NO_TIMETABLE, timesBetween, type Timetable } from '../timetable/timetable.ts';
import { definitionSchema, type Definition } from '../workflow/definition.ts';
import { advance } from './advance.ts';
import { nextMove, type Repeats } from './next-move.ts';
import { compile } from './program.ts';
import { settleCells } from './settle-cells.ts';
import { askerOf } from './slots.ts';

const ZONE = 'Europe/Lisbon';
const BEGAN = DateTime.fromISO('2031-03-28T10:00', { zone: ZONE }).toMillis();
const HOUR = 3_600_000;
const daily: Timetable = { ...NO_TIMETABLE, times: Array.from({ length: 7 }, () => ['09:00', '13:00', '17:30']) };
/** The clocks go forward in the night to 30 March. */
const TIMETABLES = new Map<number, Timetable>([
  [1, { ...daily, mostPerDay: 2 }],
  [2, { ...daily, gap: 5 * 3600, pauses: [{ from: '2031-03-30', to: '2031-03-31', name: 'Inventory' }] }],
]);
const world: World = {
  timeZone: ZONE,
  locale: 'en',
  outlets: new Map(
    [1, 2, 3].map((id) => [
      id,
      { id, kind: 'page' as const, name: `Page ${id}`, accountId: 1, timetable: TIMETABLES.get(id) },
    ]),
  ),
  watches: new Map([[1, { id: 1, name: 'A plan', things: 'rows' }]]),
};
const LEASE = 1000;

type Perform = Extract<Effect, { do: 'perform' }>;
interface Run {
  id: string;
  item: Item;
  state: RunState | null;
  trace: Trace;
  outcomes: Map<string, Outcome>;
  /** Nothing of it may be claimed any more. */
  over: boolean;
}
interface Entry {
  run: Run;
  effect: Perform;
  dueAt: number;
  slot: number | null;
  lease: number | null;
  leaseUntil: number;
  unsure: boolean;
  /** Its run has moved on while it was on its way. */
  overtaken: boolean;
}
interface Sent extends Entry {
  at: number;
}

/** What a run's item says is to go out, and not before when; undefined where nobody can say. */
type Intends = (fields: Fields, effect: Perform) => { text: string; notBefore: number | null };

/** A live driver in miniature: an outbox with leases, timetables, two workers, and a network that may answer or not. */
class ManyRuns {
  now = BEGAN;
  readonly runs: Run[];
  readonly outbox = new Map<string, Entry>();
  readonly sent: Sent[] = [];
  readonly workers: ({ entry: Entry; lease: number; outcome: Outcome | null } | null)[] = [null, null];
  readonly #tables = new VirtualTables(ZONE);
  readonly #program: ReturnType<typeof compile>;
  readonly #repeats: Repeats;
  readonly #intends: Intends;
  #leases = 0;

  constructor(definition: Definition, items: Fields[], repeats: Repeats, intends: Intends) {
    this.#program = compile(definition, world);
    this.#repeats = repeats;
    this.#intends = intends;
    this.runs = items.map((fields, n) => ({
      id: `r${n}`,
      item: { identity: `row:${n}`, publishedAt: 0, fields },
      state: null,
      trace: {},
      outcomes: new Map(),
      over: false,
    }));
    for (const run of this.runs) this.take(run, { type: 'arrived' });
  }

  #context = (run: Run, item = run.item) => ({ item, watch: 1, now: this.now, run: run.id });
  #unsent = (run: Run) =>
    new Set(
      [...this.outbox].flatMap(([key, entry]) =>
        entry.run === run && entry.lease === null && !entry.unsure ? [key] : [],
      ),
    );

  take(run: Run, first: RunEvent): void {
    const events = [first];
    for (let event = events.shift(); event; event = events.shift()) {
      const result = advance(this.#program, run.state, event, this.#context(run));
      run.state = runStateSchema.parse(JSON.parse(JSON.stringify(result.state)));
      for (const step of result.forget ?? [])
        for (const place of Object.keys(run.trace)) if (stepOf(place) === step) delete run.trace[place];
      run.trace = { ...run.trace, ...result.trace };
      if (event.type === 'done') {
        run.outcomes.set(event.key, event.outcome);
        run.trace = { ...run.trace, ...settleCells(run.trace, new Map([[event.key, { done: event.outcome }]])) };
      }
      let before: number | null = null;
      for (const effect of result.effects) {
        if (effect.do === 'perform' && !this.outbox.has(effect.key)) {
          const { at, slot } = this.#place(effect, before);
          before = effect.action === 'publish' ? at : before;
          this.outbox.set(effect.key, {
            run,
            effect,
            dueAt: at,
            slot,
            lease: null,
            leaseUntil: 0,
            unsure: false,
            overtaken: false,
          });
        }
        if (effect.do === 'ask') {
          const answer = this.#tables.answer(effect.ask, this.now, askerOf(effect.key));
          events.push({ type: 'answered', key: effect.key, answer });
        }
      }
    }
  }

  /** What is taken at an outlet: what waits for its time, and what has gone out. */
  #taken(outlet: number) {
    const there = (entry: Entry) => entry.effect.outlet === outlet && entry.effect.action === 'publish';
    const waiting = [...this.outbox.values()]
      .filter(there)
      .map(({ dueAt, slot, effect }) => ({ at: dueAt, slot, effect }));
    // What is out and not written down yet is in both.
    const out = this.sent.filter((entry) => there(entry) && !this.outbox.has(entry.effect.key));
    return [...waiting, ...out.map(({ at, slot, effect }) => ({ at, slot, effect }))];
  }

  /** Where an act goes, by the parts of core that the server places it with. */
  #place({ placing, outlet, action }: Perform, before: number | null): { at: number; slot: number | null } {
    if (action !== 'publish' || outlet === null) return { at: this.now, slot: null };
    const timetable = TIMETABLES.get(outlet) ?? NO_TIMETABLE;
    const asked = placeable(placing, { now: this.now, before });
    if (asked.at !== null) return { at: asked.at, slot: null };
    const of = { timetable, zone: ZONE, hours: null, from: asked.from };
    if (asked.front) {
      const queue = [...this.outbox.values()]
        .filter(
          ({ effect, slot, lease, unsure }) =>
            effect.outlet === outlet && slot !== null && slot >= asked.from && !lease && !unsure,
        )
        .sort((a, b) => a.dueAt - b.dueAt);
      const waiting = new Set(queue.map(({ slot }) => slot));
      const taken = this.#taken(outlet).filter(({ slot }) => slot === null || !waiting.has(slot));
      const [first, ...rest] = reflow([null, ...queue], { ...of, taken });
      if (first && first.slot !== null && rest.every((each) => each !== null)) {
        for (const [index, entry] of queue.entries())
          Object.assign(entry, { dueAt: rest[index]!.at, slot: rest[index]!.slot });
        return first;
      }
    }
    const found = new Places({ ...of, taken: this.#taken(outlet) }).find(asked.next, asked.from);
    if (!found) throw new Error('Nothing is free within a year.');
    return found;
  }

  /** A colleague corrects or moves what a run is about, or its network shows it otherwise. */
  change(run: Run, fields: Fields): void {
    if (!run.over) this.#again(run, { ...run.item, fields });
  }

  /** Through its steps again, with what was not sent taken back. Returns whether it could be. */
  #again(run: Run, item: Item): boolean {
    if (run.state?.status !== 'waiting' && run.state?.status !== 'held') return false;
    const takenBack = this.#unsent(run);
    const event: RunEvent = { type: 'changed', trace: run.trace, outcomes: run.outcomes, takenBack };
    if (advance(this.#program, run.state, event, this.#context(run, item)).kept) return false;
    run.item = item;
    for (const key of takenBack) this.outbox.delete(key);
    this.#overtake(run);
    this.take(run, event);
    return true;
  }

  #overtake(run: Run): void {
    for (const entry of this.outbox.values()) if (entry.run === run) entry.overtaken = true;
  }

  /** What was certainly not sent, and whose run has moved on: it is planned anew, or taken back. */
  #giveBack(entry: Entry): boolean {
    if (!entry.overtaken) return false;
    Object.assign(entry, { lease: null, unsure: false });
    if (entry.run.over || !this.#again(entry.run, entry.run.item)) this.outbox.delete(entry.effect.key);
    return true;
  }

  /** It is gone, or a person ends it: what was not begun is not sent. */
  end(run: Run, event: Extract<RunEvent, { type: 'withdrawn' | 'cancelled' }> | RunEvent): void {
    const { status } = run.state!;
    if (status !== 'waiting' && status !== 'held') return;
    this.take(run, event);
    for (const key of this.#unsent(run)) this.outbox.delete(key);
    this.#overtake(run);
    run.over = true;
  }

  /** A person decides about the first thing that a run holds. */
  decide(run: Run, decision: Decision): void {
    const slot = run.state && slotsIn(run.state).find(({ status }) => status === 'held');
    if (!slot || run.over) return;
    const event: RunEvent = { type: 'decided', key: slot.key, decision };
    if (decision.do === 'end') return this.end(run, event);
    // A moment is written where one is asked for, and nowhere else.
    const text = 'text' in decision ? decision.text : undefined;
    if ((slot.trouble === 'date') !== (text !== undefined) && decision.do === 'retry') return;
    this.take(run, event);
  }

  /** One small step of one worker: claim, send, or record. */
  work(number: number, fate: 'well' | 'lost' | 'refused' | 'unwell'): void {
    const worker = this.workers[number];
    if (!worker) {
      for (const entry of this.outbox.values()) {
        const free = entry.lease === null ? entry.dueAt <= this.now : entry.leaseUntil <= this.now;
        if (!free) continue;
        // What was claimed once may be out: then it is looked for, whatever has become of its run.
        if (entry.lease === null && !entry.unsure) this.#check(entry);
        if (entry.lease !== null) entry.unsure = true;
        entry.lease = ++this.#leases;
        entry.leaseUntil = this.now + LEASE;
        this.workers[number] = { entry, lease: entry.lease, outcome: null };
        return;
      }
      for (const run of this.runs) {
        const due = run.state && nextWake(run.state);
        if (due !== null && due <= this.now) return this.take(run, { type: 'woke' });
      }
      return;
    }
    const { entry } = worker;
    const { run, effect } = entry;
    const holds = this.outbox.get(effect.key) === entry && entry.lease === worker.lease;
    if (worker.outcome) {
      if (holds) this.outbox.delete(effect.key);
      this.take(run, { type: 'done', key: effect.key, outcome: worker.outcome });
      this.workers[number] = null;
      return;
    }
    if (!holds || entry.leaseUntil <= this.now) return void (this.workers[number] = null);
    const give = (event: RunEvent) => {
      this.outbox.delete(effect.key);
      this.workers[number] = null;
      this.take(run, event);
    };
    const notSent = (): boolean => {
      this.workers[number] = null;
      if (this.#giveBack(entry)) return true;
      this.workers[number] = worker;
      return false;
    };
    const later = () => {
      entry.lease = null;
      entry.dueAt = this.now + 50;
      this.workers[number] = null;
    };
    const out = this.sent.find((each) => each.effect.key === effect.key);
    const move = nextMove(this.#repeats, entry.unsure);
    if (move === 'ask') return give({ type: 'failed', key: effect.key, says: '?', unknown: true });
    const outcome: Outcome = { remoteId: `m-${effect.key}`, url: null, at: this.now };
    if (move === 'look' && out) return void (worker.outcome = outcome);
    // Looked for, and not there: it is as if it had never been tried.
    if (move === 'look' && notSent()) return;
    const unsure = entry.unsure && this.#repeats !== 'keyed';
    if ((fate === 'refused' || fate === 'unwell') && !entry.unsure && notSent()) return;
    if (fate === 'refused') return give({ type: 'failed', key: effect.key, says: 'no', unknown: unsure });
    if (fate === 'unwell') return later();
    if (!out || this.#repeats !== 'keyed') this.sent.push({ ...entry, at: this.now });
    if (fate === 'lost') {
      entry.unsure = true;
      return later();
    }
    worker.outcome = outcome;
  }

  /** What is about to go out is what its row says now, at a moment that has come, and of a run that nobody has ended. */
  #check({ run, effect }: Entry): void {
    expect(run.over, `${effect.key} goes out though its run has ended`).toBe(false);
    if (effect.action !== 'publish') return;
    const { text, notBefore } = this.#intends(run.item.fields, effect);
    expect(effect.input.text, `the words of ${effect.key}`).toBe(text);
    if (notBefore !== null) expect(this.now).toBeGreaterThanOrEqual(notBefore);
  }

  /** Each time of a timetable is one's, and one of the timetable. */
  checkTimes(): void {
    for (const [outlet, timetable] of TIMETABLES) {
      const slots = this.#taken(outlet).flatMap(({ slot }) => slot ?? []);
      expect(new Set(slots).size).toBe(slots.length);
      for (const slot of slots) expect([...timesBetween(timetable, slot, slot + 1, ZONE)]).toEqual([slot]);
    }
  }

  get settled(): boolean {
    const asleep = this.runs.every(({ state }) => state !== null && nextWake(state) === null);
    return this.outbox.size === 0 && this.workers.every((worker) => worker === null) && asleep;
  }

  /** Lets time pass until nothing more happens by itself. */
  rest(): void {
    for (let round = 0; round < 6000 && !this.settled; round++) {
      this.work(round % 2, 'well');
      if (this.workers.some((worker) => worker)) continue;
      const next = [...this.outbox.values()].map((entry) => (entry.lease === null ? entry.dueAt : entry.leaseUntil));
      for (const { state } of this.runs) {
        const wake = state && nextWake(state);
        if (wake !== null) next.push(wake);
      }
      if (next.length > 0) this.now = Math.max(this.now, Math.min(...next));
    }
  }

  /** What must hold in the end. */
  checkEnd(): void {
    expect(this.settled).toBe(true);
    const published = this.sent.filter(({ effect }) => effect.action === 'publish');
    const places = published.map(({ run, effect }) => `${run.id} ${effect.place} ${effect.outlet}`);
    expect(new Set(places).size, 'something went out twice').toBe(places.length);
    for (const run of this.runs) {
      const { status } = run.state!;
      expect(['done', 'stopped', 'held', 'cancelled']).toContain(status);
      if (status === 'held') expect(slotsIn(run.state!).some((slot) => slot.status === 'held')).toBe(true);
      const posts = Object.values(run.trace).flatMap((cell) => (cell.kind === 'posts' ? cell.posts : []));
      const out = new Set(published.filter((each) => each.run === run).map(({ effect }) => effect.key));
      for (const post of posts.filter((each) => each.status === 'posted' && each.key)) {
        // What a person says went out may be known to nobody else.
        if (!run.over) expect(out.has(post.key!) || this.said.has(post.key!)).toBe(true);
      }
      // What a run has come to and nobody took out is out.
      if (status === 'done' && !run.over)
        for (const post of posts) expect(['posted', 'skipped'], `${run.id} ${post.key}`).toContain(post.status);
    }
  }
  /** Keys of what a person has said went out. */
  readonly said = new Set<string>();
}

type Move =
  | { what: 'work'; worker: 0 | 1; fate: 'well' | 'lost' | 'refused' | 'unwell' }
  | { what: 'crash'; worker: 0 | 1 }
  | { what: 'time'; by: number }
  | { what: 'change'; run: number; fields: Fields }
  | { what: 'withdraw' | 'cancel' | 'again'; run: number }
  | { what: 'decide'; run: number; decision: Decision };
const worker = fc.constantFrom(0 as const, 1 as const);
const run = fc.nat(9);
const LATER = '2031-04-02T12:00';
const movesOver = (fields: fc.Arbitrary<Fields>): fc.Arbitrary<Move[]> =>
  fc.array(
    fc.oneof(
      {
        weight: 6,
        arbitrary: fc.record({ what: fc.constant('work' as const), worker, fate: fc.constant('well' as const) }),
      },
      {
        weight: 2,
        arbitrary: fc.record({
          what: fc.constant('work' as const),
          worker,
          fate: fc.constantFrom('lost' as const, 'refused' as const, 'unwell' as const),
        }),
      },
      { weight: 2, arbitrary: fc.record({ what: fc.constant('crash' as const), worker }) },
      {
        weight: 3,
        arbitrary: fc.record({
          what: fc.constant('time' as const),
          by: fc.constantFrom(100, 1100, HOUR, 5 * HOUR, 26 * HOUR),
        }),
      },
      { weight: 3, arbitrary: fc.record({ what: fc.constant('change' as const), run, fields }) },
      {
        weight: 1,
        arbitrary: fc.record({ what: fc.constantFrom('withdraw' as const, 'cancel' as const, 'again' as const), run }),
      },
      {
        weight: 2,
        arbitrary: fc.record({
          what: fc.constant('decide' as const),
          run,
          decision: fc.constantFrom<Decision>(
            { do: 'retry' },
            { do: 'retry', text: LATER },
            { do: 'skip' },
            { do: 'itWentOut' },
            { do: 'end' },
          ),
        }),
      },
    ),
    { maxLength: 70 },
  );

function play(mini: ManyRuns, script: Move[]): void {
  const of = (number: number) => mini.runs[number % mini.runs.length]!;
  for (const move of script) {
    switch (move.what) {
      case 'work':
        mini.work(move.worker, move.fate);
        break;
      case 'crash':
        mini.workers[move.worker] = null;
        break;
      case 'time':
        mini.now += move.by;
        break;
      case 'change':
        mini.change(of(move.run), move.fields);
        break;
      case 'withdraw':
        mini.end(of(move.run), { type: 'withdrawn', why: 'it is gone at its source' });
        break;
      case 'cancel':
        mini.end(of(move.run), { type: 'cancelled' });
        break;
      case 'again':
        mini.take(of(move.run), { type: 'arrived' });
        break;
      case 'decide': {
        const about = of(move.run);
        const slot = slotsIn(about.state!).find(({ status }) => status === 'held');
        if (slot && move.decision.do === 'itWentOut') mini.said.add(slot.key);
        mini.decide(about, move.decision);
        break;
      }
    }
    mini.checkTimes();
  }
  mini.rest();
  mini.checkTimes();
  mini.checkEnd();
}

const moment = fc.constantFrom('2031-03-28 12:00', '2031-03-30 08:30', '2031-03-30 01:30', '2031-04-01 19:00');
const outlets = fc.subarray([1, 2, 3], { minLength: 1 });
const apart = fc.option(fc.constantFrom(60, 7200), { nil: undefined });
const seconds = (at: string) => localMoment(at, { zone: ZONE, locale: 'en' })!;

describe('rows that wait, at times of a timetable', () => {
  const rows: fc.Arbitrary<Fields> = fc.record({
    title: fc.constantFrom('Lanes', 'Aqua', 'Sauna', 'Frost'),
    ready: fc.constantFrom('', 'x', 'x', 'x'),
    at: fc.oneof({ weight: 6, arbitrary: moment }, { weight: 1, arbitrary: fc.constant('when the tide turns') }),
  });
  const when: fc.Arbitrary<PublishWhen | undefined> = fc.constantFrom<PublishWhen | undefined>(
    { type: 'free' },
    { type: 'free' },
    { type: 'front' },
    { type: 'field', field: 'at' },
    { type: 'moment', at: '2031-03-31T11:15' },
    undefined,
  );
  let count = 0;
  const id = () => `s${++count}`;
  const ready = fc.constant(0).map((): Step => ({
    id: id(),
    verb: 'check',
    condition: { type: 'group', match: 'all', items: [{ type: 'test', field: 'ready', op: 'filled', value: '' }] },
  }));
  const wait = fc.constantFrom<Extract<Step, { verb: 'wait' }>['until']>(
    { type: 'duration', seconds: 4000 },
    { type: 'field', field: 'at', offset: 0 },
  );
  const publish = fc.record({ outlets, when, apart }).map((given): Step[] => [
    { id: id(), verb: 'compose', name: 'caption', text: '{$title}' },
    {
      id: id(),
      verb: 'publish',
      outlets: given.outlets,
      caption: 'caption',
      card: null,
      ...(given.when && { when: given.when }),
      ...(given.apart !== undefined && { apart: given.apart }),
      as: `post${count}`,
    },
  ]);
  const programs = fc
    .tuple(
      fc.option(ready, { nil: undefined }),
      fc.option(wait, { nil: undefined }),
      publish,
      fc.option(publish, { nil: [] }),
    )
    .map(([check, until, first, second]): Step[] => [
      ...(check ? [check] : []),
      ...(until ? [{ id: id(), verb: 'wait' as const, until }] : []),
      ...first,
      ...second,
    ]);

  it.each<Repeats>(['keyed', 'findable', 'blind'])('%s networks', (repeats) => {
    fc.assert(
      fc.property(programs, fc.array(rows, { minLength: 1, maxLength: 4 }), movesOver(rows), (steps, items, script) => {
        const definition = definitionSchema.parse({ schema: 1, sources: [{ id: 'src', watch: 1 }], steps });
        const byField = new Map(
          steps.flatMap((step) => (step.verb === 'publish' ? [[step.id, step.when] as const] : [])),
        );
        const intends: Intends = (fields, { place }) => {
          const asked = byField.get(stepOf(place));
          const given = asked?.type === 'moment' ? asked.at : asked?.type === 'field' ? String(fields.at) : null;
          return {
            text: String(fields.title),
            // What nobody can read has been said by a person.
            notBefore: given === null ? null : (localMoment(given, { zone: ZONE, locale: 'en' }) ?? seconds(LATER)),
          };
        };
        play(new ManyRuns(definition, items, repeats, intends), script);
      }),
      { numRuns: 500 },
    );
  });
});

describe('posts that somebody wrote by hand', () => {
  const written: fc.Arbitrary<WrittenPost> = fc
    .record({
      text: fc.constantFrom('Come in', 'Closed today', 'Fourteen degrees'),
      outlets,
      apart,
      when: fc.oneof(
        moment.map((at): PublishWhen => ({ type: 'moment', at: at.replace(' ', 'T') })),
        fc.tuple(moment, moment).map(([at, own]): PublishWhen => ({
          type: 'moment',
          at: at.replace(' ', 'T'),
          own: [{ outlet: 2, at: own.replace(' ', 'T') }],
        })),
        fc.constantFrom<PublishWhen>({ type: 'free' }, { type: 'front' }),
      ),
    })
    .map((given) => {
      const post = newPost(given.outlets);
      return {
        ...post,
        compose: { ...post.compose, text: given.text },
        publish: { ...post.publish, when: given.when, ...(given.apart !== undefined && { apart: given.apart }) },
      };
    });
  const fields = written.map(postFields);
  const definition = definitionSchema.parse({
    schema: 1,
    sources: [{ id: 'written', watch: 1 }],
    steps: [{ id: 'post', verb: 'post', from: 'post' }],
  });
  const intends: Intends = ({ post }, { outlet }) => {
    const said = post as unknown as WrittenPost;
    expect(said.publish.outlets).toContain(outlet);
    return { text: said.compose.text, notBefore: postMoments(said, world).get(outlet!) ?? null };
  };

  it.each<Repeats>(['keyed', 'findable', 'blind'])('%s networks', (repeats) => {
    fc.assert(
      fc.property(fc.array(fields, { minLength: 1, maxLength: 4 }), movesOver(fields), (items, script) => {
        play(new ManyRuns(definition, items, repeats, intends), script);
      }),
      { numRuns: 500 },
    );
  });

  it('whose act is taken back, and wanted again later, is not waited for without end', () => {
    const at = (outlets: number[], when: PublishWhen): Fields => {
      const post = newPost(outlets);
      return postFields({
        ...post,
        compose: { ...post.compose, text: 'Come in' },
        publish: { ...post.publish, when },
      });
    };
    // Claimed and lost by its worker, it is moved elsewhere; then it is found not to have gone out, and is wanted after all.
    play(new ManyRuns(definition, [at([3], { type: 'free' })], 'findable', intends), [
      { what: 'work', worker: 0, fate: 'well' },
      { what: 'time', by: 26 * HOUR },
      { what: 'change', run: 0, fields: at([1], { type: 'free' }) },
      { what: 'work', worker: 1, fate: 'well' },
      { what: 'work', worker: 1, fate: 'well' },
      { what: 'change', run: 0, fields: at([3], { type: 'moment', at: '2031-04-01T19:00' }) },
    ]);
  });
});
