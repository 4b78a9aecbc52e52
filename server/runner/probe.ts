/**
 * The points of a worker's sequence at which it may die. A test hands in a probe that kills the process at one of them;
 * in earnest nothing listens.
 */
export const POINTS = [
  'run: locked',
  'run: advanced, not committed',
  'run: committed',
  'effect: claimed, not committed',
  'effect: claimed',
  'effect: sent',
  'effect: recorded, not committed',
  'effect: committed',
] as const;
export type Point = (typeof POINTS)[number];
export type Probe = (point: Point) => void;
