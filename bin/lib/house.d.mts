export declare const LAGOON_KINDS: readonly string[];
export interface Environments {
  origin: string;
  lagoonOrigin: string;
  lagoon: Record<string, string>;
  playa: Record<string, string>;
}
export function environments(options: {
  port: number;
  lagoonPort: number;
  mailPort: number;
  databaseUrl: string;
  lagoonDatabaseUrl: string;
  secrets: { vaultKey: string; lagoonClient: string; oldVaultKeys?: string[] };
  demo: boolean;
  webDir: string;
  clockAhead?: number;
}): Environments;
