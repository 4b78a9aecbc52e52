import type { Lagoon } from '../base/lagoon.ts';
import { Things } from '../base/things.ts';

export interface Community {
  name: string;
  about: string;
}
export interface Group {
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
/** What a bot may do in a community; whoever looks after the community says so when inviting it. */
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
  groups: number[];
}

/** What Lagoon Rooms holds. */
export class RoomStore {
  readonly communities: Things<Community>;
  readonly groups: Things<Group>;
  readonly channels: Things<Channel>;
  readonly bots: Things<Bot>;
  readonly invited: Things<Invited>;
  readonly messages: Things<RoomMessage>;

  constructor(lagoon: Lagoon) {
    this.communities = new Things(lagoon, 'rooms', 'community');
    this.groups = new Things(lagoon, 'rooms', 'group');
    this.channels = new Things(lagoon, 'rooms', 'channel');
    this.bots = new Things(lagoon, 'rooms', 'bot');
    this.invited = new Things(lagoon, 'rooms', 'invited');
    this.messages = new Things(lagoon, 'rooms', 'message');
  }

  /** What a bot may do in a community; undefined when nobody has invited it. */
  async permissionsOf(community: number, bot: number): Promise<string[] | undefined> {
    const found = (await this.invited.list({ parent: community, most: 200 })).find((each) => each.body.bot === bot);
    return found?.body.permissions;
  }
}
