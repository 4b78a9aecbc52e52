// Two sheets kept in step, as a model in which every edit is known: nothing is lost without a word, nothing doubled.
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Cell, Cells } from './cell.ts';
import { columnsSchema, type Column } from './column.ts';
import { columnsLike, guessPairs } from './guess-pairs.ts';
import { pairRows } from './pair-rows.ts';
import { planSync, syncRulesSchema, type RowLink, type RowThere, type SyncPlan, type SyncRules } from './sync.ts';

const RULES: SyncRules = {
  columns: [
    { key: 'title', there: 'Title' },
    { key: 'status', there: 'Status' },
  ],
  match: 'title',
  wins: 'here',
  deletions: true,
};
const mark = (cell: Cell): string => JSON.stringify(cell);
const read = (_key: string, there: Cell): Cell => (typeof there === 'string' ? there.trim() : there);

/** Both tables, and whoever keeps them in step. What is sent arrives at once. */
class World {
  here = new Map<number, { cells: Cells; deleted: boolean }>();
  there = new Map<string, Record<string, Cell>>();
  links: RowLink[] = [];
  #last = 0;

  addHere(title: Cell, status: Cell = null): number {
    const id = ++this.#last;
    this.here.set(id, { cells: { title, status }, deleted: false });
    return id;
  }
  addThere(title: Cell, status: Cell = null): string {
    const id = `t${++this.#last}`;
    this.there.set(id, { Title: title, Status: status });
    return id;
  }
  plan(rules: SyncRules, onVanished?: 'ask' | 'delete' | 'again', whole = true): SyncPlan {
    const here = [...this.here].map(([id, row]) => ({ id, ...row }));
    const there: RowThere[] = [...this.there].map(([id, cells]) => ({ id, cells }));
    return planSync({ here, there, whole, links: this.links, rules, read, mark, ...(onVanished && { onVanished }) });
  }
  #link(row: number, there: string, agreed: RowLink['agreed']) {
    this.links = [...this.links.filter((link) => link.row !== row), { row, there, agreed }];
  }
  round(rules: SyncRules, onVanished?: 'ask' | 'delete' | 'again'): SyncPlan {
    const plan = this.plan(rules, onVanished);
    const thereCells = (cells: Readonly<Record<string, Cell>>) =>
      Object.fromEntries(
        rules.columns.flatMap(({ key, there }) => (Object.hasOwn(cells, key) ? [[there, cells[key] ?? null]] : [])),
      );
    for (const { row, cells, restore } of plan.bring) {
      const known = this.here.get(row)!;
      this.here.set(row, { cells: { ...known.cells, ...cells }, deleted: restore ? false : known.deleted });
    }
    for (const { row, agreed } of plan.agree) {
      const known = this.links.find((link) => link.row === row)!;
      this.#link(row, known.there, { ...known.agreed, ...agreed });
    }
    for (const { there, cells, agreed } of plan.addHere) {
      const id = ++this.#last;
      this.here.set(id, { cells, deleted: false });
      this.#link(id, there, agreed);
    }
    for (const row of plan.deleteHere) this.here.set(row, { ...this.here.get(row)!, deleted: true });
    for (const { row, there, cells } of plan.send) {
      Object.assign(this.there.get(there)!, thereCells(cells));
      const known = this.links.find((link) => link.row === row)!;
      const sent = Object.fromEntries(
        Object.entries(cells).map(([key, cell]) => [key, { here: mark(cell), there: mark(cell) }]),
      );
      this.#link(row, there, { ...known.agreed, ...sent });
    }
    for (const { row } of plan.addThere) {
      const id = `t${++this.#last}`;
      const { cells } = this.here.get(row)!;
      this.there.set(id, thereCells(cells));
      this.#link(
        row,
        id,
        Object.fromEntries(
          rules.columns.map(({ key }) => [key, { here: mark(cells[key] ?? null), there: mark(cells[key] ?? null) }]),
        ),
      );
    }
    for (const { row, there } of plan.deleteThere) {
      this.there.delete(there);
      this.links = this.links.filter((link) => link.row !== row);
    }
    const drop = new Set([...plan.forget, ...plan.deleteHere]);
    this.links = this.links.filter(({ row }) => !drop.has(row));
    return plan;
  }
  saysHere = () =>
    [...this.here.values()]
      .filter(({ deleted }) => !deleted)
      .map(({ cells }) => `${cells.title ?? ''}|${cells.status ?? ''}`)
      .sort();
  saysThere = () => [...this.there.values()].map((cells) => `${cells.Title ?? ''}|${cells.Status ?? ''}`).sort();
}

