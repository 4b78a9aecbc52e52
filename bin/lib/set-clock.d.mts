export const SET_HOURS: Readonly<Record<string, string>>;
export function hourInTurn(now?: number): string;
export function aheadFor(name: string, now?: number): number;
