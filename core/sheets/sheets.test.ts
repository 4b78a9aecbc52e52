import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readBlock, writeBlock } from './block.ts';
import { LONGEST_CELL, readCell, sayCell, type CellContext } from './cell.ts';
import { columnsSchema, keyFor, type Column } from './column.ts';
import { computedCell } from './computed.ts';
import { decodeText, defused, readDelimited, UnreadableTable, writeDelimited } from './delimited.ts';
import { guessColumns } from './guess-columns.ts';
import { guessMap, importRows } from './import-rows.ts';
import { mergeEdit, withCells } from './merge-edit.ts';
import { rowFields, sheetShape } from './row-fields.ts';
import { KIND_RULES } from '../outlets/kinds.ts';
import { misfits } from '../shapes/conforms.ts';

const LISBON: CellContext = {
  zone: 'Europe/Lisbon',
  locale: 'en-GB',
  outlets: new Map([[7, { name: 'Tern Bay Lidos' }]]),
  people: new Map([[3, 'Mo Adeyemi']]),
};
const column = (type: string, more: object = {}): Column => ({ key: 'a', name: 'A', type, ...more }) as Column;

describe('a cell', () => {
  it.each([
    ['number', '1,234.5', 1234.5],
    ['number', '-3', -3],
    ['yesNo', 'Yes', true],
    ['yesNo', 'n', false],
    ['date', '25.11.2026', '2026-11-25'],
    ['date', '25 Nov 2026', '2026-11-25'],
    // Lisbon is an hour ahead of UTC in summer (IANA time zone database).
    ['moment', '2026-07-01 09:00', '2026-07-01T08:00:00Z'],
    ['moment', '25.11.2026 23:30', '2026-11-25T23:30:00Z'],
    ['link', 'ternbay.example/swim', 'https://ternbay.example/swim'],
    ['outlet', 'tern bay lidos', 7],
    ['person', 'Mo Adeyemi', 3],
    ['text', '  a title ', 'a title'],
  ])('%s reads “%s”', (type, typed, value) => {
    expect(readCell(column(type), typed, LISBON)).toEqual({ value });
  });

  it('keeps what it cannot read, and says why', () => {
    expect(readCell(column('number'), 'ten', LISBON)).toEqual({ value: 'ten', problem: 'This is no number.' });
    expect(readCell(column('moment'), 'soon', LISBON)).toMatchObject({ value: 'soon', problem: expect.any(String) });
    expect(readCell(column('outlet'), 'Old Quay', LISBON).problem).toBe('There is no outlet of this name.');
    expect(readCell(column('link'), 'not an address', LISBON).value).toBe('not an address');
    const choice = column('choice', { options: [{ value: 'Ready', colour: 'kelp' }] });
    expect(readCell(choice, 'ready', LISBON)).toEqual({ value: 'Ready' });
    expect(readCell(choice, 'nearly', LISBON)).toEqual({ value: 'nearly', problem: 'This is none of the choices.' });
  });

  it('is cut and mended at whole signs, never in the middle of one', () => {
    const long = `${'a'.repeat(LONGEST_CELL - 1)}🏊🏊`;
    const { value, problem } = readCell(column('longText'), long, LISBON);
    expect(value).toBe('a'.repeat(LONGEST_CELL - 1));
    expect(problem).toMatch(/its end is cut/);
    const broken = readCell(column('text'), 'half \ud83c a sign', LISBON).value as string;
    expect(broken.isWellFormed()).toBe(true);
  });

  it('reads numbers as its language writes them', () => {
    const german = { ...LISBON, locale: 'de' };
    expect(readCell(column('number'), '1.234,5', german).value).toBe(1234.5);
    expect(readCell(column('number'), '1,234.5', german).problem).toBeDefined();
  });

  it('is empty without anything, and says nothing then', () => {
    for (const type of ['text', 'number', 'moment', 'yesNo', 'outlet']) {
      expect(readCell(column(type), '  ', LISBON)).toEqual({ value: null });
      expect(sayCell(column(type), null, LISBON)).toBe('');
    }
  });

  it('reads again what it says, whatever the type', () => {
    const moments = fc
      .integer({ min: Date.UTC(1990, 0, 1) / 60_000, max: Date.UTC(2060, 0, 1) / 60_000 })
      // The hour that comes twice is read as its first time (RFC 5545 section 3.3.5), so it is left out here.
      .filter((minutes) => new Date(minutes * 60_000).getUTCMonth() !== 9)
      .map((minutes) => new Date(minutes * 60_000).toISOString().replace('.000', ''));
    fc.assert(
      fc.property(moments, (at) => {
        const said = sayCell(column('moment'), at, LISBON);
        expect(readCell(column('moment'), said, LISBON)).toEqual({ value: at });
      }),
    );
    fc.assert(
      fc.property(fc.double({ noNaN: true, noDefaultInfinity: true, min: -1e15, max: 1e15 }), (number) => {
        const said = sayCell(column('number'), number, LISBON);
        expect(readCell(column('number'), said, LISBON).value).toBe(number === 0 ? Number(said) : number);
      }),
    );
  });
});

