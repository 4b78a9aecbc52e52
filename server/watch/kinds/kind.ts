// What a kind of source is: its parameters, what makes two of them the same, and how it is read. What is done with what was
// read is the same for all of them (keep-look.ts).
import type { z } from 'zod';
import type { DeskKind } from '@playa/core/desk/entry.ts';
import type { Services } from '../../base/services.ts';
import type { Item } from '@playa/core/items/item.ts';
import type { ClaimedWatch } from '../../store/watch-claims.ts';
import type { Watch, WatchKind } from '../../store/watches.ts';

/** What of a reading is new, once it is known what has been seen at any time. */
export interface Told {
  /** Nothing new, though not stored yet. Oldest first. */
  past: readonly Item[];
  /** Appeared since the last look: these start workflows. Oldest first. */
  fresh: readonly Item[];
  /** Known already, as they are now: they may have changed. */
  again: readonly Item[];
  /** For the next look. */
  memory: unknown;
  /** What people should know of this look, in sentences. */
  notes: readonly string[];
}

/** What one look at a source gave. */
export interface Reading {
  /** The source as it was stored when it was read. */
  watch: Watch;
  /** What its things are to the desk, where people write them to the brand. */
  said?: DeskKind | undefined;
  /** Whether those who write them are known by the ids of outlets. */
  byOutlets?: boolean;
  /** Everything that was read. */
  items: readonly Item[];
  /** Tells what is new. @param known which of the items' identities have been seen at any time */
  tell(known: ReadonlySet<string>): Told;
  /** Whether these are all there are, so that what is not among them is gone. */
  whole?: boolean;
  /** Whether the source tells by itself, so that looks are only there to catch what that missed. */
  told?: boolean;
  /** When it is looked at next, where the source itself says so; null for never. Left out: as its history suggests. */
  nextAt?: number | null;
  /** What is to be done once this is stored. */
  afterwards?(): Promise<void>;
}

/** A kind of source. */
export interface SourceKind<P = unknown> {
  kind: WatchKind;
  params: z.ZodType<P>;
  /** What makes two sources of a brand the same, so that all workflows share one. */
  key(params: P): string;
  /**
   * Reads it, outside any transaction; null where it is not looked at, but told.
   *
   * @returns `unchanged` when there is nothing new to read, `gone` when the source is no longer wanted
   * @throws LookTrouble when it gives nothing to read
   */
  read: ((services: Services, claimed: ClaimedWatch) => Promise<Reading | 'unchanged' | 'gone'>) | null;
}
