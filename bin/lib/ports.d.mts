export function freePort(): Promise<number>;
export function needPort(port: number, variable: string): Promise<void>;
