import fc from 'fast-check';
import ICAL from 'ical.js';
import { describe, expect, it } from 'vitest';
import { writeCalendar, type CalendarEvent } from './write-calendar.ts';

const NOW = Date.UTC(2026, 10, 26, 12);
const of = { name: 'Tern Bay Lidos', host: 'playa.example:8443', refresh: 3600, now: NOW };
const event = (more: Partial<CalendarEvent> = {}): CalendarEvent => ({
  id: 'run.1.2',
  at: NOW,
  title: 'Cold water',
  outlet: 'Tern Bay page',
  text: 'Cold water today',
  says: 'planned',
  url: null,
  status: 'confirmed',
  ...more,
});
/** As a reader of other people's reads it. */
const read = (text: string) =>
  new ICAL.Component(ICAL.parse(text) as unknown[]).getAllSubcomponents('vevent').map((each) => new ICAL.Event(each));

describe('a calendar as iCalendar', () => {
  it('is read back by a library of others: moments, words, states and addresses', () => {
    const text = writeCalendar(of, [
      event(),
      event({
        id: 'b',
        status: 'tentative',
        url: 'https://playa.example/1/posts/7?a=1&b=2',
        text: 'Two\nlines; and, commas\\',
      }),
      event({ id: 'c', status: 'cancelled', text: null }),
    ]);
    const [first, second, third] = read(text);
    expect(first!.startDate.toJSDate().getTime()).toBe(NOW);
    expect(first!.endDate.toJSDate().getTime()).toBe(NOW + 15 * 60_000);
    expect(first!.uid).toBe('run.1.2@playa.example:8443');
    expect([first!.summary, first!.description]).toEqual(['Cold water · Tern Bay page', 'planned\n\nCold water today']);
    expect(second!.description).toBe('planned\n\nTwo\nlines; and, commas\\');
    expect(String(second!.component.getFirstPropertyValue('url'))).toBe('https://playa.example/1/posts/7?a=1&b=2');
    expect([first, second, third].map((each) => each!.component.getFirstPropertyValue('status'))).toEqual([
      'CONFIRMED',
      'TENTATIVE',
      'CANCELLED',
    ]);
    expect(third!.description).toBe('planned');
  });
  it('has what RFC 5545 asks of every calendar and every event (sections 3.6 and 3.6.1), in lines of 75 octets (3.1)', () => {
    const text = writeCalendar(of, [event({ text: 'Übung '.repeat(60) })]);
    const calendar = new ICAL.Component(ICAL.parse(text) as unknown[]);
    expect(calendar.getFirstPropertyValue('version')).toBe('2.0');
    expect(String(calendar.getFirstPropertyValue('prodid'))).toContain('Playa');
    const inside = calendar.getFirstSubcomponent('vevent')!;
    for (const name of ['uid', 'dtstamp', 'dtstart']) expect(inside.getFirstProperty(name), name).toBeTruthy();
    expect(text.split('\r\n').every((line) => Buffer.byteLength(line) <= 75)).toBe(true);
    expect(text.replaceAll('\r\n', '')).not.toMatch(/[\r\n]/);
  });
  it('keeps every word and moment, whatever they are', () => {
    const words = fc.string({ unit: 'grapheme', maxLength: 120 }).map((text) => text.replace(/[\p{Cc}]/gu, ' ').trim());
    fc.assert(
      fc.property(words, fc.integer({ min: 0, max: 4_000_000_000 }), (text, seconds) => {
        const [back] = read(writeCalendar(of, [event({ text, at: seconds * 1000 })]));
        expect(back!.startDate.toJSDate().getTime()).toBe(seconds * 1000);
        expect(back!.description).toBe(text === '' ? 'planned' : `planned\n\n${text}`);
      }),
    );
  });
});
