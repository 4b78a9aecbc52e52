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

/** How a kind counts a text. Graphemes are what a reader would call characters. */
export type CountUnit = 'grapheme' | 'weighted' | 'utf16';

export const MEDIA_TYPES = ['picture', 'video', 'audio', 'file'] as const;
export type MediaType = (typeof MEDIA_TYPES)[number];

/** What a post may be told beside its words, where the kind knows it. */
export type PostOption = 'silent' | 'preview' | 'show' | 'colour' | 'mention';

/** What a kind allows. */
export interface KindRules {
  /** What one is called in a sentence: "page". */
  name: string;
  plural: string;
  /** Whether Playa can publish there. */
  publishes: boolean;
  text: {
    /** The longest text, in the kind's own unit; null when there is no limit, or nothing is published there. */
    limit: number | null;
    unit: CountUnit;
    /** What an address in the text counts as; without it, its own length. */
    link?: number;
    /** The longest text beside a picture or file, where that is another one. */
    besideMedia?: number;
  };
  /** A title of its own beside the text. */
  title: { limit: number; needed: boolean } | null;
  /** Whether a link set beside the text is shown as a card, or leads away from a picture. */
  linkCard: boolean;
  media: { takes: readonly MediaType[]; needed: boolean };
  options: readonly PostOption[];
  /** Where the limits come from. */
  origin: string;
}

const none = { limit: null, unit: 'grapheme' } as const;
const still = {
  publishes: false,
  text: none,
  title: null,
  linkCard: false,
  media: { takes: [], needed: false },
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
    publishes: true,
    text: { limit: 2000, unit: 'grapheme' },
    title: null,
    linkCard: true,
    media: { takes: ['picture', 'video'], needed: false },
    options: [],
    origin: 'Of the order of common practice for business pages.',
  },
  channel: { ...still, name: 'video channel', plural: 'video channels' },
  microblog: {
    name: 'microblog profile',
    plural: 'microblog profiles',
    publishes: true,
    text: { limit: 300, unit: 'weighted', link: 24 },
    title: null,
    linkCard: false,
    media: { takes: [], needed: false },
    options: [],
    origin: 'Common practice: a few hundred characters, wide ones and emoji as two, links at a fixed cost.',
  },
  photos: {
    name: 'photo feed',
    plural: 'photo feeds',
    publishes: true,
    text: { limit: 2000, unit: 'grapheme' },
    title: null,
    linkCard: false,
    media: { takes: ['picture'], needed: true },
    options: [],
    origin: 'Common practice: a picture, a caption of some thousand characters, links in it do nothing.',
  },
  board: {
    name: 'board',
    plural: 'boards',
    publishes: true,
    text: { limit: 500, unit: 'grapheme' },
    title: { limit: 100, needed: true },
    linkCard: true,
    media: { takes: ['picture'], needed: true },
    options: [],
    origin: 'Common practice: a picture with a title of about a hundred characters and a description of some hundreds.',
  },
  professional: {
    name: 'professional profile',
    plural: 'professional profiles',
    publishes: true,
    text: { limit: 3000, unit: 'utf16' },
    title: null,
    linkCard: true,
    media: { takes: [], needed: false },
    options: [],
    origin: 'Common practice: a few thousand characters, counted as the machine does.',
  },
  room: {
    name: 'chat room',
    plural: 'chat rooms',
    publishes: true,
    text: { limit: 2000, unit: 'utf16' },
    title: { limit: 200, needed: false },
    linkCard: true,
    media: { takes: ['picture'], needed: false },
    options: ['show', 'colour', 'mention'],
    origin: 'Common practice: two thousand characters, cards beside the text.',
  },
  broadcast: {
    name: 'broadcast channel',
    plural: 'broadcast channels',
    publishes: true,
    text: { limit: 4000, unit: 'grapheme', besideMedia: 1000 },
    title: null,
    linkCard: false,
    media: { takes: ['picture', 'audio', 'file'], needed: false },
    options: ['silent', 'preview'],
    origin: 'Common practice: some thousand characters, fewer beside a picture.',
  },
  listing: { ...still, name: 'review listing', plural: 'review listings', text: { limit: 1500, unit: 'grapheme' } },
  classes: { ...still, name: 'booking calendar', plural: 'booking calendars' },
  sheet: { ...still, name: 'table', plural: 'tables' },
  folder: { ...still, name: 'folder', plural: 'folders' },
  queue: { ...still, name: 'helpdesk queue', plural: 'helpdesk queues' },
  model: { ...still, name: 'text model', plural: 'text models' },
  mailbox: { ...still, name: 'mailbox', plural: 'mailboxes' },
  address: {
    name: 'web hook',
    plural: 'web hooks',
    publishes: true,
    text: { limit: null, unit: 'grapheme' },
    title: { limit: 1000, needed: false },
    linkCard: true,
    media: { takes: MEDIA_TYPES, needed: false },
    options: [],
    origin: 'Whoever receives it decides.',
  },
};
