/** The sorts of outlet Playa knows. */
export const OUTLET_KINDS = [
  'page',
  'channel',
  'microblog',
  'photos',
  'board',
  'professional',
  'room',
  'broadcast',
  'listing',
  'classes',
  'sheet',
  'folder',
  'queue',
  'model',
  'mailbox',
  'address',
] as const;
export type OutletKind = (typeof OUTLET_KINDS)[number];

/** How a kind counts a text. Graphemes are what a reader would call characters; bytes are those of UTF-8. */
export type CountUnit = 'grapheme' | 'weighted' | 'utf16' | 'byte';

/** How formatting is written: as HTML or markdown, or not at all. */
export type TextFormat = 'plain' | 'html' | 'markdown';

/** How a text is written and counted, and how much of it is taken. */
export interface WordRules {
  /** The longest, in the unit; null when there is no limit, or nothing is written there. */
  limit: number | null;
  unit: CountUnit;
  /** What an address in the text counts as; without it, its own length. */
  link?: number;
  /** How formatting is written. Where it is HTML, tags do not count; where it is markdown, its signs do. */
  format: TextFormat;
  /** More hashtags than that are refused; any number without. */
  mostHashtags?: number;
  /** More names with @ than that are refused; any number without. */
  mostMentions?: number;
}

/** What a picture, film or file may be. */
export interface MediaRules {
  takes: readonly MediaType[];
  needed: boolean;
  /** How many go with one post. */
  most: number;
  /** The least and greatest width over height of a picture; null when any will do. */
  shape: readonly [number, number] | null;
  /** The largest picture in bytes. */
  mostBytes: number;
  /** Media types (RFC 6838) of pictures. */
  pictures: readonly string[];
  /** What a film may be; null where there are none, or any will do. */
  films: FilmRules | null;
  /** The longest alternative text in graphemes; null where there is none. */
  alt: number | null;
}

/** What a film may be. */
export interface FilmRules {
  /** Media types (RFC 6838). */
  types: readonly string[];
  /** The largest in bytes. */
  mostBytes: number;
  /** The longest in seconds. */
  longest: number;
  /** The least and greatest width over height. */
  shape: readonly [number, number];
}

export const MEDIA_TYPES = ['picture', 'video', 'audio', 'file'] as const;
export type MediaType = (typeof MEDIA_TYPES)[number];

/** What a post may be told beside its words, where the kind knows it. */
export type PostOption = 'silent' | 'preview' | 'show' | 'colour' | 'mention';

/** What a kind allows. */
export interface KindRules {
  /** What one is called in a sentence: "page". */
  name: string;
  plural: string;
  /** In one word, where there is little room: "page". */
  short: string;
  /** Whether Playa can publish there. */
  publishes: boolean;
  text: WordRules & {
    /** The longest text beside a picture or file, where that is another one. */
    besideMedia?: number;
    /** Graphemes shown before the rest is folded away; null when all is shown. */
    folds: number | null;
    /** Whether an address in the text can be clicked. */
    links: boolean;
    /** Hashtags beyond which readers look away; 0 where they mean nothing. */
    hashtags: number;
    /** Whether “@name” in the text calls somebody. */
    mentions: boolean;
  };
  /** An answer under what somebody wrote; null where Playa gives none. */
  answers: WordRules | null;
  /** Words to one person; null where Playa writes none. */
  messages: WordRules | null;
  /** A title of its own beside the text, in graphemes. */
  title: { limit: number; needed: boolean } | null;
  /**
   * What becomes of a link set beside the text. card: its page's own card, with a picture of its own, also below pictures of
   * the post. target: where a click on the picture or the card leads. Null: there is none.
   */
  linkCard: 'card' | 'target' | null;
  media: MediaRules;
  options: readonly PostOption[];
  /** Where the limits come from. */
  origin: string;
}

const none = {
  limit: null,
  unit: 'grapheme',
  format: 'plain',
  folds: null,
  links: true,
  hashtags: 0,
  mentions: false,
} as const;
const plain = (limit: number | null, unit: CountUnit): WordRules => ({ limit, unit, format: 'plain' });
const MEGABYTE = 1_000_000;
const pictures = {
  needed: false,
  most: 1,
  shape: null,
  mostBytes: 8 * MEGABYTE,
  pictures: ['image/jpeg', 'image/png', 'image/webp', 'image/gif'],
  films: null,
  alt: 500,
} as const;
const microblogWords: WordRules = { limit: 300, unit: 'weighted', link: 24, format: 'plain', mostMentions: 10 };
const still = {
  publishes: false,
  text: none,
  answers: null,
  messages: null,
  title: null,
  linkCard: null,
  media: { ...pictures, takes: [] },
  options: [],
  origin: 'Nothing is published there.',
} as const;

/**
 * The rules of every kind in one table. The numbers are those of the simulated networks that come with Playa; they are
 * of the order that is common practice for their kind.
 */
