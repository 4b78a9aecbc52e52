import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { folded } from '../said/words-of.ts';
import { withoutName, withoutWords } from './without-name.ts';

describe('a text without a name', () => {
  it.each([
    ['Dear Ana, thank you.', 'Ana Prata', 'Dear …, thank you.'],
    ['ANA PRATA and ana prata', 'Ana Prata', '… and …'],
    ['Olá Leónor Brandão!', 'Leonor Brandao', 'Olá …!'],
    ['Bananas for Ana', 'Ana Prata', 'Bananas for …'],
    ['We wrote to Li Wu today', 'Li Wu', 'We wrote to … today'],
    ['Nobody was named', '', 'Nobody was named'],
    ['To be or not', 'To Be', 'To be or not'],
  ])('%s', (text, name, expected) => {
    expect(withoutName(text, name)).toBe(expected);
  });

  it('has no words of theirs that it quotes, the longest first', () => {
    const said = ['cold', 'The water was cold', 'The water was cold and rough'];
    expect(withoutWords('You said “The water was cold and rough”. How cold?', said)).toBe('You said “…”. How cold?');
  });

  it('has no part of it any more, and everything else', () => {
    const part = fc.constantFrom('Ana', 'Prata', 'Brandão', 'Łucja', 'O’Neil', 'Smith-Jones');
    const word = fc.constantFrom('thank', 'you', 'water', 'bananas', '🌊', 'Ana', 'PRATA', 'lucja', 'neil,');
    fc.assert(
      fc.property(fc.array(part, { minLength: 1, maxLength: 3 }), fc.array(word), (parts, words) => {
        const name = parts.join(' ');
        const bare = withoutName(words.join(' '), name);
        const parted = (name.match(/[\p{L}\p{M}]+/gu) ?? []).map(folded).filter((each) => each.length >= 3);
        const left = (bare.match(/[\p{L}\p{M}]+/gu) ?? []).map(folded);
        expect(left.filter((each) => parted.includes(each))).toEqual([]);
        expect(left.filter((each) => each === 'bananas')).toHaveLength(
          words.filter((each) => each === 'bananas').length,
        );
      }),
    );
  });
});
