/** What people write to a brand. Each is answered in one way: a message by a message, the others under them. */
export const DESK_KINDS = ['review', 'comment', 'mention', 'message'] as const;
export type DeskKind = (typeof DESK_KINDS)[number];
