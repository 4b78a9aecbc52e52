import type { NetworkKind } from '@playa/core/outlets/networks.ts';
import type { Connector } from './connector.ts';
import { boards } from './boards/boards.ts';
import { bookings } from './bookings/bookings.ts';
import { broadcast } from './broadcast/broadcast.ts';
import { textModel } from './text-model/text-model.ts';
import { files } from './files/files.ts';
import { helpdesk } from './helpdesk/helpdesk.ts';
import { listings } from './listings/listings.ts';
import { mail } from './mail/mail.ts';
import { microblog } from './microblog/microblog.ts';
import { pages } from './pages/pages.ts';
import { photos } from './photos/photos.ts';
import { professional } from './professional/professional.ts';
import { rooms } from './rooms/rooms.ts';
import { sheets } from './sheets/sheets.ts';
import { video } from './video/video.ts';
import { webhook } from './webhook/webhook.ts';

/** Every kind of network Playa can talk to. A new one is a folder beside these and a line here. */
export const CONNECTORS: Readonly<Record<NetworkKind, Connector>> = {
  video,
  pages,
  microblog,
  photos,
  boards,
  professional,
  rooms,
  broadcast,
  listings,
  bookings,
  sheets,
  files,
  helpdesk,
  'text-model': textModel,
  mail,
  webhook,
};
