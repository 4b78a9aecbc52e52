import { describe, expect, it } from 'vitest';
import { compile } from '../engine/program.ts';
import { rehearse, rehearseItem } from '../rehearsal/rehearse.ts';
import type { PastItem } from '../rehearsal/virtual-run.ts';
import { Summing } from '../rehearsal/summary.ts';
import { adviceFor } from '../advice/advise.ts';
import { definitionSchema, type Definition } from '../workflow/definition.ts';
import { renameField } from '../workflow/rename-field.ts';
import { snippetsUsed } from '../workflow/snippets.ts';
import { validateDefinition } from '../workflow/validate.ts';
import type { World } from '../model/world.ts';
import type { ComposeStep } from './compose.ts';
import type { PublishStep } from './publish.ts';

// A caption from its Compose to the posts of outlets of different kinds.
const world: World = {
  timeZone: 'Europe/Lisbon',
  locale: 'en',
  outlets: new Map(
    (['page', 'microblog', 'photos', 'room', 'broadcast'] as const).map((kind, index) => [
      index + 1,
      { id: index + 1, kind, name: `The ${kind}`, accountId: 1 },
    ]),
  ),
  watches: new Map([[1, { id: 1, name: 'A channel', things: 'videos' }]]),
  snippets: new Map([['sign-off', 'Your crew']]),
};
const make = (compose: Partial<ComposeStep>, publish: Partial<PublishStep> = {}): Definition => ({
  schema: 1,
  sources: [{ id: 's', watch: 1 }],
  steps: [
    { id: 'words', verb: 'compose', name: 'caption', text: '{$title}', ...compose },
    { id: 'post', verb: 'publish', outlets: [1, 2, 3, 4, 5], caption: 'caption', card: null, ...publish },
  ],
});
const item = (fields: PastItem['fields'], id = 1): PastItem => ({
  id,
  watch: 1,
  identity: `id:${id}`,
  publishedAt: Date.parse('2026-11-24T12:00:00Z') + id,
  seenAt: 0,
  fields: { title: 'Tide *tables*', link: 'https://films.example/1', ...fields },
});
const NOW = Date.parse('2026-11-24T12:00:00Z');
const posts = (definition: Definition, fields: PastItem['fields'] = {}) => {
  const cell = rehearseItem(compile(definitionSchema.parse(definition), world), item(fields), NOW).trace.post;
  return cell?.kind === 'posts' ? cell.posts : [];
};

describe('formatting', () => {
  it('is written in each kind’s own way', () => {
    const [page, note, , room, channel] = posts(make({ text: '{#bold}{$title}{/bold} {#link to=$link}here{/link}' }));
    expect(page).toMatchObject({ text: 'Tide *tables* here https://films.example/1', more: undefined });
    expect(note!.length).toBe('Tide *tables* here '.length + 24);
    expect(room!.more!.markup).toBe('**Tide \\*tables\\*** [here](<https://films.example/1>)');
    expect(room!.length).toBe(room!.more!.markup!.length);
    expect(channel!.more!.markup).toBe('<b>Tide *tables*</b> <a href="https://films.example/1">here</a>');
    expect(channel!.length).toBe('Tide *tables* here'.length);
  });
  it('leaves plain words plain, escaped where a kind reads markup', () => {
    const [page, , , room, channel] = posts(make({}));
    expect([page!.more, channel!.more]).toEqual([undefined, undefined]);
    expect(room!.more!.markup).toBe('Tide \\*tables\\*');
  });
});

describe('words of their own', () => {
  it('go to their outlet, also through the ladder', () => {
    const definition = make(
      { text: '{$title} {$description}', own: [{ outlet: 2, text: 'Only here: {$description} #tide' }] },
      { fit: true },
    );
    const [page, note] = posts(definition, { description: 'Long words. '.repeat(40) });
    expect(page!.text).toMatch(/^Tide \*tables\* Long words/);
    expect(note!.text).toMatch(/^Only here: (Long words\. )+/);
    expect(note!.length).toBeLessThanOrEqual(300);
    expect(definitionSchema.parse(definition)).toEqual(definition);
    expect(JSON.stringify(renameField(definition, 'description', 'about'))).toContain('Only here: {$about} #tide');
    expect(validateDefinition(make({ own: [{ outlet: 2, text: '{$x' }] }), world).map((each) => each.says)).toContain(
      'The caption for The microblog cannot be used: This cannot be read at character 4.',
    );
  });
});

describe('snippets', () => {
  it('are said by any wording, and missed when they are gone', () => {
    const definition = make({ text: '{$title}. {$snippet.sign-off}' });
    expect(posts(definition)[0]!.text).toBe('Tide *tables*. Your crew');
    expect(snippetsUsed(definition.steps[0]!)).toEqual(['sign-off']);
    expect(validateDefinition(make({ text: '{$snippet.gone}' }), world).map((each) => each.says)).toContain(
      'There is no snippet called “gone”.',
    );
  });
});

