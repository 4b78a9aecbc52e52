import { describe, expect, it } from 'vitest';
import { Together } from './together.ts';

describe('things done together', () => {
  it('go at once when nothing is on its way, and gather while something is', async () => {
    const went: number[][] = [];
    const through: (() => void)[] = [];
    const together = new Together<number>((entries) => {
      went.push(entries);
      return new Promise((done) => through.push(done));
    });
    together.add(1);
    together.add(2);
    await Promise.resolve();
    // Of the same moment: they came along.
    expect(went).toEqual([[1, 2]]);
    together.add(3);
    together.add(4);
    await Promise.resolve();
    expect(went).toHaveLength(1);
    through[0]!();
    await new Promise((next) => setTimeout(next));
    expect(went).toEqual([
      [1, 2],
      [3, 4],
    ]);
    through[1]!();
    await new Promise((next) => setTimeout(next));
    together.add(5);
    await Promise.resolve();
    expect(went.at(-1)).toEqual([5]);
  });
  it('take each thing once, in the order in which they came, however they come', async () => {
    const went: number[] = [];
    const together = new Together<number>(async (entries) => {
      await new Promise((next) => setTimeout(next, entries.length % 3));
      went.push(...entries);
    });
    for (let number = 0; number < 200; number++) {
      together.add(number);
      if (number % 7 === 0) await new Promise((next) => setTimeout(next));
    }
    while (went.length < 200) await new Promise((next) => setTimeout(next, 1));
    expect(went).toEqual(Array.from({ length: 200 }, (_, number) => number));
  });
});
