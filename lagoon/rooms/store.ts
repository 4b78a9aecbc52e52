import type { Lagoon } from '../base/lagoon.ts';
import { Things } from '../base/things.ts';

export interface Server {
  name: string;
  about: string;
}
export interface Role {
  name: string;
}
export interface Channel {
  name: string;
  /** Where only people may write, never bots. */
  readOnly: boolean;
}
export interface Bot {
  name: string;
}
/** What a bot may do in a server; whoever looks after the server says so when inviting it. */
export const PERMISSIONS = ['read', 'write', 'mention'] as const;
export interface Invited {
  bot: number;
  permissions: string[];
}
export interface RoomCard {
  title: string;
  text: string;
  colour: string | null;
  picture: string | null;
  link: string | null;
}
export interface RoomMessage {
  by: string;
  bot: number | null;
  text: string;
  card: RoomCard | null;
  roles: number[];
}

/** What Lagoon Rooms holds. */
export class RoomStore {
  readonly servers: Things<Server>;
  readonly roles: Things<Role>;
  readonly channels: Things<Channel>;
  readonly bots: Things<Bot>;
  readonly invited: Things<Invited>;
  readonly messages: Things<RoomMessage>;

  constructor(lagoon: Lagoon) {
    this.servers = new Things(lagoon, 'rooms', 'server');
    this.roles = new Things(lagoon, 'rooms', 'role');
    this.channels = new Things(lagoon, 'rooms', 'channel');
    this.bots = new Things(lagoon, 'rooms', 'bot');
    this.invited = new Things(lagoon, 'rooms', 'invited');
    this.messages = new Things(lagoon, 'rooms', 'message');
  }

  /** What a bot may do in a server; undefined when nobody has invited it. */
  async permissionsOf(server: number, bot: number): Promise<string[] | undefined> {
    const found = (await this.invited.list({ parent: server, most: 200 })).find((each) => each.body.bot === bot);
    return found?.body.permissions;
  }
}