const quiet = (plan: SyncPlan) =>
  Object.values(plan).every((part) => part === null || (Array.isArray(part) && part.length === 0));

/** One row that is agreed on. */
function agreed(status = 'draft') {
  const world = new World();
  const row = world.addHere('Cold water', status);
  world.round(RULES);
  const [there] = [...world.there.keys()];
  return { world, row, there: there! };
}

describe('a cell that changed', () => {
  it('here goes there; there comes here; both to the same is agreed on', () => {
    const { world, row, there } = agreed();
    world.here.get(row)!.cells = { title: 'Cold water', status: 'ready' };
    expect(world.round(RULES).send).toEqual([{ row, there, cells: { status: 'ready' } }]);
    world.there.get(there)!.Status = 'posted';
    expect(world.round(RULES).bring).toEqual([{ row, cells: { status: 'posted' }, restore: false }]);
    world.there.get(there)!.Status = 'done';
    world.here.get(row)!.cells = { title: 'Cold water', status: 'done' };
    const plan = world.round(RULES);
    expect([plan.send, plan.bring, plan.conflicts]).toEqual([[], [], []]);
    expect(quiet(world.plan(RULES))).toBe(true);
  });

  it('on both sides is a conflict, whose loser is told', () => {
    for (const wins of ['here', 'there'] as const) {
      const { world, row, there } = agreed();
      world.here.get(row)!.cells = { title: 'Cold water', status: 'ready' };
      world.there.get(there)!.Status = 'stopped';
      const [kept, lost] = wins === 'here' ? ['ready', 'stopped'] : ['stopped', 'ready'];
      expect(world.round({ ...RULES, wins }).conflicts).toEqual([{ row, key: 'status', kept, lost }]);
      expect(world.saysHere()).toEqual([`Cold water|${kept}`]);
      expect(world.saysThere()).toEqual([`Cold water|${kept}`]);
    }
  });

  it('is not written back when the other side only writes it otherwise', () => {
    const world = new World();
    world.addThere(' Cold water ', 'draft');
    world.round(RULES);
    expect(world.saysHere()).toEqual(['Cold water|draft']);
    expect(quiet(world.plan(RULES))).toBe(true);
    expect(world.saysThere()).toEqual([' Cold water |draft']);
  });

  it('to nothing is a change too', () => {
    const { world, row, there } = agreed();
    world.there.get(there)!.Status = '';
    world.round(RULES);
    expect(world.here.get(row)!.cells.status).toBe(null);
    world.here.get(row)!.cells = { status: 'x' };
    world.round(RULES);
    expect(world.there.get(there)).toEqual({ Title: null, Status: 'x' });
  });
});

