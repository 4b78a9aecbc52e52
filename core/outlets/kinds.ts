import { countGraphemes } from '../text/graphemes.ts';

/** The sorts of outlet Playa knows so far. */
export const OUTLET_KINDS = ['page', 'channel'] as const;
export type OutletKind = (typeof OUTLET_KINDS)[number];

/** What a kind allows. */
export interface KindRules {
  /** What one is called in a sentence: "a page". */
  name: string;
  plural: string;
  /** Whether Playa can publish there. */
  publishes: boolean;
  text: {
    /** The longest text, in the kind's own unit; null when nothing is published there. */
    limit: number | null;
    /** How the kind counts. Graphemes are what a reader would call characters (UAX #29). */
    unit: 'grapheme';
  };
  /** Whether a link set beside the text is shown as a card with the target's picture. */
  linkCard: boolean;
}

/**
 * The rules of every kind in one table. The limit of a page is that of the demonstration's network, of the order that
 * is common practice for business pages.
 */
export const KIND_RULES: Record<OutletKind, KindRules> = {
  page: { name: 'page', plural: 'pages', publishes: true, text: { limit: 2000, unit: 'grapheme' }, linkCard: true },
  channel: {
    name: 'video channel',
    plural: 'video channels',
    publishes: false,
    text: { limit: null, unit: 'grapheme' },
    linkCard: false,
  },
};

/** The length of a text as a kind counts it. */
export function textLength(kind: OutletKind, text: string): number {
  switch (KIND_RULES[kind].text.unit) {
    case 'grapheme':
      return countGraphemes(text);
  }
}