export const KIND_RULES: Record<OutletKind, KindRules> = {
  page: {
    name: 'page',
    plural: 'pages',
    short: 'page',
    publishes: true,
    text: { ...none, limit: 2000, folds: 480, hashtags: 3 },
    answers: plain(1000, 'utf16'),
    messages: null,
    title: null,
    linkCard: 'card',
    media: {
      ...pictures,
      takes: ['picture', 'video'],
      most: 10,
      films: {
        types: ['video/mp4', 'video/quicktime', 'video/webm'],
        mostBytes: 150 * MEGABYTE,
        longest: 1200,
        shape: [0.5, 2.4],
      },
    },
    options: [],
    origin: 'Of the order of common practice for business pages.',
  },
  channel: {
    ...still,
    name: 'video channel',
    plural: 'video channels',
    short: 'channel',
    answers: plain(1000, 'utf16'),
    origin: 'Common practice: answers of about a thousand characters.',
  },
  microblog: {
    name: 'microblog profile',
    plural: 'microblog profiles',
    short: 'microblog',
    publishes: true,
    text: { ...none, ...microblogWords, hashtags: 3, mentions: true },
    answers: microblogWords,
    messages: null,
    title: null,
    linkCard: null,
    media: { ...pictures, takes: [] },
    options: [],
    origin: 'Common practice: a few hundred characters, wide ones and emoji as two, links at a fixed cost.',
  },
  photos: {
    name: 'photo feed',
    plural: 'photo feeds',
    short: 'photos',
    publishes: true,
    text: { ...none, limit: 2000, folds: 120, links: false, hashtags: 10, mostHashtags: 20, mentions: true },
    answers: plain(1000, 'utf16'),
    messages: plain(1000, 'utf16'),
    title: null,
    linkCard: null,
    media: {
      ...pictures,
      takes: ['picture'],
      needed: true,
      shape: [0.8, 1.9],
      pictures: ['image/jpeg', 'image/png'],
      most: 1,
    },
    options: [],
    origin: 'Common practice: a picture, a caption of some thousand characters, links in it do nothing.',
  },
  board: {
    name: 'board',
    plural: 'boards',
    short: 'board',
    publishes: true,
    text: { ...none, limit: 500, folds: 60, links: false, hashtags: 10 },
    answers: null,
    messages: null,
    title: { limit: 100, needed: true },
    linkCard: 'target',
    media: { ...pictures, takes: ['picture'], needed: true, shape: [0.4, 2], mostBytes: 10 * MEGABYTE },
    options: [],
    origin: 'Common practice: a picture with a title of about a hundred characters and a description of some hundreds.',
  },
  professional: {
    name: 'professional profile',
    plural: 'professional profiles',
    short: 'professional',
    publishes: true,
    text: { ...none, limit: 3000, unit: 'utf16', folds: 200, hashtags: 5 },
    answers: null,
    messages: null,
    title: null,
    linkCard: 'card',
    media: { ...pictures, takes: [], alt: null },
    options: [],
    origin: 'Common practice: a few thousand characters, counted as the machine does.',
  },
  room: {
    name: 'chat room',
    plural: 'chat rooms',
    short: 'room',
    publishes: true,
    text: { ...none, limit: 2000, unit: 'utf16', format: 'markdown' },
    answers: null,
    messages: null,
    title: { limit: 200, needed: false },
    linkCard: 'target',
    media: { ...pictures, takes: ['picture'], mostBytes: 8 * MEGABYTE, alt: null },
    options: ['show', 'colour', 'mention'],
    origin: 'Common practice: two thousand characters, cards beside the text.',
  },
  broadcast: {
    name: 'broadcast channel',
    plural: 'broadcast channels',
    short: 'broadcast',
    publishes: true,
    text: { ...none, limit: 4000, unit: 'grapheme', besideMedia: 1000, format: 'html', hashtags: 10, mentions: true },
    answers: null,
    messages: null,
    title: null,
    linkCard: null,
    media: { ...pictures, takes: ['picture', 'audio', 'file'], mostBytes: 5 * MEGABYTE, alt: null },
    options: ['silent', 'preview'],
    origin: 'Common practice: some thousand characters, fewer beside a picture.',
  },
  listing: {
    ...still,
    name: 'review listing',
    plural: 'review listings',
    short: 'listing',
    answers: plain(1500, 'utf16'),
    origin: 'Common practice: one answer of the owner to each review, of some thousand characters.',
  },
  classes: { ...still, name: 'booking calendar', plural: 'booking calendars', short: 'calendar' },
  sheet: { ...still, name: 'table', plural: 'tables', short: 'table' },
  folder: { ...still, name: 'folder', plural: 'folders', short: 'folder' },
  queue: {
    ...still,
    name: 'helpdesk queue',
    plural: 'helpdesk queues',
    short: 'helpdesk',
    answers: plain(4000, 'utf16'),
    origin: 'Common practice: entries of some thousand characters on a record’s timeline.',
  },
  model: { ...still, name: 'text model', plural: 'text models', short: 'model' },
  mailbox: {
    ...still,
    name: 'mailbox',
    plural: 'mailboxes',
    short: 'mail',
    messages: plain(null, 'grapheme'),
    origin: 'RFC 5322 sets no length for a message, only for its lines, which the mail library sees to.',
  },
  address: {
    name: 'web hook',
    plural: 'web hooks',
    short: 'hook',
    publishes: true,
    text: { ...none, limit: null, unit: 'grapheme', hashtags: 100, mentions: true },
    answers: null,
    messages: null,
    title: { limit: 1000, needed: false },
    linkCard: 'target',
    media: { ...pictures, takes: MEDIA_TYPES, most: 10, mostBytes: 100 * MEGABYTE },
    options: [],
    origin: 'Whoever receives it decides.',
  },
};
