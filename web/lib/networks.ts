import {
  Bot,
  Briefcase,
  CalendarCheck,
  Camera,
  Feather,
  Film,
  FolderOpen,
  LayoutGrid,
  LifeBuoy,
  Mail,
  MessagesSquare,
  Radio,
  Star,
  Store,
  Table2,
  Webhook,
} from '@lucide/vue';
import type { Component } from 'vue';
import type { NetworkKind } from '@playa/core/outlets/networks.ts';

/** A picture for each kind of network: kinds, not companies, so they are drawn from one set. */
export const NETWORK_ICONS: Record<NetworkKind, Component> = {
  video: Film,
  pages: Store,
  microblog: Feather,
  photos: Camera,
  boards: LayoutGrid,
  professional: Briefcase,
  rooms: MessagesSquare,
  broadcast: Radio,
  listings: Star,
  bookings: CalendarCheck,
  sheets: Table2,
  files: FolderOpen,
  helpdesk: LifeBuoy,
  'text-model': Bot,
  mail: Mail,
  webhook: Webhook,
};