describe('columns', () => {
  it('have keys that can stand in a wording, each its own', () => {
    expect(keyFor('Goes out at', [])).toBe('goes_out_at');
    expect(keyFor('Título (PT)', [])).toBe('título_pt');
    expect(keyFor('Goes out at', ['goes_out_at'])).toBe('goes_out_at_2');
    expect(keyFor('ID', [])).toBe('id_2');
    expect(keyFor('2nd', [])).toBe('nd');
    fc.assert(
      fc.property(fc.array(fc.string({ unit: 'grapheme' }), { maxLength: 12 }), (names) => {
        const columns: Column[] = [];
        for (const [index, name] of names.entries())
          columns.push({
            key: keyFor(
              name,
              columns.map(({ key }) => key),
            ),
            name: `${index}`,
            type: 'text',
          });
        if (columns.length > 0) expect(columnsSchema.safeParse(columns).success).toBe(true);
      }),
    );
  });

  it('refuse two of the same name', () => {
    const twice = [
      { key: 'a', name: 'Title', type: 'text' },
      { key: 'b', name: 'title ', type: 'text' },
    ];
    expect(columnsSchema.safeParse(twice).error?.issues[0]?.message).toBe('Two columns have the same name.');
  });
});

describe('what is worked out', () => {
  it('counts as the kind of outlet counts, links at their fixed cost', () => {
    const left = column('left', { of: 'copy', kind: 'microblog' }) as Extract<Column, { type: 'left' }>;
    const empty = computedCell(left, {}, LISBON) as number;
    expect(computedCell(left, { copy: 'Swim' }, LISBON)).toBe(empty - 4);
    const long = `https://ternbay.example/${'a'.repeat(200)}`;
    expect(computedCell(left, { copy: long }, LISBON)).toBe(empty - KIND_RULES.microblog.text.link!);
  });

  it('words the row, and nothing where the wording cannot be read', () => {
    const words = column('computed', { words: '{$title} at {$pool}' }) as Extract<Column, { type: 'computed' }>;
    expect(computedCell(words, { title: 'Lane swim', pool: 'Old Quay' }, LISBON)).toBe('Lane swim at Old Quay');
    expect(computedCell({ ...words, words: '{$title' }, { title: 'x' }, LISBON)).toBeNull();
  });
});

it('a row is an item of the shape that its sheet promises', () => {
  const columns: Column[] = [
    { key: 'title', name: 'Title', type: 'text' },
    { key: 'at', name: 'Goes out at', type: 'moment' },
    { key: 'where', name: 'Where', type: 'outlet' },
    { key: 'who', name: 'Who', type: 'person' },
    { key: 'left', name: 'Left', type: 'left', of: 'title', kind: 'microblog' },
  ];
  const fields = rowFields(columns, { title: 'Lane swim', at: '2026-11-25T23:30:00Z', where: 7, who: 3 }, LISBON);
  expect(fields).toMatchObject({ where: { id: 7, name: 'Tern Bay Lidos' }, who: { id: 3, name: 'Mo Adeyemi' } });
  expect(misfits(sheetShape(columns), fields)).toEqual([]);
  expect(sheetShape(columns).at).toEqual({ type: 'moment', label: 'Goes out at' });
  expect(rowFields(columns, {}, LISBON)).toMatchObject({ title: '', at: '', where: null });
});

