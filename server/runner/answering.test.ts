// An answer goes out only if it is still right.
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { Definition } from '@playa/core/workflow/definition.ts';
import type { ReplyStep } from '@playa/core/steps/respond.ts';
import { slotsIn } from '@playa/core/model/state.ts';
import { itemsOf } from '../store/items-shown.ts';
import { runBy, type Run } from '../store/runs.ts';
import { openHouse, testNow, type House } from '../testing/house.ts';
import { live, pause } from '../testing/workflow.ts';
import { watchOutlet } from '../watch/watchable.ts';
import { lookNow } from '../watch/look.ts';
import { decide } from '../workflows/decide.ts';
import { runsOf } from '../testing/runs-of.ts';

let house: House;
let watch: number;
let comments: number;
let count = 0;

beforeAll(async () => {
  house = await openHouse();
  await house.connect('listings');
  await house.connect('photos');
  const listing = await house.outlet('Tern Bay Lido');
  watch = await watchOutlet(house.services, house.lidos, listing.id, 'reviews');
  const photos = await house.outlet('@ternbaylidos');
  comments = await watchOutlet(house.services, house.lidos, photos.id, 'comments');
  for (const each of [watch, comments]) await lookNow(house.services, each);
});
afterAll(() => house?.close());
beforeEach(() => {
  house.clock.now = testNow();
});

const answering = (
  options: { hold?: boolean; watch?: number; words?: string; meanwhile?: ReplyStep['meanwhile'] } = {},
): Definition => ({
  schema: 1,
  sources: [{ id: 'source', watch: options.watch ?? watch }],
  steps: [
    { id: 'words', verb: 'compose', name: 'answer', text: options.words ?? 'Thank you, {$person.name}!' },
    ...(options.hold ? [{ id: 'hold', verb: 'hold' as const, question: 'Good?', text: 'answer' }] : []),
    {
      id: 'reply',
      verb: 'reply',
      outlet: null,
      where: 'item',
      to: 'id',
      caption: 'answer',
      meanwhile: options.meanwhile,
    },
  ],
});

async function review(text = `Lovely, number ${++count}`): Promise<number> {
  const id = await house.play({ do: 'review', location: 'Tern Bay Lido', by: 'Ana Prata', stars: 5, text });
  await lookNow(house.services, watch);
  await house.settle();
  return id;
}
interface Review {
  text: string;
  reply: { text: string } | null;
}
const replyTo = async (id: number) =>
  (await house.things<Review>('listings', 'review')).find((each) => each.id === id)?.body.reply?.text ?? null;
const newest = async (workflow: number): Promise<Run> =>
  (await runsOf(house.services.pool, house.lidos, workflow, 1))[0]!;
const heldOf = (run: Run) => slotsIn(run.state!).find((slot) => slot.status === 'held');
async function yes(workflow: number): Promise<Run> {
  const run = await newest(workflow);
  await decide(house.services, house.lidos, run.id, heldOf(run)!.key, { do: 'retry' });
  await house.settle();
  return (await runBy(house.services.pool, house.lidos, run.id))!;
}

describe('a review that was answered by hand while the answer waited', () => {
  it('is not answered over: a person is shown what was said, and whoever says yes then means it', async () => {
    const workflow = await live(house, answering({ hold: true }));
    const id = await review();
    await house.play({ do: 'answer-review', id, text: 'By hand.' });
    const run = await yes(workflow);
    expect(await replyTo(id)).toBe('By hand.');
    expect(run.status).toBe('held');
    expect(heldOf(run)).toMatchObject({ trouble: 'outdated', says: 'Answered meanwhile: “By hand.”' });
    // Answered otherwise once more: what the person has seen is not what is there.
    await house.play({ do: 'answer-review', id, text: 'By hand, again.' });
    expect(heldOf(await yes(workflow))).toMatchObject({ says: 'Answered meanwhile: “By hand, again.”' });
    expect(await replyTo(id)).toBe('By hand, again.');
    expect((await yes(workflow)).status).toBe('done');
    expect(await replyTo(id)).toBe('Thank you, Ana Prata!');
    await pause(house, workflow);
  });

  it('is left alone, or answered all the same, where the step says so', async () => {
    const ending = await live(house, answering({ hold: true, meanwhile: { answered: 'end' } }));
    const first = await review();
    await house.play({ do: 'answer-review', id: first, text: 'By hand.' });
    const run = await yes(ending);
    expect(run.status).toBe('stopped');
    expect(run.trace.reply).toMatchObject({ acts: [{ status: 'skipped', says: 'Answered meanwhile: “By hand.”' }] });
    expect(await replyTo(first)).toBe('By hand.');
    await pause(house, ending);
    const sending = await live(house, answering({ hold: true, meanwhile: { answered: 'send' } }));
    const second = await review();
    await house.play({ do: 'answer-review', id: second, text: 'By hand.' });
    expect((await yes(sending)).status).toBe('done');
    expect(await replyTo(second)).toBe('Thank you, Ana Prata!');
    await pause(house, sending);
  });

  it('says that it is answered as soon as it is', async () => {
    const workflow = await live(house, answering());
    const answered = async () =>
      (await itemsOf(house.services.pool, house.lidos, [watch], 1))[0]!.fields.answered as boolean;
    const id = await review();
    expect(await replyTo(id)).toBe('Thank you, Ana Prata!');
    // Before anybody has looked again.
    expect(await answered()).toBe(true);
    await pause(house, workflow);
    const by = await review();
    expect(await answered()).toBe(false);
    await house.play({ do: 'answer-review', id: by, text: 'By hand.' });
    await lookNow(house.services, watch);
    expect(await answered()).toBe(true);
  });
});

