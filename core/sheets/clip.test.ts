import { describe, expect, it } from 'vitest';
import { CLIPS, clipCells, clipColumns, pageOf, sharedPage } from './clip.ts';

describe('a clip', () => {
  it('goes where the sheet has columns for it', () => {
    expect(clipColumns(CLIPS)).toEqual({ url: 'address', title: 'title', note: 'note', picture: 'picture' });
    expect(clipColumns([{ key: 'a', name: 'A', type: 'text' }])).toBeUndefined();
    const clip = { url: ' https://ternbay.example/rail ', title: 'The rail', note: '', picture: '' };
    expect(clipCells(CLIPS, clip)).toEqual({ address: 'https://ternbay.example/rail', title: 'The rail' });
    expect(clipCells([{ key: 'where', name: 'Where', type: 'link' }], clip)).toEqual({
      where: 'https://ternbay.example/rail',
    });
  });

  it('finds the address wherever a program has put it', () => {
    expect(sharedPage({ url: 'https://a.example/1', title: 'One' })).toEqual({
      url: 'https://a.example/1',
      title: 'One',
      note: '',
    });
    expect(sharedPage({ title: 'One', text: 'Look: https://a.example/1 now' })).toEqual({
      url: 'https://a.example/1',
      title: 'One',
      note: 'Look:  now',
    });
    expect(sharedPage({ text: 'No address' })).toEqual({ url: '', title: '', note: 'No address' });
    expect(sharedPage({ url: 'javascript:alert(1)' }).url).toBe('');
  });

  it.each([
    ['https://www.ternbay.example/Rail/', 'http://ternbay.example/rail'],
    ['https://ternbay.example/rail?utm_source=letter&utm_medium=mail#top', 'https://ternbay.example/rail'],
    ['https://ternbay.example/rail?day=2&ref=x', 'https://ternbay.example/rail?day=2'],
  ])('%s is the page %s', (one, other) => {
    expect(pageOf(one)).toBe(pageOf(other));
  });

  it.each([
    ['https://ternbay.example/rail?day=2', 'https://ternbay.example/rail?day=3'],
    ['https://ternbay.example/rail', 'https://ternbay.example/steps'],
  ])('%s is not the page %s', (one, other) => {
    expect(pageOf(one)).not.toBe(pageOf(other));
  });
});