describe('a row that was deleted', () => {
  it('goes on the other side, unless it was edited there meanwhile', () => {
    for (const edited of [false, true]) {
      const { world, there } = agreed();
      world.here.get(1)!.deleted = true;
      if (edited) world.there.get(there)!.Status = 'important';
      world.round(RULES);
      expect(world.saysHere()).toEqual(edited ? ['Cold water|important'] : []);
      expect(world.saysThere()).toEqual(edited ? ['Cold water|important'] : []);
    }
    for (const edited of [false, true]) {
      const { world, row, there } = agreed();
      world.there.delete(there);
      if (edited) world.here.get(row)!.cells = { title: 'Cold water', status: 'important' };
      world.round(RULES);
      expect(world.saysHere()).toEqual(edited ? ['Cold water|important'] : []);
      expect(world.saysThere()).toEqual(edited ? ['Cold water|important'] : []);
    }
  });

  it('stays on the other side where deletions are not passed on, and is not added again', () => {
    const rules = { ...RULES, deletions: false };
    const { world, there } = agreed();
    world.here.get(1)!.deleted = true;
    expect(quiet(world.plan(rules))).toBe(true);
    world.here.get(1)!.deleted = false;
    world.there.delete(there);
    expect(quiet(world.plan(rules))).toBe(true);
  });

  it('is not taken for gone where not all rows could be read', () => {
    const { world, there } = agreed();
    world.there.delete(there);
    expect(quiet(world.plan(RULES, 'ask', false))).toBe(true);
  });

  it('among many others waits for a person', () => {
    const fill = () => {
      const world = new World();
      for (const film of ['A', 'B', 'C', 'D', 'E', 'F', 'G', 'H']) world.addHere(film);
      world.round(RULES);
      return world;
    };
    const emptied = fill();
    emptied.there.clear();
    const plan = emptied.plan(RULES);
    expect(plan.vanished).toEqual({ side: 'there', rows: 8, of: 8 });
    expect([plan.deleteHere, plan.addThere]).toEqual([[], []]);
    emptied.round(RULES, 'again');
    expect(emptied.saysThere()).toHaveLength(8);
    emptied.there.clear();
    emptied.round(RULES, 'delete');
    expect(emptied.saysHere()).toEqual([]);

    const mistaken = fill();
    for (const row of mistaken.here.values()) row.deleted = true;
    expect(mistaken.plan(RULES)).toMatchObject({ vanished: { side: 'here', rows: 8, of: 8 }, deleteThere: [] });
    mistaken.round(RULES, 'again');
    expect(mistaken.saysHere()).toHaveLength(8);
    // Half of them is not too many.
    const some = fill();
    for (const row of [...some.here.values()].slice(0, 4)) row.deleted = true;
    some.round(RULES);
    expect(some.saysThere()).toHaveLength(4);
  });
});

describe('rows on both sides at the start', () => {
  it('are paired by a column, whatever its capitals; the first with the first', () => {
    const world = new World();
    const [one, two] = [world.addHere('Lane swim'), world.addHere('lane swim', 'x')];
    const [a, b] = [world.addThere('LANE SWIM ', 'y'), world.addThere('Lane swim')];
    world.addThere('Aqua');
    world.addHere(null, 'no title');
    world.addThere(null, 'no title either');
    const here = [...world.here].map(([id, row]) => ({ id, ...row }));
    const there = [...world.there].map(([id, cells]) => ({ id, cells }));
    expect(pairRows(here, there, RULES, read)).toEqual([
      { row: one, there: a, agreed: {} },
      { row: two, there: b, agreed: {} },
    ]);
    // By all columns only those that are alike in all.
    expect(pairRows(here, there, { ...RULES, match: null }, read)).toEqual([{ row: one, there: b, agreed: {} }]);
    world.links = pairRows(here, there, RULES, read);
    world.round(RULES);
    expect(world.saysHere()).toEqual(world.saysThere());
    expect(world.saysHere()).toHaveLength(5);
  });
});

describe('columns of a table elsewhere', () => {
  const columns: Column[] = [
    { key: 'goes_out', name: 'Goes out at', type: 'moment' },
    { key: 'left', name: 'Left', type: 'left', of: 'title', kind: 'microblog' },
    { key: 'title', name: 'Title', type: 'text' },
  ];
  it('are those of the same name here, each once; what Playa works out is none', () => {
    const there = ['goes-out AT', 'Left', 'TITLE', 'title', 'More'].map((name) => ({ name, type: 'text' }));
    expect(guessPairs(columns, there)).toEqual([
      { key: 'goes_out', there: 'goes-out AT' },
      { key: 'title', there: 'TITLE' },
    ]);
  });
  it('become columns here, with keys and types of their own', () => {
    const there = [
      { name: 'Title', type: 'text' },
      { name: 'Published', type: 'date' },
      { name: 'Posted', type: 'yes-no' },
      { name: 'Price €', type: 'number' },
      { name: 'Shape', type: 'polygon' },
    ];
    const made = columnsLike(there, columns);
    expect(made.map(({ key, type }) => [key, type])).toEqual([
      ['title_2', 'text'],
      ['published', 'moment'],
      ['posted', 'yesNo'],
      ['price', 'number'],
      ['shape', 'text'],
    ]);
    expect(columnsSchema.safeParse(columnsLike(there)).success).toBe(true);
  });
});

