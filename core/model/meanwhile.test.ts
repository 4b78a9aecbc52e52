import { describe, expect, it } from 'vitest';
import { outdated } from './meanwhile.ts';

const input = { to: 'r1', text: 'Thank you!', was: 'Lovely' };
const there = (answers: string[] = [], text = 'Lovely') => ({ text, answers });

describe('whether an answer is still right', () => {
  it('is so where nothing has happened, whatever the words are compared with', () => {
    expect(outdated(input, there(), [])).toBe(null);
    expect(outdated({ to: 'r1', text: 'Hello' }, there([], 'Something else'), [])).toBe(null);
  });
  it('is not where it was answered, edited, closed or deleted', () => {
    expect(outdated(input, there(['By hand']), [])).toMatchObject({ what: 'answered', then: 'hold' });
    expect(outdated(input, there([], 'Dreadful'), [])).toMatchObject({
      what: 'edited',
      says: 'Edited meanwhile. It says now: “Dreadful”',
      found: { text: 'Dreadful', answers: [] },
    });
    expect(outdated(input, { ...there(), closed: 'after a week' }, [])).toMatchObject({ what: 'closed', then: 'hold' });
    expect(outdated(input, undefined, [])).toMatchObject({ what: 'gone', then: 'end' });
  });
  it('leaves or sends as the step says, each for itself', () => {
    const step = { ...input, meanwhile: { answered: 'end', edited: 'send' } as const };
    expect(outdated(step, there(['By hand'], 'Dreadful'), [])).toMatchObject({ what: 'answered', then: 'end' });
    expect(outdated(step, there([], 'Dreadful'), [])).toBe(null);
  });
  it('takes the run’s own answers for no news, each as often as it was given', () => {
    expect(outdated(input, there(['First']), ['First'])).toBe(null);
    expect(outdated(input, there(['First', 'First']), ['First'])).toMatchObject({ what: 'answered' });
  });
  it('lets go what a person has seen and means all the same, and nothing that came after', () => {
    const seen = { ...input, over: ['By hand'] };
    expect(outdated(seen, there(['By hand']), [])).toBe(null);
    expect(outdated(seen, there(['By hand, again']), [])).toMatchObject({ what: 'answered' });
    // Taken away again: nothing to answer over.
    expect(outdated(seen, there(), [])).toBe(null);
  });
  it('quotes long words at the end of a character', () => {
    const long = '👩‍👩‍👧 '.repeat(300);
    expect(outdated(input, there([long]), [])!.says).toMatch(/👩‍👩‍👧…”$/u);
  });
});
