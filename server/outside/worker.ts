// A thread that reads what somebody else wrote. It has no access to anything but what it is handed.
import type { MessagePort } from 'node:worker_threads';
import { feedsNamedBy } from '@playa/core/feeds/autodiscovery.ts';
import { FeedError } from '@playa/core/feeds/feed-error.ts';
import { readFeed } from '@playa/core/feeds/parse-feed.ts';
import { UnreadableTable } from '@playa/core/sheets/delimited.ts';
import { readLinkPreview } from '@playa/core/text/open-graph.ts';
import { readTableFile } from './table-file.ts';

export type Task =
  | { read: 'feed'; bytes: Uint8Array; base: string; contentType: string; linkHeader: string }
  | { read: 'named feeds'; html: string; base: string }
  | { read: 'preview'; html: string; address: string }
  | { read: 'table'; bytes: Uint8Array };

/** An error that keeps its kind on the way to the other thread. */
export interface Refused {
  refused: true;
  trouble: FeedError['trouble'];
  says: string;
}

/** What a thread is handed; it says when it begins, since coming up takes a while too. */
export interface Handed {
  task: Task;
  begun: MessagePort;
}

export default function work({ task, begun }: Handed): unknown {
  begun.postMessage(null);
  try {
    switch (task.read) {
      case 'feed':
        return readFeed(task.bytes, task.base, task.contentType, task.linkHeader);
      case 'named feeds':
        return feedsNamedBy(task.html, task.base);
      case 'preview':
        return readLinkPreview(task.html, task.address);
      case 'table':
        return readTableFile(Buffer.from(task.bytes)).catch(refused);
    }
  } catch (error) {
    return refused(error);
  }
}

function refused(error: unknown): Refused {
  if (error instanceof UnreadableTable) return { refused: true, trouble: 'malformed', says: error.message };
  if (!(error instanceof FeedError)) throw error;
  return { refused: true, trouble: error.trouble, says: error.message };
}
