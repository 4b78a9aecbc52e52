import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { useEditor } from './editor.ts';
import { item, MadeUpServer } from '../testing/made-up-server.ts';

// The editor's store against a made-up server: what is kept, undone, saved, and in which order.
let server: MadeUpServer;
beforeEach(() => {
  vi.useFakeTimers();
  server = new MadeUpServer();
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

async function opened() {
  const editor = useEditor();
  await editor.open(7);
  return editor;
}
const ids = (editor: ReturnType<typeof useEditor>) => editor.definition.steps.map((step) => step.id).join('');
const type = (editor: ReturnType<typeof useEditor>, text: string) =>
  editor.changeStep('w', (step) => ((step as { text: string }).text = text), 'text');

describe('the draft', () => {
  it('is changed, undone and redone', async () => {
    const editor = await opened();
    editor.moveStepBelow('p', '~rules');
    expect(ids(editor)).toBe('pcw');
    editor.removeStep('c');
    expect(ids(editor)).toBe('pw');
    editor.undo();
    editor.undo();
    expect(ids(editor)).toBe('cwp');
    editor.redo();
    expect(ids(editor)).toBe('pcw');
    // A new change forgets what was undone.
    editor.toggleStep('w');
    expect(editor.future).toHaveLength(0);
    expect(editor.definition.steps.find((step) => step.id === 'w')!.off).toBe(true);
  });
  it('takes typing in one field for one change, and another field for another', async () => {
    const editor = await opened();
    for (const text of ['a', 'ab', 'abc']) type(editor, text);
    editor.edit((draft) => (draft.name = 'X'), 'name');
    editor.undo();
    editor.undo();
    expect(editor.definition.steps[1]).toMatchObject({ text: '{$title}' });
    expect(editor.past).toHaveLength(0);
  });
  it('takes typing after a pause for a change of its own', async () => {
    const editor = await opened();
    type(editor, 'a');
    vi.advanceTimersByTime(2000);
    type(editor, 'ab');
    editor.undo();
    expect(editor.definition.steps[1]).toMatchObject({ text: 'a' });
  });
  it('leaves what is not changed the very same, so that nothing is made of it anew', async () => {
    const editor = await opened();
    const [check, words, post] = editor.definition.steps;
    const before = editor.program;
    type(editor, 'Other words');
    expect(editor.definition.steps[0]).toBe(check);
    expect(editor.definition.steps[1]).not.toBe(words);
    expect(editor.definition.steps[2]).toBe(post);
    const after = editor.program;
    expect(after.root.nodes[0]).toBe(before.root.nodes[0]);
    expect(after.root.nodes[1]).not.toBe(before.root.nodes[1]);
    // Nothing but the words was asked to be something else: that is no change.
    const draft = editor.draft;
    type(editor, 'Other words');
    expect(editor.draft).toBe(draft);
  });
  it('fetches nothing while somebody types, also when it hears of its own save', async () => {
    const editor = await opened();
    server.asked = [];
    for (const text of ['a', 'ab', 'abc']) type(editor, text);
    await vi.advanceTimersByTimeAsync(2000);
    expect(server.asked).toEqual(['PUT /api/brands/1/workflows/7/draft']);
    expect(editor.isOwnNews({ ref: 7, revision: 4 })).toBe(true);
    // Of a colleague, of another workflow's draft, and of what is not a draft.
    expect(editor.isOwnNews({ ref: 7, revision: 5 })).toBe(false);
    expect(editor.isOwnNews({ ref: 8, revision: 90 })).toBe(true);
    expect(editor.isOwnNews({ ref: 7, revision: null })).toBe(false);
  });
  it('keeps a row chosen, whatever is removed', async () => {
    const editor = await opened();
    editor.row = 'w';
    editor.removeStep('w');
    expect(editor.row).toBe('p');
    editor.removeStep('p');
    editor.removeStep('c');
    expect(ids(editor)).toBe('');
    expect(editor.row).toBe('~rules');
  });
  it('doubles a step right below it, under an id of its own', async () => {
    const editor = await opened();
    editor.doubleStep('c');
    const [first, second] = editor.definition.steps;
    expect(second).toMatchObject({ verb: 'check' });
    expect(second!.id).not.toBe(first!.id);
    expect(editor.row).toBe(second!.id);
  });
  it('does nothing for a move out of the sheet', async () => {
    const editor = await opened();
    editor.moveStep('c', -1);
    editor.moveStep('p', 1);
    editor.moveStep('nobody', 1);
    expect(ids(editor)).toBe('cwp');
    expect(editor.past).toHaveLength(0);
  });
});

describe('saving', () => {
  it('waits for a pause in typing, and sends the newest with the right revision', async () => {
    const editor = await opened();
    type(editor, 'a');
    await vi.advanceTimersByTimeAsync(300);
    type(editor, 'ab');
    await vi.advanceTimersByTimeAsync(300);
    expect(server.saves).toHaveLength(0);
    await vi.advanceTimersByTimeAsync(300);
    expect(server.saves.map((save) => save.revision)).toEqual([3]);
    expect(editor.saving).toBe('saved');
    type(editor, 'abc');
    await editor.flush();
    expect(server.saves.map((save) => save.revision)).toEqual([3, 4]);
    expect(server.saves[1]!.definition.steps[1]).toMatchObject({ text: 'abc' });
  });
  it('tries again by itself when the server is away, with what is newest by then', async () => {
    const editor = await opened();
    server.answer = () => ({ status: 500, body: { title: 'Something went wrong in Playa itself.' } });
    type(editor, 'kept');
    await vi.advanceTimersByTimeAsync(600);
    expect(editor.saving).toBe('failed');
    expect(editor.definition.steps[1]).toMatchObject({ text: 'kept' });
    server.answer = (revision) => ({ status: 200, body: { revision: revision + 1 } });
    await vi.advanceTimersByTimeAsync(5000);
    expect(editor.saving).toBe('saved');
    expect(server.saves.at(-1)!.definition.steps[1]).toMatchObject({ text: 'kept' });
  });
  it('overwrites nobody: a conflict is told, and mine is kept only when I say so', async () => {
    const editor = await opened();
    server.answer = () => ({ status: 409, body: { title: 'This workflow was changed elsewhere meanwhile.' } });
    type(editor, 'mine');
    await vi.advanceTimersByTimeAsync(20_000);
    expect(editor.saving).toBe('conflict');
    expect(server.saves).toHaveLength(1);
    server.answer = (revision) => ({ status: 200, body: { revision: revision + 1 } });
    await editor.keepMine();
    expect(editor.saving).toBe('saved');
    expect(server.saves.at(-1)!.definition.steps[1]).toMatchObject({ text: 'mine' });
  });
  it('never server.saves a workflow without a name', async () => {
    const editor = await opened();
    editor.edit((draft) => (draft.name = '  '));
    await editor.flush();
    expect(server.saves.at(-1)!.name).toBe('Untitled');
  });
});

describe('what the sheet shows', () => {
  it('has the newest few items of each source as samples', async () => {
    const editor = await opened();
    expect(editor.samples.filter((each) => each.watch === 1)).toHaveLength(8);
    expect(editor.samples.filter((each) => each.watch === 2)).toHaveLength(1);
    expect(editor.chosenItem!.id).toBe(20);
  });
  it('follows every change at once, for any item', async () => {
    const editor = await opened();
    const words = (id: number) => editor.outcomes(server.items.find((each) => each.id === id)!).trace.w;
    expect(words(20)).toMatchObject({ text: 'Film 20' });
    expect(editor.outcomes(item(5, 2)).outcome).toBe('stopped');
    type(editor, 'New: {$title}');
    expect(words(20)).toMatchObject({ text: 'New: Film 20' });
    expect(words(12)).toMatchObject({ text: 'New: Film 12' });
    expect(editor.problems).toEqual([]);
    editor.changeStep('p', (step) => ((step as { outlets: number[] }).outlets = []));
    expect(editor.problems.map((problem) => problem.says)).toEqual(['Choose at least one outlet to publish to.']);
  });
});