describe('criticism, with remedies', () => {
  const seen = (definition: Definition, all: PastItem[], recent: { outlet: number; text: string }[] = []) => {
    const summing = new Summing(definition, world, recent);
    for (const each of rehearse(definition, world, all)) summing.add(each);
    return adviceFor(definition, summing.summary, world);
  };
  const find = (definition: Definition, what: RegExp, fields: PastItem['fields'] = {}) => {
    const advice = seen(definition, [item(fields)]).find((each) => what.test(each.says));
    if (!advice) throw new Error(`Nothing says ${what}`);
    return advice;
  };
  const after = (definition: Definition, what: RegExp, fields: PastItem['fields'] = {}) => {
    const next = structuredClone(definition);
    find(definition, what, fields).remedy!.apply(next);
    expect(
      seen(next, [item(fields)])
        .map((each) => each.says)
        .join(),
    ).not.toMatch(what);
    return next.steps[0] as ComposeStep;
  };
  it('links that nobody can click go from the words of that outlet alone', () => {
    const media = { media: [{ type: 'picture' as const, from: 'link', alt: 'x' }] };
    const words = after(make({ text: 'New: {$title} {$link}' }, media), /cannot be clicked on The photos/);
    expect(words.text).toBe('New: {$title} {$link}');
    expect(words.own).toEqual([{ outlet: 3, text: 'New: {$title :withoutLinks}' }]);
  });
  it('hashtags go where they mean nothing', () => {
    const words = after(make({ text: '{$title} #tide' }, { outlets: [1, 4] }), /Hashtags mean nothing on The room/);
    expect(words.own).toEqual([{ outlet: 4, text: '{$title :withoutHashtags}' }]);
  });
  it('shouting is calmed', () => {
    const words = after(make({}, { outlets: [1] }), /in capitals/, { title: 'STORM WARNING FOR THE BAY' });
    expect(words.text).toBe('{$title :calm}');
  });
  it('gaps are closed', () => {
    const words = after(make({ text: '{$title} ({$gone}) , {$title}' }, { outlets: [1] }), /Doubled spaces/);
    expect(words.tidy).toBe(true);
    expect(posts({ ...make({}), steps: [words, make({}, { outlets: [1] }).steps[1]!] })[0]!.text).toBe(
      'Tide *tables*, Tide *tables*',
    );
  });
  it('names with @ go where they call nobody', () => {
    const words = after(
      make({ text: '{$title} thanks @oldquay today' }, { outlets: [1, 2] }),
      /@ means nothing on The page/,
    );
    expect(words.own).toEqual([{ outlet: 1, text: '{$title} thanks today' }]);
  });
  it('pictures that nobody describes are described', () => {
    const definition = make({}, { outlets: [1], media: [{ type: 'picture', from: 'link', alt: '' }] });
    const next = structuredClone(definition);
    find(definition, /what the picture shows/).remedy!.apply(next);
    expect((next.steps[1] as PublishStep).media![0]!.alt).toBe('{$title}');
  });
  it('items without the picture that the step sends are told', () => {
    const media = { media: [{ type: 'picture' as const, from: 'gone', alt: 'x' }] };
    expect(find(make({}, { outlets: [1], ...media }), /No picture/).says).toBe('No picture on The page in 1 of 1.');
  });
  it('pictures above a card with the same picture are left out there, and only there', () => {
    const media = [{ type: 'picture' as const, from: 'picture', alt: 'x' }];
    const doubled = make({}, { card: 'link', media });
    const fields = { picture: 'https://films.example/1.jpg' };
    const advice = find(doubled, /card shows a picture of its own/, fields);
    expect(advice.says).toContain('The page');
    const next = structuredClone(doubled);
    advice.remedy!.apply(next);
    const with_ = posts(next, fields).flatMap(({ outlet, more }) => (more?.media ? [outlet] : []));
    // Photos, a room and a broadcast: no card with a picture there.
    expect(with_).toEqual([3, 4, 5]);
    expect(posts(doubled, fields)[0]!.more!.media).toHaveLength(1);
    const said = seen(next, [item(fields)]).map(({ says }) => says);
    expect(said.join()).not.toMatch(/picture of its own|No picture/);
    // Without a link in an item no card shows, and the picture goes along.
    expect(posts(next, { ...fields, link: '' })[0]!.more!.media).toHaveLength(1);
  });
  it('what was nearly said before is told with its number', () => {
    const title = 'Five things to know before your first winter swim in the bay';
    const advice = seen(make({}, { outlets: [1] }), [item({ title })], [{ outlet: 1, text: `${title} #lido` }]);
    expect(advice.map((each) => each.says)).toContain(
      'Nearly what was said on The page before: up to 100 % alike, in 1 of 1.',
    );
    expect(seen(make({}, { outlets: [1] }), [item({ title })], [{ outlet: 2, text: title }])).toEqual([]);
  });
});

describe('dates', () => {
  it('are told from the moment at which the caption is worded', () => {
    const [page] = posts(make({ text: 'Opens {$opens :relativeDate}, {$opens :time}' }), {
      opens: '2026-11-25T08:30:00Z',
    });
    expect(page!.text).toBe('Opens tomorrow, 8:30 AM');
  });
  it('and one of several is picked by the item, the same at every try', () => {
    const pick = (id: number) => {
      const cell = rehearseItem(
        compile(make({ text: '{$tags :pick}' }), world),
        item({ tags: ['a', 'b', 'c'] }, id),
        NOW,
      ).trace.words;
      return cell?.kind === 'text' ? cell.text : '';
    };
    const all = Array.from({ length: 30 }, (_, id) => pick(id));
    expect(new Set(all)).toEqual(new Set(['a', 'b', 'c']));
    expect(Array.from({ length: 30 }, (_, id) => pick(id))).toEqual(all);
  });
});
