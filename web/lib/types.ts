// What the server's answers hold, as the interface uses them.
import type { Trace } from '@playa/core/model/cells.ts';
import type { OutletKind } from '@playa/core/outlets/kinds.ts';
import type { NetworkKind } from '@playa/core/outlets/networks.ts';
import type { Fields } from '@playa/core/items/item.ts';
import type { PastItem } from '@playa/core/rehearsal/rehearse.ts';
import type { Phrase } from '@playa/core/steps/verb.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import type { Beside } from '@playa/core/workflow/together.ts';
import type { Problem } from '@playa/core/model/problems.ts';
import type { OutletDetails, WorldFile, WorldOutlet, WorldWatch } from '@playa/core/model/world.ts';

export interface Brand {
  id: number;
  name: string;
  timeZone: string;
  locale: string;
}

export type WorkflowStatus = 'draft' | 'live' | 'paused';

export interface ListedWorkflow {
  id: number;
  name: string;
  status: WorkflowStatus;
  version: number | null;
  pausedBecause: string | null;
  sentence: Phrase;
  problems: Problem[];
  unapplied: boolean;
  runs: number;
  posts: number;
  /** Replies, rows, letters and the like. */
  others: number;
  held: number;
  lastAt: number | null;
}

export interface OpenedWorkflow {
  id: number;
  name: string;
  status: WorkflowStatus;
  draft: Definition;
  draftRevision: number;
  liveVersion: number | null;
  live: Definition | null;
  pausedBecause: string | null;
  world: {
    timeZone: string;
    locale: string;
    outlets: WorldOutlet[];
    watches: WorldWatch[];
    colleagues: { id: number; name: string }[];
    secrets: string[];
    snippets: { name: string; text: string }[];
    files: WorldFile[];
  };
  /** The other live workflows of the brand. */
  beside: Beside[];
}

/** How many runs a workflow has had, and what went out. */
export interface RunCounts {
  runs: number;
  held: number;
  waiting: number;
  stopped: number;
  posts: number;
  answers: number;
  others: number;
}

export interface HappenedRun {
  id: number;
  /** The item it is about; its column goes by the run's own number. */
  itemId: number;
  version: number;
  status: 'new' | 'waiting' | 'held' | 'done' | 'stopped' | 'cancelled';
  /** Waits for other runs of the workflow. */
  queued: boolean;
  /** What it said about each step was let go. */
  thinned: boolean;
  /** The step it stands at. */
  at: string | null;
  /** What its steps have made. */
  values: Fields;
  /** What is held, with what would be sent. */
  inputs: { key: string; action: string; input: Record<string, unknown> }[];
  trace: Trace;
  trouble: string | null;
  dueAt: number | null;
  createdAt: number;
  changedAt: number;
  item: PastItem;
  retries: { key: string; dueAt: number | null; trouble: string }[];
}

export interface SourceWatch extends WorldWatch {
  kind: 'feed' | 'hook' | 'schedule' | 'network';
  params: { url?: string; rule?: string; start?: string; zone?: string };
  everySeconds: number;
  intervalMs: number | null;
  usualDelay: number | null;
  dueAt: number | null;
  lastLookAt: number | null;
  trouble: string | null;
  note: string | null;
}

export interface OutletRow {
  id: number;
  accountId: number;
  kind: OutletKind;
  name: string;
  address: string | null;
  feed: string | null;
  gone: boolean;
  byHand: boolean;
  details: OutletDetails;
  /** What the last look at the permissions found missing, and how to mend it. */
  trouble: string | null;
  remedy: string | null;
}

/** A field of a form that a network or something to be made asks for. */
export interface AskedField {
  name: string;
  label: string;
  secret?: boolean;
  hint?: string;
  optional?: boolean;
}

/** A kind of network this installation can reach. */
export interface NetworkRow {
  kind: NetworkKind;
  name: string;
  does: string;
  outlets: string;
  address: string;
  signIn: { by: 'consent' } | { by: 'form'; help: string; fields: AskedField[] };
  /** An example of an address that an outlet can be added by; null when the network lists them. */
  opens: string | null;
  creations: { what: string; fields: AskedField[] }[];
  acts: string[];
  watches: { what: string; things: string; outlet: OutletKind }[];
}

export interface AccountRow {
  id: number;
  kind: NetworkKind;
  name: string;
  remoteName: string;
  status: 'ok' | 'reconnect' | 'disconnected';
  trouble: string | null;
  connectedAt: number;
  lastOkAt: number | null;
  tokenExpiresAt: number | null;
  /** What was asked for at the consent and not given. */
  missing: string[];
  waiting: number;
  /** The network asked to go slower until then, milliseconds since 1970 UTC. */
  slowUntil: number | null;
  outlets: OutletRow[];
  allowance?: { calls: number; per: 'hour' | 'day'; used: number; forecast: number };
  workflows: { id: number; name: string; status: WorkflowStatus }[];
}

/** Something that appears at an outlet and can be watched with an account. */
export interface WatchableOutlet {
  outlet: number;
  name: string;
  accountName: string;
  what: string;
  things: string;
  told: boolean;
}

/** A workflow that uses something of the brand's own. */
export interface Use {
  workflowId: number;
  workflow: string;
  steps: number;
  live: boolean;
}

/** A snippet of the brand, with where it is used. */
export interface SnippetWithUses {
  name: string;
  text: string;
  uses: Use[];
}

/** A picture or film of the brand's own, with where it is used. */
export interface FileWithUses extends WorldFile {
  uses: Use[];
}

/** What a workflow would say with other words in a snippet. */
export interface SnippetChange {
  workflow: string;
  outlet: string;
  before: string;
  after: string;
  trouble: string | null;
}

/** How a post was changed after it went out. */
export interface PostEdit {
  before: string;
  after: string;
  /** It was deleted, and nothing came after. */
  deletes: boolean;
  by: string;
  made: boolean;
  at: number;
}
