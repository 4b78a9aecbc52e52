// Every kind of source. A new one is a file beside these and a line here.
import type { WatchKind } from '../../store/watches.ts';
import { feedKind } from './feed.ts';
import { hookKind } from './hook.ts';
import type { SourceKind } from './kind.ts';
import { networkKind } from './network.ts';
import { scheduleKind } from './schedule.ts';
import { sheetKind } from './sheet.ts';
import { writtenKind } from './written.ts';

export const SOURCE_KINDS: Readonly<Record<WatchKind, Pick<SourceKind, 'read'>>> = {
  feed: feedKind,
  network: networkKind,
  hook: hookKind,
  schedule: scheduleKind,
  sheet: sheetKind,
  written: writtenKind,
};
