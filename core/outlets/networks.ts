/** The kinds of network, or service, that an account can be a sign-in at. */
export const NETWORK_KINDS = [
  'video',
  'pages',
  'microblog',
  'photos',
  'boards',
  'professional',
  'rooms',
  'broadcast',
  'listings',
  'bookings',
  'sheets',
  'files',
  'helpdesk',
  'text-model',
  'mail',
  'webhook',
] as const;
export type NetworkKind = (typeof NETWORK_KINDS)[number];

/** How a kind of network is spoken of. */
export interface NetworkWords {
  /** "video network" */
  name: string;
  /** What an account there is for, after "to": "notice new videos". */
  does: string;
  /** What its outlets are called. */
  outlets: string;
}

export const NETWORK_WORDS: Record<NetworkKind, NetworkWords> = {
  video: { name: 'video network', does: 'notice new videos and comments', outlets: 'channels' },
  pages: { name: 'network of business pages', does: 'post on business pages', outlets: 'pages' },
  microblog: { name: 'microblog', does: 'write and follow short notes', outlets: 'profiles' },
  photos: { name: 'photo network', does: 'post photos and answer people', outlets: 'profiles' },
  boards: { name: 'network of boards', does: 'put pictures on boards', outlets: 'boards' },
  professional: { name: 'professional network', does: 'share as a professional', outlets: 'profiles' },
  rooms: { name: 'chat rooms', does: 'tell colleagues in rooms', outlets: 'rooms' },
  broadcast: { name: 'broadcast network', does: 'send to channels with many readers', outlets: 'channels' },
  listings: { name: 'business listings', does: 'read and answer reviews', outlets: 'places' },
  bookings: { name: 'booking service', does: 'notice bookings', outlets: 'classes' },
  sheets: { name: 'spreadsheets', does: 'read and write tables', outlets: 'tables' },
  files: { name: 'file store', does: 'find pictures and files', outlets: 'folders' },
  helpdesk: { name: 'helpdesk', does: 'notice incidents and write back', outlets: 'queues' },
  'text-model': { name: 'text model', does: 'have words drafted', outlets: 'models' },
  mail: { name: 'mail', does: 'send letters', outlets: 'mailboxes' },
  webhook: { name: 'web hook', does: 'tell another program', outlets: 'addresses' },
};
