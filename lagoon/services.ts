import type { Router } from 'express';
import { boardsRoutes } from './boards/routes.ts';
import { bookingsRoutes } from './bookings/routes.ts';
import { broadcastRoutes } from './broadcast/routes.ts';
import { textModelRoutes } from './text-model/routes.ts';
import { filesRoutes } from './files/routes.ts';
import { helpdeskRoutes } from './helpdesk/routes.ts';
import type { Lagoon } from './base/lagoon.ts';
import { listingsRoutes } from './listings/routes.ts';
import { lookUpRoutes } from './lookups/routes.ts';
import { mailRoutes } from './mail/mail.ts';
import { microblogRoutes } from './microblog/routes.ts';
import { pagesRoutes } from './pages/routes.ts';
import { photosRoutes } from './photos/routes.ts';
import { professionalRoutes } from './professional/routes.ts';
import { roomsRoutes } from './rooms/routes.ts';
import { sheetsRoutes } from './sheets/routes.ts';
import { videoRoutes } from './video/routes.ts';

export interface Service {
  path: string;
  name: string;
  about: string;
  /** Whether people say yes on a consent page; otherwise they hand over a key. Null for neither. */
  signIn: 'consent' | 'key' | null;
  routes(lagoon: Lagoon): Router;
}

/** Every service of Lagoon, as its home page lists them. */
export const SERVICES: readonly Service[] = [
  { path: 'video', name: 'Video', about: 'Channels and films.', signIn: 'consent', routes: videoRoutes },
  {
    path: 'pages',
    name: 'Pages',
    about: 'What businesses tell their neighbours.',
    signIn: 'consent',
    routes: pagesRoutes,
  },
  { path: 'microblog', name: 'Microblog', about: 'Short notes.', signIn: 'consent', routes: microblogRoutes },
  { path: 'photos', name: 'Photos', about: 'Pictures, comments, messages.', signIn: 'consent', routes: photosRoutes },
  { path: 'boards', name: 'Boards', about: 'Pictures on boards.', signIn: 'consent', routes: boardsRoutes },
  {
    path: 'professional',
    name: 'Professional',
    about: 'People at work.',
    signIn: 'consent',
    routes: professionalRoutes,
  },
  { path: 'rooms', name: 'Rooms', about: 'Chat among colleagues.', signIn: 'key', routes: roomsRoutes },
  {
    path: 'broadcast',
    name: 'Broadcast',
    about: 'Channels with many readers.',
    signIn: 'key',
    routes: broadcastRoutes,
  },
  {
    path: 'listings',
    name: 'Listings',
    about: 'What visitors say about places.',
    signIn: 'consent',
    routes: listingsRoutes,
  },
  { path: 'bookings', name: 'Bookings', about: 'Classes to book.', signIn: 'key', routes: bookingsRoutes },
  { path: 'sheets', name: 'Sheets', about: 'Tables.', signIn: 'consent', routes: sheetsRoutes },
  { path: 'files', name: 'Files', about: 'Folders with files.', signIn: 'consent', routes: filesRoutes },
  {
    path: 'helpdesk',
    name: 'Helpdesk',
    about: 'What is broken, and who looks after it.',
    signIn: 'key',
    routes: helpdeskRoutes,
  },
  { path: 'text-model', name: 'Text model', about: 'A text model.', signIn: 'key', routes: textModelRoutes },
  {
    path: 'lookups',
    name: 'Look-ups',
    about: 'Who somebody is, said later.',
    signIn: null,
    routes: lookUpRoutes,
  },
  { path: 'mail', name: 'Mail', about: 'A mailbox.', signIn: null, routes: mailRoutes },
];
