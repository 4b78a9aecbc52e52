import { KIND_RULES, type OutletKind, type WordRules } from '@playa/core/outlets/kinds.ts';
import { NETWORK_KINDS, NETWORK_WORDS } from '@playa/core/outlets/networks.ts';
import type { Connector } from './connector.ts';
import { CONNECTORS } from './index.ts';

const REPEATS = { keyed: 'known again', findable: 'looked for', blind: 'a person is asked' } as const;

/** The tables of docs/networks.md: what each kind of network can do, and what each kind of outlet allows. */
export function networksDocument(): string {
  return `# Networks and outlets

Made from the connectors and the rules of the kinds by \`npm run docs\`; a test holds it to them.

## What each kind of network can do

After an act whose outcome is not known: _known again_ – the network recognises it, so it is simply sent again;
_looked for_ – Playa looks among recent ones first; _a person is asked_ – it can do neither.

| network | signs in | watched | told by | acts, and what follows silence | added by address | made while choosing | calls |
|---|---|---|---|---|---|---|---|
${NETWORK_KINDS.map((kind) => networkLine(NETWORK_WORDS[kind].name, CONNECTORS[kind], kind === 'video')).join('\n')}

Any feed (RSS, Atom, JSON Feed), any JSON sent to a web hook and any HTTP service (the Call step) need no account.

## What each kind of outlet allows

| outlet | text, at most | counted in | formatting | shown before it folds | links in the text | hashtags readers like | @names | title | picture or file | shape of pictures | alternative text | link as card | options | where the limits come from |
|---|---|---|---|---|---|---|---|---|---|---|---|---|---|---|
${(Object.keys(KIND_RULES) as OutletKind[])
  .filter((kind) => KIND_RULES[kind].publishes)
  .map(outletLine)
  .join('\n')}

## Answers and messages

| outlet | an answer, at most | a message to one person, at most | where the limits come from |
|---|---|---|---|
${(Object.keys(KIND_RULES) as OutletKind[])
  .filter((kind) => KIND_RULES[kind].answers || KIND_RULES[kind].messages)
  .map((kind) => {
    const { name, answers, messages, origin } = KIND_RULES[kind];
    return `| ${[name, wordsCell(answers), wordsCell(messages), origin].join(' | ')} |`;
  })
  .join('\n')}
`;
}

const UNITS = {
  grapheme: 'characters (UAX #29)',
  weighted: 'weights (UAX #11)',
  utf16: 'UTF-16 units',
  byte: 'bytes of UTF-8',
};
const unitOf = ({ unit, link }: WordRules) => `${UNITS[unit]}${link ? `, links as ${link}` : ''}`;
const wordsCell = (rules: WordRules | null) =>
  rules === null ? '–' : rules.limit === null ? 'no limit' : `${rules.limit} ${unitOf(rules)}`;

function networkLine(name: string, connector: Connector, hasFeeds: boolean): string {
  const { signIn, watches = {}, acts, openHint, creations = [], allowance } = connector;
  const watched = [...(hasFeeds ? ['videos (feed)'] : []), ...Object.values(watches).map((each) => each.things)];
  const push = Object.values(watches).some((each) => each.push);
  return `| ${[
    name,
    signIn.by === 'consent' ? 'consent (OAuth 2.0, PKCE)' : 'key',
    watched.join(', ') || '–',
    [...(hasFeeds ? ['hub (WebSub)'] : []), ...(push ? ['web hook'] : [])].join(', ') ||
      (watched.length ? 'looking' : '–'),
    Object.entries(acts)
      .map(([act, handler]) => `${act}: ${REPEATS[handler.repeats]}`)
      .join('; ') || '–',
    openHint ? 'yes' : '–',
    creations.map(({ what }) => what).join(', ') || '–',
    allowance ? `${allowance.calls} an ${allowance.per}`.replace('an day', 'a day') : '–',
  ].join(' | ')} |`;
}

function outletLine(kind: OutletKind): string {
  const { name, text, title, media, linkCard, options, origin } = KIND_RULES[kind];
  return `| ${[
    name,
    text.limit === null ? 'no limit' : `${text.limit}${text.besideMedia ? ` (${text.besideMedia} beside a file)` : ''}`,
    unitOf(text),
    text.format === 'plain' ? '–' : text.format,
    text.folds === null ? 'all' : `${text.folds} characters`,
    text.links ? 'can be clicked' : 'cannot be clicked',
    `${text.hashtags === 0 ? 'mean nothing' : text.hashtags}${text.mostHashtags === undefined ? '' : `; over ${text.mostHashtags} refused`}`,
    `${text.mentions ? 'call somebody' : '–'}${text.mostMentions === undefined ? '' : `; over ${text.mostMentions} refused`}`,
    title ? `${title.limit}${title.needed ? ', needed' : ''}` : '–',
    media.takes.length
      ? `${media.takes.join(', ')}${media.most > 1 ? `, up to ${media.most}` : ''}${media.needed ? '; needed' : ''}`
      : '–',
    media.shape ? `${media.shape[0]} to ${media.shape[1]} times as wide as high` : '–',
    media.takes.includes('picture') && media.alt !== null ? `${media.alt}` : '–',
    linkCard === 'card' ? 'a card' : linkCard === 'target' ? 'where a click leads' : '–',
    options.join(', ') || '–',
    origin,
  ].join(' | ')} |`;
}