describe('two people at one row', () => {
  it('both go in where they wrote into different cells', () => {
    const { write, conflicts } = mergeEdit({ title: 'Now', status: 'ready' }, [
      { key: 'title', before: 'Now', after: 'New' },
    ]);
    expect(write).toEqual({ title: 'New' });
    expect(conflicts).toEqual([]);
  });

  it('the later one is told what stands there', () => {
    const { write, conflicts } = mergeEdit({ title: 'Theirs' }, [{ key: 'title', before: 'Before', after: 'Mine' }]);
    expect(write).toEqual({});
    expect(conflicts).toEqual([{ key: 'title', now: 'Theirs', wanted: 'Mine' }]);
  });

  it('no edit is lost without being told: each is written, stands there already, or is a conflict', () => {
    const cell = fc.option(fc.constantFrom('a', 'b', 'c'), { nil: null });
    const key = fc.constantFrom('x', 'y');
    fc.assert(
      fc.property(fc.dictionary(key, cell), fc.array(fc.record({ key, before: cell, after: cell })), (now, edits) => {
        const { write, conflicts } = mergeEdit(now, edits);
        for (const edit of edits) {
          const stands = now[edit.key] ?? null;
          const told = conflicts.some((each) => each.key === edit.key && each.wanted === edit.after);
          if (stands !== edit.before && stands !== edit.after) expect(told).toBe(true);
        }
        for (const each of conflicts) expect(each.now).toBe(now[each.key] ?? null);
        for (const value of Object.values(withCells(now, write))) expect(value).not.toBeNull();
      }),
    );
  });
});

describe('a block on the clipboard', () => {
  it('comes back as it was copied', () => {
    const text = fc.string({ unit: 'grapheme', maxLength: 12 }).map((each) => each.replace(/\r/g, ''));
    const block = fc
      .array(
        fc.array(fc.oneof(text, fc.constantFrom('a\tb', 'two\nlines', '"quoted"', '')), { minLength: 2, maxLength: 2 }),
        {
          minLength: 1,
          maxLength: 4,
        },
      )
      .filter((rows) => rows.at(-1)!.some((cell) => cell !== ''));
    fc.assert(
      fc.property(block, (rows) => {
        expect(readBlock(writeBlock(rows))).toEqual(rows);
      }),
    );
  });
});

