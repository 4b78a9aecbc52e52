// What a keystroke in a caption costs: the workflow compiled anew, all cells of 40 items at 8 outlets of different kinds
// computed, fitted and counted, and the criticism of the posts, beside formatting the same 320 captions with the
// message formatter alone. Both are measured in turn in one run, in a worker of the browser.
import { MessageFormat } from 'messageformat';
import { compile } from '@playa/core/engine/program.ts';
import { OUTLET_KINDS, KIND_RULES } from '@playa/core/outlets/kinds.ts';
import { rehearseItem } from '@playa/core/rehearsal/rehearse.ts';
import { Summing } from '@playa/core/rehearsal/summary.ts';
import { adviceFor } from '@playa/core/advice/advise.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import type { World } from '@playa/core/model/world.ts';
import { bareFirstSentence, makeItems } from './captions.ts';
import { momentOf } from '@playa/core/rehearsal/virtual-run.ts';

const ITEMS = 40;
const KEYSTROKES = 120;
const WARM = 30;
const kinds = OUTLET_KINDS.filter((kind) => KIND_RULES[kind].publishes);
const OUTLETS = 8;

/** Long enough that most captions are too long for the microblog. */
const items = makeItems(ITEMS, 32);
const world: World = {
  timeZone: 'Europe/Lisbon',
  locale: 'en',
  outlets: new Map(
    Array.from({ length: OUTLETS }, (_, index) => {
      const kind = kinds[index % kinds.length]!;
      return [index + 1, { id: index + 1, kind, name: `${KIND_RULES[kind].name} ${index + 1}`, accountId: 1 }] as const;
    }),
  ),
  watches: new Map([[1, { id: 1, name: 'A channel', things: 'videos' }]]),
};
const text = (typed: string) =>
  `New lesson: {$title}. ${typed} {$description :firstSentence} {$link} #lidolife #seaswimming`;
const definitionFor = (typed: string, fit: boolean): Definition => ({
  schema: 1,
  sources: [{ id: 's', watch: 1 }],
  steps: [
    {
      id: 'check',
      verb: 'check',
      condition: { type: 'group', match: 'all', items: [{ type: 'test', field: 'length', op: 'longer', value: 10 }] },
    },
    { id: 'words', verb: 'compose', name: 'caption', text: text(typed) },
    {
      id: 'post',
      verb: 'publish',
      outlets: [...world.outlets.keys()],
      caption: 'caption',
      card: 'link',
      title: '{$title}',
      media: [{ type: 'picture', from: 'thumbnail.url', alt: 'From {$title}' }],
      fit,
    },
  ],
});

/** One more letter each time, as somebody types. */
const typed = (index: number) => 'Bring a towel and some tea, and a friend. '.slice(0, 1 + (index % 42));

function bare(index: number): number {
  const began = performance.now();
  const formatter = new MessageFormat('en', text(typed(index)), {
    bidiIsolation: 'none',
    functions: {
      firstSentence: (_context, _options, operand) => {
        const said = bareFirstSentence(String(operand));
        return { type: 'string', toString: () => said };
      },
    },
  });
  let length = 0;
  for (const item of items)
    for (let outlet = 0; outlet < OUTLETS; outlet++) length += formatter.format(item.fields).length;
  if (length === 0) throw new Error('nothing was formatted');
  return performance.now() - began;
}

/** Posts that were too long at the last keystroke. */
let tooLong = 0;

function keystroke(index: number, fit: boolean): number {
  const began = performance.now();
  const definition = definitionFor(typed(index), fit);
  const program = compile(definition, world);
  const summing = new Summing(definition, world);
  let posts = 0;
  for (const item of items) {
    const rehearsed = rehearseItem(program, item, momentOf(item));
    summing.add(rehearsed);
    const cell = rehearsed.trace.post;
    posts += cell?.kind === 'posts' ? cell.posts.length : 0;
  }
  adviceFor(definition, summing.summary, world);
  if (posts !== ITEMS * OUTLETS) throw new Error(`${posts} posts, not ${ITEMS * OUTLETS}`);
  tooLong = summing.summary.tooLong;
  return performance.now() - began;
}

const sorted = (values: readonly number[]) => [...values].sort((a, b) => a - b);
const at = (values: readonly number[], share: number) => sorted(values)[Math.floor((values.length - 1) * share)]!;

/** Runs it, and says what came of it. */
export function run(): string[] {
  const lines: string[] = [];
  let long = 0;
  for (const fit of [false, true]) {
    for (let index = 0; index < WARM; index++) {
      bare(index);
      keystroke(index, fit);
    }
    const pairs = Array.from({ length: KEYSTROKES }, (_, index) => ({
      bare: bare(index),
      ours: keystroke(index, fit),
    }));
    if (!fit) long = tooLong;
    const ours = pairs.map((pair) => pair.ours);
    const ratios = pairs.map((pair) => pair.ours / pair.bare);
    lines.push(
      `${ITEMS} items × ${OUTLETS} outlets, ${
        fit ? `shortened where too long (${long}; then ${tooLong})` : 'as they are'
      }; ${KEYSTROKES} keystrokes`,
      `  bare formatting  median ${at(
        pairs.map((pair) => pair.bare),
        0.5,
      ).toFixed(2)} ms`,
      `  a keystroke      median ${at(ours, 0.5).toFixed(2)} ms, nine in ten within ${at(ours, 0.9).toFixed(2)} ms (a frame is 16.7)`,
      `  ratio            median ${at(ratios, 0.5).toFixed(2)}, nine in ten within ${at(ratios, 0.9).toFixed(2)} (wanted: at most 3)`,
    );
  }
  return lines;
}
