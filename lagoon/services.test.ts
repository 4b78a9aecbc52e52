import { describe, expect, it } from 'vitest';
import { readMarkup } from './broadcast/markup.ts';
import { compose } from './text-model/compose.ts';
import { SERVICES } from './services.ts';
import { typed } from './sheets/routes.ts';
import { graphemes, weighted } from './base/text.ts';

describe('the text model', () => {
  const asked = (changes: Partial<Parameters<typeof compose>[0]> = {}) =>
    compose({
      instruction: 'Answer kindly, in two sentences.',
      input: 'name: Ana Prata\nstars: 5\nThe water was clear and the staff could not have been kinder.',
      longest: 400,
      variety: 0.7,
      seed: 7,
      ...changes,
    });
  it('uses the name, the stars and what is mentioned, and says the same for the same seed', () => {
    expect(asked()).toMatch(/Ana/);
    expect(asked()).toMatch(/the water and the staff/);
    expect(asked()).toBe(asked());
    expect(new Set(Array.from({ length: 20 }, (_, seed) => asked({ seed }))).size).toBeGreaterThan(3);
    expect(new Set(Array.from({ length: 20 }, (_, seed) => asked({ seed, variety: 0 }))).size).toBe(1);
    expect(asked({ input: 'name: Tom\nstars: 1\nThe showers were cold.' })).toMatch(/sorry/);
    expect(asked({ input: 'stars: 5\n' })).not.toMatch(/undefined|null|,,/);
  });
  it('keeps to the longest and to the language', () => {
    for (let longest = 10; longest < 300; longest += 7) expect(asked({ longest }).length).toBeLessThanOrEqual(longest);
    expect(asked({ input: 'name: Rui\nstars: 5\nA água estava ótima, muito obrigado!' })).toMatch(/obrigado|bom/);
    expect(asked({ instruction: 'Answer in German.' })).toMatch(/[Dd]ank|Schön|gern|Bis bald/);
  });
});

describe('broadcast markup', () => {
  it('is a safe subset', () => {
    expect(readMarkup('<b>Bold</b> &amp; <a href="https://x.example/">link</a>')).toEqual({
      shown: '<b>Bold</b> &#38; <a href="https://x.example/" rel="nofollow ugc">link</a>',
      words: 'Bold & link',
    });
    expect(readMarkup('<script>alert(1)</script>')).toBe('<script> is not allowed.');
    expect(readMarkup('<b onclick="x">no</b>')).toBe('<b> takes no onclick.');
    expect(readMarkup('<a href="javascript:x">no</a>')).toBe('A link needs an address.');
    expect(readMarkup('<b>open')).toBe('<b> is not closed.');
    expect(readMarkup('1 < 2')).toBe('A < has to be written as &lt;.');
    expect(readMarkup('1 &lt; 2')).toEqual({ shown: '1 &#60; 2', words: '1 < 2' });
  });
});

it('counts as its services do', () => {
  expect(graphemes('👩🏽‍🚒é')).toBe(2);
  expect(weighted('🌊漢a https://x.example/long', 24)).toBe(2 + 2 + 1 + 1 + 24);
});

it('cells are of their columns’ types', () => {
  const tab = {
    file: 'F',
    name: 'T',
    columns: [
      { name: 'Degrees', type: 'number' as const },
      { name: 'Ready', type: 'yes-no' as const },
      { name: 'Link', type: 'link' as const },
    ],
  };
  expect(typed(tab, { Degrees: '11,5', Ready: 'yes', Link: 'https://x.example/' })).toEqual({
    Degrees: 11.5,
    Ready: true,
    Link: 'https://x.example/',
  });
  const wrong: Record<string, string>[] = [{ Degrees: 'warm' }, { Ready: 'perhaps' }, { Link: 'x' }, { Nothing: '1' }];
  for (const cells of wrong) expect(() => typed(tab, cells)).toThrow();
});

it('every service is listed once, under its own path', () => {
  expect(new Set(SERVICES.map(({ path }) => path)).size).toBe(16);
});
