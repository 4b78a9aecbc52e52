// Who may do what: the one table. Endpoints name the action they need, and are refused to whoever may not.

/** What can be done in a brand. */
export const ACTIONS = [
  /** Look at anything but secrets. */
  'see',
  /** Change drafts, snippets, files. */
  'compose',
  /** Let workflows go live, pause, run again. */
  'run',
  /** Say what happens to what is held, and change what is out. */
  'decide',
  /** Connect accounts and outlets, make sources, keep secrets. */
  'connect',
] as const;
export type Action = (typeof ACTIONS)[number];

/** What somebody is in a brand. */
export const ROLES = ['member'] as const;
export type Role = (typeof ROLES)[number];

const MAY: Record<Role, readonly Action[]> = {
  member: ACTIONS,
};

/**
 * Whether a role may do something.
 *
 * @example `may('member', 'decide')` // true
 */
export const may = (role: Role, action: Action): boolean => MAY[role].includes(action);