describe('a review that was edited or deleted while the answer waited', () => {
  it('edited: a person sees what it says now', async () => {
    const workflow = await live(house, answering({ hold: true }));
    const id = await review('It was fine');
    await house.play({ do: 'edit-review', id, text: 'It was dreadful' });
    const run = await yes(workflow);
    expect(heldOf(run)).toMatchObject({ says: 'Edited meanwhile. It says now: “It was dreadful”' });
    expect(await replyTo(id)).toBe(null);
    expect((await yes(workflow)).status).toBe('done');
    expect(await replyTo(id)).toBe('Thank you, Ana Prata!');
    await pause(house, workflow);
  });

  it('edited and seen by a look: the words are made anew, and asked about again', async () => {
    const workflow = await live(house, answering({ hold: true, words: 'You said: {$text}' }));
    const id = await review('It was fine');
    await house.play({ do: 'edit-review', id, text: 'It was dreadful' });
    await lookNow(house.services, watch);
    await house.settle();
    expect(heldOf(await newest(workflow))).toMatchObject({ input: { text: 'You said: It was dreadful' } });
    await yes(workflow);
    expect(await replyTo(id)).toBe('You said: It was dreadful');
    await pause(house, workflow);
  });

  it('deleted: nothing is sent, and the run ends saying why', async () => {
    const workflow = await live(house, answering({ hold: true }));
    const id = await review();
    await house.play({ do: 'delete-review', id });
    const run = await yes(workflow);
    expect(run.status).toBe('stopped');
    expect(run.trace.reply).toMatchObject({ acts: [{ says: 'What this answers has been deleted meanwhile.' }] });
    await pause(house, workflow);
  });
});

describe('two live workflows on the same reviews', () => {
  it('give one answer: the second waits for a person, who is told whose it is', async () => {
    const first = await live(house, answering({ words: 'From the first.' }));
    const second = await live(house, answering({ words: 'From the second.' }));
    const id = await review();
    expect(['From the first.', 'From the second.']).toContain(await replyTo(id));
    const runs = [await newest(first), await newest(second)];
    expect(runs.map((run) => run.status).sort()).toEqual(['done', 'held']);
    const held = runs.find((run) => run.status === 'held')!;
    expect(heldOf(held)!.says).toMatch(/^(Answered meanwhile|The workflow “A workflow”)/);
    for (const workflow of [first, second]) await pause(house, workflow);
  });

  it('going live with some of the past leaves out what is answered, and what another is about to answer', async () => {
    const holding = await live(house, answering({ hold: true, words: 'Held.' }));
    const waiting = await review();
    await pause(house, holding);
    const answered = await review();
    await house.play({ do: 'answer-review', id: answered, text: 'By hand.' });
    const free = await review();
    const late = await live(house, answering({ words: 'Late.' }), { last: 3, every: 0 });
    await house.settle();
    expect(await replyTo(answered)).toBe('By hand.');
    expect(await replyTo(waiting)).toBe(null);
    expect(await replyTo(free)).toBe('Late.');
    await pause(house, late);
  });
});

describe('a comment', () => {
  interface Comment {
    text: string;
    by: { id: number };
    under: number | null;
  }
  const under = async (id: number) =>
    (await house.things<Comment>('photos', 'comment'))
      .filter((each) => each.body.under === id)
      .map((each) => each.body.text);
  async function comment(): Promise<number> {
    const id = await house.play({ do: 'comment', profile: 'ternbaylidos', by: 'Ana Prata', text: `Hello ${++count}` });
    await lookNow(house.services, comments);
    await house.settle();
    return id;
  }

  it('that was answered by hand is not answered twice; one that was deleted is let be', async () => {
    const workflow = await live(house, answering({ watch: comments, hold: true }));
    const first = await comment();
    await house.play({ do: 'answer-comment', at: 'photos', id: first, text: 'By hand.' });
    expect(heldOf(await yes(workflow))).toMatchObject({ says: 'Answered meanwhile: “By hand.”' });
    expect(await under(first)).toEqual(['By hand.']);
    const second = await comment();
    await house.play({ do: 'delete-comment', at: 'photos', id: second });
    const run = await yes(workflow);
    expect(run.trace.reply).toMatchObject({ acts: [{ says: 'What this answers has been deleted meanwhile.' }] });
    expect(run.status).toBe('stopped');
    await pause(house, workflow);
  });

  it('may be answered by the same run more than once', async () => {
    const definition = answering({ watch: comments });
    definition.steps.push(
      { id: 'words2', verb: 'compose', name: 'more', text: 'And more.' },
      { id: 'reply2', verb: 'reply', outlet: null, where: 'item', to: 'id', caption: 'more' },
    );
    const workflow = await live(house, definition);
    const id = await comment();
    expect(await under(id)).toEqual(['Thank you, Ana Prata!', 'And more.']);
    await pause(house, workflow);
  });
});