describe('rules', () => {
  it('name no column twice', () => {
    const twice = (columns: { key: string; there: string }[]) =>
      syncRulesSchema.safeParse({ ...RULES, columns }).success;
    expect(
      twice([
        { key: 'a', there: 'A' },
        { key: 'b', there: 'A' },
      ]),
    ).toBe(false);
    expect(
      twice([
        { key: 'a', there: 'A' },
        { key: 'a', there: 'B' },
      ]),
    ).toBe(false);
    expect(twice([])).toBe(false);
    expect(twice(RULES.columns)).toBe(true);
  });
});

describe('whatever people do on both sides', () => {
  const value = fc.constantFrom<Cell>(null, 'a', 'b', 'c');
  const step = fc.oneof(
    { weight: 3, arbitrary: fc.record({ do: fc.constant('here' as const), at: fc.nat(9), value }) },
    { weight: 3, arbitrary: fc.record({ do: fc.constant('there' as const), at: fc.nat(9), value }) },
    fc.record({ do: fc.constantFrom('addHere' as const, 'addThere' as const), at: fc.nat(9), value }),
    fc.record({ do: fc.constantFrom('deleteHere' as const, 'deleteThere' as const), at: fc.nat(9), value }),
    { weight: 2, arbitrary: fc.record({ do: fc.constant('sync' as const), at: fc.nat(0), value }) },
  );

  it('an edit on one side reaches the other, one on both is told, and then both say the same', () => {
    fc.assert(
      fc.property(
        fc.array(step, { maxLength: 40 }),
        fc.constantFrom('here' as const, 'there' as const),
        (steps, wins) => {
          const rules = { ...RULES, wins };
          const world = new World();
          /** What people wrote since the last round, by row: an oracle that knows of no agreement. */
          let edited = new Map<string, { here?: Cell; there?: Cell; before: Cell }>();
          const linkOf = (row: number) => world.links.find((link) => link.row === row);
          const note = (row: number, side: 'here' | 'there', before: Cell, after: Cell) => {
            const known = edited.get(String(row)) ?? { before };
            edited.set(String(row), { ...known, [side]: after });
          };
          const sync = () => {
            const was = new Map([...world.here].map(([id, { deleted }]) => [id, deleted]));
            const thereBefore = new Set(world.there.keys());
            const links = new Map(world.links.map((link) => [link.row, link.there]));
            const { conflicts, vanished } = world.round(rules, 'delete');
            expect(vanished).toBe(null);
            for (const [row, { here, there, before }] of edited) {
              const id = Number(row);
              if (was.get(id) || !thereBefore.has(links.get(id)!)) continue;
              const changedHere = here !== undefined && here !== before;
              const changedThere = there !== undefined && there !== before;
              const stands = world.here.get(id)!.cells.status ?? null;
              const told = conflicts.some((each) => each.row === id);
              if (changedHere && changedThere && here !== there) {
                expect(told).toBe(true);
                expect(stands).toBe(wins === 'here' ? here : there);
              } else {
                expect(told).toBe(false);
                if (changedHere) expect(stands).toBe(here);
                else if (changedThere) expect(stands).toBe(there);
              }
            }
            edited = new Map();
            expect(world.saysHere()).toEqual(world.saysThere());
            expect(quiet(world.plan(rules))).toBe(true);
          };
          let title = 0;
          for (const { do: what, at, value: cell } of steps) {
            const heres = [...world.here].filter(([, { deleted }]) => !deleted);
            const theres = [...world.there];
            if (what === 'sync') sync();
            else if (what === 'addHere') world.addHere(`Row ${++title}`, cell);
            else if (what === 'addThere') world.addThere(`Row ${++title}`, cell);
            else if (what === 'here' && heres.length > 0) {
              const [id, row] = heres[at % heres.length]!;
              if (linkOf(id)) note(id, 'here', row.cells.status ?? null, cell);
              world.here.set(id, { ...row, cells: { ...row.cells, status: cell } });
            } else if (what === 'there' && theres.length > 0) {
              const [id, cells] = theres[at % theres.length]!;
              const link = world.links.find((each) => each.there === id);
              if (link) note(link.row, 'there', cells.Status ?? null, cell);
              cells.Status = cell;
            } else if (what === 'deleteHere' && heres.length > 0) heres[at % heres.length]![1].deleted = true;
            else if (what === 'deleteThere' && theres.length > 0) world.there.delete(theres[at % theres.length]![0]);
          }
          sync();
        },
      ),
      { numRuns: 500 },
    );
  });
});
