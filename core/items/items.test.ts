import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fieldLabel } from './field-label.ts';
import { catalogue } from '../shapes/catalogue.ts';
import { DURATION, NUMBER, object, PICTURE } from '../shapes/shape.ts';
import { identityOf } from './identity.ts';
import type { Item } from './item.ts';
import { notice, type WindowMemory } from './noticing.ts';
import { readField } from './read-field.ts';

describe('fields', () => {
  const fields = { title: 'A', 'a.b': 'dotted', a: { b: 'nested', c: { d: 4 } }, tags: ['x', 'y'], none: null };
  it('reads nested fields, and a name with a dot first', () => {
    expect(readField(fields, 'a.c.d')).toBe(4);
    expect(readField(fields, 'a.b')).toBe('dotted');
    expect(readField(fields, 'a.x')).toBeUndefined();
    expect(readField(fields, 'title.x')).toBeUndefined();
    expect(readField(fields, 'constructor')).toBeUndefined();
    expect(readField(fields, '__proto__.x')).toBeUndefined();
  });
  it('lists what occurs anywhere, with types and how often it is empty', () => {
    const listed = catalogue([
      { title: 'A', length: 60, thumbnail: { url: 'https://x.example/a.jpg', width: 3 } },
      { title: '', link: 'https://x.example/' },
    ]);
    expect(listed.map((field) => [field.path, field.type, field.emptyIn])).toEqual([
      ['title', 'text', 1],
      ['length', 'number', 1],
      ['thumbnail.url', 'link', 1],
      ['thumbnail.width', 'number', 1],
      ['link', 'link', 1],
    ]);
  });
  it('are what their description says, in its order, and never what their name suggests', () => {
    const items = [{ length: 60, link: 'not one', picture: { url: 'https://x.example/a.jpg' }, extra: true }];
    const described = {
      picture: object({ url: PICTURE }),
      length: DURATION,
      stars: { ...NUMBER, label: 'Stars given' },
    };
    expect(catalogue(items, described).map((field) => [field.path, field.type])).toEqual([
      ['picture.url', 'picture'],
      ['length', 'duration'],
      ['link', 'text'],
      ['extra', 'yesNo'],
    ]);
    expect(catalogue([], described).map((field) => field.label)).toEqual(['Picture', 'Length', 'Stars given']);
  });
  it('names unknown fields readably', () => expect(fieldLabel('guestCount.max_total')).toBe('Guest count · max total'));
});

describe('identity', () => {
  it('trusts the identifier, then the link, then the words', () => {
    expect(identityOf({ id: ' urn:1 ', link: 'https://x.example/a' })).toBe('id:urn:1');
    expect(identityOf({ link: 'https://x.example/a#top' })).toBe('link:https://x.example/a');
    expect(identityOf({ title: 'A  b' })).toBe(identityOf({ title: 'A b' }));
  });
  it('does not mind how accents are stored', () => {
    expect(identityOf({ title: 'Ine\u0302s' })).toBe(identityOf({ title: 'In\u00eas' }));
  });
  it('differs when the identifiers differ', () => {
    const id = fc.string({ minLength: 1 }).filter((text) => text.trim() !== '');
    fc.assert(
      fc.property(
        id,
        id,
        (a, b) => void expect(identityOf({ id: a }) === identityOf({ id: b })).toBe(a.trim() === b.trim()),
      ),
    );
  });
});

describe('noticing', () => {
  const item = (number: number, at: number | null = number): Item => ({
    identity: `i${number}`,
    publishedAt: at,
    fields: {},
  });
  const names = (items: readonly Item[]) => items.map((each) => each.identity);

  it('takes nothing for new at the first look', () => {
    const { fresh, past } = notice([item(3), item(2)], null, new Set());
    expect(names(fresh)).toEqual([]);
    expect(names(past)).toEqual(['i2', 'i3']);
  });
  it('does not take an old item that slid back into view for new', () => {
    const { memory } = notice([item(5), item(4), item(3)], null, new Set());
    const { fresh, past } = notice([item(6), item(5), item(3), item(2)], memory, new Set(['i5', 'i4', 'i3']));
    expect(names(fresh)).toEqual(['i6']);
    expect(names(past)).toEqual(['i2']);
  });
  it('says when the window slid past what was seen last', () => {
    const { memory } = notice([item(2), item(1)], null, new Set());
    expect(notice([item(9), item(8)], memory, new Set(['i1', 'i2'])).gap).toBe(true);
    expect(notice([item(3), item(2)], memory, new Set(['i1', 'i2'])).gap).toBe(false);
  });
  it('is not confused by a source that is empty for a while', () => {
    const { memory } = notice([item(5), item(4)], null, new Set());
    const empty = notice([], memory, new Set(['i4', 'i5']));
    expect(names(notice([item(6), item(5), item(3)], empty.memory, new Set(['i4', 'i5'])).fresh)).toEqual(['i6']);
  });

  it('notices each item once and in order, whatever is published, deleted and looked at', () => {
    const moves = fc.array(
      fc.oneof(
        fc.constant('publish'),
        fc.constant('look'),
        fc.nat(20).map((n) => `delete ${n}`),
      ),
      { maxLength: 60 },
    );
    fc.assert(
      fc.property(moves, fc.integer({ min: 1, max: 6 }), (script, size) => {
        let all: Item[] = [];
        let clock = 0;
        let memory: WindowMemory | null = null;
        const known = new Set<string>();
        const noticed: string[] = [];
        const baseline = new Set<string>();
        let sincePublished = 0;
        for (const move of ['look', ...script, 'look']) {
          if (move === 'publish') {
            // At most as many between two looks as the window shows, so that nothing can slide past.
            if (++sincePublished > size) continue;
            all = [item(++clock), ...all];
          } else if (move === 'look') {
            const window = all.slice(0, size);
            const found = notice(window, memory, known);
            if (!memory) for (const each of window) baseline.add(each.identity);
            for (const each of [...found.past, ...found.fresh]) known.add(each.identity);
            noticed.push(...names(found.fresh));
            memory = found.memory;
            sincePublished = 0;
          } else all = all.filter((_, index) => index !== Number(move.split(' ')[1]));
        }
        expect(new Set(noticed).size).toBe(noticed.length);
        expect([...noticed].sort((a, b) => Number(a.slice(1)) - Number(b.slice(1)))).toEqual(noticed);
        // What is there at the end and came after the baseline was noticed.
        for (const each of all.slice(0, size))
          if (!baseline.has(each.identity))
            expect(noticed.includes(each.identity) || known.has(each.identity)).toBe(true);
      }),
    );
  });
});
