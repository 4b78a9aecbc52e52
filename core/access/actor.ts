/** Who does something: a person, a workflow's run, a program with a token, or Playa itself. */
export type Actor =
  | { kind: 'person'; userId: number }
  | { kind: 'run'; runId: number }
  | { kind: 'token'; tokenId: number }
  | { kind: 'system' };

export const SYSTEM: Actor = { kind: 'system' };
