// How acts and troubles are called in the logbook.
import type { UntidyPost } from '../../lib/types.ts';

/** Sorts of acts that the logbook can be filtered by. */
export const SORTS: readonly { id: string; name: string; actions: readonly string[] }[] = [
  { id: 'posts', name: 'posts', actions: ['publish'] },
  { id: 'answers', name: 'answers and messages', actions: ['reply', 'message', 'react'] },
  { id: 'records', name: 'rows and labels', actions: ['record', 'label'] },
  { id: 'changes', name: 'changes', actions: ['revise'] },
  { id: 'others', name: 'calls and notices', actions: ['call', 'notify', 'hold'] },
];

const DID: Readonly<Record<string, string>> = {
  publish: 'posted',
  reply: 'answered',
  message: 'wrote to somebody',
  react: 'reacted',
  revise: 'changed',
  record: 'recorded',
  label: 'labelled',
  notify: 'told',
  call: 'called',
  hold: 'asked',
};
export const didOf = (action: string): string => DID[action] ?? action;

type Untidy = UntidyPost['untidy'][number]['what'];
export const UNTIDY: Readonly<Record<Untidy, string>> = {
  title: 'No title',
  link: 'No link',
  picture: 'No picture',
  alt: 'A picture that nothing is said of',
  doubled: 'Out twice',
};