describe('CSV', () => {
  // RFC 4180 section 2, the examples of rules 1 to 7.
  it.each([
    [
      'each record on a line of its own',
      'aaa,bbb,ccc\r\nzzz,yyy,xxx\r\n',
      [
        ['aaa', 'bbb', 'ccc'],
        ['zzz', 'yyy', 'xxx'],
      ],
    ],
    [
      'no break after the last',
      'aaa,bbb,ccc\r\nzzz,yyy,xxx',
      [
        ['aaa', 'bbb', 'ccc'],
        ['zzz', 'yyy', 'xxx'],
      ],
    ],
    [
      'quotes around fields',
      '"aaa","bbb","ccc"\r\nzzz,yyy,xxx',
      [
        ['aaa', 'bbb', 'ccc'],
        ['zzz', 'yyy', 'xxx'],
      ],
    ],
    [
      'breaks and commas within quotes',
      '"aaa","b\r\nbb","ccc"\r\nzzz,yyy,xxx',
      [
        ['aaa', 'b\r\nbb', 'ccc'],
        ['zzz', 'yyy', 'xxx'],
      ],
    ],
    ['quotes within quotes', '"aaa","b""bb","ccc"', [['aaa', 'b"bb', 'ccc']]],
  ])('reads %s', (_, text, rows) => {
    expect(readDelimited(text)).toEqual(rows);
  });

  it('reads what spreadsheets write elsewhere: semicolons, tabs, a mark at the beginning', () => {
    expect(readDelimited('\ufeffTitle;When\nLane swim;09:00\n')).toEqual([
      ['Title', 'When'],
      ['Lane swim', '09:00'],
    ]);
    expect(readDelimited('Title\tWhen\nLane swim\t09:00\n')).toEqual([
      ['Title', 'When'],
      ['Lane swim', '09:00'],
    ]);
  });

  it('refuses a quote that is never closed, with its line', () => {
    expect(() => readDelimited('a,b\n"c,d\ne,f\n')).toThrow(UnreadableTable);
  });

  it('is read in its encoding', () => {
    const text = 'Título,Maré – “alta”';
    expect(decodeText(new TextEncoder().encode(text))).toBe(text);
    // Windows-1252 (WHATWG Encoding, index-windows-1252): í 0xED, é 0xE9, – 0x96, “ 0x93, ” 0x94.
    const bytes = new Uint8Array([...'T\xEDtulo,Mar\xE9 \x96 \x93alta\x94'].map((each) => each.charCodeAt(0)));
    expect(decodeText(bytes)).toBe(text);
    const utf16 = new Uint8Array(2 + text.length * 2);
    utf16[0] = 0xff;
    utf16[1] = 0xfe;
    [...text].forEach((each, index) => new DataView(utf16.buffer).setUint16(2 + index * 2, each.charCodeAt(0), true));
    expect(decodeText(utf16).replace('\ufeff', '')).toBe(text);
  });

  it('is no formula in any spreadsheet, and the same text when it is read again but for that', () => {
    // Beginnings from OWASP, “CSV Injection”.
    for (const bad of ['=1+1', '+1+1', '-1+1', '@SUM(A1)', '\t=1', '\r=1']) expect(defused(bad)).toBe(`'${bad}`);
    for (const fine of ['-3', '+351 912', '1,5', 'a=b', '']) if (fine !== '+351 912') expect(defused(fine)).toBe(fine);
    const text = fc.string({ unit: 'grapheme', maxLength: 20 }).filter((each) => !each.startsWith('\ufeff'));
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.constant('k'), text, text), { minLength: 1 }), (rows) => {
        const back = readDelimited(writeDelimited(rows));
        expect(back).toEqual(rows.map((row) => row.map(defused)));
        for (const row of back) for (const cell of row) expect(cell).not.toMatch(/^[=@\t\r]/);
      }),
    );
  });
});

describe('an import', () => {
  const columns: Column[] = [
    { key: 'title', name: 'Title', type: 'text' },
    { key: 'at', name: 'Goes out at', type: 'moment' },
    { key: 'seats', name: 'Seats', type: 'number' },
    { key: 'left', name: 'Left', type: 'left', of: 'title', kind: 'microblog' },
  ];
  const file = [
    ['title', 'GOES OUT AT', 'Seats', 'Left', 'Notes'],
    ['Lane swim', '2026-12-01 07:00', '12', '9', 'x'],
    ['Cold water', 'next week', 'twelve', '', ''],
  ];

  it('finds columns by their names, fills none twice and none that is worked out', () => {
    expect(guessMap(file[0]!, columns)).toEqual(['title', 'at', 'seats', null, null]);
    expect(guessMap(['Title', 'Title'], columns)).toEqual(['title', null]);
  });

  it('says what is wrong with each row, and keeps what was written', () => {
    const rows = importRows(file, guessMap(file[0]!, columns), columns, LISBON);
    expect(rows[0]).toEqual({
      line: 2,
      cells: { title: 'Lane swim', at: '2026-12-01T07:00:00Z', seats: 12 },
      problems: [],
    });
    expect(rows[1]!.cells).toEqual({ title: 'Cold water', at: 'next week', seats: 'twelve' });
    expect(rows[1]!.problems.map(({ key }) => key)).toEqual(['at', 'seats']);
  });

  it('makes columns of a file by what their cells can be read as', () => {
    const guessed = guessColumns(
      [
        ['Title', 'When', 'Day', 'Seats', 'Open', 'Link', '', 'Title'],
        ['Lane swim', '2026-12-01 07:00', '2026-12-01', '12', 'yes', 'https://ternbay.example', 'a'.repeat(200), ''],
        ['Cold water', '2026-12-02 07:00', '2026-12-02', '8', 'no', '', '', ''],
      ],
      LISBON,
    );
    expect(guessed.map(({ type }) => type)).toEqual([
      'text',
      'moment',
      'date',
      'number',
      'yesNo',
      'link',
      'longText',
      'text',
    ]);
    expect(columnsSchema.safeParse(guessed).success).toBe(true);
  });
});
