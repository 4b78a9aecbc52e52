import type { AccountKind } from '../store/accounts.ts';
import type { Connector } from './connector.ts';
import { pages } from './pages/pages.ts';
import { video } from './video/video.ts';

/** Every kind of network Playa can talk to. A new one is a folder beside these and a line here. */
export const CONNECTORS: Readonly<Record<AccountKind, Connector>> = { video, pages };
